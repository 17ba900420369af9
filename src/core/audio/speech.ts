/** Where somebody speaks, and where nobody does. Times are ms of whatever the sound's own time is. */

/** A run of time: ms, `from` before `to`. */
export interface Span {
  readonly from: number;
  readonly to: number;
}

/** Sound is summed up in slots of this length, ms. */
export const LEVEL_MS = 20;
/** A level is kept as a byte: half decibels above this floor. */
const FLOOR_DBFS = -100;

export const levelByte = (dbfs: number): number => Math.round(Math.min(200, Math.max(0, 2 * (dbfs - FLOOR_DBFS))));
export const levelDbfs = (byte: number): number => byte / 2 + FLOOR_DBFS;

/** Sums sound up, run by run, into one byte for every slot: the root mean square in half decibels. */
export class Levels {
  private sums = new Float64Array(512);
  private counts = new Uint32Array(512);
  private n = 0;

  /** Samples -1..1 that begin at `at` ms; what lies before 0 is left out. */
  add(samples: Float32Array, rate: number, at: number): void {
    const perMs = rate / 1000;
    for (let i = 0; i < samples.length; ) {
      const slot = Math.floor((at + i / perMs) / LEVEL_MS + 1e-9);
      const end = Math.min(samples.length, Math.max(i + 1, Math.ceil(((slot + 1) * LEVEL_MS - at) * perMs - 1e-6)));
      if (slot >= 0) {
        if (slot >= this.sums.length) this.grow(slot);
        let sum = 0;
        for (let k = i; k < end; k++) sum += samples[k] * samples[k];
        this.sums[slot] += sum;
        this.counts[slot] += end - i;
        if (slot >= this.n) this.n = slot + 1;
      }
      i = end;
    }
  }

  private grow(slot: number): void {
    const size = Math.max(2 * this.sums.length, slot + 1);
    const [sums, counts] = [new Float64Array(size), new Uint32Array(size)];
    sums.set(this.sums);
    counts.set(this.counts);
    [this.sums, this.counts] = [sums, counts];
  }

  /** One byte a slot, see `levelByte`; slots without sound are 0. */
  bytes(): Uint8Array {
    return Uint8Array.from({ length: this.n }, (_, i) => (this.counts[i] ? levelByte(10 * Math.log10(this.sums[i] / this.counts[i] + 1e-12)) : 0));
  }
}

/** Shorter silences lie within speech: the stop in `a ten` is one. ms. */
const BRIDGE_MS = 260;
/** Shorter sounds are a click or a chair. ms. */
const LEAST_MS = 90;
/** The soft edges of words are quieter than any threshold: so much is kept on both sides, ms. */
const PAD_MS = 40;

/** Joins what lies close, drops what is too short, and widens the rest. `length`: ms of the sound. */
function tidied(found: readonly Span[], length: number): Span[] {
  const joined: { from: number; to: number }[] = [];
  for (const { from, to } of found) {
    const last = joined.at(-1);
    if (last && from - last.to < BRIDGE_MS) last.to = to;
    else joined.push({ from, to });
  }
  return joined.filter((s) => s.to - s.from >= LEAST_MS).map((s) => ({ from: Math.max(0, s.from - PAD_MS), to: Math.min(length, s.to + PAD_MS) }));
}

/** Runs of a series where it rises to `on` and until it has sunk below `off`. */
function runsOf(n: number, on: (i: number) => boolean, off: (i: number) => boolean, ms: number): Span[] {
  const runs: Span[] = [];
  let from = -1;
  for (let i = 0; i < n; i++) {
    if (from < 0 && on(i)) from = i;
    else if (from >= 0 && off(i)) {
      runs.push({ from: from * ms, to: i * ms });
      from = -1;
    }
  }
  if (from >= 0) runs.push({ from: from * ms, to: n * ms });
  return runs;
}

/** The model answers once for every frame of 512 samples at 16 kHz. */
export const MODEL_FRAME_MS = 32;
/** Thresholds that the makers of the Silero model name for their own detector: speech begins at 0.5 and ends 0.15 below. */
const [MODEL_ON, MODEL_OFF] = [0.5, 0.35];

/** Speech from the probabilities that a speech model gives, one for every `MODEL_FRAME_MS`. */
export function speechByModel(probabilities: ArrayLike<number>): Span[] {
  const n = probabilities.length;
  return tidied(runsOf(n, (i) => probabilities[i] >= MODEL_ON, (i) => probabilities[i] < MODEL_OFF, MODEL_FRAME_MS), n * MODEL_FRAME_MS);
}

/** The quietest tenth and the loudest twentieth of this long around a moment tell the room from the voice, ms. */
const AROUND_MS = 20_000;
/** A voice stands out of the room by so much at least, dB. */
const LEAST_RISE_DB = 7;

/**
 * Speech from levels alone: what stands out of the noise of the room. Without a model it takes any loud sound for speech.
 * `levels`: bytes as `Levels` gives them.
 */
export function speechByEnergy(levels: Uint8Array): Span[] {
  const n = levels.length;
  const half = AROUND_MS / LEVEL_MS / 2;
  const step = 50;
  // A histogram that moves along gives both shares without sorting anew.
  const counts = new Uint32Array(201);
  let [low, high, total] = [0, 0, 0];
  const floors = new Float32Array(Math.ceil(n / step));
  const tops = new Float32Array(floors.length);
  const share = (part: number) => {
    let seen = 0;
    for (let v = 0; v <= 200; v++) if ((seen += counts[v]) >= part * total) return v;
    return 200;
  };
  for (let k = 0; k < floors.length; k++) {
    const [from, to] = [Math.max(0, k * step - half), Math.min(n, k * step + half)];
    for (; high < to; high++) {
      // Slots without any sound are holes and say nothing of the room.
      if (levels[high] === 0) continue;
      counts[levels[high]]++;
      total++;
    }
    for (; low < from; low++) {
      if (levels[low] === 0) continue;
      counts[levels[low]]--;
      total--;
    }
    floors[k] = total ? share(0.1) : 200;
    tops[k] = total ? share(0.95) : 200;
  }
  const rise = (i: number) => {
    const k = Math.floor(i / step);
    const span = (tops[k] - floors[k]) / 2;
    return { above: levels[i] / 2 - floors[k] / 2, needed: Math.max(LEAST_RISE_DB, 0.3 * span) };
  };
  const on = (i: number) => {
    const { above, needed } = rise(i);
    return above >= needed;
  };
  const off = (i: number) => {
    const { above, needed } = rise(i);
    return above < 0.7 * needed;
  };
  return tidied(runsOf(n, on, off, LEVEL_MS), n * LEVEL_MS);
}

/** The model lets go of speech late in noise and takes hold of it a little late: levels may reach beyond it by so much, ms. */
const BEYOND_MS = 200;

/**
 * What the model says is speech, with edges where the levels have them; speech too quiet to stand out keeps the model's. Where the model
 * hears nobody at all the take is music, tones or a machine, and what stands out by its level is what one listens to: jumping over
 * everything would help nobody.
 */
export function speechByBoth(model: readonly Span[], energy: readonly Span[], length: number): Span[] {
  if (!model.length) return [...energy];
  const found: Span[] = [];
  let first = 0;
  for (const m of model) {
    const wide = { from: m.from - BEYOND_MS, to: m.to + BEYOND_MS };
    while (first < energy.length && energy[first].to <= wide.from) first++;
    let some = false;
    for (let i = first; i < energy.length && energy[i].from < wide.to; i++) {
      const part = { from: Math.max(wide.from, energy[i].from), to: Math.min(wide.to, energy[i].to) };
      if (part.to - part.from < LEAST_MS) continue;
      found.push(part);
      some = true;
    }
    if (!some) found.push(m);
  }
  const joined: { from: number; to: number }[] = [];
  for (const { from, to } of found.sort((a, b) => a.from - b.from)) {
    const last = joined.at(-1);
    if (last && from <= last.to) last.to = Math.max(last.to, to);
    else joined.push({ from: Math.max(0, from), to: Math.min(length, to) });
  }
  return joined;
}

/** What lies between speech from 0 to `length`, `least` ms and longer. */
export function pausesOf(speech: readonly Span[], length: number, least: number): Span[] {
  const pauses: Span[] = [];
  let from = 0;
  for (const s of speech) {
    if (s.from - from >= least) pauses.push({ from, to: s.from });
    from = Math.max(from, s.to);
  }
  if (length - from >= least) pauses.push({ from, to: length });
  return pauses;
}

/** What is heard of a pause that is jumped over, on either side, so that nobody seems to be cut short. ms. */
export const PAUSE_REST_MS = 180;

/** The stretches to jump over when pauses longer than `longer` are skipped, ms. */
export const skipsOf = (speech: readonly Span[], length: number, longer: number): Span[] =>
  pausesOf(speech, length, Math.max(longer, 3 * PAUSE_REST_MS)).map((p) => ({ from: p.from === 0 ? 0 : p.from + PAUSE_REST_MS, to: p.to === length ? length : p.to - PAUSE_REST_MS }));

export const sumOf = (spans: readonly Span[]): number => spans.reduce((s, { from, to }) => s + to - from, 0);

/** A sentence that began up to this long before counts as near, and one that begins within this long after, ms. */
const [NEAR_BEFORE_MS, NEAR_AFTER_MS] = [2500, 300];
/** What is heard before the first word, ms. */
const BREATH_MS = 120;

/** The beginning of the sentence around or just before `at`, where one is near; else `at`. `speech`: ascending. */
export function sentenceStart(speech: readonly Span[], at: number): number {
  let best = at;
  for (const s of speech) {
    if (s.from > at + NEAR_AFTER_MS) break;
    if (s.from >= at - NEAR_BEFORE_MS) best = Math.min(at, Math.max(0, s.from - BREATH_MS));
  }
  return best;
}
