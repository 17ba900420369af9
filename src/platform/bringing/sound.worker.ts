/** Sound of any common file as Opus packets of a take, in a worker: read, decoded and encoded piece by piece, so an hour takes no more memory than a minute. */
import { expose } from 'comlink';
import { ALL_FORMATS, AudioSampleSink, BlobSource, Input } from 'mediabunny';
import { mp3Delay } from '../../core/audio/mp3Delay';
import type { Packet } from '../../core/audio/opus';

/** Speech in full band, bits per second. */
const BITRATE = 40_000;
/** Half the encoder's default effort, at which speech sounds the same: three times as fast. */
const COMPLEXITY = 5;
/** Packets are handed on in portions of so much, ms. */
const PORTION_MS = 30_000;
/** So much of an MP3 is read to find what its encoder says: titles and pictures may come before. */
const HEAD = 1 << 20;
/** The encoder may be so many packets behind. */
const BEHIND = 40;

export interface SoundTaken {
  readonly ms: number;
  /** It is the sound of a film that this browser can show. */
  readonly film?: boolean;
}

export interface SoundWork {
  /** Length of the sound, ms; fails with a clause when there is none that can be read. */
  look(file: Blob): Promise<SoundTaken>;
  /** `next` takes packets in order and the share done, 0..1. */
  bring(file: Blob, next: (packets: Packet[], share: number) => Promise<void>): Promise<SoundTaken>;
}

const inputOf = (file: Blob) => new Input({ source: new BlobSource(file), formats: ALL_FORMATS });

async function trackOf(input: Input) {
  let track;
  try {
    track = await input.getPrimaryAudioTrack();
  } catch {
    throw new Error('it is damaged, or none of the kinds of sound that can be read');
  }
  if (!track) throw new Error('there is no sound in it');
  if (!(await track.canDecode())) throw new Error(`this browser cannot read its kind of sound (${track.codec ?? 'unknown'})`);
  return track;
}

const work: SoundWork = {
  async look(file) {
    const input = inputOf(file);
    const track = await trackOf(input);
    // A picture of the record's sleeve is no film.
    const picture = await input.getPrimaryVideoTrack().catch(() => null);
    const film = picture !== null && (await picture.canDecode()) && (await picture.computeDuration()) > 1;
    return { ms: Math.round(1000 * (await track.computeDuration())), film };
  },

  async bring(file, next) {
    const track = await trackOf(inputOf(file));
    const length = 1000 * (await track.computeDuration());
    let waiting: Packet[] = [];
    let failure: unknown = null;
    let end = 0;
    const encoder = new AudioEncoder({
      output(chunk) {
        const data = new Uint8Array(chunk.byteLength);
        chunk.copyTo(data);
        waiting.push({ t: chunk.timestamp / 1000, data });
        end = (chunk.timestamp + (chunk.duration ?? 20_000)) / 1000;
      },
      error: (e) => (failure = e),
    });
    const hand = async (all: boolean): Promise<void> => {
      if (failure) throw failure;
      if (!waiting.length || (!all && waiting.at(-1)!.t - waiting[0].t < PORTION_MS)) return;
      const some = waiting;
      waiting = [];
      await next(some, length > 0 ? Math.min(1, end / length) : 0);
    };
    let [mix, plane] = [new Float32Array(0), new Float32Array(0)];
    // Times go on from packet to packet: what a file says of each is rounded, and a hole in it is silence.
    let at: number | null = null;
    let rate = 0;
    const delay = track.codec === 'mp3' ? mp3Delay(new Uint8Array(await file.slice(0, HEAD).arrayBuffer())) : 0;
    for await (const sample of new AudioSampleSink(track).samples()) {
      const { numberOfFrames: n, numberOfChannels: channels, sampleRate, timestamp } = sample;
      if (encoder.state === 'unconfigured' || sampleRate !== rate) {
        if (encoder.state === 'configured') await encoder.flush();
        rate = sampleRate;
        encoder.configure({ codec: 'opus', sampleRate, numberOfChannels: 1, bitrate: BITRATE, opus: { complexity: COMPLEXITY, frameDuration: 20_000 } } as AudioEncoderConfig);
        at = null;
      }
      if (mix.length !== n) [mix, plane] = [new Float32Array(n), new Float32Array(n)];
      mix.fill(0);
      for (let c = 0; c < channels; c++) {
        sample.copyTo(plane, { planeIndex: c, format: 'f32-planar' });
        for (let i = 0; i < n; i++) mix[i] += plane[i] / channels;
      }
      sample.close();
      // What stands before the beginning was put there by the encoder, and is no part of the sound.
      const begins = timestamp - delay / sampleRate;
      const skipped = Math.min(n, Math.max(0, Math.round(-begins * sampleRate)));
      if (skipped === n) continue;
      const said = begins + skipped / sampleRate;
      if (at === null || Math.abs(said - at) > 0.1) at = said;
      const data = new AudioData({ format: 'f32-planar', sampleRate, numberOfFrames: n - skipped, numberOfChannels: 1, timestamp: Math.round(at * 1e6), data: mix.subarray(skipped) });
      at += (n - skipped) / sampleRate;
      encoder.encode(data);
      data.close();
      if (encoder.encodeQueueSize > BEHIND) await new Promise((resolve) => encoder.addEventListener('dequeue', resolve, { once: true }));
      await hand(false);
    }
    if (encoder.state === 'configured') await encoder.flush();
    await hand(true);
    encoder.close();
    if (end === 0) throw new Error('there is no sound in it');
    return { ms: Math.round(end) };
  },
};

expose(work);
