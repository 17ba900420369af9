/** The speech model over sound from standard input (32 bit float, mono, 48 kHz); writes its probabilities as JSON. A process of its own: the model is an ES module that the unit tests cannot load. */
import { readFileSync } from 'node:fs';
import path from 'node:path';
import { env, InferenceSession, Tensor } from 'onnxruntime-web';
import { Downsampler, Silero } from '../../src/core/audio/silero';
import type { OnnxRuntime, OnnxSession } from '../../src/core/onnx';

async function main(): Promise<void> {
  // The runtime takes a Node with `fetch` for a browser and would fetch its module by a path.
  Reflect.deleteProperty(globalThis, 'fetch');
  env.wasm.numThreads = 1;
  const input = readFileSync(0);
  const samples = new Float32Array(input.buffer.slice(input.byteOffset, input.byteOffset + input.length) as ArrayBuffer);
  const model = readFileSync(path.join(__dirname, '../../node_modules/@ricky0123/vad-web/dist/silero_vad_v5.onnx'));
  const session = (await InferenceSession.create(new Uint8Array(model), { logSeverityLevel: 3 })) as unknown as OnnxSession;
  const silero = new Silero({ Tensor } as unknown as OnnxRuntime, session);
  const down = new Downsampler();
  const out: number[] = [];
  for (let i = 0; i < samples.length; i += 48_000) out.push(...(await silero.add(down.add(samples.subarray(i, i + 48_000)))));
  process.stdout.write(JSON.stringify(out));
}

void main();
