#!/bin/sh
# The whole training, from nothing: faces from the npm registry, their centre lines, the network, the model and the word list of the application, and the data that holds both together.
# Needs Debian's python3-torch python3-onnx python3-numpy python3-numba python3-skimage python3-pil python3-fonttools scowl wngerman wfrench wspanish, and Node. About an hour on two cores.
set -e
cd "$(dirname "$0")"
PYTHON=${PYTHON:-/usr/bin/python3}
node fetch.mjs
"$PYTHON" train.py --threads "${THREADS:-2}"
"$PYTHON" export.py --out ../../public/reading/reader.onnx
"$PYTHON" lexicon.py ../../public/reading
"$PYTHON" check_data.py
"$PYTHON" held.py .cache/held.json
cd ../..
npx tsx tools/handwriting/evaluate.ts tools/handwriting/.cache/held.json
