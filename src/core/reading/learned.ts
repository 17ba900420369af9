/** Words that the writer put right: the next one that looks the same is read as the writer said. */
import { z } from 'zod';
import { binaryOf, textOf } from '../note/binaryText';
import { JsonRecord } from '../record';
import type { Reading } from './decoding';
import { SAME, shapeDistance, type Shape } from './shape';

export interface Learned {
  readonly text: string;
  readonly shape: Shape;
  /** The note it was put right in; absent where that was not written down yet. */
  readonly note?: string;
}

/** The newest are kept. */
export const MOST_LEARNED = 1500;

const record = new JsonRecord<{ words: [string, number, number, string, string?][] }>({
  what: 'what the writer taught the reader',
  version: 1,
  schema: z.looseObject({ words: z.array(z.tuple([z.string().min(1).max(500), z.number(), z.number(), z.string().max(4000), z.string().max(64).optional()])).max(10_000) }),
});

/** Places in hundredths, a byte each. */
export const writeLearned = (all: readonly Learned[]): string =>
  record.write({ words: all.slice(-MOST_LEARNED).map(({ text, shape, note }): [string, number, number, string, string?] => [text, shape.wide, shape.long, btoa(textOf(Uint8Array.from(shape.at, (v) => Math.max(0, Math.min(255, Math.round(v * SCALE) + 128))))), ...((note ? [note] : []) as [string?])]) });
/** Words are up to six heights wide to either side. */
const SCALE = 20;

/** @throws RecordError, NewerError */
export const readLearned = (text: string): Learned[] =>
  record.read(text).words.flatMap(([word, wide, long, packed, note]) => {
    const bytes = binaryOf(atob(packed));
    return bytes.length === 256 ? [{ text: word, ...(note ? { note } : {}), shape: { wide, long, at: Float32Array.from(bytes, (v) => (v - 128) / SCALE) } }] : [];
  });

/** What a word of this shape was said to be; null where none is near enough. */
export function taught(shape: Shape | null, learned: readonly Learned[]): string | null {
  let [best, text]: [number, string | null] = [SAME, null];
  if (shape) {
    // The newest first: who changes a word means it.
    for (let i = learned.length - 1; i >= 0; i--) {
      const d = shapeDistance(shape, learned[i].shape, best);
      if (d < best) [best, text] = [d, learned[i].text];
    }
  }
  return text;
}

/** How sure one is of what the writer taught. */
const TAUGHT = 0.9;
/** The readings with what was taught before them. */
export const withTaught = (readings: readonly Reading[], text: string | null): readonly Reading[] =>
  text === null ? readings : [{ text, confidence: TAUGHT }, ...readings.filter((r) => r.text !== text).map((r) => ({ ...r, confidence: r.confidence * (1 - TAUGHT) }))];
