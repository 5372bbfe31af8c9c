#!/usr/bin/env python3
"""Photographs of single things and animals with masks, from Debian's gcompris-qt-data.

  photographed.py GCOMPRIS HSEAM OUT

GCOMPRIS: the package's contents (dpkg -x). HSEAM: the built command. Each picture of photographs.txt is cut out by the way its line names
(g: the program's own guess; r: GrabCut, Rother et al. 2004, from a frame of 3 %): somebody looked at both and wrote down which one is right. Writes OUT/photographed/NAME.png (colours) and NAME.mask.png
(255 subject). Lines with p are places, written into OUT/places.
"""
import glob
import hashlib
import os
import re
import struct
import subprocess
import sys

import cv2
import numpy as np

LONGEST = 640
STARTS = re.compile(b'RIFF....WEBP|\x89PNG\r\n\x1a\n|\xff\xd8\xff', re.S)


def pictures_in(path):
    """The picture files in a bundle of resources, which lie there as they are."""
    data = open(path, 'rb').read()
    for m in STARTS.finditer(data):
        at = m.start()
        if data[at:at + 4] == b'RIFF':
            yield data[at:at + 8 + struct.unpack('<I', data[at + 4:at + 8])[0]]
        elif data[at:at + 2] == b'\x89P':
            yield data[at:data.find(b'IEND', at) + 8]
        else:
            yield data[at:at + struct.unpack('>I', data[at - 4:at])[0]]


def by_grabcut(picture):
    h, w = picture.shape[:2]
    mask, ground, subject = np.zeros((h, w), np.uint8), np.zeros((1, 65)), np.zeros((1, 65))
    x, y = max(2, int(w * .03)), max(2, int(h * .03))
    cv2.grabCut(picture, mask, (x, y, w - 2 * x, h - 2 * y), ground, subject, 6, cv2.GC_INIT_WITH_RECT)
    mask = (mask & 1) * np.uint8(255)
    _, labels, stats, _ = cv2.connectedComponentsWithStats(mask)
    for i in range(1, len(stats)):
        if stats[i, 4] < .08 * (mask > 0).sum():
            mask[labels == i] = 0
    return mask


def main():
    package, hseam, out = sys.argv[1:4]
    for kind in ('photographed', 'places'):
        os.makedirs(os.path.join(out, kind), exist_ok=True)
    lines = open(os.path.join(os.path.dirname(os.path.abspath(__file__)), 'photographs.txt')).read().split('\n')
    ways = dict(line.split() for line in lines if line and not line.startswith('#'))
    for bundle in sorted(glob.glob(os.path.join(package, '**', '*.rcc'), recursive=True)):
        for data in pictures_in(bundle):
            name = hashlib.sha256(data).hexdigest()[:12]
            if name not in ways:
                continue
            picture = cv2.imdecode(np.frombuffer(data, np.uint8), cv2.IMREAD_COLOR)
            k = min(1, LONGEST / max(picture.shape[:2]))
            if k < 1:
                picture = cv2.resize(picture, None, fx=k, fy=k, interpolation=cv2.INTER_AREA)
            path = os.path.join(out, 'places' if ways[name] == 'p' else 'photographed', name)
            cv2.imwrite(path + '.png', picture)
            if ways[name] == 'p':
                continue
            if ways[name] == 'r':
                cv2.imwrite(path + '.mask.png', by_grabcut(picture))
            else:
                subprocess.run([hseam, 'select', path + '.png', '--subject', '--out', path + '.mask.png'], check=True)


main()
