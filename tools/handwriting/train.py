"""
Trains the reader. One command: `sh train.sh` (fetches the faces, thins them, trains, writes the model). Everything that chance decides comes from SEED and the number of the
step, so that a run can be repeated; the length is counted in steps, not in minutes.
"""
import argparse
import copy
import json
import os
import time

import numpy as np
import torch
from torch.utils.data import DataLoader, Dataset

import drawing
import glyphs
import hands
from alphabet import CLASSES, encode
from network import Reader
from texts import Texts

SEED = 20261128
BATCH = 32
POOL = 16
"""Batches that are sorted by width together: what is filled up in a batch is little then."""
STEPS = 8000
"""Of the schedule."""
STOP = 7200
"""Here it ends: the rate of learning is next to nothing by then."""
EASY = 600
"""Steps that begin with short plain words."""
RATE = 2e-3
AVERAGE = 0.998
OUTLINED = 0.08
"""Share of samples in letters drawn round their edges. These stand by themselves: no hand mixes them with running writing."""


class Pools(Dataset):
    """Pool number -> list of batches (pictures, widths, classes, lengths)."""

    def __init__(self, faces, capitals, outlined, steps):
        self.faces, self.capitals, self.outlined, self.steps = {**faces, **outlined}, capitals, list(outlined), steps
        self.small = [n for n in faces if n not in capitals]
        self.texts = Texts()

    def __len__(self):
        return -(-self.steps // POOL)

    def sample(self, rnd, easy):
        while True:
            text = self.texts.some(rnd, easy)
            names, which = self.small, rnd.random()
            if which < OUTLINED:
                names = self.outlined
            elif which < OUTLINED + 0.02:
                names = [self.capitals[rnd.integers(len(self.capitals))]]
                text = text.replace("ß", "s").upper()
            strokes = hands.write(text, self.faces, names, rnd)
            if strokes is None:
                continue
            image = drawing.picture(strokes, float(rnd.uniform(0.5, 1.25)))
            classes = encode(text)
            if image.shape[1] // 4 > len(classes) * 1.3 + 2 and image.shape[1] < 620:
                return image, classes

    def __getitem__(self, number):
        rnd = np.random.default_rng((SEED, number))
        easy = max(0.0, 1.0 - number * POOL / EASY)
        samples = sorted((self.sample(rnd, easy) for _ in range(BATCH * POOL)), key=lambda s: s[0].shape[1])
        batches = []
        for at in range(0, len(samples), BATCH):
            part = samples[at : at + BATCH]
            w = max(s[0].shape[1] for s in part)
            w = (w + 3) // 4 * 4
            x = np.zeros((len(part), 1, drawing.HEIGHT, w), dtype=np.float32)
            for i, (image, _) in enumerate(part):
                x[i, 0, :, : image.shape[1]] = image
            batches.append((torch.from_numpy(x), torch.tensor([(s[0].shape[1] + 3) // 4 for s in part]), torch.tensor([c for s in part for c in s[1]]), torch.tensor([len(s[1]) for s in part])))
        return [batches[i] for i in rnd.permutation(len(batches))]


def main():
    parser = argparse.ArgumentParser()
    parser.add_argument("--out", default=os.path.join(glyphs.CACHE, "reader.pt"))
    parser.add_argument("--steps", type=int, default=STEPS)
    parser.add_argument("--threads", type=int, default=max(1, (os.cpu_count() or 2) - 1))
    given = parser.parse_args()
    torch.manual_seed(SEED)
    torch.set_num_threads(given.threads)
    with open(os.path.join(glyphs.HERE, "fonts.json")) as f:
        capitals = json.load(f)["capitals"]
    faces, outlined = glyphs.faces("trained"), glyphs.faces("outlined")
    capitals = [c for c in capitals if c in faces]
    print(f"{len(faces)} faces and {len(outlined)} drawn round their edges, {CLASSES} classes", flush=True)
    net = Reader()
    print(f"{sum(p.numel() for p in net.parameters())} parameters", flush=True)
    average = copy.deepcopy(net)
    optimiser = torch.optim.AdamW(net.parameters(), lr=RATE, weight_decay=0.01)
    schedule = torch.optim.lr_scheduler.LambdaLR(optimiser, lambda s: min(1.0, (s + 1) / 200) * 0.5 * (1 + np.cos(np.pi * min(1.0, s / given.steps))))
    loss_of = torch.nn.CTCLoss(zero_infinity=True)
    loader = DataLoader(Pools(faces, capitals, outlined, given.steps), batch_size=None, shuffle=False, num_workers=1, prefetch_factor=3)
    step, began, sums = 0, time.time(), []
    net.train()
    last = min(STOP, given.steps)
    for pool in loader:
        if step >= last:
            break
        for x, widths, classes, lengths in pool:
            if step >= last:
                break
            out = net(x).transpose(0, 1)
            loss = loss_of(out, classes, torch.clamp(widths, max=out.shape[0]), lengths)
            optimiser.zero_grad()
            loss.backward()
            torch.nn.utils.clip_grad_norm_(net.parameters(), 5.0)
            optimiser.step()
            schedule.step()
            step += 1
            keep = min(AVERAGE, step / (step + 10))
            with torch.no_grad():
                for a, b in zip(average.state_dict().values(), net.state_dict().values()):
                    if a.dtype.is_floating_point:
                        a.mul_(keep).add_(b, alpha=1 - keep)
                    else:
                        a.copy_(b)
            sums.append(float(loss))
            if step % 100 == 0:
                print(f"{step} {np.mean(sums):.3f} {step * BATCH / (time.time() - began):.0f}/s", flush=True)
                sums = []
            if step % 800 == 0:
                torch.save(average.state_dict(), given.out)
    torch.save(average.state_dict(), given.out)
    print(f"{(time.time() - began) / 60:.1f} minutes", flush=True)


if __name__ == "__main__":
    main()
