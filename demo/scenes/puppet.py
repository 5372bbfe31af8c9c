#!/usr/bin/env python3
"""The lamplighter: a felt puppet with wool hair on an off-white paper sweep, with its true alpha and colours.

    python3 puppet.py OUT_DIR [--draft]

Writes lamplighter.jpg (the photograph), lamplighter-alpha.png (8-bit truth), lamplighter-colours.jpg (the puppet's own
colours) and lamplighter.json (camera, light, sizes). Needs povray and python3-{numpy,scipy,opencv}.
"""
import argparse
from pathlib import Path

import cv2
import numpy as np

import camera
import meshes as m

EYE = (0.6, 17.5, -78.0)
AIM = (-1.6, 14.6, 0.0)
ANGLE = 23.2

FELT = "normal {granite 0.35 scale 0.09} finish {ambient 0 diffuse 0.72 emission 0.015 brilliance 0.85}"


def felt(r, g, b):
    """Mottled wool felt in linear RGB."""
    return ("pigment {bozo turbulence 0.9 lambda 3 omega 0.7 color_map {[0 rgb <%.4f,%.4f,%.4f>][0.5 rgb <%.4f,%.4f,%.4f>]"
            "[1 rgb <%.4f,%.4f,%.4f>]} scale 0.16} %s" % (r * .62, g * .62, b * .62, r, g, b, r * 1.45, g * 1.4, b * 1.35, FELT))


class Puppet:
    def __init__(self, rng):
        self.rng = rng
        self.parts = []
        self.loose = []
        self.felts = []

    def surface(self, grid, texture, fuzz=None, closed=True):
        v, n, f = m.grid_mesh(grid, closed)
        self.parts.append(m.mesh2(v, f, n) + "texture {%s}}" % texture)
        if fuzz is not None:
            self.felts.append((v, n, f, fuzz))

    def text(self, s):
        self.parts.append(s)

    def wool(self, curves, radii, colours, emission, shadow=True):
        shades = self.rng.integers(0, len(colours), len(curves))
        body = m.strands(curves, radii, shades, m.shade_textures(colours, emission)) + ("}" if shadow else " no_shadow}")
        self.parts.append(body)


def revolve(profile, around=240, depth=0.84, folds=None):
    prof = np.asarray(profile, float)
    k = np.linspace(0, len(prof) - 1, 160)
    y = np.interp(k, np.arange(len(prof)), prof[:, 0])
    r = np.interp(k, np.arange(len(prof)), prof[:, 1])
    r = np.convolve(np.pad(r, 6, mode="edge"), np.ones(13) / 13, "valid")
    a = np.linspace(0, 2 * np.pi, around, endpoint=False)
    rr = r[:, None] * np.ones((1, around))
    if folds is not None:
        rr = rr + folds(y[:, None], a[None])
    return np.stack([rr * np.cos(a), y[:, None] * np.ones((1, around)), depth * rr * np.sin(a)], 2)


def body(p):
    def folds(y, a):
        t = np.clip((15 - y) / 13, 0, 1) ** 1.4
        return t * (0.22 * np.sin(5 * a + 0.7) + 0.15 * np.sin(9 * a + 2.1 + 0.1 * y) + 0.05 * np.sin(17 * a + 0.3 * y))
    blue = (0.040, 0.085, 0.118)
    hem = [(2.9, 4.3), (2.45, 4.9), (2.4, 5.25), (2.6, 5.45), (3.5, 5.2), (6, 4.65), (9, 4.05), (12, 3.75), (15, 3.7), (16.6, 3.55),
           (17.7, 3.1), (18.5, 2.3), (19.2, 1.5)]
    p.surface(revolve(hem, folds=folds), felt(*blue), blue)
    rng = p.rng
    crease = 0.035 * np.sin(np.linspace(0, 21, 90))[:, None] * np.cos(np.linspace(0, 2 * np.pi, 64, endpoint=False) - 0.6)[None]
    right = m.bezier([(2.5, 17.1, 0), (6.0, 16.6, 0.1), (6.6, 11.4, -0.2), (5.7, 8.9, -1.2)], 90)
    left = m.bezier([(-2.5, 17.1, 0), (-5.2, 17.0, 0.2), (-6.0, 13.4, -0.6), (-8.0, 11.3, -2.2)], 90)
    width = np.interp(np.linspace(0, 1, 90), [0, 0.35, 0.8, 1], [1.55, 1.5, 1.4, 1.62])
    for path in (right, left):
        grid = m.sweep_tube(path, width, 64, crease)
        p.surface(grid, felt(*blue), blue)
        lining = m.sweep_tube(np.stack([path[-1] + (path[-1] - path[-8]) * s for s in (0.12, 0.02, -0.3, -0.8)]),
                              np.array([1.52, 1.62, 1.5, 0.2]), 64)
        p.surface(lining, felt(0.030, 0.024, 0.021), (0.035, 0.028, 0.025))
    # Buttons and the running stitch down the front.
    for y in (15.6, 13.3, 10.9, 8.3):
        t = np.clip((15 - y) / 13, 0, 1)
        z = -0.84 * (3.72 + 1.0 * t) - 0.12
        p.text("difference {superellipsoid {<1,0.35> scale <0.36,0.36,0.13>} %s translate <0.85,%.3f,%.3f> texture {pigment {wood "
               "turbulence 0.15 color_map {[0 rgb <0.20,0.09,0.035>][1 rgb <0.10,0.04,0.015>]} scale 0.1 rotate <10,40,0>} finish "
               "{ambient 0 diffuse 0.7 phong 0.4 phong_size 40}}}" % (
                   " ".join("cylinder {<%.2f,%.2f,-1>,<%.2f,%.2f,1>,0.055}" % (sx, sy, sx, sy) for sx in (-.1, .1) for sy in (-.1, .1)), y, z))
    for y in np.arange(3.4, 16.4, 0.42):
        t = np.clip((15 - y) / 13, 0, 1)
        a = -np.pi / 2
        r = np.interp(y, [2.6, 3.5, 6, 9, 12, 15, 17], [5.4, 5.2, 4.65, 4.05, 3.75, 3.7, 3.5]) + folds(np.array(y), np.array(a))
        p.text("sphere_sweep {linear_spline 2 <0.1,%.3f,%.3f>,0.055 <0.12,%.3f,%.3f>,0.055 pigment {rgb <0.55,0.5,0.38>} finish {ambient 0 "
               "diffuse 0.8}}" % (y, -0.84 * r - 0.04, y + 0.2 + 0.04 * rng.random(), -0.84 * r - 0.03))
    leather = ("pigment {bozo color_map {[0 rgb <0.030,0.016,0.010>][1 rgb <0.055,0.030,0.018>]} scale 0.5} normal {wrinkles 0.35 scale 0.35} "
               "finish {ambient 0 diffuse 0.6 specular 0.25 roughness 0.05}")
    for sx in (-1, 1):
        p.text("union {sphere {0,1 scale <1.18,0.95,1.7> translate <%.2f,0.95,-0.7>} cylinder {<%.2f,0.8,0.1>,<%.2f,3.4,0.1>,0.98} "
               "torus {1.0,0.14 translate <%.2f,2.0,0.1>} box {<%.2f,0,-2.2>,<%.2f,0.22,1.0>} texture {%s}}" % (
                   sx * 1.95, sx * 1.9, sx * 1.85, sx * 1.88, sx * 1.95 - 0.95, sx * 1.95 + 0.95, leather))


SKIN = ("texture {pigment {bozo color_map {[0 rgb <0.52,0.30,0.20>][1 rgb <0.60,0.37,0.26>]} scale 0.7} normal {bumps 0.06 scale 0.3} finish {ambient 0 "
        "diffuse 0.72 emission 0.01 specular 0.14 roughness 0.04}}")


def head(p):
    a = np.linspace(0, 2 * np.pi, 220, endpoint=False)
    v = np.linspace(-np.pi / 2 + 0.02, np.pi / 2 - 0.02, 180)
    d = np.stack([np.cos(v)[:, None] * np.cos(a), np.sin(v)[:, None] * np.ones_like(a), np.cos(v)[:, None] * np.sin(a)], 2)

    def bump(x, y, size, height, stretch=1.0):
        c = np.array([x, y, -np.sqrt(max(1 - x * x - y * y, 0))])
        q = d - c
        return height * np.exp(-(q[..., 0] ** 2 * stretch + q[..., 1] ** 2 + q[..., 2] ** 2) / (2 * size * size))
    r = 1 + bump(0, -0.1, 0.12, 0.27, 1.5) + bump(0, 0.03, 0.1, 0.08, 2) + bump(-.36, -.14, .2, .07) + bump(.36, -.14, .2, .07)
    r += bump(-.34, .15, .13, -.10) + bump(.34, .15, .13, -.10) + bump(-.34, .36, .14, .06, .5) + bump(.34, .36, .14, .06, .5) + bump(0, -.62, .25, .06)
    grid = d * r[..., None] * np.array([2.95, 3.35, 2.9]) + np.array([0, 22.3, 0])
    verts, n, f = m.grid_mesh(grid)
    blush = "".join("texture {pigment {spherical color_map {[0 rgbt <0.6,0.1,0.08,1>][1 rgbt <0.6,0.10,0.07,%.2f>]} scale %.2f translate <%.2f,%.2f,-2.9>} "
                    "finish {ambient 0 diffuse 0.72}}" % (t, s, x, y) for x, y, s, t in ((-1.25, 21.75, 1.0, .35), (1.25, 21.75, 1.0, .35), (0, 21.9, 0.95, .5)))
    p.parts.append(m.mesh2(verts, f, n) + SKIN + blush + "}")
    for x in (-1.0, 1.0):
        p.text("sphere {0,0.5 texture {pigment {gradient z color_map {[0 rgb 0][0.018 rgb 0.002][0.03 rgb <0.03,0.10,0.13>][0.09 rgb "
               "<0.16,0.34,0.38>][0.11 rgb <0.02,0.05,0.06>][0.125 rgb <0.72,0.68,0.62>][1 rgb <0.72,0.68,0.62>]} translate <0,0,-0.5>} "
               "finish {ambient 0 diffuse 0.7 specular 0.9 roughness 0.004 reflection {0.02,0.25 fresnel}} } interior {ior 1.4} "
               "rotate <4,%.1f,0> translate <%.2f,22.85,-2.38>}" % (-7 * x, x))
        lid = "sphere {0,0.545 clipped_by {plane {<0,-1,0.55>,-0.5}} translate <%.2f,22.85,-2.38> %s}" % (x, SKIN)
        p.text(lid)


def cap(p):
    red = (0.155, 0.012, 0.022)

    def lump(y, a):
        return 0.09 * np.sin(3 * a + y) + 0.05 * np.sin(7 * a + 1.3 * y)
    g = revolve([(24.0, 2.9), (23.9, 3.35), (24.3, 3.72), (25.0, 3.78), (25.5, 3.45), (25.6, 3.38), (26.8, 3.55), (28.0, 3.5), (28.8, 3.0), (29.15, 1.9), (29.2, 0.02)],
                depth=0.95, folds=lambda y, a: lump(y, a) * np.clip((29.1 - y) / 2, 0, 1))
    tilt = np.deg2rad(-5)
    c = np.array([0, 25, 0])
    q = g - c
    g = np.stack([q[..., 0] * np.cos(tilt) - q[..., 1] * np.sin(tilt), q[..., 0] * np.sin(tilt) + q[..., 1] * np.cos(tilt), q[..., 2]], 2) + c
    p.surface(g, felt(*red), red)


def hair(p):
    rng = p.rng
    greys = [np.array([0.30, 0.285, 0.27]) * s for s in np.linspace(0.42, 1.7, 16)]
    n = 190
    a = rng.uniform(-0.42 * np.pi, 1.42 * np.pi, n)          # all round, the face left free
    face = np.abs(((a + np.pi / 2) + np.pi) % (2 * np.pi) - np.pi) < 0.72
    a = a[~face]
    y = rng.uniform(22.4, 24.4, len(a))
    roots = np.stack([2.95 * np.cos(a), y, 2.75 * np.sin(a)], 1)
    out = np.stack([np.cos(a) * 1.25, rng.uniform(-0.35, 0.35, len(a)), 0.8 * np.sin(a) - 0.15], 1)
    length = rng.uniform(4.2, 6.6, len(a))
    curves, radii = m.locks(roots, out, length, rng, 34, 0.17, 0.0135, gravity=1.55)
    p.wool(curves, radii, greys, 0.11)
    n = 150
    x = rng.uniform(-2.35, 2.35, n)
    drop = 20.55 + 0.42 * np.abs(x) ** 1.3 + rng.uniform(-0.9, 0.25, n)
    z = -np.sqrt(np.clip(1 - (x / 2.95) ** 2 - ((drop - 22.3) / 3.35) ** 2, 0.02, 1)) * 2.9
    roots = np.stack([x, drop, z], 1)
    out = np.stack([0.28 * x, np.full(n, -0.5), np.full(n, -0.85)], 1)
    curves, radii = m.locks(roots, out, rng.uniform(3.0, 5.4, n), rng, 34, 0.15, 0.0135, gravity=1.0)
    p.wool(curves, radii, greys, 0.12)
    for side in (-1, 1):
        n = 16
        x = side * rng.uniform(0.08, 0.75, n)
        roots = np.stack([x, np.full(n, 21.15) + rng.uniform(-.1, .12, n), np.full(n, -3.05) + 0.25 * np.abs(x)], 1)
        out = np.stack([side * np.full(n, 0.75), np.full(n, -0.15), np.full(n, -0.5)], 1)
        curves, radii = m.locks(roots, out, rng.uniform(1.6, 2.5, n), rng, 34, 0.12, 0.0125, gravity=1.1)
        p.wool(curves, radii, greys, 0.13)
        n = 9
        x = side * rng.uniform(0.55, 1.5, n)
        roots = np.stack([x, np.full(n, 23.72) - 0.12 * np.abs(np.abs(x) - 1), np.full(n, -2.78)], 1)
        out = np.stack([side * np.full(n, 0.9), np.full(n, 0.12), np.full(n, -0.4)], 1)
        curves, radii = m.locks(roots, out, rng.uniform(0.5, 0.8, n), rng, 30, 0.06, 0.011, gravity=0.8)
        p.wool(curves, radii, greys, 0.1)


def scarf(p):
    rng = p.rng
    yellow = (0.43, 0.22, 0.020)
    a = np.linspace(0, 2 * np.pi, 120, endpoint=False)
    ring = np.stack([2.15 * np.cos(a), 18.9 + 0.3 * np.sin(a * 2 + 1), 1.95 * np.sin(a)], 1)
    tube = np.linspace(0, 2 * np.pi, 40, endpoint=False)
    out = np.stack([np.cos(a), np.zeros_like(a), np.sin(a)], 1)
    grid = ring[None] + 0.72 * np.cos(tube)[:, None, None] * out[None] + 0.85 * np.sin(tube)[:, None, None] * np.array([0, 1, 0])
    grid = np.concatenate([grid, grid[:1]])
    p.surface(grid, felt(*yellow), yellow)
    path = m.bezier([(-1.2, 18.8, -2.4), (-1.7, 17.5, -4.1), (-1.5, 14, -3.75), (-1.6, 11.6, -3.85)], 70)
    w = np.linspace(-1, 1, 40)
    front = np.stack([path + np.array([s * 0.95, 0, -0.22 * np.cos(s * np.pi / 2) - 0.06 * np.sin(s * 5)]) for s in w], 1)
    back = front[:, ::-1] + np.array([0, 0, 0.16])
    p.surface(np.concatenate([front, back], 1), felt(*yellow), yellow)
    n = 22
    x = np.linspace(-2.5, -0.65, n)
    roots = np.stack([x, np.full(n, 11.65), np.full(n, -3.9)], 1)
    curves, radii = m.locks(roots, np.stack([rng.normal(0, .25, n), np.full(n, -1.0), np.full(n, -.1)], 1), rng.uniform(1.0, 1.5, n), rng, 14, 0.05, 0.016, 1.0, 0.2)
    p.wool(curves, radii, [np.array(yellow) * s for s in np.linspace(0.6, 1.5, 12)], 0.06)


def staff_and_lantern(p):
    wood = ("pigment {wood turbulence 0.12 color_map {[0 rgb <0.115,0.055,0.026>][0.6 rgb <0.075,0.034,0.016>][1 rgb <0.05,0.022,0.010>]} scale 0.12 rotate "
            "<88,3,0>} normal {wrinkles 0.25 scale <0.1,2,0.1>} finish {ambient 0 diffuse 0.75 specular 0.12 roughness 0.06}")
    p.text("sphere_sweep {cubic_spline 6 <-8.25,-4,-2.75>,0.27 <-8.2,0.25,-2.75>,0.27 <-8.05,9,-2.75>,0.25 <-8.1,18,-2.7>,0.26 <-7.95,27.4,-2.7>,0.23 "
           "<-7.9,33,-2.7>,0.2 texture {%s}}" % wood)
    brass = "pigment {rgb <0.30,0.19,0.07>} normal {bumps 0.08 scale 0.2} finish {ambient 0 diffuse 0.45 specular 0.6 roughness 0.03 metallic reflection {0.10}}"
    arc = [(-7.95, 27.0), (-7.95, 27.4), (-8.2, 28.5), (-8.95, 28.9), (-9.7, 28.4), (-9.95, 27.6), (-9.9, 27.2)]
    p.text("sphere_sweep {b_spline 7 %s texture {%s}}" % (" ".join("<%.2f,%.2f,-2.7>,0.11" % q for q in arc), brass))
    slats = "".join("cylinder {<%.3f,-3.75,%.3f>,<%.3f,-1.55,%.3f>,0.06}" % (0.72 * np.cos(t), 0.72 * np.sin(t), 0.72 * np.cos(t), 0.72 * np.sin(t))
                    for t in np.arange(6) * np.pi / 3 + 0.25)
    p.text("union {torus {0.2,0.055 rotate <90,0,0> translate <0,-0.28,0>} sphere {<0,-0.55,0>,0.16} cone {<0,-0.6,0>,0.16,<0,-1.35,0>,0.92} cylinder "
           "{<0,-1.35,0>,<0,-1.52,0>,0.95} torus {0.93,0.07 translate <0,-1.45,0>} cylinder {<0,-3.75,0>,<0,-4.0,0>,0.95} torus {0.93,0.07 translate "
           "<0,-3.82,0>} cylinder {<0,-4,0>,<0,-4.12,0>,0.7} %s texture {%s} translate <-9.9,27.25,-2.7>}" % (slats, brass))
    p.text("difference {cylinder {<0,-3.75,0>,<0,-1.5,0>,0.66} cylinder {<0,-3.8,0>,<0,-1.4,0>,0.63} texture {pigment {rgbt <0.97,0.98,0.97,0.93>} finish "
           "{ambient 0 diffuse 0.05 specular 0.8 roughness 0.003 reflection {0.03,0.6 fresnel}}} interior {ior 1.45} no_shadow translate <-9.9,27.25,-2.7>}")
    p.text("union {cylinder {<0,-3.75,0>,<0,-2.75,0>,0.24 texture {pigment {rgb <0.75,0.70,0.58>} finish {ambient 0 diffuse 0.75 emission 0.1}}} sphere {0,1 scale "
           "<0.12,0.3,0.12> translate <0,-2.4,0> texture {pigment {rgb <1,0.62,0.18>} finish {ambient 0 diffuse 0 emission 2.2}}} no_shadow translate <-9.9,27.25,-2.7>}")
    for x, y, z, flip in ((-7.75, 10.9, -2.65, 1), (5.65, 7.6, -1.4, 0)):
        fingers = "".join("sphere {0,1 scale <0.62,0.27,0.36> translate <%.2f,%.2f,%.2f>}" % (-0.2 if flip else 0.15, 0.52 - 0.36 * i, -0.55 - 0.05 * (i == 1)) for i in range(4))
        p.text("union {sphere {0,1 scale <0.85,1.0,0.75>} sphere {0,1 scale <0.27,0.55,0.3> rotate <0,0,%d> translate <%.2f,0.5,-0.45>} %s translate <%.2f,%.2f,%.2f> %s}" % (
            30 if flip else -25, 0.45 if flip else -0.6, fingers, x, y, z, SKIN))


def felt_fuzz(p):
    rng = p.rng
    for v, n, f, colour in p.felts:
        tri = v[f]
        area = 0.5 * np.linalg.norm(np.cross(tri[:, 1] - tri[:, 0], tri[:, 2] - tri[:, 0]), axis=1).sum()
        tones = [np.array(colour) * s for s in np.linspace(0.8, 2.1, 12)]
        curves, radii = m.fuzz(v, n, f, int(area * 75), rng, 0.17, 0.0065)
        p.wool(curves, radii, tones, 0.03, shadow=False)
        curves, radii = m.fuzz(v, n, f, int(area * 1.1), rng, 0.62, 0.0058, points=9, stand=1.0)
        p.wool(curves, radii, tones, 0.03, shadow=False)


HEAD = """#version 3.7;
global_settings {assumed_gamma 1.0 max_trace_level 8}
camera {location <%g,%g,%g> up y*4 right x*3 angle %g look_at <%g,%g,%g>}
light_source {<-46,74,-70> rgb <1.10,1.04,0.95>*1.35 area_light <16,0,9>,<0,16,0>,%d,%d adaptive 1 jitter circular orient}
light_source {<60,30,-80> rgb <0.80,0.90,1.0>*0.26 shadowless}
light_source {<34,58,52> rgb <1,0.96,0.9>*0.5 shadowless}
"""
SWEEP = """#declare Sweep = union {
 plane {y,0 clipped_by {plane {z,28}}} difference {box {<-300,0,28>,<300,26,54>} cylinder {<-301,26,28>,<301,26,28>,26}} box {<-300,26,54>,<300,200,55>}
 texture {pigment {bozo turbulence 0.6 color_map {[0 rgb <0.80,0.785,0.75>][1 rgb <0.83,0.815,0.785>]} scale 1.6} normal {granite 0.03 scale 0.7} finish {ambient 0 diffuse 0.82 emission 0.03}} %s}
object {Sweep}
"""


def main():
    args = argparse.ArgumentParser(description=__doc__)
    args.add_argument("out")
    args.add_argument("--draft", action="store_true")
    o = args.parse_args()
    out = Path(o.out)
    width, height = (600, 800) if o.draft else (2250, 3000)
    rng = np.random.default_rng(1871)
    p = Puppet(rng)
    for part in (body, head, cap, hair, scarf, staff_and_lantern, felt_fuzz):
        part(p)
    work = camera.work_folder()
    scene = "\n".join(p.parts)
    eye = (*EYE, ANGLE, *AIM)
    subject = HEAD % (*eye, 3, 3) + SWEEP % "no_image" + scene
    aa = ["+A0.15", "+AM2", "+R2"] if o.draft else ["+A0.06", "+AM2", "+R3", "-J"]
    rgba = camera.povray(subject, "subject", width, height, ["+UA", *aa], work)
    small = HEAD % (*eye, 9, 9) + SWEEP % "" + "union {" + scene + " no_image}"
    plate = camera.povray(small, "plate", width // 2, height // 2, ["+A0.2", "+AM2", "+R2"], work)
    plate = cv2.resize(plate, (width, height), interpolation=cv2.INTER_CUBIC)
    alpha = rgba[..., 3:]
    premultiplied = camera.lens(rgba[..., :3] * alpha)
    alpha = np.clip(camera.lens(alpha), 0, 1).reshape(height, width, 1)
    own = premultiplied / np.maximum(alpha, 1e-4)
    photo = premultiplied + (1 - alpha) * camera.lens(plate)
    out.mkdir(parents=True, exist_ok=True)
    camera.save_jpeg(out / "lamplighter.jpg", camera.develop(photo, np.random.default_rng(7), noise=0.006))
    camera.save_png(out / "lamplighter-alpha.png", np.round(alpha[..., 0] * 255).astype(np.uint8))
    camera.save_jpeg(out / "lamplighter-colours.jpg", np.clip(camera.encode(own) * (alpha > 0.004) * 255 + 0.5, 0, 255).astype(np.uint8), 90)
    camera.save_json(out / "lamplighter.json", {
        "camera": {"position_cm": EYE, "aims_at_cm": AIM, "horizontal_angle_deg": ANGLE, "height_cm": EYE[1]},
        "light": {"key_cm": [-46, 74, -70], "fill_cm": [60, 30, -80], "rim_cm": [34, 58, 52]},
        "sizes_cm": {"puppet": 29.2, "staff": 27.6, "cap_width": 7.5}, "alpha_mixed_in": "linear light"})


if __name__ == "__main__":
    main()
