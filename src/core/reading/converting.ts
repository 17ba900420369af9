/** Ink becomes typed text in its place, and comes back. Each word keeps its moment, so that it still plays. */
import type { Grouping, Word } from '../ink/words/grouping';
import { median } from '../ink/words/items';
import type { Box, Stroke } from '../ink/stroke';
import { makeTyped, type Burst, type Typed } from '../note/kinds/typed';
import type { Page } from '../note/schema';
import { MM_PER_PT, type Face } from '../text/faces';
import { tidied } from '../text/flow';
import { textLines } from './pageText';

/** Height of a small letter of the sans face, in its size (OS/2 `sxHeight` of the font file is 496 of 1000). */
const X_HEIGHT = 0.496;
/** Points; steps of half a point. */
const [SMALLEST, LARGEST] = [6, 60];

export interface LineToConvert {
  readonly strokes: readonly Stroke[];
  readonly words: readonly { readonly word: Word; readonly strokes: readonly Stroke[] }[];
  readonly body: number;
}

/** Lines of words all of whose strokes were chosen, in the order in which one reads. */
export function linesToConvert(grouping: Grouping, chosen: readonly Stroke[]): LineToConvert[] {
  const by = new Map(chosen.map((s) => [s.id, s]));
  const bodies = new Map(grouping.lines.map((l) => [l.words.join(), l.body]));
  const lines = textLines(grouping).flatMap((line) => {
    const words = line.words.map((i) => grouping.words[i]).flatMap((word) => (word.strokes.every((id) => by.has(id)) ? [{ word, strokes: word.strokes.map((id) => by.get(id)!) }] : []));
    return words.length ? [{ strokes: words.flatMap((w) => w.strokes), words, body: bodies.get(line.words.join()) ?? 2 }] : [];
  });
  if (!lines.length) return [];
  // Small letters of one hand are of one height; what a line of capitals or numbers says of theirs is a guess.
  const usual = median(lines.map((l) => l.body));
  return lines.map((l) => (Math.abs(Math.log(l.body / usual)) < ALIKE ? { ...l, body: usual } : l));
}
const ALIKE = 0.5;

/** Where most words of a line stand on it: tails hang lower. */
function footOf(words: readonly { readonly box: Box }[]): number {
  const bottoms = words.map((w) => w.box[3]).sort((a, b) => a - b);
  return bottoms[Math.floor((bottoms.length - 1) * 0.4)];
}

/** The moment of a word, and of each of its letters evenly within it. `letters`: how many, with the blank that follows it. */
function burstOf(strokes: readonly Stroke[], letters: number): Burst {
  const ordered = [...strokes].sort((a, b) => a.wall - b.wall);
  const [first, last] = [ordered[0], ordered[ordered.length - 1]];
  const ms = Math.max(0, last.wall + last.ms - first.wall);
  return { stamp: first.stamp, wall: first.wall, t: Array.from({ length: letters }, (_, i) => Math.round((ms * i) / Math.max(1, letters))) };
}

/** @param texts what each word of the line says */
export function typedOf({ words, body, strokes }: LineToConvert, texts: readonly string[], page: Page, face: Face, newId: () => string): Typed {
  const size = Math.min(LARGEST, Math.max(SMALLEST, Math.round((2 * body) / X_HEIGHT / MM_PER_PT) / 2));
  const pitch = Math.max(1.3 * size * MM_PER_PT, 2 * body);
  const left = Math.min(...words.map(({ word }) => word.box[0]));
  const foot = footOf(words.map(({ word }) => word));
  const times: Burst[] = [];
  const looks: [number, Typed['looks'][number][1]][] = [];
  texts.forEach((text, i) => {
    const letters = text.length + (i < texts.length - 1 ? 1 : 0);
    times.push(burstOf(words[i].strokes, letters));
    looks.push([letters, { face, size, color: colorOf(words[i].strokes) }]);
  });
  const first = [...strokes].sort((a, b) => a.wall - b.wall)[0];
  return makeTyped({
    id: newId(), page: page.id, flow: newId(), n: 0, m: [1, 0, 0, 1, left, foot - pitch], width: Math.max(10, (page.board ? left + 200 : page.w - 4) - left), pitch,
    text: texts.join(' '), looks: tidied(looks), times, stamp: first.stamp, wall: first.wall, ...(strokes.every((s) => s.second) ? { second: true as const } : {}),
  });
}

/** The colour that most of it has. */
function colorOf(strokes: readonly Stroke[]): string {
  const by = new Map<string, number>();
  for (const { pen, box } of strokes) by.set(pen.color, (by.get(pen.color) ?? 0) + Math.max(1, box[2] - box[0] + box[3] - box[1]));
  return [...by].sort((a, b) => b[1] - a[1])[0][0];
}

