#!/usr/bin/env python3
"""Training pictures for the matting network: subjects with exact alpha on grounds, and a band of undecided pixels.

  matting_pictures.py SOURCES OUT --count N [--first I]

Writes OUT/00000p.png (the picture), 00000b.png (the band: 0 background, 128 undecided, 255 subject) and 00000t.png (alpha, 16 bit).
A third are real cut-outs, a third painted and drawn ones, and a third is made here: shapes with hair, lattices, foliage, veils and
blurs, filled with other photographs.
"""
import argparse
import os
import sys

import cv2
import numpy as np

sys.path.insert(0, os.path.join(os.path.dirname(os.path.abspath(__file__)), '..'))
from pictures_of_debian import Sources

SIDE = 320
KINDS = (('cutouts', .34), ('painted', .10), ('things', .06), ('drawings', .12), ('made', .38))


def light_of(v):
    return np.where(v <= .04045, v / 12.92, ((np.maximum(v, 0) + .055) / 1.055) ** 2.4).astype(np.float32)


def codes_of(v):
    return np.where(v <= .0031308, v * 12.92, 1.055 * np.maximum(v, 1e-9) ** (1 / 2.4) - .055).astype(np.float32)


class Pictures:
    def __init__(self, folder):
        self.sources = Sources(folder, 1100, 1300, lambda alpha: .08 < (alpha > 128).mean() < .96)

    def texture(self, rng):
        g = self.sources.ground(rng)
        h, w = g.shape[:2]
        side = int(min(h, w) * np.exp(rng.uniform(np.log(.26), 0)))
        y, x = rng.integers(h - side + 1), rng.integers(w - side + 1)
        t = cv2.resize(g[y:y + side, x:x + side], (SIDE, SIDE), interpolation=cv2.INTER_AREA if side > SIDE else cv2.INTER_CUBIC)
        t = in_other_light(rng, t.astype(np.float32) / 255)
        if rng.random() < .3: t = cv2.GaussianBlur(t, (0, 0), np.exp(rng.uniform(np.log(.6), np.log(7))))
        if rng.random() < .15: t = t.mean((0, 1)) * (1 - (q := rng.uniform(.05, .5))) + q * t   # a plain wall
        return t[:, ::-1].copy() if rng.random() < .5 else t

    def placed(self, rng, kind):
        p = self.sources.subject(rng, kind).astype(np.float32) / 255
        if rng.random() < .5: p = p[:, ::-1]
        p[..., :3] *= p[..., 3:]
        longest = max(p.shape[:2])
        k = np.exp(rng.uniform(np.log(.55), np.log(2.6))) * SIDE / longest
        k = min(k, 1.6 if rng.random() < .3 else 1.0)
        if rng.random() < .4:
            h, w = p.shape[:2]; turn = rng.uniform(-60, 60)
            m = cv2.getRotationMatrix2D((w / 2, h / 2), turn, k)
            W, H = int(h * abs(m[0, 1]) + w * abs(m[0, 0])), int(h * abs(m[0, 0]) + w * abs(m[0, 1]))
            m[0, 2] += W / 2 - w / 2; m[1, 2] += H / 2 - h / 2
            if k < .7:
                s = max(.3, k * 1.3); p = cv2.resize(p, None, fx=s, fy=s, interpolation=cv2.INTER_AREA)
                m = cv2.getRotationMatrix2D((p.shape[1] / 2, p.shape[0] / 2), turn, k / s)
                m[0, 2] += W / 2 - p.shape[1] / 2; m[1, 2] += H / 2 - p.shape[0] / 2
            p = cv2.warpAffine(p, m, (max(16, W), max(16, H)))
        else:
            p = cv2.resize(p, None, fx=k, fy=k, interpolation=cv2.INTER_AREA if k < 1 else cv2.INTER_CUBIC)
        p = p.clip(0, 1)
        colour = p[..., :3] / np.maximum(p[..., 3:], 1e-4)
        known = p[..., 3] > .02
        w_, c = known.astype(np.float32), np.where(known[..., None], colour, 0).astype(np.float32)
        near = cv2.GaussianBlur(c, (0, 0), 6) / np.maximum(cv2.GaussianBlur(w_, (0, 0), 6), 1e-4)[..., None]
        colour = in_other_light(rng, np.where(known[..., None], colour, near).clip(0, 1), .7)
        # a window of SIDE px whose middle lies on the outline
        a = p[..., 3]; pad = SIDE
        a = np.pad(a, pad); colour = np.pad(colour, ((pad, pad), (pad, pad), (0, 0)), mode='edge')
        ys, xs = np.nonzero((a > .05) & (a < .95))
        if len(ys) == 0: return None
        i = rng.integers(len(ys))
        y, x = int(ys[i] - SIDE * rng.uniform(.25, .75)), int(xs[i] - SIDE * rng.uniform(.25, .75))
        y, x = min(max(0, y), a.shape[0] - SIDE), min(max(0, x), a.shape[1] - SIDE)
        return a[y:y + SIDE, x:x + SIDE].copy(), colour[y:y + SIDE, x:x + SIDE].copy()

    def made(self, rng):
        colour = self.texture(rng)
        if rng.random() < .5: colour = colour.mean((0, 1)) * .6 + colour * .4
        a = shape(rng)
        if rng.random() < .5: strands(rng, a, colour)
        elif rng.random() < .3: a = a * lattice(rng)
        elif rng.random() < .35: a = foliage(rng, a)
        a = cv2.GaussianBlur(a, (0, 0), np.exp(rng.uniform(np.log(.3), np.log(1.2 if rng.random() < .7 else 6))))
        if rng.random() < .12: a = a * veil(rng)
        return a.clip(0, 1), colour

    def one(self, rng):
        """picture (H, W, 3, B G R, 0..255), alpha 0..1, band 0 / 128 / 255"""
        while True:
            kind = rng.choice([k for k, _ in KINDS], p=[s for _, s in KINDS])
            made = self.made(rng) if kind == 'made' else self.placed(rng, kind)
            if made is None: continue
            a, colour = made
            if rng.random() < .12: a = cv2.GaussianBlur(a, (0, 0), rng.uniform(.5, 2.5))
            ground = self.texture(rng)
            if rng.random() < .25 and (a > .5).any():   # close colours
                ground = ground + rng.uniform(.2, .9) * (colour[a > .5].mean(0) - ground.mean((0, 1)))
            ground = ground.clip(0, 1)
            band = self.band(rng, a)
            n = (band == 128).mean()
            if not .01 < n < .6 or (band == 255).mean() < .01 or (band == 0).mean() < .01: continue
            A = a[..., None]
            p = codes_of(A * light_of(colour) + (1 - A) * light_of(ground)) if rng.random() < .6 else A * colour + (1 - A) * ground
            if rng.random() < .15: p = cv2.GaussianBlur(p, (0, 0), rng.uniform(.4, .7))
            if rng.random() < .15: p = p + rng.uniform(.3, .8) * (p - cv2.GaussianBlur(p, (0, 0), 1))   # sharpened
            grain = rng.standard_normal(p.shape).astype(np.float32)
            if rng.random() < .4: grain = cv2.GaussianBlur(grain, (0, 0), .7) * 1.8
            p = np.rint((p + grain * (rng.uniform(0, .012) if rng.random() < .85 else rng.uniform(.01, .03))).clip(0, 1) * 255).astype(np.uint8)
            if rng.random() < .5: p = cv2.imdecode(cv2.imencode('.jpg', p, [cv2.IMWRITE_JPEG_QUALITY, int(rng.integers(80, 98))])[1], cv2.IMREAD_COLOR)
            return p, a, band

    @staticmethod
    def band(rng, a):
        partial = ((a > .02) & (a < .98)).astype(np.uint8)
        r = 10 if rng.random() < .35 else int(rng.integers(2, 19))
        disk = cv2.getStructuringElement(cv2.MORPH_ELLIPSE, (2 * r + 1, 2 * r + 1))
        if rng.random() < .25:   # wider here than there
            n = cv2.GaussianBlur(rng.standard_normal(a.shape).astype(np.float32), (0, 0), 25)
            far = cv2.distanceTransform(1 - partial, cv2.DIST_L2, 5)
            band = far < r * (.4 + .6 * (n / np.abs(n).max() + 1))
            band |= partial > 0
        else:
            band = cv2.dilate(partial, disk) > 0
        return np.where(band, 128, np.where(a > .5, 255, 0)).astype(np.uint8)

def in_other_light(rng, p, strength=1.0):
    p = np.maximum(p, 0) ** np.exp(rng.normal(0, .25 * strength)) * (1 + rng.normal(0, .08 * strength, 3))
    grey = p.mean(2, keepdims=True)
    return (grey + (p - grey) * np.exp(rng.normal(0, .3 * strength))).clip(0, 1).astype(np.float32)

def noise(rng, sigma):
    n = cv2.GaussianBlur(rng.standard_normal((SIDE, SIDE)).astype(np.float32), (0, 0), sigma)
    return n / n.std()

def shape(rng):
    S = 2
    m = np.zeros((SIDE * S, SIDE * S), np.uint8)
    if rng.random() < .5:   # a blob
        n = noise(rng, np.exp(rng.uniform(np.log(12), np.log(60))))
        m = cv2.resize((n > rng.normal(0, .5)).astype(np.float32), None, fx=S, fy=S, interpolation=cv2.INTER_CUBIC)
        n = cv2.resize(n, None, fx=S, fy=S, interpolation=cv2.INTER_CUBIC)
        return cv2.resize((n > rng.normal(0, .4)).astype(np.float32), (SIDE, SIDE), interpolation=cv2.INTER_AREA)
    for _ in range(int(rng.integers(1, 5))):
        c = rng.uniform(-.1, 1.1, 2) * SIDE * S; r = rng.uniform(.1, .5) * SIDE * S
        k = int(rng.integers(3, 12)); t = np.sort(rng.uniform(0, 2 * np.pi, k))
        q = np.stack([c[0] + r * np.cos(t) * rng.uniform(.5, 1, k), c[1] + r * np.sin(t) * rng.uniform(.5, 1, k)], 1)
        if rng.random() < .5: cv2.fillPoly(m, [q.astype(np.int32)], 255, cv2.LINE_AA)
        else: cv2.ellipse(m, tuple(int(v) for v in c), (int(r), int(r * rng.uniform(.3, 1))), rng.uniform(0, 180), 0, 360, 255, -1, cv2.LINE_AA)
    for _ in range(int(rng.integers(0, 6))):  # bars
        p = rng.uniform(0, 1, (2, 2)) * SIDE * S
        cv2.line(m, tuple(int(v) for v in p[0]), tuple(int(v) for v in p[1]), 255, int(rng.integers(2, 30)), cv2.LINE_AA)
    return cv2.resize(m.astype(np.float32) / 255, (SIDE, SIDE), interpolation=cv2.INTER_AREA)

def strands(rng, a, colour):
    """Hair or fur that leaves the shape's edge; the colours go along."""
    S = 3
    ys, xs = np.nonzero((a > .3) & (a < .97))
    if len(ys) < 10: return
    sdf = cv2.GaussianBlur(a, (0, 0), 6)
    gx, gy = cv2.Sobel(sdf, cv2.CV_32F, 1, 0), cv2.Sobel(sdf, cv2.CV_32F, 0, 1)
    m = np.zeros((SIDE * S, SIDE * S), np.uint8)
    fur = rng.random() < .5
    n = int(rng.integers(200, 1500)) if fur else int(rng.integers(20, 350))
    length = rng.uniform(6, 22) if fur else rng.uniform(20, 110)
    wide = np.exp(rng.uniform(np.log(.5), np.log(2.2)))
    side = rng.uniform(0, 2 * np.pi) if rng.random() < .5 else None
    lean = rng.normal(0, .6)
    for i in rng.integers(len(ys), size=n):
        t = np.arctan2(-gy[ys[i], xs[i]], -gx[ys[i], xs[i]])
        if side is not None and np.cos(t - side) < .2: continue
        t += lean + rng.normal(0, .35); bend = rng.normal(0, .03)
        L = length * rng.uniform(.4, 1.2); p = np.array([xs[i], ys[i]], np.float64); pts = [p * S]
        p = p - np.array([np.cos(t), np.sin(t)]) * 4
        for _ in range(int(L / 3)):
            p = p + 3 * np.array([np.cos(t), np.sin(t)]); t += bend + rng.normal(0, .03); pts.append(p * S)
        if len(pts) < 3: continue
        pts = np.array(pts).astype(np.int32); w = max(1, int(round(wide * S * rng.uniform(.6, 1.2))))
        h = len(pts) // 2
        cv2.polylines(m, [pts[:h + 1]], False, 255, w, cv2.LINE_AA)
        cv2.polylines(m, [pts[h:]], False, int(rng.integers(120, 256)), max(1, w // 2), cv2.LINE_AA)
    s = cv2.resize(m.astype(np.float32) / 255, (SIDE, SIDE), interpolation=cv2.INTER_AREA)
    if rng.random() < .7:
        tone = colour[a > .5].mean(0) * np.exp(rng.normal(0, .3)) if (a > .5).any() else .3
        jitter = 1 + .2 * noise(rng, .8)[..., None]
        k = cv2.GaussianBlur(np.maximum(s, 0), (0, 0), 3)[..., None].clip(0, 1) * (rng.uniform(.3, 1))
        colour[:] = (colour * (1 - k) + k * (tone * jitter)).clip(0, 1)
    a[:] = 1 - (1 - a) * (1 - s)

def lattice(rng):
    S = 2; m = np.zeros((SIDE * S, SIDE * S), np.uint8)
    step = rng.uniform(8, 50) * S; w = max(1, int(step * rng.uniform(.1, .45)))
    for k in (0, 1):
        t = rng.uniform(0, np.pi) if k == 0 else t + np.pi / 2 + rng.normal(0, .1)
        d, n = np.array([np.cos(t), np.sin(t)]), np.array([-np.sin(t), np.cos(t)])
        for j in range(-60, 60):
            o = np.array([SIDE * S / 2] * 2) + n * (j * step + rng.normal(0, step * .03))
            cv2.line(m, tuple((o - d * 2000).astype(int).tolist()), tuple((o + d * 2000).astype(int).tolist()), 255, w, cv2.LINE_AA)
        if rng.random() < .3: break
    return cv2.resize(m.astype(np.float32) / 255, (SIDE, SIDE), interpolation=cv2.INTER_AREA)

def foliage(rng, a):
    n = noise(rng, np.exp(rng.uniform(np.log(1.5), np.log(7))))
    soft = cv2.GaussianBlur(a, (0, 0), rng.uniform(6, 20))
    return np.clip(((soft - .5) * rng.uniform(3, 6) + n * rng.uniform(.5, 1.2)) * rng.uniform(1, 4) + .5, 0, 1) * (soft > .03)

def veil(rng):
    v = .55 + .3 * noise(rng, np.exp(rng.uniform(np.log(4), np.log(50))))
    hole = cv2.GaussianBlur((noise(rng, 40) > rng.normal(.3, .5)).astype(np.float32), (0, 0), rng.uniform(.7, 8))
    return 1 - hole * (1 - v.clip(.05, .97))


def main():
    a = argparse.ArgumentParser(description=__doc__, formatter_class=argparse.RawDescriptionHelpFormatter)
    a.add_argument('sources')
    a.add_argument('out')
    a.add_argument('--count', type=int, required=True)
    a.add_argument('--first', type=int, default=0)
    o = a.parse_args()
    cv2.setNumThreads(1)
    pictures = Pictures(o.sources)
    for i in range(o.first, o.first + o.count):
        picture, alpha, band = pictures.one(np.random.default_rng(i))
        cv2.imwrite(f'{o.out}/{i:05d}p.png', picture, [cv2.IMWRITE_PNG_COMPRESSION, 1])
        cv2.imwrite(f'{o.out}/{i:05d}b.png', band)
        cv2.imwrite(f'{o.out}/{i:05d}t.png', np.rint(alpha * 65535).astype(np.uint16), [cv2.IMWRITE_PNG_COMPRESSION, 1])


main()
