/** Reads words: the network, run by whatever can run it (onnxruntime-web in a worker, or in Node), and the lexicon. */
import type { OnnxRuntime, OnnxSession } from '../onnx';
import { CLASSES } from './alphabet';
import type { Logs } from './ctc';
import { HEIGHT, pictureOf, type Trace } from './drawing';
import { readings, type Reading } from './decoding';
import type { Lexicon } from './lexicon';

export interface WordReading {
  /** Likeliest first; none where nothing can be read. */
  readonly readings: readonly Reading[];
  readonly logs: Logs;
}

export class Reader {
  constructor(
    private readonly ort: OnnxRuntime,
    private readonly session: OnnxSession,
    private readonly lexicon: Lexicon | null,
  ) {}

  /** What the network says of the strokes of a word. */
  async logsOf(strokes: readonly Trace[]): Promise<Logs> {
    const { w, px } = pictureOf(strokes);
    // The network halves twice.
    const wide = (w + 3) & ~3;
    const picture = new Float32Array(wide * HEIGHT);
    for (let y = 0; y < HEIGHT; y++) picture.set(px.subarray(y * w, (y + 1) * w), y * wide);
    const { logs } = await this.session.run({ picture: new this.ort.Tensor('float32', picture, [1, 1, HEIGHT, wide]) });
    const log = logs.data as Float32Array;
    return { steps: log.length / CLASSES, log };
  }

  async read(strokes: readonly Trace[], most = 5): Promise<WordReading> {
    const logs = await this.logsOf(strokes.filter((s) => s.length > 0));
    return { logs, readings: readings(logs, this.lexicon, most) };
  }
}
