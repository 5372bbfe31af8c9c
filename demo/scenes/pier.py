#!/usr/bin/env python3
"""The harbour pier of Fennick Bay at dusk: sharp where a subject will stand, softer with distance.

    python3 pier.py OUT_DIR [--draft]

Writes pier.jpg and pier.json (camera, lamps, sizes in metres). Needs povray and python3-{numpy,scipy,opencv}.
"""
import argparse
from pathlib import Path

import cv2
import numpy as np

import camera

EYE = (0.0, 1.62, -5.6)
AIM = (0.05, 1.28, 6.0)
ANGLE = 46.0
HALF = 1.75            # half the width of the deck
NEAR_END, FAR_END = 7.0, 21.0

HEAD = """#version 3.7;
#include "functions.inc"
global_settings {assumed_gamma 1.0 max_trace_level 6}
camera {location <%g,%g,%g> up y*2 right x*3 angle %g look_at <%g,%g,%g>}
light_source {<-30,26,60> rgb <1.0,0.60,0.42>*0.42 area_light <22,0,0>,<0,14,0>,4,4 adaptive 1 jitter}
light_source {<8,40,-30> rgb <0.50,0.48,0.66>*0.40 area_light <40,0,0>,<0,0,40>,3,3 adaptive 1 jitter}
light_source {<-20,18,-40> rgb <0.60,0.50,0.60>*0.26 shadowless}
#declare SkyMap = pigment {gradient y color_map {
 [0.0 rgb <0.46,0.255,0.20>][0.05 rgb <0.47,0.25,0.205>][0.14 rgb <0.40,0.235,0.235>][0.28 rgb <0.26,0.185,0.245>][0.6 rgb <0.135,0.12,0.20>][1 rgb <0.07,0.07,0.14>]}}
"""


def sky(shown):
    """The evening sky as a shell: mirrored in water and lamps even where the layer leaves it out of its picture."""
    clouds = ("pigment {wrinkles turbulence 0.7 lambda 2.3 omega 0.55 color_map {[0 rgbt <0.22,0.13,0.17,0.55>][0.42 rgbt <0.25,0.15,0.19,0.86>][0.62 "
              "rgbt <0.5,0.3,0.27,1>][1 rgbt <0.5,0.3,0.27,1>]} scale <0.8,0.10,0.8> translate <3.1,0.0,1> scale 5000}")
    glow = "finish {ambient 0 diffuse 0 emission 1}"
    return "sphere {0,5000 hollow no_shadow texture {pigment {SkyMap scale 5000} %s} texture {%s %s} %s}\n" % (
        glow, clouds, glow, "" if shown else "no_image")


WATER = """plane {y,-1.15 texture {pigment {rgb <0.020,0.024,0.036>} normal {average normal_map {
 [1 bumps 0.42 scale <0.55,0.3,0.20>] [1 bumps 0.30 scale <1.9,0.4,0.6> rotate y*14] [0.8 wrinkles 0.22 scale <0.25,0.2,0.11> rotate y*-9]}}
 finish {ambient 0 diffuse 0.35 specular 0.12 roughness 0.02 reflection {0.05,0.92 fresnel}}} interior {ior 1.33} %s}
"""


def hills(rng):
    out = []
    for z, height, tone, seed in ((900, 74, (0.27, 0.165, 0.185), 1), (620, 36, (0.165, 0.115, 0.145), 2), (380, 15, (0.105, 0.080, 0.110), 3)):
        x = np.linspace(-900, 900, 260)
        r = np.random.default_rng(seed * 17)
        y = sum(r.uniform(.4, 1) / (k ** 1.1) * np.sin(x / 900 * np.pi * k * 1.3 + r.uniform(0, 6.3)) for k in range(1, 26))
        y = height * (0.55 + 0.28 * y)
        pts = ",".join("<%.1f,%.2f>" % q for q in zip(x, np.maximum(y, 1.5)))
        out.append("prism {0,1,%d,<-900,-2>,%s,<900,-2>,<-900,-2> rotate -90*x scale <1,1,-1> translate <0,0,%g> pigment {rgb <%.3f,%.3f,%.3f>} finish {ambient 0 diffuse "
                   "0 emission 1} no_shadow}" % (len(x) + 3, pts, z, *tone))
    for _ in range(70):
        z = rng.uniform(200, 370)
        x = rng.uniform(-0.55, 0.55) * z
        warm = rng.random() < 0.75
        c = np.array([1, 0.60, 0.25]) if warm else np.array([0.75, 0.9, 1.0])
        out.append("sphere {<%.1f,%.1f,%.1f>,%.2f pigment {rgb <%.2f,%.2f,%.2f>} finish {ambient 0 diffuse 0 emission %.1f} no_shadow}" % (
            x, rng.uniform(0.5, 9), z, 0.0016 * z, *c, rng.uniform(1.2, 4.0)))
    for x, z, s in ((-26, 62, 1.0), (19, 70, 1.1), (31, 48, 0.8), (-11, 95, 1.2), (46, 110, 1.3)):
        out.append("union {sphere {0,1 scale <3.4,0.85,1.1> translate <0,-0.9,0>} cylinder {<0.3,0,0>,<0.3,9,0>,0.07} sphere {<0.3,6.8,0>,0.22 pigment {rgb <1,0.7,0.35>} "
                   "finish {emission 7 diffuse 0}} pigment {rgb <0.030,0.026,0.034>} finish {ambient 0 diffuse 0.7} scale %.2f translate <%.1f,-0.62,%.1f>}" % (s, x, z))
    return "\n".join(out)


def plank(rng, z, width):
    y = rng.normal(0, 0.006)
    ends = HALF + rng.uniform(-0.06, 0.08), HALF + rng.uniform(-0.06, 0.08)
    tone = rng.uniform(0.62, 1.25)
    warm = rng.uniform(0.92, 1.1)
    a = np.array([0.150 * warm, 0.105, 0.074]) * tone
    b = a * np.array([0.45, 0.43, 0.43])
    turn = rng.normal(0, 0.35)
    shift = rng.uniform(-50, 50)
    nails = "".join("cylinder {<%.3f,0.0,%.3f>,<%.3f,0.0335,%.3f>,0.014 pigment {rgb 0.02} finish {ambient 0 diffuse 0.5 specular 0.3}}" % (
        x + rng.normal(0, .02), dz + rng.normal(0, .01), x + rng.normal(0, .02), dz) for x in (-HALF + .17, HALF - .17) for dz in (-width * .22, width * .22))
    grain = ("pigment {wood turbulence 0.07 omega 0.6 octaves 4 color_map {[0 rgb <%.4f,%.4f,%.4f>][0.5 rgb <%.4f,%.4f,%.4f>][0.72 rgb <%.4f,%.4f,%.4f>][1 rgb "
             "<%.4f,%.4f,%.4f>]} scale <0.045,0.045,1> rotate <0,90,0> rotate <%.1f,0,%.2f> translate <%.2f,%.2f,0>}" % (*a, *(a * .8), *b, *(a * 1.05), rng.uniform(0, 360),
                                                                                                                       rng.normal(0, 1.0), shift, rng.uniform(-1, 1)))
    stain = ("pigment {bozo turbulence 1.2 color_map {[0 rgbt <0.02,0.018,0.02,0.35>][0.35 rgbt <0.03,0.026,0.026,0.8>][0.6 rgbt <0.1,0.1,0.1,1>][1 rgbt <.24,.2,.16,.8>]} "
             "scale <0.6,0.3,0.25> translate %.1f}" % shift)
    cracks = ("pigment {granite turbulence 0.1 color_map {[0 rgbt <0.01,0.01,0.01,0.1>][0.20 rgbt <0.02,0.02,0.02,0.8>][0.3 rgbt 1][1 rgbt 1]} scale <1.6,0.08,0.05> "
              "translate %.1f}" % (shift * .7))
    bumps = "normal {average normal_map {[1 granite 0.22 scale <1.4,0.07,0.05>][0.6 wrinkles 0.2 scale <0.5,0.05,0.03>]} translate %.1f}" % shift
    finish = "finish {ambient 0 diffuse 0.85 specular 0.10 roughness 0.06}"
    return ("union {superellipsoid {<0.06,0.12> scale <%.3f,0.033,%.4f> texture {%s %s %s} texture {%s %s %s} texture {%s %s}} %s rotate <%.2f,%.2f,%.2f> "
            "translate <%.3f,%.4f,%.3f>}" % ((ends[0] + ends[1]) / 2, width / 2 - 0.006, grain, bumps, finish, stain, bumps, finish, cracks, finish, nails,
                                            rng.normal(0, .5), turn, rng.normal(0, .12), (ends[1] - ends[0]) / 2, y, z))


def deck(rng, start, end):
    out, z = [], start
    while z < end:
        w = rng.uniform(0.17, 0.215)
        out.append(plank(rng, z + w / 2, w))
        z += w + rng.uniform(0.008, 0.02)
    out += ["box {<%.2f,-0.30,%.1f>,<%.2f,-0.035,%.1f> pigment {rgb <0.03,0.022,0.018>} finish {ambient 0 diffuse 0.6}}" % (x - .1, start, x + .1, end) for x in (-1.5, 0, 1.5)]
    return "\n".join(out)


def posts(rng, zs):
    wood = ("texture {pigment {granite turbulence 0.3 color_map {[0 rgb <0.030,0.023,0.019>][0.5 rgb <0.075,0.056,0.042>][1 rgb <0.045,0.033,0.026>]} scale <0.06,0.9,0.06> "
            "translate %.1f} normal {granite 0.4 scale <0.05,0.6,0.05>} finish {ambient 0 diffuse 0.8 specular 0.05}}")
    rope = "texture {pigment {rgb <0.20,0.145,0.085>} normal {gradient x 0.9 sine_wave scale 0.03 rotate <0,30,40>} finish {ambient 0 diffuse 0.8}}"
    out = []
    for side in (-1, 1):
        x = side * (HALF + 0.16)
        tops = []
        for z in zs:
            h = 0.62 + rng.normal(0, .03)
            lean = rng.normal(0, 1.2)
            out.append("union {cylinder {<0,-2.5,0>,<0,%.3f,0>,0.165} torus {0.14,0.026 translate <0,%.3f,0>} cylinder {<0,%.3f,0>,<0,%.3f,0>,0.142} rotate <0,%d,%.1f> translate "
                       "<%.3f,0,%.3f> %s}" % (h, h, h, h + .024, rng.integers(360), lean, x, z, wood % rng.uniform(-9, 9)))
            out.append("union {%s %s translate <%.3f,0,%.3f>}" % ("".join("torus {0.178,0.024 rotate <%.1f,0,%.1f> translate <0,%.3f,0>}" % (
                rng.normal(0, 3), rng.normal(0, 3), h - .20 - .044 * i) for i in range(3)), rope, x, z))
            tops.append((x - side * 0.17, h - 0.24, z))
        for (x0, y0, z0), (x1, y1, z1) in zip(tops, tops[1:]):
            t = np.linspace(0, 1, 14)
            sag = 0.30 + rng.uniform(-.05, .05)
            pts = "".join("<%.3f,%.3f,%.3f>,0.022 " % (x0 + (x1 - x0) * s, y0 + (y1 - y0) * s - sag * 4 * s * (1 - s), z0 + (z1 - z0) * s) for s in t)
            out.append("sphere_sweep {linear_spline 14 %s %s}" % (pts, rope))
    return "\n".join(out)


def lamp(x, z, light=True):
    iron = "pigment {rgb <0.022,0.024,0.030>} normal {bumps 0.06 scale 0.02} finish {ambient 0 diffuse 0.6 specular 0.35 roughness 0.03}"
    body = ("union {cylinder {<0,0,0>,<0,2.75,0>,0.042} cylinder {<0,0,0>,<0,0.3,0>,0.085} torus {0.085,0.02 translate y*0.3} cylinder {<0,0.3,0>,<0,0.95,0>,0.055} torus "
            "{0.055,0.016 translate y*0.95} torus {0.045,0.016 translate y*2.3} cone {<0,2.72,0>,0.05,<0,2.82,0>,0.115} torus {0.125,0.014 translate y*2.84} cone "
            "{<0,3.26,0>,0.205,<0,3.42,0>,0.04} sphere {<0,3.45,0>,0.035} torus {0.195,0.016 translate y*3.26} %s texture {%s}}" % (
                "".join("cylinder {<%.3f,2.84,%.3f>,<%.3f,3.26,%.3f>,0.010}" % (.125 * np.cos(t), .125 * np.sin(t), .19 * np.cos(t), .19 * np.sin(t)) for t in
                        np.arange(6) * np.pi / 3 + .3), iron))
    glow = "sphere {0,1 scale <0.085,0.135,0.085> translate y*3.04 pigment {rgb <1,0.72,0.38>} finish {ambient 0 diffuse 0 emission 6} no_shadow}"
    pane = ("cone {<0,2.85,0>,0.12,<0,3.25,0>,0.185 open pigment {rgbt <1,0.85,0.6,0.8>} finish {ambient 0 diffuse 0.1 emission 0.22} no_shadow}")
    source = "light_source {<0,3.04,0> rgb <1,0.60,0.28>*%.2f fade_distance 1.6 fade_power 2 area_light <0.16,0,0>,<0,0.2,0>,3,3 adaptive 0 jitter}" % (1.5 if light else 0.0)
    return "union {%s %s %s %s translate <%.2f,0,%.2f>}" % (body, glow, pane, source if light else "", x, z)


def main():
    args = argparse.ArgumentParser(description=__doc__)
    args.add_argument("out")
    args.add_argument("--draft", action="store_true")
    o = args.parse_args()
    width, height = (900, 600) if o.draft else (3000, 2000)
    rng = np.random.default_rng(404)
    near_deck, far_deck = deck(rng, -5.2, NEAR_END), deck(rng, NEAR_END, FAR_END)
    near_posts, far_posts = posts(rng, np.arange(-2.6, NEAR_END, 2.3)), posts(rng, np.arange(-2.6 + 2.3 * 4, FAR_END, 2.3))
    lamps = [(1.52, 4.4), (-1.52, 7.2), (1.52, 12.0), (-1.52, 14.5)]
    near_lamps = lamp(*lamps[0])
    far_lamps = "".join(lamp(*q) for q in lamps[1:])
    eye = HEAD % (*EYE, ANGLE, *AIM)
    far_scene = hills(rng)
    work = camera.work_folder()
    aa = ["+A0.2", "+AM2", "+R2", "-J"]
    see = lambda text, seen: "union {%s %s}\n" % (text, "" if seen else "no_image")
    layers = []
    for name, shown in (("near", 0), ("middle", 1)):
        scene = eye + sky(False) + see(near_deck + near_posts + near_lamps, shown == 0) + see(far_deck + far_posts + far_lamps, shown == 1) + (
            WATER % "no_image") + see(far_scene, False)
        layers.append(camera.povray(scene, name, width, height, ["+UA", *aa], work))
    back = camera.povray(eye + sky(True) + WATER % "" + far_scene + see(near_deck + near_posts + near_lamps + far_deck + far_posts + far_lamps, False),
                         "back", width, height, aa, work)
    unit = width / 3000
    photo = camera.disc_blur(back, 7.5 * unit)
    for picture, radius in ((layers[1], 3.2 * unit), (layers[0], 0.0)):
        a = picture[..., 3:]
        premultiplied, a = camera.disc_blur(picture[..., :3] * a, radius), camera.disc_blur(picture[..., 3], radius)[..., None]
        photo = premultiplied + (1 - np.clip(a, 0, 1)) * photo
    glow = cv2.GaussianBlur(np.maximum(photo - 0.75, 0), (0, 0), 26 * unit) * 0.9 + cv2.GaussianBlur(np.maximum(photo - 0.75, 0), (0, 0), 90 * unit) * 1.2
    photo = camera.lens(photo + glow, 0.7)
    out = Path(o.out)
    out.mkdir(parents=True, exist_ok=True)
    camera.save_jpeg(out / "pier.jpg", camera.develop(photo * 1.12, np.random.default_rng(11), noise=0.009, vignette=0.26, shoulder=0.72))
    camera.save_json(out / "pier.json", {
        "camera": {"position_m": EYE, "aims_at_m": AIM, "horizontal_angle_deg": ANGLE, "height_m": EYE[1]},
        "light": {"sun": "below the horizon, glow from the left behind", "lamps_m": [{"x": x, "z": z, "height": 3.04} for x, z in lamps]},
        "sizes_m": {"deck_width": 2 * HALF, "lamp_height": 3.45, "post_height": 0.62}, "in_focus_m": [-4.0, NEAR_END]})


if __name__ == "__main__":
    main()
