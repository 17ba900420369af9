/**
 * Connectionist temporal classification (A. Graves, S. Fernández, F. Gomez, J. Schmidhuber, ICML 2006): a row of classes stands for the text that is left when repeated
 * ones are taken together and blanks taken away.
 */
import { ALPHABET, CLASSES, classOf, FOLD } from './alphabet';

export const BLANK = 0;
/** Of what is as good as impossible, as a logarithm. */
const NEVER = -1e30;

/** Logarithms of probabilities, `steps` rows of `CLASSES`. */
export interface Logs {
  readonly steps: number;
  readonly log: Float32Array;
}

export const logAdd = (a: number, b: number): number => {
  if (a < b) [a, b] = [b, a];
  return b < a - 30 ? a : a + Math.log1p(Math.exp(b - a));
};

/** The text of the best class of each step. */
export function greedy({ steps, log }: Logs): string {
  let [text, last] = ['', BLANK];
  for (let t = 0; t < steps; t++) {
    let best = 0;
    for (let c = 1; c < CLASSES; c++) if (log[t * CLASSES + c] > log[t * CLASSES + best]) best = c;
    if (best !== last && best !== BLANK) text += ALPHABET[best - 1];
    last = best;
  }
  return text;
}

/** Every sign counts as its small letter without accent (`FOLD`). */
export function foldedLogs({ steps, log }: Logs): Logs {
  const out = new Float32Array(log.length).fill(NEVER);
  for (let t = 0; t < steps; t++) {
    for (let c = 0; c < CLASSES; c++) {
      const p = log[t * CLASSES + c];
      const at = t * CLASSES + FOLD[c];
      out[at] = p < out[at] - 12 ? out[at] : out[at] < p - 12 ? p : logAdd(out[at], p);
    }
  }
  return { steps, log: out };
}

/** Classes of a text; null where a sign of it is not read. */
export function classesOf(text: string): number[] | null {
  const out = [...text].map(classOf);
  return out.every((c) => c !== undefined) ? (out as number[]) : null;
}

/** Logarithm of the probability that the steps say just this (the forward variable of the paper's section 4.1). */
export function logOf({ steps, log }: Logs, classes: readonly number[]): number {
  const n = 2 * classes.length + 1;
  let row = new Float64Array(n).fill(NEVER);
  let next = new Float64Array(n);
  const at = (s: number) => (s % 2 ? classes[s >> 1] : BLANK);
  row[0] = log[BLANK];
  if (n > 1) row[1] = log[at(1)];
  for (let t = 1; t < steps; t++) {
    for (let s = 0; s < n; s++) {
      let sum = row[s];
      if (s > 0) sum = logAdd(sum, row[s - 1]);
      if (s > 1 && s % 2 && at(s) !== at(s - 2)) sum = logAdd(sum, row[s - 2]);
      next[s] = Math.max(NEVER, sum + log[t * CLASSES + at(s)]);
    }
    [row, next] = [next, row];
  }
  return n > 1 ? logAdd(row[n - 1], row[n - 2]) : row[0];
}

/** For each sign of a folded text the step at which it is surest, on the most probable path. */
export function stepsOf({ steps, log }: Logs, classes: readonly number[]): number[] {
  const n = 2 * classes.length + 1;
  const at = (s: number) => (s % 2 ? classes[s >> 1] : BLANK);
  const from = new Int8Array(steps * n);
  let row = new Float64Array(n).fill(NEVER);
  row[0] = log[BLANK];
  if (n > 1) row[1] = log[at(1)];
  for (let t = 1; t < steps; t++) {
    const next = new Float64Array(n).fill(NEVER);
    for (let s = 0; s < n; s++) {
      let [best, back] = [row[s], 0];
      if (s > 0 && row[s - 1] > best) [best, back] = [row[s - 1], 1];
      if (s > 1 && s % 2 && at(s) !== at(s - 2) && row[s - 2] > best) [best, back] = [row[s - 2], 2];
      next[s] = best + log[t * CLASSES + at(s)];
      from[t * n + s] = back;
    }
    row = next;
  }
  const out = new Array<number>(classes.length).fill(0);
  const sure = new Array<number>(classes.length).fill(-Infinity);
  let s = n > 1 && row[n - 2] > row[n - 1] ? n - 2 : n - 1;
  for (let t = steps - 1; t >= 0; t--) {
    if (s % 2 && log[t * CLASSES + at(s)] > sure[s >> 1]) [out[s >> 1], sure[s >> 1]] = [t, log[t * CLASSES + at(s)]];
    s -= from[t * n + s];
  }
  return out;
}
