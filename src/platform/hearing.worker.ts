/** Decodes the sound of a take piece by piece and finds its levels and, with the speech model, where somebody speaks. */
import { expose } from 'comlink';
import { opusDuration, PRE_SKIP_MS, type Packet } from '../core/audio/opus';
import { Downsampler, Silero } from '../core/audio/silero';
import type { OnnxRuntime, OnnxSession } from '../core/onnx';
import { MODEL_FRAME_MS, Levels, speechByBoth, speechByEnergy, speechByModel, type Span } from '../core/audio/speech';

const scope = self as unknown as {
  importScripts: (...urls: string[]) => void;
  ort?: OnnxRuntime & { env: { wasm: { numThreads: number; wasmPaths: string } }; InferenceSession: { create: (url: string, options: { logSeverityLevel: number }) => Promise<OnnxSession> } };
};

const RATE = 48_000;
/** Sound that goes on after a hole longer than this is a run of its own, ms: the decoder closes holes up. */
const HOLE_MS = 30;

/** Frames of silence that are heard first: about a second's work. */
const WARM_UP = 600;

let session: Promise<OnnxSession> | null = null;

function model(): Promise<OnnxSession> {
  session ??= (async () => {
    if (!scope.ort) scope.importScripts(`${self.location.origin}/speech/ort.wasm.min.js`);
    const ort = scope.ort!;
    ort.env.wasm.numThreads = 1;
    // The worker's own address may be a blob's, which nothing can be relative to.
    ort.env.wasm.wasmPaths = `${self.location.origin}/speech/`;
    const made = await ort.InferenceSession.create(`${self.location.origin}/speech/silero_vad_v5.onnx`, { logSeverityLevel: 3 });
    // The browser compiles the runtime a second time, for speed, once it is at work, and takes its memory for it. That is over before sound is decoded.
    const first = new Silero(ort, made);
    for (let i = 0; i < WARM_UP; i++) await first.add(new Float32Array(512));
    return made;
  })();
  return session;
}

/** One pass over a take. */
class Pass {
  private readonly levels = new Levels();
  private readonly probabilities: number[] = [];
  private silero: Silero | null = null;
  private down = new Downsampler();
  private decoder: AudioDecoder | null = null;
  /** Take time of the next sample that comes out, ms; and of the next packet that belongs to the same run. */
  private at = 0;
  private due = -Infinity;
  /** Decoded sound at the model's rate that it has not heard yet. */
  private toHear: { samples: Float32Array; at: number }[] = [];
  /** Buffers that every decoded packet passes through: one of its own for each would be left to the garbage by the hundred megabytes. */
  private mix = new Float32Array(0);
  private plane = new Float32Array(0);
  /** Ends the wait for the decoder when it fails. */
  private wake: () => void = () => undefined;

  async begin(withModel: boolean): Promise<void> {
    if (withModel) this.silero = new Silero(scope.ort!, await model());
  }

  private start(t: number): void {
    this.at = t - PRE_SKIP_MS;
    this.decoder = new AudioDecoder({
      output: (data) => {
        const { numberOfFrames: n, numberOfChannels: channels } = data;
        if (this.mix.length !== n) [this.mix, this.plane] = [new Float32Array(n), new Float32Array(n)];
        this.mix.fill(0);
        for (let c = 0; c < channels; c++) {
          data.copyTo(this.plane, { planeIndex: c, format: 'f32-planar' });
          for (let i = 0; i < n; i++) this.mix[i] += this.plane[i] / channels;
        }
        this.levels.add(this.mix, RATE, this.at);
        if (this.silero) this.toHear.push({ samples: this.down.add(this.mix), at: this.at });
        this.at += (n / data.sampleRate) * 1000;
        data.close();
      },
      // What cannot be decoded counts as silence; the rest of the take goes on in a run of its own.
      error: () => {
        this.decoder = null;
        this.wake();
      },
    });
    this.decoder.configure({ codec: 'opus', sampleRate: RATE, numberOfChannels: 2 });
  }

  async add(packets: readonly Packet[]): Promise<void> {
    for (const p of packets) {
      if (!this.decoder || p.t - this.due > HOLE_MS) {
        await this.decoder?.flush().catch(() => undefined);
        this.start(p.t);
      }
      this.decoder?.decode(new EncodedAudioChunk({ type: 'key', timestamp: p.t * 1000, data: p.data }));
      this.due = p.t + opusDuration(p.data);
    }
    // All that is in the decoder comes out before the next portion: memory does not grow with the take.
    await this.drain();
    for (const { samples, at } of this.toHear.splice(0)) await this.speak(samples, at);
  }

  /** Waits until the decoder has nothing left to do, without the reset that `flush` would cost the sound. */
  private async drain(): Promise<void> {
    while (this.decoder && this.decoder.decodeQueueSize > 0) {
      const { decoder } = this;
      await new Promise<void>((resolve) => {
        this.wake = resolve;
        decoder.addEventListener('dequeue', () => resolve(), { once: true });
      });
    }
  }

  private async speak(samples: Float32Array, at: number): Promise<void> {
    // A hole is silence to the model, so that its frames keep their places.
    const frame = Math.floor(at / MODEL_FRAME_MS);
    while (this.probabilities.length < frame - 1) this.probabilities.push(0);
    this.probabilities.push(...(await this.silero!.add(samples)));
  }

  async finish(): Promise<{ levels: Uint8Array; speech: Span[] }> {
    await this.decoder?.flush().catch(() => undefined);
    await this.add([]);
    if (this.decoder?.state === 'configured') this.decoder.close();
    const levels = this.levels.bytes();
    const energy = speechByEnergy(levels);
    const length = levels.length * 20;
    return { levels, speech: this.silero ? speechByBoth(speechByModel(this.probabilities), energy, length) : energy };
  }
}

let pass: Pass | null = null;

const hearing = {
  /** Begins with a take; `withModel`: the speech model listens too. */
  async begin(withModel: boolean): Promise<void> {
    pass = new Pass();
    await (withModel ? model() : null);
    await pass.begin(withModel);
  },
  /** The next portion of its sound. */
  async add(packets: readonly Packet[]): Promise<void> {
    if (!pass) throw new Error('No take was begun.');
    await pass.add(packets);
  },
  async finish(): Promise<{ levels: Uint8Array; speech: Span[] }> {
    if (!pass) throw new Error('No take was begun.');
    const found = await pass.finish();
    pass = null;
    return found;
  },
};
export type Hearing = typeof hearing;

expose(hearing);
