// Puts what workers load at run time where the application serves it from: the speech model under public/speech, what reads PDF under public/pdf,
// the player of replay pages under public/replay.
// All of it comes with packages of npm. What reads PDF are modules that find their parts by their own address, so they are served as they are.
import { copyFileSync, existsSync, mkdirSync, readdirSync, readFileSync, rmSync, statSync, writeFileSync } from 'node:fs';
import { createRequire } from 'node:module';
import path from 'node:path';

const SPEECH = [
  'node_modules/@ricky0123/vad-web/dist/silero_vad_v5.onnx',
  'node_modules/onnxruntime-web/dist/ort.wasm.min.js',
  'node_modules/onnxruntime-web/dist/ort-wasm-simd.wasm',
];

const PDFJS = 'node_modules/pdfjs-dist';
/** What stands beside the files of the program: fonts that a PDF may leave out, tables of characters, decoders of pictures, colour profiles. */
const FOLDERS = ['standard_fonts', 'cmaps', 'wasm', 'iccs'];

const all = (root, folder) => readdirSync(path.join(root, folder)).map((f) => path.join(folder, f));

/** Copies what is missing or of another size, and takes away what does not belong there. */
function layFiles(root, into, files) {
  const to = path.join(root, into);
  mkdirSync(to, { recursive: true });
  const wanted = new Map(files.map((f) => [path.basename(f), path.join(root, f)]));
  for (const name of readdirSync(to)) if (!wanted.has(name) && !statSync(path.join(to, name)).isDirectory()) rmSync(path.join(to, name));
  for (const [name, from] of wanted) {
    const target = path.join(to, name);
    if (!existsSync(target) || statSync(target).size !== statSync(from).size) copyFileSync(from, target);
  }
}

const put = (target, text) => {
  if (!existsSync(target) || readFileSync(target, 'utf8') !== text) writeFileSync(target, text);
};

/** The workers that read and draw PDF are modules among those they use, so they are not bundled: their types are taken away and their imports named by their place. */
const PDF_MODULES = ['drawing.mjs', 'freePixels.mjs', 'parser.mjs'];
function layPdfWorkers(root) {
  const ts = createRequire(path.join(root, 'package.json'))('typescript');
  const plain = (name) => ts.transpileModule(readFileSync(path.join(root, 'src/platform/pdf', name), 'utf8'), { compilerOptions: { target: 'ES2022', module: 'ESNext' } }).outputText;
  const to = (name) => path.join(root, 'public/pdf', name);
  put(to('drawing.mjs'), plain('drawing.worker.ts').replace("'pdfjs-dist'", "'./pdf.min.mjs'").replace("'comlink'", "'./comlink.min.mjs'"));
  put(to('freePixels.mjs'), plain('freePixels.ts'));
  put(to('parser.mjs'), "import './freePixels.mjs';\nimport './pdf.worker.min.mjs';\n");
}

/** The player of a replay page stands in that page as it is, so it is not bundled either. */
function layPlayer(root) {
  const ts = createRequire(path.join(root, 'package.json'))('typescript');
  const from = path.join(root, 'src/platform/handing/replay');
  const to = path.join(root, 'public/replay');
  mkdirSync(to, { recursive: true });
  const { outputText } = ts.transpileModule(readFileSync(path.join(from, 'player.ts'), 'utf8'), { compilerOptions: { target: 'ES2020', module: 'ESNext', removeComments: true } });
  for (const [name, text] of [['player.js', outputText], ['player.css', readFileSync(path.join(from, 'player.css'), 'utf8')]]) put(path.join(to, name), text);
}

export function layFilesOfPackages(root) {
  layFiles(root, 'public/speech', SPEECH);
  layFiles(root, 'public/pdf', [`${PDFJS}/build/pdf.min.mjs`, `${PDFJS}/build/pdf.worker.min.mjs`, `${PDFJS}/LICENSE`, 'node_modules/comlink/dist/esm/comlink.min.mjs', ...PDF_MODULES.map((f) => `public/pdf/${f}`)].filter((f) => existsSync(path.join(root, f))));
  for (const folder of FOLDERS) layFiles(root, `public/pdf/${folder}`, all(root, `${PDFJS}/${folder}`));
  layPdfWorkers(root);
  layPlayer(root);
}
