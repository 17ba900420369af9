"""Writes the trained reader as ONNX (opset 13), weights as they are, and its SHA-256."""
import argparse
import hashlib
import os

import torch

import drawing
import glyphs
from network import Reader


def main():
    parser = argparse.ArgumentParser()
    parser.add_argument("--weights", default=os.path.join(glyphs.CACHE, "reader.pt"))
    parser.add_argument("--out", default=os.path.join(glyphs.HERE, "model", "reader.onnx"))
    given = parser.parse_args()
    net = Reader()
    net.load_state_dict(torch.load(given.weights))
    net.eval()
    os.makedirs(os.path.dirname(given.out), exist_ok=True)
    torch.onnx.export(net, torch.zeros(1, 1, drawing.HEIGHT, 160), given.out, opset_version=13, input_names=["picture"], output_names=["logs"], dynamic_axes={"picture": {0: "words", 3: "width"}, "logs": {0: "words", 1: "steps"}})
    with open(given.out, "rb") as f:
        print(hashlib.sha256(f.read()).hexdigest(), os.path.getsize(given.out), "bytes")


if __name__ == "__main__":
    main()
