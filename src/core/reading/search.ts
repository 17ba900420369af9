/**
 * Looks for words in what is written by hand and typed. Handwriting is not only what it was read as: whatever the network held possible of a word counts, by how likely it
 * was, so that a word that was read wrongly is found all the same.
 */
import { mistakesWithin } from './mistakes';
import { BLANK } from './ctc';
import { classOf, folded, FOLD } from './alphabet';

/** A word of a page, in the order in which one reads. */
export interface SearchWord {
  /** Folded. */
  readonly text: string;
  /** What else it may say, folded, likeliest first, and how sure each is, the text's own first. */
  readonly others: readonly string[];
  readonly sure: readonly number[];
  /** What the network said of it (`posteriors.ts`), as characters 0..255; none of typed text and of what the writer put right. */
  readonly logs?: string;
  /** Which letters it has, which it may have, and with which its readings begin, a bit each (`lettersOf`): most words are passed over by these alone. */
  readonly has: number;
  readonly may: number;
  readonly first: number;
}

/** With what most words are passed over by. */
export const searchable = <T extends Pick<SearchWord, 'text' | 'others' | 'logs'>>(word: T): T & Pick<SearchWord, 'has' | 'may' | 'first'> => ({
  ...word,
  has: lettersOf(word.text),
  may: word.logs === undefined ? 0 : lettersIn(word.logs),
  first: [word.text, ...word.others].reduce((bits, text) => bits | lettersOf(text.slice(0, 1)), 0),
});

export interface Query {
  /** Each is to be found: one word, or several that follow each other. */
  readonly all: readonly (readonly string[])[];
  /** None of these is. */
  readonly none: readonly (readonly string[])[];
}

/** The words of a text, folded, without the signs around them. */
export const wordsIn = (text: string): string[] => folded(text).split(/\s+/).flatMap((w) => w.replace(/^[^\p{L}\p{N}]+|[^\p{L}\p{N}%°]+$/gu, '') || []);

/** Words, `"words that follow each other"`, and `-word` for what is left out. */
export function queryOf(text: string): Query {
  const [all, none]: string[][][] = [[], []];
  for (const [, minus, phrase, word] of text.matchAll(/(-?)(?:"([^"]*)"?|(\S+))/g)) {
    const words = wordsIn(phrase ?? word);
    if (words.length) (minus ? none : all).push(words);
  }
  return { all, none };
}

/** Less likely than the best reading by so much, as a logarithm, and it is no hit. */
const UNLIKELY = -9;
/** Letters of a word that is looked for in what the network held possible. */
const LEAST = 3;
/** What is not kept of a step counts as this, as a logarithm. */
const FLOOR = -12;
const FINE = 8 / 255;

/** Ways to say a word together are likelier than the likeliest of them by so much at most that counts, as a logarithm. */
const TOGETHER = 3;
const least = new Float64Array(256);

/** Whether a packed word may say this at all: each letter costs at least what it costs where it is likeliest. Quicker than `likelihood` by far. */
function mayBe(logs: string, classes: readonly number[]): boolean {
  least.fill(-UNLIKELY + TOGETHER);
  const steps = logs.charCodeAt(0) | (logs.charCodeAt(1) << 8);
  let at = 2;
  for (let t = 0; t < steps; t++) {
    const n = logs.charCodeAt(at++);
    // The likeliest of a step stands first.
    const top = n ? logs.charCodeAt(at + 1) : 0;
    for (let i = 0; i < n; i++, at += 2) {
      const cost = (logs.charCodeAt(at + 1) - top) * FINE;
      const cls = FOLD[logs.charCodeAt(at)];
      if (cost < least[cls]) least[cls] = cost;
    }
  }
  let sum = 0;
  for (const c of classes) sum += least[c];
  return sum <= -UNLIKELY + TOGETHER;
}

/** By what is kept of a logarithm. */
const SHARE = Float64Array.from({ length: 256 }, (_, v) => Math.exp(-v * FINE));
const FLOOR_SHARE = Math.exp(FLOOR);
const UNLIKELY_SHARE = Math.exp(UNLIKELY + 2);
const HOPELESS = Math.exp(UNLIKELY - 4);
/** Of the columns of a word: which of its own letters each is, and their shares at a step. */
const column = new Int32Array(256);
const share = new Float64Array(256);
let row = new Float64Array(256);
let next = new Float64Array(256);
const slot = new Int16Array(256);

/**
 * Logarithm of how likely a packed word says this, against the best that it can say; -Infinity where a letter of it is nowhere. The sum over all ways to say it
 * (A. Graves and others, ICML 2006, equations 5 to 8); shares are taken against the likeliest of each step, so that products stay in range.
 */
export function likelihood(logs: string, classes: readonly number[]): number {
  const steps = logs.charCodeAt(0) | (logs.charCodeAt(1) << 8);
  const n = 2 * classes.length + 1;
  if (steps < classes.length || n > column.length) return -Infinity;
  slot.fill(-1);
  slot[BLANK] = 0;
  let width = 1;
  for (const c of classes) if (slot[c] < 0) slot[c] = width++;
  for (let s = 0; s < n; s++) column[s] = s % 2 ? slot[classes[s >> 1]] : 0;
  least.fill(0, 0, width);
  row.fill(0, 0, n);
  let at = 2;
  for (let t = 0; t < steps; t++) {
    const signs = logs.charCodeAt(at++);
    share.fill(0, 0, width);
    let top = FLOOR_SHARE;
    for (let i = 0; i < signs; i++, at += 2) {
      const p = SHARE[logs.charCodeAt(at + 1)];
      if (p > top) top = p;
      const k = slot[FOLD[logs.charCodeAt(at)]];
      if (k >= 0) share[k] += p;
    }
    for (let k = 0; k < width; k++) {
      if (share[k] === 0) share[k] = FLOOR_SHARE;
      if (share[k] > least[k]) least[k] = share[k];
      share[k] /= top;
    }
    if (t === 0) {
      row[0] = share[0];
      row[1] = share[column[1]];
      continue;
    }
    let all = 0;
    for (let s = 0; s < n; s++) {
      let sum = row[s];
      if (s > 0) sum += row[s - 1];
      if (s > 1 && s % 2 && column[s] !== column[s - 2]) sum += row[s - 2];
      next[s] = sum * share[column[s]];
      all += next[s];
    }
    // Steps to come hardly make it likelier.
    if (all < HOPELESS) return -Infinity;
    [row, next] = [next, row];
  }
  for (let k = 1; k < width; k++) if (least[k] < UNLIKELY_SHARE) return -Infinity;
  return Math.log(row[n - 1] + row[n - 2]);
}

const bitOf = (cls: number): number => (cls <= 26 ? 1 << (cls - 1) : 1 << (26 + (cls % 6)));

/** The letters of a folded text, a bit each; other signs share six. */
export function lettersOf(text: string): number {
  let bits = 0;
  for (const sign of text) bits |= bitOf(classOf(sign) ?? 27);
  return bits;
}

/** The letters that a packed word may have. */
export function lettersIn(logs: string): number {
  const steps = logs.charCodeAt(0) | (logs.charCodeAt(1) << 8);
  let [bits, at] = [0, 2];
  for (let t = 0; t < steps; t++) {
    const n = logs.charCodeAt(at++);
    for (let i = 0; i < n; i++, at += 2) {
      const cls = FOLD[logs.charCodeAt(at)];
      if (cls !== BLANK && -logs.charCodeAt(at + 1) * FINE >= UNLIKELY + 2) bits |= bitOf(cls);
    }
  }
  return bits;
}

/** Bits that are set, two by two, then four by four and so on. */
function bitsIn(v: number): number {
  const two = v - ((v >>> 1) & 0x55555555);
  const four = (two & 0x33333333) + ((two >>> 2) & 0x33333333);
  return (((four + (four >>> 4)) & 0x0f0f0f0f) * 0x01010101) >>> 24;
}

/** What is looked for, worked out once for all words. */
export interface Wanted {
  readonly text: string;
  readonly classes: readonly number[] | null;
  readonly letters: number;
  readonly first: number;
}

export function wantedOf(text: string): Wanted {
  const classes = [...text].map(classOf);
  return { text, classes: classes.includes(undefined) ? null : (classes as number[]), letters: lettersOf(text), first: lettersOf(text.slice(0, 1)) };
}

/** How well one reading is what is looked for. The end of a word may be missing: it was not typed yet, or not read. */
const begins = (text: string, wanted: string): number => (text === wanted ? 1 : text.startsWith(wanted) ? 0.8 : text.length > 3 && wanted.startsWith(text) && wanted.length - text.length < 3 ? 0.4 : 0);

/** How well a word is what is looked for, 0 to 1; 0 where it is not. */
export function matchOf(word: SearchWord, { text: wanted, classes, letters, first }: Wanted): number {
  let match = 0;
  if (word.first & first) {
    match = begins(word.text, wanted);
    if (match === 1) return 1;
    for (let i = 0; i < word.others.length; i++) {
      const m = begins(word.others[i], wanted);
      if (m) match = Math.max(match, m * (0.4 + 0.5 * (word.sure[i + 1] ?? 0)));
    }
  }
  // A likeness counts at most as much as a beginning.
  if (match < 0.8 && (word.may & letters) === letters && wanted.length >= LEAST && word.logs !== undefined && classes && mayBe(word.logs, classes)) {
    const p = likelihood(word.logs, classes);
    if (p > UNLIKELY) match = Math.max(match, 0.75 * (1 - p / UNLIKELY) + 0.05);
  }
  if (match >= 0.5) return match;
  const allowed = wanted.length > 8 ? 2 : wanted.length > 4 ? 1 : 0;
  const longer = word.text.length - wanted.length;
  if (allowed && longer <= allowed && longer >= -allowed && bitsIn(word.has ^ letters) <= 2 * allowed && mistakesWithin(wanted, word.text, allowed)) return 0.5;
  return match;
}

export interface Hit {
  /** Indices of the words that were found. */
  readonly words: readonly number[];
  readonly score: number;
}

/** What of a text is found, best first; empty where something that was looked for is not in it, or something that was left out is. */
export function searchWords(words: readonly SearchWord[], { all, none }: Query): Hit[] {
  const find = (asked: readonly string[]): Hit[] => {
    const phrase = asked.map(wantedOf);
    const hits: Hit[] = [];
    for (let i = 0; i + phrase.length <= words.length; i++) {
      let score = 1;
      for (let k = 0; k < phrase.length && score > 0; k++) score = Math.min(score, matchOf(words[i + k], phrase[k]));
      if (score > 0) hits.push({ words: phrase.map((_, k) => i + k), score });
    }
    return hits;
  };
  // What is left out is left out where it is surely there.
  if (!all.length || none.some((phrase) => find(phrase).some((h) => h.score > 0.7))) return [];
  const found = all.map(find);
  return found.some((hits) => !hits.length) ? [] : found.flat().sort((a, b) => b.score - a.score || a.words[0] - b.words[0]);
}
