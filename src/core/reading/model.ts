/** The network that ships with the program: SHA-256 of `public/reading/reader.onnx`, which a test holds it to. */
export const MODEL = '9a6b01f9d4c2f8768f3a22eaa1bde965ad5b2d59d275c24ec82f82c2cd889ec8';
export const MODEL_FILE = '/reading/reader.onnx';
export const LEXICON_FILE = '/reading/english.txt';
