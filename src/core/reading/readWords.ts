/** Ink to words in one call, for programs that have no interface (Node): words are found, put in the order of reading and read. */
import { pointsOf, type Box, type Stroke } from '../ink/stroke';
import { groupWords } from '../ink/words/words';
import type { Trace } from './drawing';
import { textLines } from './pageText';
import type { Reader } from './reader';

export interface WordOfInk {
  /** The best reading; empty where nothing can be read. */
  readonly text: string;
  /** 0 to 1. */
  readonly confidence: number;
  readonly others: readonly string[];
  /** Ids of its strokes. */
  readonly strokes: readonly string[];
  /** mm. */
  readonly box: Box;
  /** Words of one line share it; counts from 0. */
  readonly line: number;
}

let usual: Pick<Reader, 'read'> | null = null;

/** The reader that `readWords` takes where none is given: the network has to be loaded by who can (a worker, Node). */
export const readWith = (reader: Pick<Reader, 'read'>): void => void (usual = reader);

export const traceOfStroke = (s: Stroke): Trace => {
  const { n, xy } = pointsOf(s);
  return Array.from({ length: n }, (_, i) => [xy[2 * i] / 100, xy[2 * i + 1] / 100] as const);
};

/** The words of a page's strokes in the order in which one reads; drawings are none. @throws Error where there is no reader */
export async function readWords(strokes: readonly Stroke[], reader: Pick<Reader, 'read'> | null = usual): Promise<WordOfInk[]> {
  if (!reader) throw new Error('There is no reader yet: call readWith first, or give one.');
  const by = new Map(strokes.map((s) => [s.id, s]));
  const grouping = groupWords(strokes);
  const out: WordOfInk[] = [];
  for (const [line, { words }] of textLines(grouping).entries()) {
    for (const i of words) {
      const { strokes: ids, box } = grouping.words[i];
      const { readings } = await reader.read(ids.map((id) => traceOfStroke(by.get(id)!)));
      const [best, ...others] = readings;
      out.push({ text: best?.text ?? '', confidence: best?.confidence ?? 0, others: others.map((r) => r.text), strokes: ids, box, line });
    }
  }
  return out;
}
