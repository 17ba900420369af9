/** The network that ships with the program: SHA-256 of `public/reading/reader.onnx`, which a test holds it to. */
export const MODEL = '3df222fc0c67de7436ee8c3df34f6c2b335570628ecebd7ab85caebf3fbe3953';
export const MODEL_FILE = '/reading/reader.onnx';
export const LEXICON_FILE = '/reading/english.txt';
