/** Generated speech whose phrase times are known: Debian's voices (espeak-ng, flite), phrase by phrase between silences of chosen length. */
import { execFileSync } from 'node:child_process';
import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import type { Span } from '../../src/core/audio/speech';

export const RATE = 48_000;

/** Numbers 0..1 that are the same in every run. */
export function seeded(seed: number): () => number {
  let s = seed >>> 0;
  return () => (s = (Math.imul(s, 1664525) + 1013904223) >>> 0) / 2 ** 32;
}

const SENTENCES = [
  'The flood runs strongest in the third and fourth hour.',
  'Keep the red buoy to port when you come in from the sea.',
  'High water at the bar was at ten past four this morning.',
  'Slack water lasts hardly twenty minutes here.',
  'We need six people at the gate and two on the pontoon.',
  'The old light was put out in the winter of the big frost.',
  'Ask the harbour master before you cross the fairway.',
  'A cardinal mark tells you on which side the safe water lies.',
  'He brought her in stern first, with the wind on the quarter.',
  'The tide tables give the height above chart datum.',
  'Nobody had told us about the wreck off the north pier.',
  'Sound one prolonged blast before the bend.',
];

const VOICES: readonly ((text: string, wav: string) => void)[] = [
  (text, wav) => execFileSync('espeak-ng', ['-v', 'en-gb', '-s', '150', '-w', wav, text]),
  (text, wav) => execFileSync('flite', ['-voice', 'slt', '-t', text, '-o', wav]),
  (text, wav) => execFileSync('flite', ['-voice', 'rms', '-t', text, '-o', wav]),
];

/** Sound that is far below what anybody hears: the edges of a phrase. */
const AUDIBLE = 10 ** (-45 / 20);

/** The sentences, each by one voice, without the silence around them; -1..1 at 48 kHz. */
function phrases(): Float32Array<ArrayBuffer>[] {
  const folder = mkdtempSync(path.join(tmpdir(), 'scrivo-speech-'));
  try {
    return SENTENCES.map((text, i) => {
      const wav = path.join(folder, `${i}.wav`);
      VOICES[i % VOICES.length](text, wav);
      const raw = execFileSync('ffmpeg', ['-v', 'error', '-i', wav, '-ac', '1', '-ar', String(RATE), '-f', 'f32le', '-'], { maxBuffer: 1 << 26 });
      const x = new Float32Array(raw.buffer.slice(raw.byteOffset, raw.byteOffset + raw.length) as ArrayBuffer);
      const loudest = x.reduce((m, v) => Math.max(m, Math.abs(v)), 0);
      const loud = (v: number) => Math.abs(v) > loudest * AUDIBLE;
      const [from, to] = [x.findIndex(loud), x.findLastIndex(loud) + 1];
      return x.slice(from, to).map((v) => (0.5 * v) / loudest);
    });
  } finally {
    rmSync(folder, { recursive: true, force: true });
  }
}

let made: Float32Array<ArrayBuffer>[] | null = null;

export interface Spoken {
  readonly samples: Float32Array;
  /** Where each phrase is, ms. */
  readonly phrases: readonly Span[];
}

/**
 * `count` phrases with silences between `least` and `most` ms. `snr`: white noise so many dB below the speech (its root mean square
 * over the phrases), or null for a quiet room.
 */
export function spokenSound(count: number, least: number, most: number, seed: number, snr: number | null = null): Spoken {
  const list = (made ??= phrases());
  const random = seeded(seed);
  const between = () => Math.round(((least + (most - least) * random() ** 1.5) * RATE) / 1000);
  const at: { from: number; x: Float32Array }[] = [];
  let n = between();
  for (let i = 0; i < count; i++) {
    const x = list[Math.floor(random() * list.length)];
    at.push({ from: n, x });
    n += x.length + between();
  }
  const samples = new Float32Array(n);
  let [power, length] = [0, 0];
  for (const { from, x } of at) {
    samples.set(x, from);
    for (const v of x) power += v * v;
    length += x.length;
  }
  const noise = snr === null ? 10 ** (-70 / 20) : Math.sqrt(power / length) * 10 ** (-snr / 20);
  // Uniform noise of root mean square 1 reaches from -sqrt 3 to sqrt 3.
  for (let i = 0; i < n; i++) samples[i] += noise * Math.sqrt(3) * (2 * random() - 1);
  return { samples, phrases: at.map(({ from, x }) => ({ from: (from / RATE) * 1000, to: ((from + x.length) / RATE) * 1000 })) };
}
