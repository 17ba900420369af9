/** The text of a page: what was read of each of its words, in the order in which one reads. Made of its ink, and made anew at will. */
import { z } from 'zod';
import type { Grouping, Word } from '../ink/words/grouping';
import type { Box } from '../ink/stroke';
import { median } from '../ink/words/items';
import { JsonRecord } from '../record';
import type { Stamp } from '../time/timeline';
import type { Reading } from './decoding';

/** What was read of a word. */
export interface ReadWord {
  readonly readings: readonly Reading[];
  /** What the network said, packed (`posteriors.ts`), as characters 0..255. */
  readonly logs: string;
}

/** By `wordKey`. `model`: which network read them; what another one read is read anew. */
export interface PageText {
  readonly model: string;
  readonly words: Readonly<Record<string, ReadWord>>;
  /** What can be looked for on the page, written and typed, in the order in which one reads: so that notes that are not open can be searched. */
  readonly list?: readonly Listed[];
}

/** A word as it is shown. `key`: of its entry among `words`; null of typed text and of what the writer put right. */
export interface Listed {
  readonly key: string | null;
  readonly shown: string;
  /** mm. */
  readonly box: Box;
  /** The first of its strokes, or the typed line it stands in. */
  readonly id: string;
  readonly line: number;
  /** When it was begun. */
  readonly stamp: Stamp | null;
}

const reading = z.tuple([z.string().max(2000), z.number().min(0).max(1)]);
const box = z.tuple([z.number(), z.number(), z.number(), z.number()]);
const record = new JsonRecord<{ model: string; words: [string, [string, number][], string][]; list?: [string | null, string, Box, string, number, [string, number] | null][] }>({
  what: 'the text of a page',
  version: 1,
  schema: z.looseObject({ model: z.string().max(100), words: z.array(z.tuple([z.string().max(64), z.array(reading).max(20), z.string().max(200_000)])).max(100_000), list: z.array(z.tuple([z.string().max(64).nullable(), z.string().max(2000), box, z.string().max(64), z.number().int(), z.tuple([z.string().max(64), z.number().min(0)]).nullable()])).max(200_000).optional() }),
});

export const writePageText = ({ model, words, list }: PageText): string =>
  record.write({ model, ...(list ? { list: list.map((l): [string | null, string, Box, string, number, [string, number] | null] => [l.key, l.shown, l.box.map((v) => Math.round(v * 10) / 10) as unknown as Box, l.id, l.line, l.stamp && [l.stamp.take, Math.round(l.stamp.at)]]) } : {}), words: Object.entries(words).map(([key, { readings, logs }]) => [key, readings.map((r): [string, number] => [r.text, Math.round(r.confidence * 1000) / 1000]), btoa(logs)]) });

/** @throws RecordError when it is damaged, NewerError. */
export function readPageText(text: string): PageText {
  const { model, words, list } = record.read(text);
  const out: Record<string, ReadWord> = {};
  for (const [key, readings, logs] of words) {
    try {
      out[key] = { readings: readings.map(([t, confidence]) => ({ text: t, confidence })), logs: atob(logs) };
    } catch {
      // One that is damaged is read anew.
    }
  }
  return { model, words: out, ...(list ? { list: list.map(([key, shown, at, id, line, stamp]) => ({ key, shown, box: at, id, line, stamp: stamp && { take: stamp[0], at: stamp[1] } })) } : {}) };
}

/** Names a word by its strokes: another one once a stroke comes or goes. 53 bits of two hashes of 32 (the mixing of MurmurHash3, A. Appleby, public domain). */
export function wordKey(strokes: readonly string[]): string {
  let [a, b] = [0xdeadbeef, 0x41c6ce57];
  for (const ch of [...strokes].sort().join(' ')) {
    const c = ch.charCodeAt(0);
    a = Math.imul(a ^ c, 2654435761);
    b = Math.imul(b ^ c, 1597334677);
  }
  a = Math.imul(a ^ (a >>> 16), 2246822507) ^ Math.imul(b ^ (b >>> 13), 3266489909);
  b = Math.imul(b ^ (b >>> 16), 2246822507) ^ Math.imul(a ^ (a >>> 13), 3266489909);
  return (4294967296 * (2097151 & b) + (a >>> 0)).toString(36);
}

/** Between two columns is so much air, in heights of a small letter. */
const GUTTER = 3;

/** Parts what air parts from top to bottom into two columns of two lines at least that stand beside each other; null where nothing does. */
function parted<T extends { readonly box: Box }>(list: readonly T[], body: number): [T[], T[]] | null {
  const byLeft = [...list].sort((a, b) => a.box[0] - b.box[0]);
  let right = -Infinity;
  for (let i = 0; i < byLeft.length; i++) {
    if (i > 1 && byLeft.length - i > 1 && byLeft[i].box[0] - right > GUTTER * body) {
      const [one, two] = [byLeft.slice(0, i), byLeft.slice(i)];
      const [t1, t2] = [one, two].map((l) => Math.min(...l.map(({ box }) => box[1])));
      const [b1, b2] = [one, two].map((l) => Math.max(...l.map(({ box }) => box[3])));
      if (Math.min(b1, b2) > Math.max(t1, t2)) return [one, two];
    }
    right = Math.max(right, byLeft[i].box[2]);
  }
  return null;
}

/** Boxes in the order in which one reads: from the top down, and where columns stand beside each other one column after the other. `body`: height of a small letter, mm. */
export function readingOrder<T extends { readonly box: Box }>(all: readonly T[], body: number): T[] {
  const byTop = [...all].sort((a, b) => a.box[1] - b.box[1] || a.box[0] - b.box[0]);
  const out: T[] = [];
  for (let i = 0; i < byTop.length; ) {
    // As many lines on end as stand in columns: one that reaches over them ends them.
    let [end, columns]: [number, [T[], T[]] | null] = [i + 4, null];
    for (let last = Math.min(byTop.length, i + LONGEST); last >= i + 4 && !columns; last--) [end, columns] = [last, parted(byTop.slice(i, last), body)];
    if (columns) {
      out.push(...columns.flatMap((part) => readingOrder(part, body)));
      i = end;
    } else out.push(byTop[i++]);
  }
  return out;
}
/** Lines that are looked at together. */
const LONGEST = 150;

export interface TextLine {
  /** Indices into the words of the grouping, left to right. */
  readonly words: readonly number[];
  readonly box: Box;
  /** Another paragraph begins with it. */
  readonly begins: boolean;
}

/** More air above a line than so many times the usual begins a paragraph. */
const PARAGRAPH = 1.5;

/** The lines of a page in the order in which one reads; drawings are none. */
export function textLines({ lines }: Grouping): TextLine[] {
  const some = lines.filter((l) => l.words.length > 0);
  if (!some.length) return [];
  const body = median(some.map((l) => l.body));
  const ordered = readingOrder(some, body);
  const pitches = ordered.slice(1).map((l, i) => l.box[3] - ordered[i].box[3]).filter((d) => d > 0);
  const usual = pitches.length ? median(pitches) : Infinity;
  return ordered.map((line, i) => {
    const step = i ? line.box[3] - ordered[i - 1].box[3] : Infinity;
    return { words: line.words, box: line.box, begins: i === 0 || step < 0 || step > PARAGRAPH * usual };
  });
}

/** What the writer says that a word is: a row of the note. */
export interface Written {
  readonly strokes: readonly string[];
  readonly text: string;
}

export interface ShownWord {
  readonly word: Word;
  readonly key: string;
  readonly text: string;
  /** By the writer; else as it was read. */
  readonly corrected: boolean;
  /** 0 to 1; 1 of what the writer said. */
  readonly confidence: number;
  readonly others: readonly string[];
}

/** The word as it is shown; null while it has not been read, and where nothing can be read. */
export function shownWord(word: Word, text: PageText | undefined, written: ReadonlyMap<string, Written>): ShownWord | null {
  const key = wordKey(word.strokes);
  const own = written.get(key);
  const read = text?.words[key];
  if (!own && !read?.readings.length) return null;
  const [best] = read?.readings ?? [];
  const shown = own?.text ?? best.text;
  return { word, key, text: shown, corrected: own !== undefined, confidence: own ? 1 : best.confidence, others: (read?.readings ?? []).map((r) => r.text).filter((t) => t !== shown) };
}

/** By `wordKey`. */
export const writtenByKey = (list: readonly Written[] | undefined): ReadonlyMap<string, Written> => new Map((list ?? []).map((w) => [wordKey(w.strokes), w]));
