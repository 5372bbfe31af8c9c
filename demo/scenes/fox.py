#!/usr/bin/env python3
"""A fur fox in front of a wall close to its own colour, with its true alpha and colours: the hard case for a cut.

    python3 fox.py OUT_DIR [--draft]

Writes fox.jpg, fox-alpha.png, fox-colours.jpg and fox.json. Needs povray and python3-{numpy,scipy,opencv}.
"""
import argparse
from pathlib import Path

import numpy as np

import camera
import meshes as m

EYE, AIM, ANGLE = (0.0, 9.5, -52.0), (0.9, 7.9, 0.0), 19.5

RUST, CREAM, DARK = np.array([0.30, 0.105, 0.028]), np.array([0.50, 0.42, 0.33]), np.array([0.040, 0.024, 0.018])

# centre, radii, strands, length, colour, direction the fur is combed to
BODY = [
    ((0, 5.0, 1.0), (3.6, 4.8, 3.3), 8200, 1.25, RUST, (0, -1, -0.2)),
    ((0, 5.6, -1.7), (2.1, 3.4, 1.3), 3600, 1.35, CREAM, (0, -1, -0.3)),
    ((0, 12.0, 0), (3.1, 2.7, 2.6), 7000, 0.85, RUST, (0, 0.2, 0.8)),
    ((-2.2, 11.0, -0.5), (1.3, 1.2, 1.2), 2400, 1.7, CREAM, (-1, -0.35, 0)),
    ((2.2, 11.0, -0.5), (1.3, 1.2, 1.2), 2400, 1.7, CREAM, (1, -0.35, 0)),
    ((0, 10.6, -2.2), (1.25, 0.95, 1.5), 2600, 0.38, RUST * 1.1, (0, -0.2, 0.7)),
    ((0, 10.0, -2.2), (1.1, 0.55, 1.2), 1500, 0.6, CREAM, (0, -0.8, 0.3)),
    ((-1.5, 2.6, -2.3), (0.95, 2.6, 0.95), 2200, 0.65, DARK, (0, -1, 0)),
    ((1.5, 2.6, -2.3), (0.95, 2.6, 0.95), 2200, 0.65, DARK, (0, -1, 0)),
    ((5.0, 2.6, 1.2), (2.8, 1.8, 1.8), 4200, 1.5, RUST, (1, 0.35, 0)),
    ((7.5, 5.0, 1.2), (1.7, 2.5, 1.6), 4300, 1.6, CREAM * 0.95, (0.35, 1, 0)),
    ((-1.9, 14.8, 0.2), (0.75, 1.9, 0.42), 2000, 0.5, DARK * 2.2, (-0.25, 1, 0)),
    ((1.9, 14.8, 0.2), (0.75, 1.9, 0.42), 2000, 0.5, DARK * 2.2, (0.25, 1, 0)),
]


def coat(rng):
    parts = []
    for centre, radii, count, length, colour, comb in BODY:
        c, r = np.array(centre, float), np.array(radii, float)
        parts.append("sphere {0,1 scale <%.3f,%.3f,%.3f> translate <%.2f,%.2f,%.2f> pigment {rgb <%.4f,%.4f,%.4f>} finish {ambient 0 diffuse 0.6}}" % (*(r * 0.97), *c, *(colour * 0.5)))
        d = rng.normal(0, 1, (count, 3))
        d /= np.linalg.norm(d, axis=1, keepdims=True)
        roots = c + d * r
        keep = np.ones(count, bool)
        for ex in (-1.15, 1.15):
            keep &= np.linalg.norm(roots - np.array([ex, 12.2, -2.35]), axis=1) > 0.62
        keep &= np.linalg.norm(roots - np.array([0, 10.85, -3.7]), axis=1) > 0.55
        roots, d = roots[keep], d[keep]
        n = len(roots)
        normal = d / r
        normal /= np.linalg.norm(normal, axis=1, keepdims=True)
        clump = roots[rng.integers(0, n, max(n // 14, 1))]
        near = np.argmin(((roots[:, None] - clump[None]) ** 2).sum(2), axis=1)
        flow = 0.62 * normal + 0.75 * np.array(comb, float) + rng.normal(0, 0.17, (n, 3))
        flow /= np.linalg.norm(flow, axis=1, keepdims=True)
        k = 10
        t = np.linspace(0, 1, k)[None, :, None]
        size = (length * rng.uniform(0.6, 1.25, n))[:, None, None]
        curves = roots[:, None] + size * (flow[:, None] * t + np.array([0, -0.22, 0]) * t ** 2 + rng.normal(0, 0.10, (n, 1, 3)) * t ** 2)
        curves = curves + 0.42 * (clump[near] - roots)[:, None] * t ** 1.5
        widths = 0.021 * rng.uniform(0.7, 1.3, (n, 1)) * (1 - 0.8 * t[..., 0])
        tones = [colour * s for s in np.linspace(0.5, 1.6, 16)]
        parts.append(m.strands(curves, widths, rng.integers(0, 16, n), m.shade_textures(tones, 0.14 if colour.sum() > 0.9 else 0.08)) + "}")
    parts.append("torus {2.35,0.36 scale <1,1,0.85> rotate <6,0,0> translate <0,9.0,-0.6> texture {pigment {bozo color_map {[0 rgb <0.015,0.085,0.085>][1 rgb <0.03,0.13,0.125>]} "
                 "scale 0.1} normal {granite 0.3 scale 0.1} finish {ambient 0 diffuse 0.7}}}")
    for x in (-1.15, 1.15):
        parts.append("sphere {<%.2f,12.2,-2.35>,0.42 pigment {rgb <0.008,0.005,0.004>} finish {ambient 0 diffuse 0.6 specular 0.9 roughness 0.003 reflection {0.02,0.3 fresnel}} interior "
                     "{ior 1.5}}" % x)
    parts.append("sphere {0,1 scale <0.55,0.40,0.38> translate <0,10.85,-3.7> pigment {rgb 0.008} normal {bumps 0.3 scale 0.08} finish {ambient 0 diffuse 0.6 specular 0.5 roughness 0.02}}")
    return "\n".join(parts)


HEAD = """#version 3.7;
global_settings {assumed_gamma 1.0 max_trace_level 6}
camera {location <%g,%g,%g> up y*4 right x*3.2 angle %g look_at <%g,%g,%g>}
light_source {<-30,46,-44> rgb <1.1,1.03,0.94>*1.25 area_light <10,0,6>,<0,10,0>,%d,%d adaptive 1 jitter circular orient}
light_source {<44,24,-50> rgb <0.8,0.9,1>*0.32 shadowless}
light_source {<20,40,40> rgb 0.4 shadowless}
"""
ROOM = """union {
 plane {y,0 texture {pigment {wood turbulence 0.1 color_map {[0 rgb <0.26,0.13,0.06>][1 rgb <0.17,0.08,0.035>]} scale <1.2,1.2,8> rotate <2,86,0>} finish {ambient 0 diffuse 0.7}}}
 plane {-z,-16 texture {pigment {bozo turbulence 1.1 lambda 2.6 omega 0.6 color_map {[0 rgb <0.25,0.115,0.050>][0.5 rgb <0.33,0.155,0.070>][1 rgb <0.40,0.22,0.115>]} scale 2.4} normal {granite
 0.22 scale 1.6} finish {ambient 0 diffuse 0.75 emission 0.03}}} %s}
"""


def main():
    args = argparse.ArgumentParser(description=__doc__)
    args.add_argument("out")
    args.add_argument("--draft", action="store_true")
    o = args.parse_args()
    width, height = (480, 600) if o.draft else (1440, 1800)
    scene = coat(np.random.default_rng(29))
    work = camera.work_folder()
    head = HEAD % (*EYE, ANGLE, *AIM, 5, 5)
    rgba = camera.povray(head + ROOM % "no_image" + scene, "subject", width, height, ["+UA", "+A0.06", "+AM2", "+R3", "-J"], work)
    plate = camera.povray(head + ROOM % "" + "union {" + scene + " no_image}", "plate", width, height, ["+A0.2", "+AM2", "+R2"], work)
    alpha = rgba[..., 3:]
    premultiplied = camera.lens(rgba[..., :3] * alpha)
    alpha = np.clip(camera.lens(alpha), 0, 1).reshape(height, width, 1)
    photo = premultiplied + (1 - alpha) * camera.disc_blur(plate, 2.0 * width / 1440)
    out = Path(o.out)
    out.mkdir(parents=True, exist_ok=True)
    camera.save_jpeg(out / "fox.jpg", camera.develop(photo, np.random.default_rng(3)))
    camera.save_png(out / "fox-alpha.png", np.round(alpha[..., 0] * 255).astype(np.uint8))
    own = premultiplied / np.maximum(alpha, 1e-4)
    camera.save_jpeg(out / "fox-colours.jpg", np.clip(camera.encode(own) * (alpha > 0.004) * 255 + 0.5, 0, 255).astype(np.uint8), 90)
    camera.save_json(out / "fox.json", {"camera": {"position_cm": EYE, "aims_at_cm": AIM, "horizontal_angle_deg": ANGLE, "height_cm": EYE[1]},
                                        "light": {"key_cm": [-30, 46, -44]}, "sizes_cm": {"fox": 16.5}, "alpha_mixed_in": "linear light"})


if __name__ == "__main__":
    main()
