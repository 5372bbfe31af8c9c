"""Training pictures: subjects with alpha set on grounds, with the mask that says where they are."""
import os
import sys

import cv2
import numpy as np

sys.path.insert(0, os.path.join(os.path.dirname(os.path.abspath(__file__)), '..'))
from pictures_of_debian import Sources

SIDE = 320
# How often each kind of subject is set on another ground. 'filled': the outline of a drawing with a photograph in it, so that texture alone
# does not tell a ground.
KINDS = (('photographed', 0.40), ('cutouts', 0.20), ('filled', 0.12), ('painted', 0.12), ('things', 0.06), ('drawings', 0.10))
WHOLE = 0.3  # how often a photograph is taken as it is


def single_thing(alpha):
    """Whether it is one thing with a clear edge."""
    filled = (alpha > 128).mean()
    partial = ((alpha > 25) & (alpha < 230)).sum() / max(1, (alpha > 25).sum())
    return .12 < filled < .93 and partial < .35


class Pictures:
    def __init__(self, folder):
        self.sources = Sources(folder, 700, 900, single_thing)

    def one(self, rng):
        """A picture (planes of red, green, blue, 0..255) and its mask, 0..1."""
        picture, mask = self.whole(rng) if rng.random() < WHOLE else self.set_together(rng)
        if rng.random() < .3:
            picture = cv2.GaussianBlur(picture, (0, 0), rng.uniform(.4, 1.2))
        picture = (picture + rng.normal(0, rng.uniform(0, 5), picture.shape)).clip(0, 255).astype(np.uint8)
        if rng.random() < .5:
            quality = int(rng.integers(60, 96))
            picture = cv2.imdecode(cv2.imencode('.jpg', picture, [cv2.IMWRITE_JPEG_QUALITY, quality])[1], cv2.IMREAD_COLOR)
        return picture[..., ::-1].astype(np.float32).transpose(2, 0, 1).copy(), mask

    def whole(self, rng):
        """A photograph, cropped so that its subject stays."""
        p, alpha = self.sources.photograph(rng)
        h, w = alpha.shape
        ys, xs = np.nonzero(alpha > 127)
        l, t, r, b = xs.min(), ys.min(), xs.max() + 1, ys.max() + 1
        keep = rng.uniform(0, .12)  # of the subject, at most this much is cut off at a side
        x0, y0 = int(rng.uniform(0, l + keep * (r - l) + 1)), int(rng.uniform(0, t + keep * (b - t) + 1))
        x1, y1 = int(rng.uniform(r - keep * (r - l), w)) + 1, int(rng.uniform(b - keep * (b - t), h)) + 1
        p, alpha = p[y0:y1, x0:x1], alpha[y0:y1, x0:x1]
        if rng.random() < .5:
            p, alpha = p[:, ::-1], alpha[:, ::-1]
        picture = cv2.resize(p, (SIDE, SIDE), interpolation=cv2.INTER_AREA)
        mask = cv2.resize(alpha, (SIDE, SIDE), interpolation=cv2.INTER_AREA).astype(np.float32) / 255
        return in_other_light(rng, picture, .8), mask

    def set_together(self, rng):
        picture = self.cropped_ground(rng)
        mask = np.zeros((SIDE, SIDE), np.float32)
        if rng.random() < .4:  # out of focus
            picture = cv2.GaussianBlur(picture, (0, 0), np.exp(rng.uniform(np.log(.6), np.log(9))))
        kind = rng.choice([k for k, _ in KINDS], p=[share for _, share in KINDS])
        for i in range(1 if rng.random() < .85 else 2):
            subject = self.filled(rng) if kind == 'filled' else self.sources.subject(rng, kind)
            picture = self.placed(rng, turned(rng, subject, kind), picture, mask, i > 0)
        return picture, mask

    def filled(self, rng):
        outline = self.sources.subject(rng, 'drawings' if rng.random() < .6 else 'painted')
        g, (h, w) = self.sources.ground(rng), outline.shape[:2]
        k = max(1.0, 1.05 * h / g.shape[0], 1.05 * w / g.shape[1])
        g = cv2.resize(g, None, fx=k, fy=k) if k > 1 else g
        y, x = rng.integers(g.shape[0] - h + 1), rng.integers(g.shape[1] - w + 1)
        return np.dstack([g[y:y + h, x:x + w], outline[..., 3]])

    def cropped_ground(self, rng):
        g = self.sources.ground(rng)
        h, w = g.shape[:2]
        high = int(min(h, w) * rng.uniform(.5, 1))
        wide = int(min(w, high * rng.uniform(.9, 1.4)))
        y, x = rng.integers(h - high + 1), rng.integers(w - wide + 1)
        g = cv2.resize(g[y:y + high, x:x + wide], (SIDE, SIDE), interpolation=cv2.INTER_AREA)
        return in_other_light(rng, g[:, ::-1] if rng.random() < .5 else g)

    @staticmethod
    def placed(rng, subject, picture, mask, second):
        size = np.exp(rng.uniform(np.log(.36), np.log(1.15))) * (rng.uniform(.5, 1) if second else 1)
        k = size * SIDE / max(subject.shape[:2])
        w, h = max(12, int(subject.shape[1] * k * np.exp(rng.normal(0, .12)))), max(12, int(subject.shape[0] * k))
        p = subject.astype(np.float32)
        p[..., :3] *= p[..., 3:] / 255
        p = cv2.resize(p, (w, h), interpolation=cv2.INTER_AREA if k < 1 else cv2.INTER_LINEAR)
        colour = in_other_light(rng, (p[..., :3] / np.maximum(p[..., 3:] / 255, 1e-2)).clip(0, 255), .8)
        alpha = (p[..., 3] / 255).clip(0, 1)
        x = int(rng.normal(.5, .16) * SIDE - w / 2)
        middle = rng.normal(.55, .14) * SIDE if rng.random() < .7 else SIDE - h / 2 * rng.uniform(.6, 1)
        y = int(middle - h / 2)
        l, t, r, b = max(0, x), max(0, y), min(SIDE, x + w), min(SIDE, y + h)
        if r - l < 20 or b - t < 20:
            return picture
        a, c = alpha[t - y:b - y, l - x:r - x, None], colour[t - y:b - y, l - x:r - x]
        if rng.random() < .35 and (a > .5).any():  # its colours moved towards the ground's
            c = c + rng.uniform(0, .5) * (picture.mean((0, 1)) - c[a[..., 0] > .5].mean(0))
        if rng.random() < .4:  # a soft shadow below it
            shadow = np.zeros((SIDE, SIDE), np.float32)
            cv2.ellipse(shadow, (x + w // 2, min(SIDE - 1, y + h)), (w // 2, max(2, h // 12)), 0, 0, 360, 1, -1)
            picture = picture * (1 - .6 * cv2.GaussianBlur(shadow, (0, 0), max(2, h / 25))[..., None])
        picture[t:b, l:r] = a * c + (1 - a) * picture[t:b, l:r]
        mask[t:b, l:r] = np.maximum(mask[t:b, l:r], a[..., 0])
        return picture


def in_other_light(rng, picture, strength=1.0):
    p = picture.astype(np.float32) / 255
    p = p ** np.exp(rng.normal(0, .25 * strength)) * (1 + rng.normal(0, .1 * strength, 3))
    grey = p.mean(2, keepdims=True)
    return ((grey + (p - grey) * np.exp(rng.normal(0, .3 * strength))).clip(0, 1) * 255).astype(np.float32)


def turned(rng, subject, kind):
    if rng.random() < .5:
        subject = subject[:, ::-1]
    if kind == 'painted' or rng.random() >= .25:
        return subject
    h, w = subject.shape[:2]
    m = cv2.getRotationMatrix2D((w / 2, h / 2), rng.uniform(-40, 40), 1)
    wide, high = int(h * abs(m[0, 1]) + w * abs(m[0, 0])), int(h * abs(m[0, 0]) + w * abs(m[0, 1]))
    m[0, 2] += wide / 2 - w / 2
    m[1, 2] += high / 2 - h / 2
    p = subject.astype(np.float32)
    p[..., :3] *= p[..., 3:] / 255
    p = cv2.warpAffine(p, m, (wide, high))
    p[..., :3] /= np.maximum(p[..., 3:] / 255, 1e-3)
    return p.clip(0, 255)
