"""Writes words and lines in the faces that the reader never saw, for measuring: `python3 held.py OUT.json`. Each word is written evenly, as the face has it, and as people write."""
import json
import sys

import numpy as np

import glyphs
import hands
from texts import Texts

SEED = 7
PER_FACE = 60
OUTSIDE_PER_FACE = 12
LINES_PER_FACE = 8


def main(out):
    faces = glyphs.faces("held")
    texts = Texts()
    common = [words for level, (_, words) in zip((10, 20, 35), texts.levels)]
    rnd = np.random.default_rng(SEED)

    def word():
        words = common[rnd.choice(3, p=[0.5, 0.3, 0.2])]
        return words[rnd.integers(len(words))].replace("'", "")

    def outside():
        # Sayable, and in no list.
        return "".join("bcdfghklmnprstvw"[rnd.integers(16)] + "aeiou"[rnd.integers(5)] for _ in range(int(rnd.integers(2, 5))))

    def number():
        return texts.number(rnd).replace(" ", "")

    def sample(kind, text, name):
        plain = "".join(c for c in text if c in faces[name] or c == " ")
        rows = []
        for even in (True, False):
            strokes = hands.write(plain, faces, [name], rnd, even) if plain.strip() else None
            if strokes is None:
                return None
            rows.append([np.round(s, 3).tolist() for s in strokes])
        return {"kind": kind, "text": plain, "face": name, "even": rows[0], "natural": rows[1]}

    samples = []
    for name in faces:
        for kind, count, make in (("word", PER_FACE, word), ("outside", OUTSIDE_PER_FACE, outside), ("number", OUTSIDE_PER_FACE, number), ("line", LINES_PER_FACE, lambda: " ".join(word() for _ in range(4)))):
            samples += [s for s in (sample(kind, make(), name) for _ in range(count)) if s]
    with open(out, "w") as f:
        json.dump(samples, f)
    print(len(samples))


if __name__ == "__main__":
    main(sys.argv[1])
