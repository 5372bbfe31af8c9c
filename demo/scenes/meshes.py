"""Geometry for the demo pictures: swept surfaces and strands, written as POV-Ray mesh2 text.

Lengths are centimetres, y points up, z away from the camera. Everything random takes a numpy Generator.
"""
import numpy as np


def grid_mesh(points, closed_u=True):
    """points: (v, u, 3) grid -> (vertices, normals, faces). closed_u joins the last column with the first."""
    v, u, _ = points.shape
    du = np.roll(points, -1, 1) - np.roll(points, 1, 1) if closed_u else np.gradient(points, axis=1)
    dv = np.gradient(points, axis=0)
    n = np.cross(du, dv)
    n /= np.maximum(np.linalg.norm(n, axis=2, keepdims=True), 1e-9)
    idx = np.arange(v * u).reshape(v, u)
    right = np.roll(idx, -1, 1)
    cols = slice(None) if closed_u else slice(0, u - 1)
    a, b = idx[:-1, cols].ravel(), right[:-1, cols].ravel()
    c, d = idx[1:, cols].ravel(), right[1:, cols].ravel()
    faces = np.concatenate([np.stack([a, b, c], 1), np.stack([b, d, c], 1)])
    return points.reshape(-1, 3), n.reshape(-1, 3), faces


def mesh2(vertices, faces, normals=None, shades=None, textures=()):
    """mesh2 text. shades: texture index of each face; textures: texture bodies as text."""
    out = ["mesh2 {\nvertex_vectors {%d" % len(vertices)]
    out.append(",".join("<%.5g,%.5g,%.5g>" % tuple(p) for p in vertices.tolist()))
    out.append("}\n")
    if normals is not None:
        out.append("normal_vectors {%d,%s}\n" % (
            len(normals), ",".join("<%.3g,%.3g,%.3g>" % tuple(p) for p in normals.tolist())))
    if shades is not None:
        out.append("texture_list {%d %s}\n" % (len(textures), "\n".join("texture {%s}" % t for t in textures)))
        rows = ",".join("<%d,%d,%d>,%d" % (a, b, c, s) for (a, b, c), s in zip(faces.tolist(), shades.tolist()))
    else:
        rows = ",".join("<%d,%d,%d>" % tuple(f) for f in faces.tolist())
    out.append("face_indices {%d,%s}\n" % (len(faces), rows))
    return "".join(out)


def strands(curves, radii, shades, textures):
    """Three-sided tubes. curves: (n, k, 3); radii: (n, k); shades: (n,) texture index of each strand."""
    n, k, _ = curves.shape
    tangent = np.gradient(curves, axis=1)
    tangent /= np.maximum(np.linalg.norm(tangent, axis=2, keepdims=True), 1e-9)
    ref = np.where(np.abs(tangent[..., 2:3]) < 0.9, np.array([0, 0, 1.0]), np.array([1.0, 0, 0]))
    side = np.cross(tangent, ref)
    side /= np.maximum(np.linalg.norm(side, axis=2, keepdims=True), 1e-9)
    up = np.cross(tangent, side)
    ring = []
    for j in range(3):
        angle = 2 * np.pi * j / 3
        ring.append(np.cos(angle) * side + np.sin(angle) * up)
    normals = np.stack(ring, 2)
    vertices = curves[:, :, None, :] + normals * radii[:, :, None, None]
    base = (np.arange(n) * k * 3)[:, None, None] + (np.arange(k - 1) * 3)[None, :, None]
    j = np.arange(3)[None, None, :]
    a, b = base + j, base + (j + 1) % 3
    faces = np.stack([np.stack([a, b, a + 3], -1), np.stack([b, b + 3, a + 3], -1)], 3).reshape(n, -1, 3)
    face_shades = np.repeat(np.asarray(shades)[:, None], faces.shape[1], 1)
    return mesh2(vertices.reshape(-1, 3), faces.reshape(-1, 3), normals.reshape(-1, 3), face_shades.ravel(), textures)


def scatter(vertices, normals, faces, count, rng):
    """Points spread evenly over a surface: (positions, normals)."""
    tri = vertices[faces]
    area = np.linalg.norm(np.cross(tri[:, 1] - tri[:, 0], tri[:, 2] - tri[:, 0]), axis=1)
    pick = rng.choice(len(faces), count, p=area / area.sum())
    w = rng.dirichlet([1, 1, 1], count)
    pos = (tri[pick] * w[..., None]).sum(1)
    nrm = (normals[faces[pick]] * w[..., None]).sum(1)
    return pos, nrm / np.maximum(np.linalg.norm(nrm, axis=1, keepdims=True), 1e-9)


def fuzz(vertices, normals, faces, count, rng, length, radius, points=5, stand=0.7):
    """Loose fibres of felt: short curved strands that leave the surface. Returns (curves, radii)."""
    pos, nrm = scatter(vertices, normals, faces, count, rng)
    direction = stand * nrm + rng.normal(0, 0.75, (count, 3))
    direction /= np.linalg.norm(direction, axis=1, keepdims=True)
    bend = rng.normal(0, 0.55, (count, 3))
    size = length * rng.gamma(3.0, 1 / 3.0, count)
    t = np.linspace(0, 1, points)[None, :, None]
    curves = pos[:, None] + size[:, None, None] * (direction[:, None] * t + bend[:, None] * t * t)
    radii = radius * (1 - 0.55 * t[..., 0]) * rng.uniform(0.7, 1.2, (count, 1))
    return curves, radii


def locks(roots, directions, lengths, rng, fibres, spread, radius, gravity=1.0, curl=0.14, points=14, stray=0.03):
    """Wool or hair: every root grows a wavy guide, with fibres round it. Returns (curves, radii)."""
    n = len(roots)
    t = np.linspace(0, 1, points)
    down = np.array([0, -1.0, 0])
    step = lengths[:, None] / (points - 1)
    guide = np.zeros((n, points, 3))
    guide[:, 0] = roots
    d = directions / np.linalg.norm(directions, axis=1, keepdims=True)
    for i in range(1, points):
        d = d + gravity * 0.16 * down + rng.normal(0, 0.07, (n, 3))
        d /= np.linalg.norm(d, axis=1, keepdims=True)
        guide[:, i] = guide[:, i - 1] + d * step
    total = n * fibres
    owner = np.repeat(np.arange(n), fibres)
    phase = rng.uniform(0, 2 * np.pi, n)[owner]
    turns = rng.uniform(1.6, 3.4, n)[owner]
    wave = curl * lengths[owner] / 4 * rng.uniform(0.5, 1.3, total)
    angle = phase[:, None] + 2 * np.pi * turns[:, None] * t[None]
    swing = np.stack([np.cos(angle), 0.3 * np.sin(2 * angle), np.sin(angle)], 2) * (wave[:, None] * t[None])[..., None]
    offset = rng.normal(0, spread, (total, 3))
    open_up = (0.55 + 0.6 * t * (1.15 - 0.5 * t))[None, :, None]
    curves = guide[owner] + swing + offset[:, None] * open_up
    cut = rng.uniform(0.72, 1.0, total)[:, None, None]
    curves = curves[:, :1] + (curves - curves[:, :1]) * cut
    loose = rng.random(total) < stray
    push = rng.normal(0, 1, (loose.sum(), 3)) * np.array([1, 0.6, 0.8])
    curves[loose] += (push * lengths[owner][loose][:, None] * 0.28)[:, None] * (t * t)[None, :, None]
    radii = radius * rng.uniform(0.7, 1.25, (total, 1)) * (1 - 0.6 * t ** 2)[None]
    return curves, radii


def shade_textures(colours, emission=0.13, finish="phong 0.15 phong_size 30"):
    """Texture bodies for strands: linear RGB rows; a little emission stands in for light scattered in the wool."""
    return ["pigment {rgb <%.4f,%.4f,%.4f>} finish {ambient 0 diffuse 0.75 emission %.3f %s}" % (*c, emission, finish)
            for c in colours]


def sweep_tube(path, radius, around=48, wobble=None):
    """Closed tube along a polyline: path (k, 3), radius (k,) -> grid (k, around, 3)."""
    tangent = np.gradient(path, axis=0)
    tangent /= np.linalg.norm(tangent, axis=1, keepdims=True)
    side = np.cross(tangent, np.array([0.05, 0.02, 1.0]))
    side /= np.linalg.norm(side, axis=1, keepdims=True)
    up = np.cross(tangent, side)
    a = np.linspace(0, 2 * np.pi, around, endpoint=False)
    r = radius[:, None] * np.ones((1, around))
    if wobble is not None:
        r = r * (1 + wobble)
    return path[:, None] + r[..., None] * (np.cos(a)[None, :, None] * side[:, None] + np.sin(a)[None, :, None] * up[:, None])


def bezier(points, count):
    p = np.asarray(points, float)
    t = np.linspace(0, 1, count)[:, None]
    while len(p) > 1:
        p = [p[i] * (1 - t) + p[i + 1] * t for i in range(len(p) - 1)]
    return p[0]
