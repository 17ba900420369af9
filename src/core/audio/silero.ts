/**
 * Speech probabilities from the Silero model, version 5 (the file `silero_vad_v5.onnx` of the package @ricky0123/vad-web), run by
 * whatever can run it: onnxruntime-web in a worker, or in Node.
 *
 * Inputs at 16 kHz, as the model's makers feed it (silero-vad, utils_vad.py): 512 new samples after the last 64 of the frame before,
 * the state of 2 x 1 x 128 that the frame before left, and the rate.
 */

import type { OnnxRuntime, OnnxSession } from '../onnx';

export const MODEL_RATE = 16_000;
const FRAME = 512;
const CONTEXT = 64;

export class Silero {
  private state = new Float32Array(2 * 128);
  private input = new Float32Array(CONTEXT + FRAME);
  private filled = 0;

  constructor(
    private readonly ort: OnnxRuntime,
    private readonly session: OnnxSession,
  ) {}

  /** Samples -1..1 at 16 kHz, in any portions; gives the probability of speech of every frame that came full. */
  async add(samples: Float32Array): Promise<number[]> {
    const out: number[] = [];
    for (let i = 0; i < samples.length; ) {
      const take = Math.min(FRAME - this.filled, samples.length - i);
      this.input.set(samples.subarray(i, i + take), CONTEXT + this.filled);
      this.filled += take;
      i += take;
      if (this.filled === FRAME) out.push(await this.frame());
    }
    return out;
  }

  private async frame(): Promise<number> {
    const { Tensor } = this.ort;
    const answer = await this.session.run({
      input: new Tensor('float32', this.input.slice(), [1, CONTEXT + FRAME]),
      state: new Tensor('float32', this.state, [2, 1, 128]),
      sr: new Tensor('int64', BigInt64Array.of(BigInt(MODEL_RATE)), []),
    });
    this.state = answer.stateN.data as Float32Array<ArrayBuffer>;
    this.input.copyWithin(0, FRAME);
    this.filled = 0;
    return (answer.output.data as Float32Array)[0];
  }
}

/**
 * Every third sample of 48 kHz sound after a low pass at 7 kHz: a windowed sinc of 49 taps (Blackman window, Oppenheim and Schafer,
 * Discrete-Time Signal Processing, section 7.2). Goes on where the portion before ended.
 */
export class Downsampler {
  private static readonly taps = (() => {
    const n = 49;
    const cut = 7000 / 48_000;
    const h = Float32Array.from({ length: n }, (_, i) => {
      const x = i - (n - 1) / 2;
      const sinc = x === 0 ? 2 * cut : Math.sin(2 * Math.PI * cut * x) / (Math.PI * x);
      return sinc * (0.42 - 0.5 * Math.cos((2 * Math.PI * i) / (n - 1)) + 0.08 * Math.cos((4 * Math.PI * i) / (n - 1)));
    });
    const sum = h.reduce((s, v) => s + v, 0);
    return h.map((v) => v / sum);
  })();
  private rest = new Float32Array(Downsampler.taps.length - 1);
  private skip = 0;

  add(samples: Float32Array): Float32Array {
    const h = Downsampler.taps;
    const x = new Float32Array(this.rest.length + samples.length);
    x.set(this.rest);
    x.set(samples, this.rest.length);
    const out: number[] = [];
    let i = this.skip;
    for (; i + h.length <= x.length; i += 3) {
      let sum = 0;
      for (let k = 0; k < h.length; k++) sum += h[k] * x[i + k];
      out.push(sum);
    }
    const from = x.length - (h.length - 1);
    this.skip = i - from;
    this.rest = x.slice(from);
    return Float32Array.from(out);
  }
}
