"""
The picture of a word that the network reads. The application draws with the same rules (src/core/reading/drawing.ts); tests/data/handwriting-pictures.json
holds both to the same pixels: a different thickness of line alone costs accuracy.
"""
import numpy as np
from numba import njit

HEIGHT = 40
"""px."""
FULL = 34.0
"""A word is at most so high, px."""
SPREAD = 7.0
"""Standard deviation of y along the ink, px: what letters without tails are scaled to."""
SIDE = 6
"""Empty px to the left and right."""
RADIUS = 0.8
"""Half the width of a line, px."""
FLAT = 1.6
"""Ink that is not longer than so many times the width is a dash, if it is low: its height says nothing of its size."""
DASH = 18.0
"""Width of a dash, px."""
MOST_WIDE = 1600
"""px; longer lines are read in parts."""


@njit(cache=True)
def _along(xs, ys, ends):
    """Length of the lines, and the standard deviation of y along it."""
    total, mean, square = 0.0, 0.0, 0.0
    start = 0
    for e in ends:
        for i in range(start + 1, e):
            a, b = ys[i - 1], ys[i]
            n = ((xs[i] - xs[i - 1]) ** 2 + (b - a) ** 2) ** 0.5
            total += n
            mean += n * (a + b) / 2
            # The mean of y * y along a straight line from a to b.
            square += n * (a * a + a * b + b * b) / 3
        start = e
    if total <= 0:
        return 0.0, 0.0
    mean /= total
    return total, max(square / total - mean * mean, 0.0) ** 0.5


@njit(cache=True)
def _draw(xs, ys, ends, w, h, radius):
    out = np.zeros((h, w), dtype=np.float32)
    start = 0
    for e in ends:
        for i in range(start, e):
            # A stroke of one point is a dot.
            if i == start and e - start > 1:
                continue
            x1, y1 = (xs[i - 1], ys[i - 1]) if i > start else (xs[i], ys[i])
            x2, y2 = xs[i], ys[i]
            dx, dy = x2 - x1, y2 - y1
            n = dx * dx + dy * dy
            for py in range(max(0, int(np.floor(min(y1, y2) - radius - 1))), min(h, int(np.ceil(max(y1, y2) + radius + 1)) + 1)):
                for px in range(max(0, int(np.floor(min(x1, x2) - radius - 1))), min(w, int(np.ceil(max(x1, x2) + radius + 1)) + 1)):
                    cx, cy = px + 0.5, py + 0.5
                    t = 0.0 if n == 0 else min(1.0, max(0.0, ((cx - x1) * dx + (cy - y1) * dy) / n))
                    d = ((cx - x1 - t * dx) ** 2 + (cy - y1 - t * dy) ** 2) ** 0.5
                    v = min(1.0, max(0.0, radius + 0.5 - d))
                    if v > out[py, px]:
                        out[py, px] = v
        start = e
    return out


def picture(strokes, radius=RADIUS):
    """strokes: arrays of shape (n, 2), any unit, y down. Gives float32 (HEIGHT, w), 0 paper to 1 ink."""
    points = np.concatenate(strokes).astype(np.float64)
    ends = np.cumsum([len(s) for s in strokes])
    left, top = points.min(axis=0)
    right, bottom = points.max(axis=0)
    length, spread = _along(points[:, 0], points[:, 1], ends)
    high, wide = bottom - top, right - left
    scale = min(FULL / max(high, 1e-9), SPREAD / max(spread, 1e-9))
    if length < FLAT * wide and high < wide / 4:
        scale = min(scale, DASH / wide)
    w = int(min(MOST_WIDE, np.ceil((right - left) * scale) + 2 * SIDE))
    xs = (points[:, 0] - left) * scale + SIDE
    ys = (points[:, 1] - (top + bottom) / 2) * scale + HEIGHT / 2
    return _draw(xs, ys, ends, w, HEIGHT, radius)
