"""What networks are trained on: subjects with alpha and photographs of places, from Debian's packages, read once and kept."""
import glob
import os

import cv2
import numpy as np

GROUNDS = ('mate-back', 'lomiri', 'plasma-work', 'ukui', 'gnome-back')
# Which of them are photographs. Those that the development set uses (a storm over a road, a stream, a sunrise, a valley) are left out.
PHOTOGRAPHS = ('Bridge_by', 'Dragonfly_by', 'Picture_0B', 'Picture_1A', 'Wine_by', 'aitzgorri', 'analogpattern', 'free_by', 'greentock', 'seeding_by',
               'Infinite-Sea', 'Kleiber_by', '/nature/', '/BytheWater/', '/ColdRipple/', '/DarkestHour/', '/EveningGlow/', '/FallenLeaf/', '/Grey/',
               '/Kite/', '/OneStandsOut/', '/Path/', '/Volna/', '/summer_1am/', 'places/')
LEFT_OUT = ('life_by', 'picosdeeuropa', 'sunset_by', '/Storm.jpg')


def files(folder, pattern):
    return sorted(f for f in glob.glob(os.path.join(folder, pattern), recursive=True) if not os.path.islink(f))


class Sources:
    """folder: the packages' contents, cutouts/ with real cut-outs, of which every other one is used, and photographed/ and places/ with
    photographs (subject_network/photographed.py). longest: px of a subject;
    shorter: px of the shorter side of a ground; fits: says of an RGBA picture cut to its box whether it is taken."""

    def __init__(self, folder, longest, shorter, fits):
        self.longest, self.shorter, self.fits, self.kept = longest, shorter, fits, {}
        self.subjects = {
            'cutouts': files(folder, 'cutouts/*.png')[0::2],
            'photographed': [f for f in files(folder, 'photographed/*.png') if not f.endswith('.mask.png')],
            'painted': files(folder, '**/wesnoth*/**/portraits/**/*.png'),
            'things': files(folder, '**/icons/oxygen/**/256x256/**/*.png'),
            'drawings': files(folder, '**/openclipart/**/*.png'),
        }
        grounds = [f for f in files(folder, '**/*.*') if f.lower().endswith(('.jpg', '.jpeg', '.webp', '.png')) and
                   any(k in f for k in GROUNDS) and os.path.getsize(f) > 60000 and not any(k in f for k in LEFT_OUT)]
        self.photographs = [f for f in grounds + files(folder, 'places/*.png') if any(k in f for k in PHOTOGRAPHS)]
        self.others = [f for f in grounds if f not in self.photographs]

    def subject(self, rng, kind):
        """RGBA cut to its box."""
        return self.any_of(rng, self.subjects[kind], self.read_subject)

    def photograph(self, rng):
        """A picture with its mask, 255 subject."""
        return self.any_of(rng, self.subjects['photographed'], self.read_photograph, 'whole ')

    def ground(self, rng):
        kind = rng.random()
        if kind < .25 and self.subjects['photographed']:
            return self.any_of(rng, self.subjects['photographed'], self.read_emptied, 'emptied ')
        return self.any_of(rng, self.photographs if kind < .88 else self.others, self.read_ground)

    def any_of(self, rng, names, read, way=''):
        while True:
            name = names[rng.integers(len(names))]
            if way + name not in self.kept:
                self.kept[way + name] = read(name)
            if self.kept[way + name] is not None:
                return self.kept[way + name]

    @staticmethod
    def read_photograph(path):
        return cv2.imread(path), cv2.imread(path[:-4] + '.mask.png', cv2.IMREAD_GRAYSCALE)

    def read_emptied(self, path):
        """The photograph without its subject, as well as filling from around goes."""
        p, mask = self.read_photograph(path)
        k = 160 / max(p.shape[:2])
        small, hole = cv2.resize(p, None, fx=k, fy=k, interpolation=cv2.INTER_AREA), cv2.resize(mask, None, fx=k, fy=k, interpolation=cv2.INTER_AREA)
        filled = cv2.inpaint(small, cv2.dilate((hole > 0).astype(np.uint8), np.ones((7, 7), np.uint8)), 3, cv2.INPAINT_TELEA)
        weight = cv2.GaussianBlur(cv2.dilate(mask, np.ones((15, 15), np.uint8)), (0, 0), 4)[..., None] / 255.0
        filled = cv2.resize(filled, (p.shape[1], p.shape[0]), interpolation=cv2.INTER_LINEAR)
        g = (p * (1 - weight) + filled * weight).astype(np.uint8)
        return g if min(g.shape[:2]) >= 200 else None

    def read_subject(self, path):
        p = cv2.imread(path, cv2.IMREAD_UNCHANGED)
        if p is not None and 'photographed' in path:  # its mask a pixel tighter, and soft
            tight = cv2.erode(cv2.imread(path[:-4] + '.mask.png', cv2.IMREAD_GRAYSCALE), np.ones((3, 3), np.uint8))
            p = np.dstack([p[..., :3], cv2.GaussianBlur(tight, (0, 0), .8)])
        if p is None or p.ndim != 3 or p.shape[2] != 4:
            return None
        if p.dtype != np.uint8:
            p = (p / 257).astype(np.uint8)
        ys, xs = np.nonzero(p[..., 3] > 20)
        if len(ys) <= 400:
            return None
        p = p[ys.min():ys.max() + 1, xs.min():xs.max() + 1]
        k = min(1, self.longest / max(p.shape[:2]))
        if k < 1:
            p = cv2.resize(p, None, fx=k, fy=k, interpolation=cv2.INTER_AREA)
        return p if min(p.shape[:2]) > 40 and self.fits(p[..., 3]) else None

    def read_ground(self, path):
        g = cv2.imread(path)
        if g is None or min(g.shape[:2]) < 300:
            return None
        k = min(1, self.shorter / min(g.shape[:2]))
        return cv2.resize(g, None, fx=k, fy=k, interpolation=cv2.INTER_AREA)
