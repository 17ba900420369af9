/**
 * A sound that spells its own time, and the ear for it.
 *
 * Tones are the signalling frequencies of push-button telephones (ITU-T Recommendation Q.23): one of 697, 770, 852, 941 Hz
 * together with one of 1209, 1336, 1477, 1633 Hz. Ten signs a second, each 75 ms of tone and 25 ms of rest, in an order in which no four in a row
 * come twice and no two neighbours are alike: whichever half second is heard whole tells when it was. A faint pilot tone runs through, so that the
 * first sample that is heard can be told from silence.
 */
const LOW = [697, 770, 852, 941];
const HIGH = [1209, 1336, 1477, 1633];
const SIGNS = LOW.length * HIGH.length;
export const SYMBOL_MS = 100;
const TONE_MS = 75;
/** As long as the ear below finds it. */
const HEARD_MS = 78;
const PILOT_HZ = 2600;
const PILOT = 0.02;
const TONE = 0.3;
/** Noise of the room where nothing is spelled, from the lowest to the highest sample. */
const ROOM = 0.002;
/** Signs in a row that tell the time. */
const TELL = 4;
/** Signs there are: ten minutes. */
const LENGTH = 6000;

const keyOf = (signs: readonly number[]): string => signs.join(' ');

/** The signs in their order, and where each four of them stand. */
const { ORDER, PLACE } = (() => {
  const order: number[] = [];
  const place = new Map<string, number>();
  // Any order would do; this one is the same at every run (numbers of a linear congruential generator, Park and Miller 1988).
  let seed = 16_807;
  const random = (): number => (seed = (seed * 48_271) % 2_147_483_647);
  while (order.length < LENGTH) {
    const start = random() % SIGNS;
    for (let k = 0; k < SIGNS; k++) {
      const sign = (start + k) % SIGNS;
      const four = keyOf([...order.slice(1 - TELL), sign]);
      if (sign === order.at(-1) || place.has(four)) continue;
      order.push(sign);
      if (order.length >= TELL) place.set(four, order.length - TELL);
      break;
    }
  }
  return { ORDER: order, PLACE: place };
})();

/** Nothing is spelled in the last `rest` of every `every` ms, where only the room is heard. */
export interface Rests {
  readonly every: number;
  readonly rest: number;
}

/** Mono samples. */
export function spellTime(seconds: number, rate: number, rests?: Rests): Float32Array {
  const out = new Float32Array(Math.round(seconds * rate));
  const resting = (ms: number): boolean => rests !== undefined && ms % rests.every >= rests.every - rests.rest;
  let seed = 1;
  const noise = (): number => ((seed = (seed * 48_271) % 2_147_483_647) / 2_147_483_647 - 0.5) * ROOM;
  for (let i = 0; i < out.length; i++) out[i] = resting((i * 1000) / rate) ? noise() : PILOT * Math.sin((2 * Math.PI * PILOT_HZ * i) / rate);
  for (let k = 0; k * SYMBOL_MS < seconds * 1000; k++) {
    if (resting(k * SYMBOL_MS)) continue;
    const [low, high] = [LOW[ORDER[k] >> 2], HIGH[ORDER[k] & 3]];
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
  sign: number;
  /** Middle of the tone, ms from the first sample. */
  mid: number;
  ms: number;
}

/** Tones in the order they are heard. `speed`: how much faster than made they are played. */
export function hearTones(x: Float32Array, rate: number, speed = 1): Run[] {
  const n = Math.round((0.018 * rate) / Math.max(1, speed * 0.75));
  const hop = Math.max(1, Math.round(0.001 * rate));
  const runs: Run[] = [];
  let run: { sign: number; from: number; to: number } | null = null;
  const close = () => {
    if (run && run.to - run.from >= (TONE_MS * 0.45) / speed) runs.push({ sign: run.sign, mid: (run.from + run.to) / 2, ms: run.to - run.from });
    run = null;
  };
  for (let i = 0; i + n <= x.length; i += hop) {
    const low = LOW.map((hz) => power(x, i, n, hz, rate));
    const high = HIGH.map((hz) => power(x, i, n, hz, rate));
    const [a, b] = [low.indexOf(Math.max(...low)), high.indexOf(Math.max(...high))];
    const loud = low[a] > 0.001 && high[b] > 0.001;
    const clear = low.every((p, k) => k === a || p < low[a] * 0.5) && high.every((p, k) => k === b || p < high[b] * 0.5);
    const sign = loud && clear ? 4 * a + b : null;
    const at = ((i + n / 2) / rate) * 1000;
    if (run && sign === run.sign) run.to = at;
    else {
      close();
      if (sign !== null) run = { sign, from: at, to: at };
    }
  }
  close();
  return runs;
}

/**
 * The time in ms of the spelled sound at the first sample of `x`, or null when it cannot be told: then sound is missing in it. Four signs tell where
 * in the sound this is; from there tones are followed back to the first whole one (or on to the last), and that one tells the
 * time: sound that falters farther on says nothing about here.
 */
export function timeAtStart(x: Float32Array, rate: number, speed = 1, by: 'first' | 'last' = 'first'): number | null {
  const runs = hearTones(x, rate, speed);
  /** Whether one tone follows the other as it was sounded: sound that was lost in between brings them together. */
  const follows = (i: number): boolean => i + 1 < runs.length && Math.abs((runs[i + 1].mid - runs[i].mid) * speed - SYMBOL_MS) < (speed === 1 ? 0.25 : 0.35) * SYMBOL_MS;
  const placeOf = (i: number): number | null => {
    for (let k = 0; k + 1 < TELL; k++) if (!follows(i + k)) return null;
    const n = PLACE.get(keyOf(runs.slice(i, i + TELL).map((r) => r.sign)));
    // Four signs of two places put together by a loss may be those of a third: what comes next would not be.
    return n === undefined || (follows(i + TELL - 1) && runs[i + TELL].sign !== ORDER[n + TELL]) ? null : n;
  };
  const starts = runs.flatMap((_, i) => (placeOf(i) === null ? [] : [i]));
  const from = by === 'first' ? starts[0] : starts.at(-1);
  if (from === undefined) return null;
  const first = placeOf(from)!;
  // One that is cut off at the edge has its middle elsewhere. A player that changes the speed makes tones longer and shorter, and moves them a little:
  // then the middle one of all that follow each other tells.
  const whole = (r: Run) => (speed === 1 ? Math.abs(r.ms - HEARD_MS) < 4 : Math.abs(r.ms * speed - TONE_MS) < 0.5 * TONE_MS);
  const tellings: number[] = [];
  const step = by === 'first' ? -1 : 1;
  const length = (x.length / rate) * 1000;
  let told: number | null = null;
  let edge = Infinity;
  for (let i = by === 'first' ? from + TELL - 1 : from; i >= 0 && i < runs.length; i += step) {
    const n = first + i - from;
    if (runs[i].sign !== ORDER[n] || (i !== (by === 'first' ? from + TELL - 1 : from) && !follows(by === 'first' ? i : i - 1))) break;
    if (!whole(runs[i])) continue;
    told = n * SYMBOL_MS + TONE_MS / 2 - runs[i].mid * speed;
    tellings.push(told);
    edge = (by === 'first' ? runs[i].mid : length - runs[i].mid) * speed;
  }
  // Between what tells the time and where it is asked for there must be no hole.
  if (edge >= 2 * SYMBOL_MS) return null;
  return speed === 1 ? told : median(tellings);
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
