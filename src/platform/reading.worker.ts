/** Reads handwriting, away from the thread that draws. The runtime is the one that hears speech too. */
import { expose } from 'comlink';
import type { OnnxRuntime, OnnxSession } from '../core/onnx';
import type { Trace } from '../core/reading/drawing';
import { Lexicon, OWN_WORD, wordsOf, type LexiconWord } from '../core/reading/lexicon';
import { LEXICON_FILE, MODEL_FILE } from '../core/reading/model';
import type { ReadWord } from '../core/reading/pageText';
import { packLogs } from '../core/reading/posteriors';
import { Reader } from '../core/reading/reader';
import { textOf } from '../core/note/binaryText';

const scope = self as unknown as {
  importScripts: (...urls: string[]) => void;
  ort?: OnnxRuntime & { env: { wasm: { numThreads: number; wasmPaths: string } }; InferenceSession: { create: (model: Uint8Array, options: { logSeverityLevel: number }) => Promise<OnnxSession> } };
};

async function fileOf(path: string): Promise<ArrayBuffer> {
  const answer = await fetch(`${self.location.origin}${path}`);
  if (!answer.ok) throw new Error('a part of the program is not here');
  return answer.arrayBuffer();
}

let lexicon: Lexicon | null = null;
let reader: Promise<Reader> | null = null;

function made(): Promise<Reader> {
  reader ??= (async () => {
    if (!scope.ort) scope.importScripts(`${self.location.origin}/speech/ort.wasm.min.js`);
    const ort = scope.ort!;
    ort.env.wasm.numThreads = 1;
    ort.env.wasm.wasmPaths = `${self.location.origin}/speech/`;
    const [model, list] = await Promise.all([fileOf(MODEL_FILE), fileOf(LEXICON_FILE)]);
    lexicon = new Lexicon(wordsOf(new TextDecoder().decode(list)));
    return new Reader(ort, await ort.InferenceSession.create(new Uint8Array(model), { logSeverityLevel: 3 }), lexicon);
  })();
  // It is tried once more when it is asked for again.
  reader.catch(() => (reader = null));
  return reader;
}

const reading = {
  /** Strokes of each word, mm. */
  async read(words: readonly (readonly Trace[])[]): Promise<ReadWord[]> {
    const now = await made();
    const out: ReadWord[] = [];
    for (const strokes of words) {
      const { readings, logs } = await now.read(strokes);
      out.push({ readings, logs: textOf(packLogs(logs)) });
    }
    return out;
  },
  /** Words that the writer or the course uses. */
  async know(words: readonly (string | LexiconWord)[]): Promise<void> {
    await made();
    for (const word of words) lexicon!.add(typeof word === 'string' ? { text: word, weight: OWN_WORD } : word);
  },
};
export type ReadingWorker = typeof reading;

expose(reading);
