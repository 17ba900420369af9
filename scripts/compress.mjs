/** Makes of every text file of the build one that is packed once and for all, so that the server need not pack it for every visitor. */
import { readdirSync, readFileSync, writeFileSync } from 'node:fs';
import path from 'node:path';
import { promisify } from 'node:util';
import { brotliCompress, constants } from 'node:zlib';

const TEXT = /\.(js|mjs|css|html|json|svg|webmanifest|wasm|onnx)$/;
/** Smaller ones gain nothing. */
const LEAST = 1024;
/** Nearly as small as it gets, in a tenth of the time. */
const QUALITY = 9;

export async function compressBuild(dist) {
  const files = readdirSync(dist, { recursive: true, withFileTypes: true }).filter((e) => e.isFile() && TEXT.test(e.name)).map((e) => path.join(e.parentPath ?? e.path, e.name));
  await Promise.all(
    files.map(async (file) => {
      const bytes = readFileSync(file);
      if (bytes.length < LEAST) return;
      writeFileSync(`${file}.br`, await promisify(brotliCompress)(bytes, { params: { [constants.BROTLI_PARAM_QUALITY]: QUALITY, [constants.BROTLI_PARAM_SIZE_HINT]: bytes.length } }));
    }),
  );
}
