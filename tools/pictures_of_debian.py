"""What networks are trained on: subjects with alpha and photographs of places, from Debian's packages, read once and kept."""
import glob
import os

import cv2
import numpy as np

GROUNDS = ('mate-back', 'lomiri', 'plasma-work', 'ukui', 'gnome-back')


def files(folder, pattern):
    return sorted(f for f in glob.glob(os.path.join(folder, pattern), recursive=True) if not os.path.islink(f))


class Sources:
    """folder: the packages' contents, and cutouts/ with real cut-outs, of which every other one is used. longest: px of a subject;
    shorter: px of the shorter side of a ground; fits: says of an RGBA picture cut to its box whether it is taken."""

    def __init__(self, folder, longest, shorter, fits):
        self.longest, self.shorter, self.fits, self.kept = longest, shorter, fits, {}
        self.subjects = {
            'cutouts': files(folder, 'cutouts/*.png')[0::2],
            'painted': files(folder, '**/wesnoth*/**/portraits/**/*.png'),
            'things': files(folder, '**/icons/oxygen/**/256x256/**/*.png'),
            'drawings': files(folder, '**/openclipart/**/*.png'),
        }
        self.grounds = [f for f in files(folder, '**/*.*') if f.lower().endswith(('.jpg', '.jpeg', '.webp', '.png')) and
                        any(k in f for k in GROUNDS) and os.path.getsize(f) > 60000]

    def subject(self, rng, kind):
        """RGBA cut to its box."""
        return self.any_of(rng, self.subjects[kind], self.read_subject)

    def ground(self, rng):
        return self.any_of(rng, self.grounds, self.read_ground)

    def any_of(self, rng, names, read):
        while True:
            name = names[rng.integers(len(names))]
            if name not in self.kept:
                self.kept[name] = read(name)
            if self.kept[name] is not None:
                return self.kept[name]

    def read_subject(self, path):
        p = cv2.imread(path, cv2.IMREAD_UNCHANGED)
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
