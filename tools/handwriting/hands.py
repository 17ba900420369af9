"""Writes a text as one of countless hands would: letters of up to four faces, and everything by which people's writing differs."""
import numpy as np
from numba import njit


def _bent(points, rnd, size):
    """A slow bending of the whole, as of rubber."""
    out = points.copy()
    for _ in range(3):
        k = rnd.normal(0, 0.9, 2) / 1.5
        phase = rnd.uniform(0, 2 * np.pi, 2)
        a = rnd.normal(0, size / 1.7, 2)
        turn = points @ k
        out[:, 0] += a[0] * np.sin(turn + phase[0])
        out[:, 1] += a[1] * np.sin(turn + phase[1])
    return out


@njit(cache=True)
def _even(line, step):
    """Points about `step` apart."""
    s = np.zeros(len(line))
    for i in range(1, len(line)):
        s[i] = s[i - 1] + ((line[i, 0] - line[i - 1, 0]) ** 2 + (line[i, 1] - line[i - 1, 1]) ** 2) ** 0.5
    if s[-1] < 1e-6:
        return line[:1].copy()
    n = max(2, int(np.ceil(s[-1] / step)) + 1)
    at = np.linspace(0, s[-1], n)
    out = np.empty((n, 2))
    out[:, 0] = np.interp(at, s, line[:, 0])
    out[:, 1] = np.interp(at, s, line[:, 1])
    return out


def write(text, faces, names, rnd, even=False):
    """
    Strokes of `text`, arrays of (n, 2) in heights of a small letter, or None where no face has a sign of it. names: the faces that may be taken.
    even: as the face has it, without what sets hands apart; for measuring both.
    """
    base = names[rnd.integers(len(names))]
    mixed = not even and rnd.random() < 0.65
    palette = [base] + ([names[rnd.integers(len(names))] for _ in range(int(rnd.integers(1, 4)))] if mixed else [])
    strict = rnd.random() < 0.7
    chosen = {}
    width = 1.0 if even else float(np.exp(rnd.normal(0, 0.16)))
    slant = 0.0 if even else float(rnd.normal(0.05, 0.22))
    tracking = 0.0 if even else float(rnd.normal(0.02, 0.09))
    space = 0.9 if even else float(rnd.uniform(0.5, 1.7))
    up = 1.0 if even else float(np.exp(rnd.normal(0, 0.16)))
    down = 1.0 if even else float(np.exp(rnd.normal(0, 0.2)))
    off = 0.0 if even else abs(float(rnd.normal(0, 0.06)))
    grow = 0.0 if even else abs(float(rnd.normal(0, 0.07)))
    turn = 0.0 if even else abs(float(rnd.normal(0, 0.07)))
    joined = 0.0 if even else float(rnd.random())
    late = 0.0 if even else 0.16 * float(rnd.random())
    bend = 0.0 if even else abs(float(rnd.normal(0, 0.09)))
    tremor = 0.0 if even else abs(float(rnd.normal(0, 0.012)))
    x, strokes = 0.0, []
    for char in text:
        if char == " ":
            x += space * (1 if even else float(np.exp(rnd.normal(0, 0.2))))
            continue
        name = chosen.get(char)
        if name is None or not strict:
            have = [n for n in palette if char in faces[n]] or [n for n in names if char in faces[n]]
            if not have:
                return None
            name = have[rnd.integers(len(have))]
            chosen[char] = name
        lines, advance = faces[name][char]
        lift, size = rnd.normal(0, off) if off else 0.0, float(np.exp(rnd.normal(0, grow))) if grow else 1.0
        angle = float(rnd.normal(0, turn)) if turn else 0.0
        cos, sin = np.cos(angle), np.sin(angle)
        middle = advance / 2
        for i, line in enumerate(lines):
            p = line.astype(np.float64)
            y = p[:, 1]
            # Long letters are longer with some, and tails too.
            y = np.where(y < -1, -1 + (y + 1) * up, np.where(y > 0, y * down, y)) * size
            dx = (p[:, 0] - middle) * size
            px, py = dx * cos - (y + 0.5) * sin + middle, dx * sin + (y + 0.5) * cos - 0.5
            p = np.stack([(x + px * width), py + lift], axis=1)
            high = py.max() - py.min()
            if late and len(lines) > 1 and high < 0.45:
                p = p + rnd.normal(0, late, 2)
            if not even and len(p) > 6 and rnd.random() < 0.15:
                # The pen comes down late or leaves early.
                p = p[int(rnd.integers(0, 3)) : len(p) - int(rnd.integers(0, 3))]
            before = strokes[-1] if strokes else None
            if before is not None and i == 0 and joined and rnd.random() < joined and np.hypot(*(before[-1] - p[0])) < 0.35 * (1 + joined):
                strokes[-1] = np.concatenate([before, p])
            else:
                strokes.append(p)
        x += (advance + tracking) * width * (1 if even else float(np.exp(rnd.normal(0, 0.05))))
    if not strokes:
        return None
    strokes = [_even(np.ascontiguousarray(s), 0.1) for s in strokes]
    ends = np.cumsum([len(s) for s in strokes])
    p = np.concatenate(strokes)
    if not even:
        p = _bent(p, rnd, bend)
        wave, period = abs(rnd.normal(0, 0.08)), rnd.uniform(4, 14)
        slope = rnd.normal(0, 0.03)
        p[:, 1] += wave * np.sin(2 * np.pi * p[:, 0] / period + rnd.uniform(0, 7)) + slope * p[:, 0]
        if tremor:
            shake = rnd.normal(0, tremor, p.shape)
            shake[1:-1] = (shake[:-2] + shake[1:-1] + shake[2:]) / 1.7
            p += shake
    p[:, 0] -= slant * p[:, 1]
    return np.split(p, ends[:-1])
