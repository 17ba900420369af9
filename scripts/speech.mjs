// Puts the speech model and what runs it where the application serves it from: public/speech. They come with packages of npm.
import { copyFileSync, existsSync, mkdirSync, readdirSync, rmSync, statSync } from 'node:fs';
import path from 'node:path';

const FILES = [
  'node_modules/@ricky0123/vad-web/dist/silero_vad_v5.onnx',
  'node_modules/onnxruntime-web/dist/ort.wasm.min.js',
  'node_modules/onnxruntime-web/dist/ort-wasm-simd.wasm',
];

export function laySpeechFiles(root) {
  const to = path.join(root, 'public/speech');
  mkdirSync(to, { recursive: true });
  const wanted = new Set(FILES.map((f) => path.basename(f)));
  for (const file of readdirSync(to)) if (!wanted.has(file)) rmSync(path.join(to, file));
  for (const file of FILES) {
    const target = path.join(to, path.basename(file));
    if (!existsSync(target) || statSync(target).size !== statSync(path.join(root, file)).size) copyFileSync(path.join(root, file), target);
  }
}
