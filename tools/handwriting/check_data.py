"""Writes what holds the application to the training: the alphabet, and pictures of a few words (`tests/data/handwriting.json`)."""
import json
import os

import numpy as np

import drawing
import glyphs
import hands
from alphabet import ALPHABET


def main():
    faces = glyphs.faces("held")
    rnd = np.random.default_rng(5)
    out = []
    samples = [hands.write(text, faces, [name], rnd) for text, name in (("ebb", "kalam"), ("Tide", "coming-soon"), ("6.4 m", "gochi-hand"), ("neap", "reenie-beanie"), ("pilotage", "cedarville-cursive"))]
    samples += [[np.array([[0.0, 0.0], [1.0, 0.02]])], [np.array([[3.0, 4.0]])], [np.array([[0.0, 0.0], [1.0, 0.0]]), np.array([[0.0, 0.4], [1.0, 0.45]])]]
    for strokes in samples:
        strokes = [np.round(s, 3) for s in strokes]
        image = drawing.picture(strokes)
        out.append({"strokes": [s.tolist() for s in strokes], "w": image.shape[1], "px": np.round(image.ravel() * 255).astype(int).tolist()})
    target = os.path.join(glyphs.HERE, "../../tests/data/handwriting.json")
    with open(target, "w", encoding="utf-8") as f:
        json.dump({"alphabet": ALPHABET, "pictures": out}, f, ensure_ascii=False)


if __name__ == "__main__":
    main()
