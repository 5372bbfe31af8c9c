#!/usr/bin/env python3
"""Trains the decoder and head of the subject network.

  train.py DETECTOR.onnx PICTURES TRAINED.pt [--minutes M] [--from EARLIER.pt]

Needs Debian's python3-torch, python3-onnx, python3-opencv. About 1.5 s a step of eight pictures on two cores.
"""
import argparse
import multiprocessing as mp
import time

import cv2
import numpy as np
import torch
import torch.nn.functional as F

from network import Net
from subject_pictures import Pictures

BATCH = 8


def work(queue, folder, seed):
    cv2.setNumThreads(1)
    rng, pictures = np.random.default_rng(seed), Pictures(folder)
    while True:
        x, mask = pictures.one(rng)
        queue.put((x, mask))
        # Once more, mirrored and in other light: half the cost of making one.
        k = rng.uniform(.75, 1.25) * rng.uniform(.9, 1.1, (3, 1, 1))
        queue.put(((x[:, :, ::-1] * k).clip(0, 255).astype(np.float32).copy(), mask[:, ::-1].copy()))


def loss_of(logits, mask):
    p = torch.sigmoid(logits)
    both, either = (p * mask).sum((1, 2, 3)), (p + mask - p * mask).sum((1, 2, 3))
    return F.binary_cross_entropy_with_logits(logits, mask) + (1 - (both + 1) / (either + 1)).mean()


def main():
    a = argparse.ArgumentParser(description=__doc__, formatter_class=argparse.RawDescriptionHelpFormatter)
    a.add_argument('detector')
    a.add_argument('pictures')
    a.add_argument('out')
    a.add_argument('--minutes', type=float, default=90)
    a.add_argument('--from', dest='earlier')
    o = a.parse_args()
    torch.manual_seed(1)
    torch.set_num_threads(2)  # with one, PyTorch 1.13 takes a convolution that is four times slower
    queue = mp.Queue(64)
    workers = [mp.Process(target=work, args=(queue, o.pictures, 100 + i), daemon=True) for i in range(2)]
    for w in workers: w.start()
    net = Net(o.detector)
    if o.earlier: net.load_state_dict(torch.load(o.earlier), strict=False)
    decoder = [p for n, p in net.named_parameters() if n.startswith('e.')]
    head = [p for n, p in net.named_parameters() if not n.startswith('e.')]
    optimiser = torch.optim.AdamW([{'params': decoder, 'lr': 0, 'base': 2e-4}, {'params': head, 'lr': 0, 'base': 1.2e-3}], weight_decay=1e-4)
    begun, steps, waiting, mean = time.time(), 0, [], 0
    while (share := (time.time() - begun) / 60 / o.minutes) < 1:
        for g in optimiser.param_groups:
            g['lr'] = g['base'] * min(1, (steps + 1) / 30) * (.5 + .5 * np.cos(np.pi * share))
        while len(waiting) < 64: waiting.append(queue.get())
        batch = [waiting.pop(np.random.randint(len(waiting))) for _ in range(BATCH)]
        x, mask = torch.tensor(np.stack([b[0] for b in batch])), torch.tensor(np.stack([b[1] for b in batch]))[:, None]
        quarter, half = net(x)
        loss = .4 * loss_of(quarter, F.avg_pool2d(mask, 4)) + loss_of(half, F.avg_pool2d(mask, 2))
        optimiser.zero_grad()
        loss.backward()
        torch.nn.utils.clip_grad_norm_(net.parameters(), 1.0)
        optimiser.step()
        steps, mean = steps + 1, .95 * mean + .05 * float(loss)
        if steps % 25 == 0: print(steps, round(mean, 3), flush=True)
        if steps % 100 == 0: torch.save(net.state_dict(), o.out)
    torch.save(net.state_dict(), o.out)
    for w in workers: w.terminate()


main()
