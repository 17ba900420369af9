/** The reader in Node, for programs of their own (tsx): the runtime is an ES module that the unit tests cannot load. */
import { readFileSync } from 'node:fs';
import path from 'node:path';
import { env, InferenceSession, Tensor } from 'onnxruntime-web';
import type { OnnxRuntime, OnnxSession } from '../../src/core/onnx';
import type { Lexicon } from '../../src/core/reading/lexicon';
import { Reader } from '../../src/core/reading/reader';

export async function readerInNode(lexicon: Lexicon | null, model = path.join(__dirname, '../../public/reading/reader.onnx')): Promise<Reader> {
  // The runtime takes a Node with `fetch` for a browser and would fetch its module by a path.
  Reflect.deleteProperty(globalThis, 'fetch');
  env.wasm.numThreads = 1;
  const session = (await InferenceSession.create(new Uint8Array(readFileSync(model)), { logSeverityLevel: 3 })) as unknown as OnnxSession;
  return new Reader({ Tensor } as unknown as OnnxRuntime, session, lexicon);
}
