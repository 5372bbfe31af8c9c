#!/usr/bin/env python3
"""Frames of one place: a puppet that stands in five places of a toy stage, and a miniature room lit by five lamps, one after another.

    python3 frames.py OUT_DIR [--only stage|room] [--width 1200]

Writes stage-1.jpg to stage-5.jpg and stage.json (where the puppet stands, px of the first frame; each frame's map to it and its light), and
room-dark.jpg, room-1.jpg to room-5.jpg and room.json (where each lamp stands). Needs povray and python3-{numpy,opencv}.
"""
import argparse
import json
from pathlib import Path

import cv2
import numpy as np

import camera
from standing import keeper, mottled

BOARDS = mottled(.30, .20, .12, .3, .4)
CLOTH = mottled(.26, .05, .06, .25, .6)
WALL = mottled(.46, .42, .34, .4, .5)
DRIFT = [(0, 0, 0, 0), (2.4, -1.3, .05, .25), (-3.1, 1.8, -.04, -.20), (1.2, 3.3, .08, .10), (-1.9, -2.6, -.06, -.15)]  # px, px, degrees, stops
PLACES = [(-2.1, 1.0), (-1.0, .3), (.05, 1.1), (1.1, .2), (2.2, .9)]  # metres across and deep
LAMPS = [((-1.7, 1.9, 1.6), (1.0, .62, .34)), ((1.6, 2.0, 1.9), (.55, .72, 1.0)), ((0, 2.3, .4), (1.0, .92, .8)),
         ((-2.1, .35, -.6), (1.0, .55, .25)), ((2.2, .5, -.3), (.65, .85, 1.0))]  # metres; colour
EYE, AIM, ANGLE = (0, 1.55, -6.2), (0, 1.05, 1.0), 46


def head(width, height):
    return ("#version 3.7;\nglobal_settings {assumed_gamma 1.0 max_trace_level 4}\n"
            "camera {location <%g,%g,%g> up y right x*%g angle %g look_at <%g,%g,%g>}\n" % (*EYE, width / height, ANGLE, *AIM))


def set_of_stage():
    """Boards, a drawn curtain at either side, a painted back."""
    parts = ["box {<-5,-0.1,-3>,<5,0,3.6> %s}" % BOARDS, "box {<-5,0,3.5>,<5,4,3.6> %s}" % WALL]
    for i in range(24):
        for s in (-1, 1):
            parts.append("cylinder {<%g,0,%g>,<%g,4,%g>,0.12 %s}" % (s * (3.1 + .085 * i), 2.2 + .1 * np.sin(i * 2.1), s * (3.1 + .085 * i), 2.2 + .1 * np.sin(i * 2.1), CLOTH))
    for i, (x, y, r) in enumerate([(-1.6, 2.1, .35), (.4, 2.5, .22), (1.7, 1.9, .4), (-.5, 1.5, .18), (2.3, 2.7, .2)]):
        parts.append("cylinder {<%g,%g,3.44>,<%g,%g,3.5>,%g %s}" % (x, y, x, y, r, mottled(*[(.40, .30, .08), (.1, .2, .3), (.08, .22, .12)][i % 3], .08)))
    parts.append("box {<-2.6,0,2.9>,<-1.7,0.5,3.3> %s}" % mottled(.16, .12, .08, .1))
    return "\n".join(parts)


def set_of_room():
    """A table with a bowl and bottles, a shelf, a chair: something for each lamp to fall on."""
    wood, clay, glass = mottled(.22, .13, .07, .12, .4), mottled(.42, .20, .12, .06), mottled(.10, .24, .18, .05, .1, "finish {ambient 0 diffuse .7 specular .4 roughness .03}")
    parts = ["box {<-3.2,-0.1,-3>,<3.2,0,3> %s}" % BOARDS, "box {<-3.2,0,2.6>,<3.2,3.4,2.8> %s}" % WALL,
             "box {<-3.3,0,-3>,<-3.1,3.4,3> %s}" % WALL, "box {<3.1,0,-3>,<3.3,3.4,3> %s}" % WALL,
             "box {<-1.1,0.72,0.4>,<1.1,0.8,1.7> %s}" % wood, "box {<-2.7,1.5,2.2>,<-1.2,1.56,2.6> %s}" % wood]
    for x in (-1, 1):
        for z in (.5, 1.6):
            parts.append("cylinder {<%g,0,%g>,<%g,0.72,%g>,0.05 %s}" % (x, z, x, z, wood))
    for x, r, t in ((-.6, .16, clay), (.1, .12, glass), (.55, .2, clay)):
        parts.append("union {sphere {<%g,%g,1.0>,%g} cylinder {<%g,%g,1.0>,<%g,%g,1.0>,%g} %s}" % (x, .8 + r, r, x, .8 + r, x, .8 + 2.9 * r, r * .35, t))
    for i in range(5):
        parts.append("box {<%g,1.56,2.3>,<%g,%g,2.5> %s}" % (-2.6 + .22 * i, -2.44 + .22 * i, 1.85 + .06 * (i % 3), mottled(*[(.35, .1, .08), (.1, .2, .35), (.3, .28, .1)][i % 3], .05)))
    parts += ["box {<1.5,0.42,0.2>,<2.3,0.5,1.0> %s}" % wood, "box {<2.2,0.5,0.2>,<2.3,1.3,1.0> %s}" % wood]
    return "\n".join(parts)


def rendered(text, size):
    """Linear light, RGB."""
    return camera.lens(camera.povray(text, "frame", *size, ["+A0.3", "+AM1", "+R3"], camera.work_folder()))


def written(path, light, rng, noise=0.0025):
    encoded = np.clip(camera.encode(light) + rng.normal(0, noise, light.shape), 0, 1)
    cv2.imwrite(str(path), np.round(encoded * 255).astype(np.uint8)[..., ::-1], [cv2.IMWRITE_JPEG_QUALITY, 90])


def stage(out, size, rng):
    lights = ("light_source {<-3,4.5,-4> rgb <1.0,.86,.66>*1.25 area_light <1,0,0>,<0,1,0>,4,4 adaptive 1 jitter}\n"
              "light_source {<4,5,-5> rgb <.5,.58,.72>*.5 area_light <2,0,0>,<0,2,0>,3,3 adaptive 1 jitter}\n"
              "light_source {<0,3,-6> rgb <.22,.22,.24> shadowless}\n")
    figure, height = keeper()
    facts = {"frames": [], "subject_m": height}
    for k, ((x, z), (dx, dy, turn, stops)) in enumerate(zip(PLACES, DRIFT)):
        light = rendered(head(*size) + lights + set_of_stage() + "object {%s rotate y*%g translate <%g,0,%g>}" % (figure, -15 + 8 * k, x, z), size)
        m = cv2.getRotationMatrix2D(((size[0] - 1) / 2, (size[1] - 1) / 2), -turn, 1)
        m[:, 2] += (-dx, -dy)
        moved = cv2.warpAffine(light, m, size, flags=cv2.INTER_CUBIC, borderMode=cv2.BORDER_REFLECT)
        written(out / ("stage-%d.jpg" % (k + 1)), moved * 2 ** stops, rng)
        to_base = cv2.invertAffineTransform(m)
        facts["frames"].append({"file": "stage-%d.jpg" % (k + 1), "matrix": np.vstack([to_base, [0, 0, 1]]).round(6).tolist(), "gain_stops": stops, "foot_m": [x, z]})
    (out / "stage.json").write_text(json.dumps(facts, indent=1))


def room(out, size, rng):
    ambient = "light_source {<0,6,-8> rgb <.30,.33,.42>*.12 area_light <6,0,0>,<0,0,6>,3,3 adaptive 1 jitter}\n"
    facts = {"lamps": []}
    written(out / "room-dark.jpg", rendered(head(*size) + ambient + set_of_room(), size), rng)
    for k, (at, colour) in enumerate(LAMPS):
        lamp = ("light_source {<%g,%g,%g> rgb <%g,%g,%g>*.9 area_light <.3,0,0>,<0,.3,0>,3,3 adaptive 1 jitter fade_distance 1.6 fade_power 2}\n" % (*at, *colour))
        written(out / ("room-%d.jpg" % (k + 1)), rendered(head(*size) + ambient + lamp + set_of_room(), size), rng)
        facts["lamps"].append({"file": "room-%d.jpg" % (k + 1), "at_m": at, "colour": colour})
    (out / "room.json").write_text(json.dumps(facts, indent=1))


def main():
    p = argparse.ArgumentParser(description=__doc__.split("\n")[0])
    p.add_argument("out", type=Path)
    p.add_argument("--only", choices=("stage", "room"))
    p.add_argument("--width", type=int, default=900)
    a = p.parse_args()
    a.out.mkdir(parents=True, exist_ok=True)
    size, rng = (a.width, a.width * 2 // 3), np.random.default_rng(7)
    for name, make in (("stage", stage), ("room", room)):
        if a.only in (None, name):
            make(a.out, size, rng)


if __name__ == "__main__":
    main()
