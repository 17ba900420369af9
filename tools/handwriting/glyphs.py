"""
Letters of a face as lines of a pen: the outline is filled (Pillow), thinned to its centre lines (skimage), and these are followed from end to end,
straight on where they cross. Letters of printed faces are drawn round their edges instead, as one letters a heading. Units: height of a small letter; y down from the baseline.
"""
import json
import os
import pickle

import numpy as np
from PIL import Image, ImageDraw, ImageFont
from fontTools.ttLib import TTFont
from skimage.measure import find_contours, label
from skimage.morphology import skeletonize

from alphabet import ALPHABET

HERE = os.path.dirname(os.path.abspath(__file__))
CACHE = os.path.join(HERE, ".cache")
X_PX = 36
"""Height of a small letter in the picture that is thinned, px."""
TWIG_PX = 7
"""Shorter ones are corners of the outline, not strokes."""


def _graph_lines(on):
    """Pixel chains between ends and crossings, as lists of (x, y)."""
    h, w = on.shape
    pixels = set(map(tuple, np.argwhere(on)[:, ::-1].tolist()))

    def near(p):
        x, y = p
        side = [q for q in ((x + 1, y), (x - 1, y), (x, y + 1), (x, y - 1)) if q in pixels]
        # A corner that is reached over a side is no neighbour of its own.
        corner = [q for q in ((x + 1, y + 1), (x + 1, y - 1), (x - 1, y + 1), (x - 1, y - 1)) if q in pixels and (x, q[1]) not in pixels and (q[0], y) not in pixels]
        return side + corner

    around = {p: near(p) for p in pixels}
    node = {p: len(n) != 2 for p, n in around.items()}
    used, chains = set(), []

    def walk(a, b):
        chain = [a, b]
        used.add(frozenset((a, b)))
        while not node[b]:
            on_ = [q for q in around[b] if frozenset((b, q)) not in used]
            if not on_:
                break
            used.add(frozenset((b, on_[0])))
            a, b = b, on_[0]
            chain.append(b)
        return chain

    order = sorted(pixels)
    for p in order:
        if node[p]:
            if not around[p]:
                chains.append([p])
            for q in around[p]:
                if frozenset((p, q)) not in used:
                    chains.append(walk(p, q))
    # Rings have no crossing.
    for p in order:
        for q in around[p]:
            if frozenset((p, q)) not in used:
                chains.append(walk(p, q))
    if len(chains) > 1:
        end = lambda p: len(around[p]) == 1
        chains = [c for c in chains if len(c) >= TWIG_PX or end(c[0]) == end(c[-1])]
    return [np.array(c, dtype=float) + 0.5 for c in chains]


def _way(line, at_end):
    own = line[::-1] if at_end else line
    d = own[min(8, len(own) - 1)] - own[0]
    return d / (np.hypot(*d) or 1)


def _joined(lines):
    """Where lines meet, the two that go on straightest are one."""
    lines = list(lines)
    while True:
        best = None
        for i in range(len(lines)):
            for k in range(i + 1, len(lines)):
                for i_end in (False, True):
                    for k_end in (False, True):
                        p, q = lines[i][-1 if i_end else 0], lines[k][-1 if k_end else 0]
                        apart = np.hypot(*(p - q))
                        if apart > 14:
                            continue
                        a, b = _way(lines[i], i_end), _way(lines[k], k_end)
                        cos = -float(a @ b)
                        # Two that cross at a narrow angle share a stretch, which thinning gives to one of them.
                        if apart > 3.5 and (cos < 0.6 or float(a @ (p - q)) / apart < 0.4):
                            continue
                        if cos > 0.2 and (best is None or cos > best[0]):
                            best = (cos, i, i_end, k, k_end)
        if best is None:
            return lines
        _, i, i_end, k, k_end = best
        one = lines[i] if i_end else lines[i][::-1]
        two = lines[k][::-1] if k_end else lines[k]
        lines = [l for n, l in enumerate(lines) if n not in (i, k)] + [np.concatenate([one, two])]


def _smooth(line):
    """Pixels go in steps; a hand does not."""
    if len(line) < 7:
        return line
    inner = line.copy()
    for _ in range(2):
        inner[1:-1] = (inner[:-2] + 2 * inner[1:-1] + inner[2:]) / 4
    return inner


def _lines_of(font, char, outlined, margin=20):
    left, top, right, bottom = font.getbbox(char, anchor="ls")
    w, h = right - left + 2 * margin, bottom - top + 2 * margin
    if w <= 2 * margin or h <= 2 * margin or w * h > 4_000_000:
        return None
    image = Image.new("L", (w, h), 0)
    ImageDraw.Draw(image).text((margin - left, margin - top), char, fill=255, font=font, anchor="ls")
    if outlined:
        lines = [l[:, ::-1] + 0.5 for l in find_contours(np.asarray(image, dtype=float), 127)]
    else:
        on = skeletonize(np.asarray(image) > 127)
        parts, count = label(on, connectivity=2, return_num=True)
        # What does not touch is not joined: a dot stays a dot.
        lines = [_smooth(l) for n in range(1, count + 1) for l in _joined(_graph_lines(parts == n))]
    out = []
    for line in lines:
        line = (line + (left - margin, top - margin)) / X_PX
        keep = line[np.unique(np.r_[np.arange(0, len(line), 3), len(line) - 1])]
        p, q = keep[0], keep[-1]
        # Begun at the left, as one writes; strokes down begin at the top.
        back = p[1] > q[1] if abs(q[1] - p[1]) > 2 * abs(q[0] - p[0]) else p[0] > q[0]
        out.append((keep[::-1] if back else keep).astype(np.float32))
    out.sort(key=lambda l: float(l[:, 0].min()))
    return out


def _capital_height(sizes):
    return sorted(sizes)[len(sizes) // 2]


def face(name, capitals_only=False, outlined=False):
    """{'char': (lines, advance)} of one face; kept in the cache, since thinning takes a while. outlined: edges, not centre lines."""
    kept = os.path.join(CACHE, "glyphs", f"{name}.pickle")
    if os.path.exists(kept):
        with open(kept, "rb") as f:
            return pickle.load(f)
    file = os.path.join(CACHE, "fonts", f"{name}.woff")
    cmap = TTFont(file).getBestCmap()
    # Pillow's reader wants the tables as they are, not packed.
    plain = os.path.join(CACHE, "fonts", f"{name}.ttf")
    if not os.path.exists(plain):
        font = TTFont(file)
        font.flavor = None
        font.save(plain)
    trial = ImageFont.truetype(plain, 400)
    heights = [-trial.getbbox(c, anchor="ls")[1] for c in "xnoa" if ord(c) in cmap]
    # A face of capitals: their height is what a small letter's is elsewhere, half as much again.
    size = 400 * X_PX * (1.5 if capitals_only else 1) / max(1, _capital_height(heights))
    font = ImageFont.truetype(plain, max(8, round(size)))
    letters = {}
    for char in ALPHABET:
        if char == " ":
            letters[char] = ([], font.getlength(" ") / X_PX)
        elif ord(char) in cmap:
            lines = _lines_of(font, char, outlined)
            if lines:
                letters[char] = (lines, font.getlength(char) / X_PX)
    os.makedirs(os.path.dirname(kept), exist_ok=True)
    with open(kept, "wb") as f:
        pickle.dump(letters, f)
    return letters


def faces(which):
    """name -> letters, of the list `which` in fonts.json ("trained", "outlined" or "held")."""
    with open(os.path.join(HERE, "fonts.json")) as f:
        named = json.load(f)
    return {name: face(name, name in named["capitals"], which == "outlined") for name in named[which] if os.path.exists(os.path.join(CACHE, "fonts", f"{name}.woff"))}
