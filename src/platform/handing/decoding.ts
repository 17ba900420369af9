/** Opus packets decoded one after another, as samples. */
import { opusDuration } from '../../core/audio/opus';
import { wholePortions, type Portions } from '../../core/formats/webmFile';

export const RATE = 48_000;
/** The decoder may be so many packets behind. */
const BEHIND = 60;

/** Samples of each channel, one channel after another. */
export interface Samples {
  readonly planes: Float32Array;
  readonly frames: number;
  readonly channels: number;
}

/**
 * Gives `take` all that is heard, in order; it is waited for. The decoder takes the codec's own delay off, by its head.
 * @param skip so many samples of the beginning are left out. @throws what the decoder and `take` throw
 */
export async function decodeAll(next: Portions, head: Uint8Array, take: (samples: Samples) => Promise<void>, skip = 0): Promise<void> {
  let failure: unknown = null;
  let taken: Promise<void> = Promise.resolve();
  let due = skip;
  const decoder = new AudioDecoder({
    output(data) {
      const { numberOfFrames: n, numberOfChannels: channels } = data;
      const frames = Math.max(0, n - due);
      due -= n - frames;
      const planes = new Float32Array(frames * channels);
      for (let c = 0; frames > 0 && c < channels; c++) data.copyTo(planes.subarray(c * frames, (c + 1) * frames), { planeIndex: c, format: 'f32-planar', frameOffset: n - frames });
      data.close();
      if (frames) taken = taken.then(() => take({ planes, frames, channels })).catch((e: unknown) => void (failure ??= e));
    },
    error: (e) => (failure = e),
  });
  decoder.configure({ codec: 'opus', sampleRate: RATE, numberOfChannels: head[9], description: head });
  const whole = wholePortions(next);
  for (let packets = await whole(); packets; packets = await whole()) {
    for (const p of packets) {
      if (failure) throw failure;
      decoder.decode(new EncodedAudioChunk({ type: 'key', timestamp: Math.round(p.t * 1000), duration: Math.round(opusDuration(p.data) * 1000), data: p.data as Uint8Array<ArrayBuffer> }));
      if (decoder.decodeQueueSize > BEHIND) await new Promise((resolve) => decoder.addEventListener('dequeue', resolve, { once: true }));
    }
    await taken;
  }
  await decoder.flush();
  decoder.close();
  await taken;
  if (failure) throw failure;
}
