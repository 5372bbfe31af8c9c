#!/usr/bin/env python3
"""Trains the matting network.

  train.py FOLDER TRAINED.pt [--minutes M] [--from EARLIER.pt]

FOLDER: filled by matting_pictures.py and then by bench/matting_inputs, which solves them. Needs Debian's python3-torch and
python3-opencv. About half a second a step of twelve squares on two cores.
"""
import argparse
import glob
import time

import cv2
import numpy as np
import torch
import torch.nn.functional as F

from network import Matting

SIDE, BATCH = 128, 12


def read(stem):
    picture, band = cv2.imread(stem + 'p.png'), cv2.imread(stem + 'b.png', cv2.IMREAD_GRAYSCALE)
    alpha, solved = cv2.imread(stem + 't.png', cv2.IMREAD_UNCHANGED), cv2.imread(stem + 'a.png', cv2.IMREAD_UNCHANGED)
    return picture, band, alpha, solved[..., [2, 1]]


def square(rng, picture, band, alpha, solved):
    """What the network sees of a place of the band, and the truth with where it counts; turned and mirrored anyhow."""
    ys, xs = np.nonzero(band == 128)
    i = rng.integers(len(ys))
    y = int(np.clip(ys[i] - rng.integers(20, SIDE - 20), 0, picture.shape[0] - SIDE))
    x = int(np.clip(xs[i] - rng.integers(20, SIDE - 20), 0, picture.shape[1] - SIDE))
    picture, band, alpha, solved = (v[y:y + SIDE, x:x + SIDE] for v in (picture, band, alpha, solved))
    colours = picture.astype(np.float32).transpose(2, 0, 1)[::-1] / 255
    if rng.random() < .5: colours = colours[rng.permutation(3)]
    seen = np.concatenate([colours, (band == 255)[None], (band == 0)[None], solved.transpose(2, 0, 1) / 65535.]).astype(np.float32)
    truth = np.stack([alpha / 65535., band == 128]).astype(np.float32)
    turns = int(rng.integers(4))
    seen, truth = np.rot90(seen, turns, (1, 2)), np.rot90(truth, turns, (1, 2))
    if rng.random() < .5: seen, truth = seen[..., ::-1], truth[..., ::-1]
    return seen.copy(), truth.copy()


def blurred(v):
    k = torch.tensor([1., 4., 6., 4., 1.]) / 16
    return F.conv2d(F.pad(v, (2, 2, 2, 2), mode='replicate'), (k[:, None] * k[None])[None, None])


def loss_of(made, truth):
    """Of alpha, its gradient, and three bands of its Laplacian pyramid, within the band."""
    alpha, counts = truth[:, :1], truth[:, 1:]
    off = torch.where(counts > 0, made, alpha) - alpha
    n = counts.sum() + 1
    loss = torch.sqrt(off * off + 1e-5).mul(counts).sum() / n
    loss = loss + .5 * ((off[..., 1:] - off[..., :-1]).abs().sum() + (off[..., 1:, :] - off[..., :-1, :]).abs().sum()) / n
    for i in range(3):
        smooth = blurred(off)
        loss, off = loss + .3 * (off - smooth).abs().sum() * (1 << i) / n, F.avg_pool2d(smooth, 2)
    return loss


def main():
    a = argparse.ArgumentParser(description=__doc__, formatter_class=argparse.RawDescriptionHelpFormatter)
    a.add_argument('folder')
    a.add_argument('out')
    a.add_argument('--minutes', type=float, default=70)
    a.add_argument('--from', dest='earlier')
    o = a.parse_args()
    cv2.setNumThreads(1)
    torch.manual_seed(1)
    rng, stems, kept = np.random.default_rng(1), sorted(f[:-5] for f in glob.glob(o.folder + '/*a.png')), {}
    net = Matting().to(memory_format=torch.channels_last)
    if o.earlier: net.load_state_dict(torch.load(o.earlier))
    optimiser = torch.optim.AdamW(net.parameters(), 4e-3, weight_decay=1e-4)
    begun, steps, mean = time.time(), 0, 0
    while (share := (time.time() - begun) / 60 / o.minutes) < 1:
        for g in optimiser.param_groups:
            g['lr'] = 4e-3 * min(1, (steps + 1) / 60) * (.5 + .5 * np.cos(np.pi * share)) + 1e-5
        batch = []
        for stem in rng.choice(stems, BATCH):
            if stem not in kept: kept[stem] = read(stem)
            batch.append(square(rng, *kept[stem]))
        seen = torch.from_numpy(np.stack([b[0] for b in batch])).contiguous(memory_format=torch.channels_last)
        loss = loss_of(net(seen), torch.from_numpy(np.stack([b[1] for b in batch])))
        optimiser.zero_grad()
        loss.backward()
        torch.nn.utils.clip_grad_norm_(net.parameters(), 5.0)
        optimiser.step()
        steps, mean = steps + 1, .98 * mean + .02 * float(loss)
        if steps % 50 == 0: print(steps, round(mean, 4), flush=True)
        if steps % 500 == 0: torch.save(net.state_dict(), o.out)
    torch.save(net.state_dict(), o.out)


main()
