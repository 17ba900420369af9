/**
 * A sound that spells its own time, and the ear for it.
 *
 * Tones are the signalling frequencies of push-button telephones (ITU-T Recommendation Q.23): one of 697, 770, 852, 941 Hz
 * together with one of 1209, 1336, 1477, 1633 Hz. A slot of 500 ms is five symbols of 75 ms tone and 25 ms rest: a `D` that
 * begins it, then the number of the slot as four digits to the base of 5, each place with signs of its own, so that neighbours
 * always differ and are told apart even where a player that stretches time swallows the rest between them. A faint pilot tone runs through, so that the first
 * sample that is heard can be told from silence.
 */
const LOW = [697, 770, 852, 941];
const HIGH = [1209, 1336, 1477, 1633];
/** Q.23 lays the symbols out like this; `D` is the last. */
const SYMBOLS = '123A456B789C*0#D';
const PLACES = ['01234', '56789', 'ABC*#', '01234'];
export const SLOT_MS = 500;
const SYMBOL_MS = 100;
const TONE_MS = 75;
const PILOT_HZ = 2600;
const PILOT = 0.02;
const TONE = 0.3;

/** Up to 625 slots, a little over five minutes. */
export const slotSymbols = (slot: number): string => `D${PLACES.map((signs, k) => signs[Math.floor(slot / 5 ** (3 - k)) % 5]).join('')}`;

/** Mono samples. */
export function spellTime(seconds: number, rate: number): Float32Array {
  const out = new Float32Array(Math.round(seconds * rate));
  for (let i = 0; i < out.length; i++) out[i] = PILOT * Math.sin((2 * Math.PI * PILOT_HZ * i) / rate);
  for (let k = 0; k * SYMBOL_MS < seconds * 1000; k++) {
    const index = SYMBOLS.indexOf(slotSymbols(Math.floor(k / 5))[k % 5]);
    const [low, high] = [LOW[index >> 2], HIGH[index & 3]];
    const [from, to] = [Math.round((k * SYMBOL_MS * rate) / 1000), Math.round(((k * SYMBOL_MS + TONE_MS) * rate) / 1000)];
    for (let i = from; i < Math.min(to, out.length); i++) {
      // Edges of 4 ms keep the tone from splashing over the band.
      const edge = Math.min(1, (i - from) / (0.004 * rate), (to - i) / (0.004 * rate));
      const t = i / rate;
      out[i] += TONE * edge * (Math.sin(2 * Math.PI * low * t) + Math.sin(2 * Math.PI * high * t));
    }
  }
  return out;
}

/** 16 bit PCM WAV. */
export function wavOf(samples: Float32Array, rate: number): Buffer {
  const data = Buffer.alloc(44 + samples.length * 2);
  data.write('RIFF', 0);
  data.writeUInt32LE(36 + samples.length * 2, 4);
  data.write('WAVEfmt ', 8);
  data.writeUInt32LE(16, 16);
  data.writeUInt16LE(1, 20);
  data.writeUInt16LE(1, 22);
  data.writeUInt32LE(rate, 24);
  data.writeUInt32LE(rate * 2, 28);
  data.writeUInt16LE(2, 32);
  data.writeUInt16LE(16, 34);
  data.write('data', 36);
  data.writeUInt32LE(samples.length * 2, 40);
  for (let i = 0; i < samples.length; i++) data.writeInt16LE(Math.round(Math.max(-1, Math.min(1, samples[i])) * 32767), 44 + 2 * i);
  return data;
}

/** Power of one frequency in a run of samples (Goertzel's algorithm). */
function power(x: Float32Array, from: number, n: number, hz: number, rate: number): number {
  const c = 2 * Math.cos((2 * Math.PI * hz) / rate);
  let [s1, s2] = [0, 0];
  for (let i = from; i < from + n; i++) {
    const s = x[i] + c * s1 - s2;
    s2 = s1;
    s1 = s;
  }
  return (s1 * s1 + s2 * s2 - c * s1 * s2) / (n * n);
}

interface Run {
  symbol: string;
  /** Middle of the tone, ms from the first sample. */
  mid: number;
  ms: number;
}

/** Tones in the order they are heard. `speed`: how much faster than made they are played. */
export function hearTones(x: Float32Array, rate: number, speed = 1): Run[] {
  const n = Math.round((0.018 * rate) / Math.max(1, speed * 0.75));
  const hop = Math.max(1, Math.round(0.001 * rate));
  const runs: Run[] = [];
  let run: { symbol: string; from: number; to: number } | null = null;
  const close = () => {
    if (run && run.to - run.from >= (TONE_MS * 0.45) / speed) runs.push({ symbol: run.symbol, mid: (run.from + run.to) / 2, ms: run.to - run.from });
    run = null;
  };
  for (let i = 0; i + n <= x.length; i += hop) {
    const low = LOW.map((hz) => power(x, i, n, hz, rate));
    const high = HIGH.map((hz) => power(x, i, n, hz, rate));
    const [a, b] = [low.indexOf(Math.max(...low)), high.indexOf(Math.max(...high))];
    const loud = low[a] > 0.001 && high[b] > 0.001;
    const clear = low.every((p, k) => k === a || p < low[a] * 0.5) && high.every((p, k) => k === b || p < high[b] * 0.5);
    const symbol = loud && clear ? SYMBOLS[4 * a + b] : null;
    const at = ((i + n / 2) / rate) * 1000;
    if (run && symbol === run.symbol) run.to = at;
    else {
      close();
      if (symbol) run = { symbol, from: at, to: at };
    }
  }
  close();
  return runs;
}

/**
 * The time in ms of the spelled sound at the first sample of `x`, or null when no whole slot of tones is heard. A slot tells where
 * in the sound this is; from there tones are followed back to the first whole one (or on to the last), and that one tells the
 * time: sound that falters farther on says nothing about here.
 */
export function timeAtStart(x: Float32Array, rate: number, speed = 1, by: 'first' | 'last' = 'first'): number | null {
  const runs = hearTones(x, rate, speed);
  const slotAt = (i: number): number | null => {
    if (i + 4 >= runs.length || runs[i].symbol !== 'D') return null;
    const digits = PLACES.map((signs, k) => signs.indexOf(runs[i + 1 + k].symbol));
    return digits.some((d) => d < 0) ? null : digits.reduce((n, d) => n * 5 + d, 0);
  };
  const starts = runs.flatMap((_, i) => (slotAt(i) === null ? [] : [i]));
  const from = by === 'first' ? starts[0] : starts.at(-1);
  if (from === undefined) return null;
  const tone = 5 * slotAt(from)!;
  const symbolOf = (n: number) => (n < 0 ? '' : slotSymbols(Math.floor(n / 5))[n % 5]);
  const whole = (r: Run) => Math.abs(r.ms * speed - TONE_MS) < 0.25 * TONE_MS;
  const step = by === 'first' ? -1 : 1;
  let told: number | null = null;
  for (let i = by === 'first' ? from + 4 : from; i >= 0 && i < runs.length; i += step) {
    const n = tone + i - from;
    if (runs[i].symbol !== symbolOf(n)) break;
    if (whole(runs[i])) told = n * SYMBOL_MS + TONE_MS / 2 - runs[i].mid * speed;
  }
  return told;
}

/** Index of the first sample that is sound and not silence. */
export function firstSound(x: Float32Array, threshold = PILOT * 0.15): number {
  for (let i = 0; i < x.length; i++) if (Math.abs(x[i]) > threshold) return i;
  return -1;
}

export const median = (v: readonly number[]): number => {
  const s = [...v].sort((a, b) => a - b);
  return (s[(s.length - 1) >> 1] + s[s.length >> 1]) / 2;
};
