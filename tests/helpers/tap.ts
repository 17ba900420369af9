/** Runs in the page before the application: listens to the microphone and to what the application sends to the loudspeaker. */
import type { BrowserContext, Page } from '@playwright/test';

interface Pcm {
  rate: number;
  samples: Float32Array;
}

/** What the page keeps; all of it the test's own, the application knows nothing of it. */
interface TapState {
  /** Microphone: per stream the samples and, for each buffer, when it arrived and which samples it held. */
  mic: { rate: number; chunks: Float32Array[]; arrivals: { at: number; end: number }[]; n: number }[];
  speaker: { rate: number; chunks: Float32Array[]; arrivals: { at: number; end: number }[]; n: number } | null;
  downs: number[];
}

export function installTap(): void {
  const state: TapState = { mic: [], speaker: null, downs: [] };
  (window as unknown as { tap: TapState }).tap = state;
  window.addEventListener('pointerdown', (e) => (e.target as Element).closest('[data-testid^="page-"]') && state.downs.push(e.timeStamp), true);

  type Data = { numberOfFrames: number; sampleRate: number; copyTo(to: Float32Array, o: object): void; close(): void };
  const read = async (track: MediaStreamTrack, each: (samples: Float32Array, rate: number, at: number) => void) => {
    const Processor = (window as unknown as { MediaStreamTrackProcessor: new (o: object) => { readable: ReadableStream<Data> } }).MediaStreamTrackProcessor;
    const reader = new Processor({ track, maxBufferSize: 2000 }).readable.getReader();
    for (;;) {
      const { value, done } = await reader.read();
      if (done) return;
      const at = performance.now();
      const samples = new Float32Array(value.numberOfFrames);
      value.copyTo(samples, { planeIndex: 0, format: 'f32-planar' });
      each(samples, value.sampleRate, at);
      value.close();
    }
  };

  const ask = navigator.mediaDevices?.getUserMedia.bind(navigator.mediaDevices);
  if (ask) {
    navigator.mediaDevices.getUserMedia = async (constraints) => {
      const stream = await ask(constraints);
      const mic: TapState['mic'][number] = { rate: 0, chunks: [], arrivals: [], n: 0 };
      state.mic.push(mic);
      void read(stream.getAudioTracks()[0].clone(), (samples, rate, at) => {
        mic.rate = rate;
        mic.chunks.push(samples);
        mic.n += samples.length;
        mic.arrivals.push({ at, end: mic.n });
      });
      return stream;
    };
  }
  /** ms of sound since the first sample that is none of silence's. */
  (window as unknown as { heardMs: () => number }).heardMs = () => {
    let n = 0;
    for (const c of state.speaker?.chunks ?? []) {
      const from = n > 0 ? 0 : c.findIndex((v) => Math.abs(v) > 0.003);
      if (from >= 0) n += c.length - from;
    }
    return state.speaker?.rate ? (n / state.speaker.rate) * 1000 : 0;
  };
  (window as unknown as { listenToSpeaker: () => void }).listenToSpeaker = () => {
    const audio = document.querySelector('audio') as HTMLAudioElement & { captureStream(): MediaStream; heard?: boolean };
    if (audio.heard) return;
    audio.heard = true;
    const stream = audio.captureStream();
    const known = new Set<string>();
    const start = (track: MediaStreamTrack) => {
      if (known.has(track.id)) return;
      known.add(track.id);
      void read(track, (samples, rate, at) => {
        if (!state.speaker) return;
        state.speaker.rate = rate;
        state.speaker.chunks.push(samples);
        state.speaker.n += samples.length;
        state.speaker.arrivals.push({ at, end: state.speaker.n });
      });
    };
    stream.getAudioTracks().forEach(start);
    stream.addEventListener('addtrack', (e) => start(e.track));
  };
}

const joined = `(chunks) => {
  const n = chunks.reduce((s, c) => s + c.length, 0);
  const bytes = new Uint8Array(n * 2);
  const view = new DataView(bytes.buffer);
  let i = 0;
  for (const c of chunks) for (const v of c) view.setInt16(2 * i++, Math.max(-1, Math.min(1, v)) * 32767, true);
  let text = '';
  for (let k = 0; k < bytes.length; k += 32768) text += String.fromCharCode(...bytes.subarray(k, k + 32768));
  return btoa(text);
}`;

function pcm(base64: string, rate: number): Pcm {
  const b = Buffer.from(base64, 'base64');
  const samples = new Float32Array(b.length / 2);
  for (let i = 0; i < samples.length; i++) samples[i] = b.readInt16LE(2 * i) / 32767;
  return { rate, samples };
}

/** A page that an expression can be asked of. */
export interface Asked {
  evaluate(expression: string): Promise<unknown>;
}

/** What the microphone of recording `index` heard, and which sample was heard at an event time. */
export const microphone = (page: Page, index: number): Promise<TimedPcm> => timed(page, `window.tap.mic[${index}]`);

/** What went to the loudspeaker since it was cleared, and which sample went out at an event time. */
export const speakerSoFar = (page: Page): Promise<TimedPcm> => timed(page, 'window.tap.speaker');

export type TimedPcm = Pcm & { sampleAt: (event: number) => number };

/** A piece of sound that came in at `at` ms and ended with sample `end`. */
export interface Arrival {
  readonly at: number;
  readonly end: number;
}

/** Which sample was heard last at an event time, on the clock of the arrivals. */
export function sampleClock(arrivals: readonly Arrival[], rate: number): (event: number) => number {
  // A buffer cannot arrive before its last sample was heard, so the smallest lateness over many is (nearly) none at all. Sound that
  // a starved machine loses makes everything after it later and never earlier: only buffers from the sample on tell its lateness.
  const offsetNear = (sample: number) => {
    let least = Infinity;
    for (const a of arrivals) if (a.end >= sample && a.end < sample + 2 * rate) least = Math.min(least, a.at - (a.end / rate) * 1000);
    return least;
  };
  return (event) => {
    // Offsets only grow, so halving finds it.
    let [low, high] = [0, arrivals[arrivals.length - 1].end];
    while (high - low > 1) {
      const mid = (low + high) >> 1;
      if (offsetNear(mid) + (mid / rate) * 1000 <= event) low = mid;
      else high = mid;
    }
    return low;
  };
}

async function timed(page: Page, of: string): Promise<TimedPcm> {
  const got = await page.evaluate(`(() => { const m = ${of}; return { rate: m.rate, pcm: (${joined})(m.chunks), arrivals: m.arrivals }; })()`);
  const { rate, pcm: text, arrivals } = got as { rate: number; pcm: string; arrivals: Arrival[] };
  return { ...pcm(text, rate), sampleAt: sampleClock(arrivals, rate) };
}

export const tapSpeaker = (page: Page): Promise<void> => page.evaluate('window.listenToSpeaker()');

/** Forgets what was heard and listens anew. */
export const clearSpeaker = (page: Page): Promise<void> => page.evaluate('void (window.tap.speaker = { rate: 0, chunks: [], arrivals: [], n: 0 })');

/** Everything the loudspeaker got since then, once `ms` of sound (not silence) are there or the note is at its end: played to it, or stopped there because only a pause was left, which is skipped. */
export async function speaker(page: Page, ms: number): Promise<Pcm> {
  const isThere = (wanted: number) => {
    const a = document.querySelector('audio')!;
    const heard = (window as unknown as { heardMs: () => number }).heardMs();
    // Before anything is heard it may still stand where it ended last.
    return heard >= wanted || (heard > 0 && (a.ended || (a.paused && a.currentTime > a.duration - 0.05)));
  };
  await page.waitForFunction(isThere, ms, { polling: 20, timeout: 15_000 }).catch(async (e: Error) => {
    const player = await page.evaluate(() => {
      const a = document.querySelector('audio')!;
      const buffered = Array.from({ length: a.buffered.length }, (_, i) => `${a.buffered.start(i)}–${a.buffered.end(i)}`);
      return JSON.stringify({ paused: a.paused, at: a.currentTime, ready: a.readyState, seeking: a.seeking, buffered, error: a.error?.message, heard: (window as unknown as { heardMs: () => number }).heardMs() });
    });
    throw new Error(`Of ${ms} ms of sound not all went out in 15 s (${player}). ${e.message}`);
  });
  const got = (await page.evaluate(`({ rate: window.tap.speaker.rate, pcm: (${joined})(window.tap.speaker.chunks) })`)) as { rate: number; pcm: string };
  return pcm(got.pcm, got.rate);
}

const troubles = new WeakMap<BrowserContext, string[]>();

/** Gathers what goes wrong in any page of a browser, over all its navigations: errors and rejections nobody caught, and what the policy of the page forbade. */
export function gatherTroubles(context: BrowserContext): string[] {
  const list: string[] = [];
  troubles.set(context, list);
  context.on('weberror', (e) => list.push(String(e.error().stack ?? e.error())));
  // Of workers, too, the browser says so in the console alone.
  context.on('console', (m) => m.type() === 'error' && /Content.Security.Policy|Permissions.Policy/i.test(m.text()) && list.push(m.text()));
  return list;
}

/** What went wrong so far; a test that expects something to go wrong takes it out. */
export const pageErrors = (page: Page): Promise<string[]> => Promise.resolve(troubles.get(page.context())!);
export const penDowns = (page: Asked): Promise<number[]> => page.evaluate('window.tap.downs') as Promise<number[]>;
