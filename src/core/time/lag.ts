/**
 * How long after hearing something a writer writes it down. What is written answers to what was said a while before: over a note,
 * one distance between the beginnings of speech and the beginnings of writing comes up more often than chance.
 */

/** Distances looked at, ms. */
const MOST_MS = 8000;
const STEP_MS = 50;
/** How much one and the same writer varies, ms: width of the bell that every distance is spread over. */
const SPREAD_MS = 300;
/** With fewer beginnings of writing than this nothing can be told. */
const LEAST_ONSETS = 6;

export interface Lag {
  /** ms from hearing to writing. */
  readonly ms: number;
  /** How far the best distance stands out of the usual one: 1 is chance. */
  readonly clear: number;
}

/**
 * @param speech beginnings of runs of speech in ms of the timeline, ascending.
 * @param writing beginnings of bursts of writing, ascending.
 * @returns null when there is too little to tell, or nothing stands out.
 */
export function estimateLag(speech: readonly number[], writing: readonly number[]): Lag | null {
  if (writing.length < LEAST_ONSETS || speech.length < 2) return null;
  const bins = MOST_MS / STEP_MS + 1;
  const reach = 3 * SPREAD_MS;
  const density = new Float64Array(bins);
  const chance = new Float64Array(bins);
  let first = 0;
  for (const w of writing) {
    while (first < speech.length && speech[first] < w - MOST_MS - reach) first++;
    for (let i = first; i < speech.length && speech[i] <= w + reach; i++) {
      const d = w - speech[i];
      const [from, to] = [Math.max(0, Math.ceil((d - reach) / STEP_MS)), Math.min(bins - 1, Math.floor((d + reach) / STEP_MS))];
      for (let k = from; k <= to; k++) density[k] += Math.exp(-0.5 * ((k * STEP_MS - d) / SPREAD_MS) ** 2);
    }
  }
  // The rhythm of the speech itself makes some distances commoner: what writing at any other time would give is the measure.
  const length = Math.max(speech[speech.length - 1], writing[writing.length - 1]) || 1;
  const rounds = Math.min(40, Math.max(8, Math.ceil(2000 / writing.length)));
  let second = 0;
  for (let r = 1; r <= rounds; r++) {
    const shifted = writing.map((w) => (w + (r * length) / (rounds + 1) + MOST_MS) % length).sort((a, b) => a - b);
    second = 0;
    for (const w of shifted) {
      while (second < speech.length && speech[second] < w - MOST_MS) second++;
      for (let i = second; i < speech.length && speech[i] <= w; i++) chance[Math.round((w - speech[i]) / STEP_MS)] += 1 / rounds;
    }
  }
  const mean = (chance.reduce((s, v) => s + v, 0) / bins) * ((SPREAD_MS * Math.sqrt(2 * Math.PI)) / STEP_MS);
  let best = 0;
  for (let k = 1; k < bins; k++) if (density[k] > density[best]) best = k;
  const clear = mean > 0 ? density[best] / mean : 0;
  if (clear < 1.5) return null;
  // The middle of the hill is told more finely than by its top alone.
  let [sum, weight] = [0, 0];
  for (let k = Math.max(0, best - 6); k <= Math.min(bins - 1, best + 6); k++) {
    const w = Math.max(0, density[k] - mean);
    sum += w * k * STEP_MS;
    weight += w;
  }
  return { ms: Math.round(weight ? sum / weight : best * STEP_MS), clear };
}

/** Beginnings of bursts: moments that come more than `rest` ms after everything before them ended. */
export function onsetsOf(spans: readonly { readonly from: number; readonly to: number }[], rest: number): number[] {
  const onsets: number[] = [];
  let end = -Infinity;
  for (const s of spans) {
    if (s.from - end > rest) onsets.push(s.from);
    end = Math.max(end, s.to);
  }
  return onsets;
}
