#!/usr/bin/env python3
"""The same subjects standing in a place, and cut out of a studio picture by the same camera: what a composite should look like.

    python3 standing.py OUT_DIR [--only PLACE-SUBJECT] [--width 900]

For every place and subject: NAME/ground.jpg (the place without it), NAME/truth.jpg (it stands there, lit by the place, with its
shadows), NAME/colours.jpg and NAME/alpha.png (it alone under studio light, from the same camera: lies on the truth to the pixel) and
NAME/facts.json. Lengths are metres. Needs povray and python3-{numpy,opencv}.
"""
import argparse
from pathlib import Path

import cv2
import numpy as np

import camera

DIFFUSE = "finish {ambient 0 diffuse 0.8}"


def mottled(r, g, b, scale=0.05, bump=0.25, finish=DIFFUSE):
    return ("texture {pigment {bozo turbulence 0.8 color_map {[0 rgb <%.3f,%.3f,%.3f>][0.5 rgb <%.3f,%.3f,%.3f>][1 rgb <%.3f,%.3f,%.3f>]} scale %g} "
            "normal {granite %g scale %g} %s}" % (r * .7, g * .7, b * .7, r, g, b, r * 1.3, g * 1.3, b * 1.3, scale, bump, scale, finish))


def keeper():
    """A harbour keeper of 1.72 m: coat, scarf, cap, boots."""
    coat, skin, red = mottled(.05, .09, .13), mottled(.50, .31, .22, .02, .05), mottled(.25, .03, .03, .03)
    boots, grey = mottled(.03, .02, .016, .03, .1, "finish {ambient 0 diffuse 0.6 specular 0.3 roughness 0.05}"), mottled(.33, .30, .26, .02, .5)
    parts = ["lathe {quadratic_spline 8 <0.30,0.30>,<0.29,0.32>,<0.25,0.60>,<0.21,0.95>,<0.23,1.25>,<0.20,1.38>,<0.09,1.46>,<0.05,1.50> scale <1,1,0.72> %s}" % coat,
             "sphere {0,1 scale <0.095,0.125,0.105> translate <0,1.585,-0.01> %s}" % skin, "sphere {<0,1.57,-0.115>,0.022 %s}" % skin,
             "union {sphere {0,1 scale <0.112,0.062,0.118> translate <0,1.665,0>} cylinder {<0,1.64,-0.03>,<0,1.66,-0.03>,0.135} %s}" % red,
             "torus {0.10,0.045 scale <1,1.1,0.9> translate <0,1.45,0> %s}" % grey, "sphere_sweep {linear_spline 3 <-0.05,1.43,-0.13>,0.035 <-0.08,1.25,-0.175>,0.035 <-0.07,1.08,-0.17>,0.03 %s}" % grey]
    for s in (-1, 1):
        parts += ["sphere_sweep {cubic_spline 6 <%.2f,1.45,0>,0.07 <%.2f,1.36,0>,0.075 <%.2f,1.10,0.02>,0.066 <%.2f,0.86,-0.06>,0.06 <%.2f,0.80,-0.09>,0.058 <%.2f,0.7,-0.1>,0.05 %s}" % (
            s * .12, s * .19, s * .28, s * .30, s * .30, s * .3, coat), "sphere {0,1 scale <0.045,0.065,0.05> translate <%.2f,0.74,-0.1> %s}" % (s * .30, skin),
            "union {cylinder {<%.2f,0.05,0>,<%.2f,0.42,0>,0.085} sphere {0,1 scale <0.085,0.075,0.15> translate <%.2f,0.06,-0.06>} %s}" % (s * .13, s * .12, s * .13, boots)]
    return "union {%s}" % "\n".join(parts), 1.72


def vase():
    """A glazed vase of 0.8 m, pale with a blue band."""
    glaze = ("texture {pigment {gradient y color_map {[0 rgb <0.55,0.48,0.38>][0.42 rgb <0.55,0.48,0.38>][0.43 rgb <0.05,0.12,0.30>][0.58 rgb <0.05,0.12,0.30>]"
             "[0.59 rgb <0.55,0.48,0.38>][1 rgb <0.58,0.50,0.40>]} scale 0.8} normal {bumps 0.04 scale 0.03} finish {ambient 0 diffuse 0.7 specular 0.4 roughness 0.02}}")
    return "lathe {cubic_spline 10 <0,-0.02>,<0.001,0.0>,<0.16,0.0>,<0.20,0.10>,<0.28,0.36>,<0.22,0.58>,<0.10,0.70>,<0.13,0.80>,<0.12,0.801>,<0.11,0.82> %s}" % glaze, 0.8


def hound():
    """A sitting hound of 0.75 m, tan and cream."""
    tan, cream, dark = mottled(.30, .16, .07, .015, .6), mottled(.52, .45, .36, .015, .6), mottled(.04, .03, .03, .02, .2)
    egg = lambda c, r, t, turn=0: "sphere {0,1 scale <%g,%g,%g> rotate x*%g translate <%g,%g,%g> %s}" % (*r, turn, *c, t)
    parts = [egg((0, .30, .10), (.15, .26, .17), tan, -25), egg((0, .36, -.02), (.11, .17, .10), cream), egg((0, .60, -.06), (.11, .11, .12), tan),
             egg((0, .57, -.18), (.055, .05, .09), cream), egg((0, .585, -.265), (.022, .018, .018), dark), egg((-.045, .64, -.155), (.016, .016, .012), dark),
             egg((.045, .64, -.155), (.016, .016, .012), dark), egg((-.10, .62, -.03), (.03, .10, .06), dark), egg((.10, .62, -.03), (.03, .10, .06), dark),
             egg((-.12, .12, .08), (.09, .13, .16), tan), egg((.12, .12, .08), (.09, .13, .16), tan)]
    for s in (-1, 1):
        parts += ["cylinder {<%g,0.02,-0.12>,<%g,0.34,-0.06>,0.042 %s}" % (s * .075, s * .07, tan), egg((s * .075, .03, -.15), (.048, .03, .07), cream)]
    parts.append("sphere_sweep {cubic_spline 5 <0,0.1,0.2>,0.03 <0.05,0.05,0.28>,0.035 <0.2,0.04,0.32>,0.032 <0.33,0.05,0.24>,0.02 <0.4,0.06,0.2>,0.01 %s}" % tan)
    return "union {%s}" % "\n".join(parts), 0.72


def crates():
    """Two crates and a sack, 0.95 m."""
    def wood(t):
        return ("texture {pigment {wood turbulence 0.1 color_map {[0 rgb <0.34,0.22,0.12>][0.6 rgb <0.22,0.13,0.07>][1 rgb <0.16,0.09,0.05>]} scale <0.03,0.03,1> rotate <88,0,0> "
                "translate %g} normal {wrinkles 0.2 scale 0.05} %s}" % (t, DIFFUSE))
    def crate(w, h, y, turn):
        out = []
        for i in range(4):
            z = h * (i + .5) / 4
            out.append("box {<%g,%g,%g>,<%g,%g,%g> %s}" % (-w / 2, z - h / 8 + .006, -w / 2, w / 2, z + h / 8 - .006, w / 2, wood(i * 1.7 + y)))
        for sx in (-1, 1):
            for sz in (-1, 1):
                out.append("box {<%g,0,%g>,<%g,%g,%g> %s}" % (sx * (w / 2 + .012) - .035, sz * (w / 2 + .012) - .035, sx * (w / 2 + .012) + .035, h, sz * (w / 2 + .012) + .035, wood(sx + 3 * sz)))
        return "union {%s rotate y*%g translate y*%g}" % ("".join(out), turn, y)
    sack = mottled(.40, .33, .22, .01, .8)
    return "union {%s %s union {sphere {0,1 scale <0.17,0.2,0.15> translate <0.05,0.17,0>} sphere {0,1 scale <0.06,0.06,0.05> translate <0.05,0.38,0>} %s translate <0.45,0,-0.15>}}" % (
        crate(.52, .5, 0, 18), crate(.38, .42, .5, -24), sack), 0.92


SUBJECTS = {"keeper": keeper, "vase": vase, "hound": hound, "crates": crates}


def dome(colour, ground, strength, n=14):
    """Light from the whole sky and a little from the ground, with shadows: what darkens where things touch."""
    out = []
    for i in range(n):
        y = (i + .5) / n
        a = i * 2.399963
        r = np.sqrt(1 - y * y)
        out.append("light_source {<%.1f,%.1f,%.1f> rgb <%.4f,%.4f,%.4f>}" % (200 * r * np.cos(a), 200 * y + 2, 200 * r * np.sin(a), *(np.array(colour) * strength / n * 1.6)))
    for a in np.arange(4) * np.pi / 2 + .6:
        out.append("light_source {<%.1f,-60,%.1f> rgb <%.4f,%.4f,%.4f> shadowless}" % (150 * np.cos(a), 150 * np.sin(a), *(np.array(ground) * strength * .07)))
    return "\n".join(out)


def sun(direction, colour, size=2.0):
    d = np.array(direction, float) / np.linalg.norm(direction) * 100
    return "light_source {<%.2f,%.2f,%.2f> rgb <%.3f,%.3f,%.3f> area_light <%g,0,0>,<0,0,%g>,5,5 adaptive 1 circular orient}" % (*d, *colour, size, size)


def sky(low, high):
    return "sky_sphere {pigment {gradient y color_map {[0 rgb <%g,%g,%g>][0.6 rgb <%g,%g,%g>]}}}" % (*low, *high)


STONES = ("plane {y,0 texture {pigment {brick pigment {rgb <%g,%g,%g>*0.55} pigment {granite turbulence 0.2 color_map {[0 rgb <%g,%g,%g>*0.75][1 rgb <%g,%g,%g>*1.2]} scale 0.6} "
          "brick_size <0.62,4,0.4> mortar 0.012} normal {granite 0.25 scale 0.15} finish {ambient 0 diffuse 0.8}}}")
PLANKS = ("plane {y,0 texture {pigment {brick pigment {rgb 0.012} pigment {wood turbulence 0.08 color_map {[0 rgb <%g,%g,%g>][0.6 rgb <%g,%g,%g>*0.7][1 rgb <%g,%g,%g>*0.9]} scale "
          "<0.05,0.05,2> rotate <0,90,0>} brick_size <2.4,4,0.18> mortar 0.008} normal {wrinkles 0.2 scale <0.6,0.2,0.05>} finish {ambient 0 diffuse 0.75 specular 0.08 roughness 0.05}}}")
GRASS = "plane {y,0 texture {pigment {bozo turbulence 1 color_map {[0 rgb <0.05,0.09,0.02>][0.6 rgb <0.09,0.15,0.03>][1 rgb <0.15,0.17,0.06>]} scale 0.12} normal {granite 0.9 scale 0.08} finish {ambient 0 diffuse 0.8}}}"
SNOW = "plane {y,0 texture {pigment {granite color_map {[0 rgb 0.74][1 rgb 0.84]} scale 2} normal {bumps 0.35 scale 0.35} finish {ambient 0 diffuse 0.85}}}"


def bollards(where):
    iron = mottled(.05, .05, .055, .05, .3)
    return "".join("union {cylinder {<0,0,0>,<0,0.6,0>,0.1} sphere {<0,0.62,0>,0.14} translate <%g,0,%g> %s}" % (x, z, iron) for x, z in where)


def house(x, z, w, h, colour, turn=0):
    wall = mottled(*colour, .3, .15)
    panes = "".join("box {<%g,%g,-0.06>,<%g,%g,0.1> pigment {rgb <0.03,0.04,0.05>} finish {ambient 0 diffuse 0.4 specular 0.4}}" % (a - .45, b, a + .45, b + 1.3)
                    for a in np.arange(-w / 2 + 1.2, w / 2 - .6, 1.9) for b in np.arange(1.0, h - 1.6, 2.6))
    return "union {box {<%g,0,0>,<%g,%g,6> %s} %s rotate y*%g translate <%g,0,%g>}" % (-w / 2, w / 2, h, wall, panes, turn, x, z)


# Each place: camera (height, distance, horizontal angle, pitch downwards), text with its light, exposure, sun or none, the size of what stands there.
PLACES = {
    "quay-dusk": dict(eye=(1.6, 6.0, 46, 5), exposure=1.25, sun=(-.75, .16, .62),
                      text=lambda: sky((.62, .30, .18), (.12, .13, .24)) + sun((-.75, .16, .62), (1.0, .52, .26)) + dome((.40, .42, .62), (.3, .2, .15), .42) + STONES % ((.16, .14, .13) * 3)
                      + bollards([(-2.6, 1.2), (2.4, 3.4), (-2.8, 6), (2.7, 8.5)]) + house(-9, 22, 9, 7, (.10, .08, .08), -20) + house(10, 26, 12, 9, (.09, .07, .08), 15)),
    "quay-noon": dict(eye=(1.5, 6.2, 42, 6), exposure=.92, sun=(.55, .78, -.35),
                      text=lambda: sky((.60, .70, .82), (.22, .36, .62)) + sun((.55, .78, -.35), (1.25, 1.18, 1.02)) + dome((.55, .68, .95), (.5, .45, .4), .42) + STONES % ((.42, .39, .35) * 3)
                      + bollards([(-2.2, .8), (2.5, 2.8), (-2.6, 5.5)]) + house(-8, 20, 8, 7, (.50, .36, .24), -15) + house(7, 24, 12, 9, (.55, .50, .42), 10)),
    "deck-noon": dict(eye=(1.62, 5.4, 50, 8), exposure=.95, sun=(-.5, .7, -.5),
                      text=lambda: sky((.66, .74, .84), (.25, .40, .66)) + sun((-.5, .7, -.5), (1.2, 1.15, 1.0)) + dome((.6, .72, .95), (.4, .3, .2), .4) + PLANKS % ((.34, .25, .17) * 3)
                      + bollards([(-1.9, .6), (1.9, .6), (-1.9, 3.2), (1.9, 3.2), (-1.9, 6), (1.9, 6)]) + "box {<-40,0,14>,<40,0.9,14.2> %s}" % mottled(.35, .33, .30)),
    "hall-window": dict(eye=(1.45, 5.6, 48, 5), exposure=1.2, sun=(-.9, .45, -.25),
                        text=lambda: "light_source {<-9,4.5,-2.5> rgb <0.95,1.0,1.08>*1.1 area_light <0,2.4,0>,<0,0,2.8>,6,6 adaptive 1 fade_distance 8 fade_power 2}" + dome((.5, .48, .45), (.3, .22, .15), .2)
                        + PLANKS % ((.22, .13, .07) * 3) + "box {<-12,0,5>,<12,6,5.2> %s} box {<-12,0,4.95>,<12,0.22,5> %s}" % (mottled(.42, .38, .30, .5, .05), mottled(.16, .1, .06))
                        + "union {box {<-0.35,0,-0.35>,<0.35,0.04,0.35> translate y*0.72} cylinder {<0,0,0>,<0,0.72,0>,0.04} %s translate <2.1,0,2.6>}" % mottled(.2, .12, .06)),
    "meadow-grey": dict(eye=(1.55, 6.4, 44, 5), exposure=1.1, sun=None,
                        text=lambda: sky((.72, .74, .76), (.55, .58, .62)) + dome((.92, .96, 1.0), (.2, .25, .1), 1.0, 24) + GRASS
                        + "".join("sphere {0,1 scale <%.2f,%.2f,%.2f> translate <%.1f,%.1f,%.1f> %s}" % (1.8 * k, 1.5 * k, 1.8 * k, x, 1.1 * k, z, mottled(.09, .13, .06, .3, .9))
                                  for x, z, k in ((-6, 14, 1), (-2.5, 19, 1.4), (4, 16, 1.1), (8, 13, .9), (13, 24, 1.6), (-14, 22, 1.7)))),
    "snow-morning": dict(eye=(1.6, 6.0, 44, 6), exposure=.85, sun=(.8, .3, .15),
                         text=lambda: sky((.85, .70, .60), (.35, .48, .72)) + sun((.8, .3, .15), (1.15, .84, .58)) + dome((.42, .55, .88), (.5, .5, .55), .5) + SNOW
                         + bollards([(-2.4, 1.5), (2.3, 4)]) + "".join("cone {<%.1f,0,%.1f>,%.2f,<%.1f,%.1f,%.1f>,0.05 %s}" % (x, z, .22 * h, x, h, z, mottled(.05, .08, .06, .2, .9))
                                                                        for x, z, h in ((-5, 13, 5), (-8, 18, 7), (6, 15, 5.5), (9, 20, 7.5), (2.5, 24, 7), (-1.5, 27, 6)))),
}
STUDIO = ("light_source {<-3,5,-5> rgb <1.05,1.0,0.96>*0.8 area_light <1.5,0,0>,<0,1.5,0>,4,4 adaptive 1 orient} light_source {<4,3,-5> rgb <0.9,0.95,1.0>*0.28 shadowless} "
          "light_source {<2,4,5> rgb 0.3 shadowless}")


def render(place, subject, width, out, work):
    p, height = PLACES[place], width * 2 // 3
    text, tall = SUBJECTS[subject]()
    eye, far, angle, pitch = p["eye"]
    # Small things are looked at from nearer by.
    far = far * (.45 + .55 * tall / 1.72)
    eye = eye * (.55 + .45 * tall / 1.72)
    turn = {"keeper": -12, "vase": 0, "hound": 28, "crates": 8}[subject]
    x = {"keeper": .35, "vase": -.2, "hound": .1, "crates": -.3}[subject]
    body = "union {%s rotate y*%g translate <%g,0,0> %%s}" % (text, turn, x)
    head = ("#version 3.7;\nglobal_settings {assumed_gamma 1.0 max_trace_level 4}\ncamera {location <0,%g,%g> direction z right x*1.5 up y angle %g rotate 0 look_at <0,%g,%g>}\n" % (
        eye, -far, angle, eye - np.tan(np.radians(pitch)), -far + 1))
    shot = lambda name, scene, more=(): camera.povray(head + scene, name, width, height, ["+A0.25", "+AM2", "+R2", "-J", *more], work)
    ground = shot("ground", p["text"]())
    truth = shot("truth", p["text"]() + body % "")
    alone = shot("alone", STUDIO + dome((1, 1, 1), (1, 1, 1), .25) + body % "", ["+UA"])
    alpha = alone[..., 3:]
    own = camera.lens(alone[..., :3] * alpha)
    alpha = np.clip(camera.lens(alpha), 0, 1).reshape(height, width, 1)
    own = own / np.maximum(alpha, 1e-4)
    k = p["exposure"]
    out.mkdir(parents=True, exist_ok=True)
    for name, picture in (("ground", ground), ("truth", truth)):
        camera.save_jpeg(out / (name + ".jpg"), camera.develop(camera.lens(picture[..., :3] * k), np.random.default_rng(5), noise=0.008), 90)
    clean = camera.develop(own, np.random.default_rng(6), noise=0.004, vignette=0)
    camera.save_jpeg(out / "colours.jpg", np.where(alpha > 0.004, clean, 0).astype(np.uint8), 90)
    camera.save_png(out / "alpha.png", np.round(alpha[..., 0] * 255).astype(np.uint8))
    focal = width / 2 / np.tan(np.radians(angle / 2))
    camera.save_json(out / "facts.json", {
        "subject_m": tall, "foot_m": [x, far], "camera": {"height_m": round(eye, 4), "pitch_down_deg": pitch, "angle_deg": angle},
        "horizon_y": round(height / 2 - focal * np.tan(np.radians(pitch)), 2), "sun": p["sun"]})


def main():
    args = argparse.ArgumentParser(description=__doc__)
    args.add_argument("out")
    args.add_argument("--only")
    args.add_argument("--width", type=int, default=900)
    o = args.parse_args()
    work = camera.work_folder()
    for place in PLACES:
        for subject in SUBJECTS:
            if not o.only or o.only == f"{place}-{subject}":
                render(place, subject, o.width, Path(o.out) / f"{place}-{subject}", work)


if __name__ == "__main__":
    main()
