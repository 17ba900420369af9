/** The lines of a note as text, each knowing where its letters stand: written lines as far as they were read, and typed ones. */
import { recognise } from '../ink/shapes/recognise';
import { pointsOf, unionBox, type Box, type Stroke } from '../ink/stroke';
import { strokesOf, type Placed } from '../note/kinds/kinds';
import { boxesOfLetters } from '../note/links';
import type { Typed } from '../note/kinds/typed';
import type { Stamp } from '../time/timeline';
import type { Said } from './said';

/** A line of text on a page. */
export interface TextRun {
  readonly page: string;
  /** Of its first word, or of the typed line: names the run. */
  readonly id: string;
  readonly text: string;
  /** mm. */
  readonly box: Box;
  readonly stamp: Stamp | null;
  /** What stands before it: a box that is drawn or typed, a dash, or nothing of the kind. */
  readonly begins: 'box' | 'ticked' | 'dash' | null;
  /** Where letters of it stand, mm. */
  boxOf(from: number, to: number): Box;
}

/** A box before a line is so high, in heights of the line, and stands so far from it at most. */
const BOX = { least: 0.35, most: 1.5, away: 2.5 } as const;
/** Sides of a box differ by this factor at most. */
const SQUARE = 1.7;

/** A small four-sided shape right before a line, or at its very beginning. */
function isBoxBefore(stroke: Stroke, line: Box): boolean {
  const [l, t, r, b] = stroke.box;
  const [w, h, high] = [r - l, b - t, line[3] - line[1]];
  const middle = (t + b) / 2;
  if (h < BOX.least * high || h > BOX.most * high || w / h > SQUARE || h / w > SQUARE || middle < line[1] || middle > line[3]) return false;
  if (r < line[0] - BOX.away * high || l > line[0] + 0.2 * high) return false;
  const { n, xy } = pointsOf(stroke);
  // Only what ends where it began is looked at more closely.
  if (Math.hypot(xy[0] - xy[2 * n - 2], xy[1] - xy[2 * n - 1]) / 100 > 0.35 * Math.max(w, h)) return false;
  return ['square', 'rectangle'].includes(recognise(pointsOf(stroke))?.name ?? '');
}

/** Dashes that begin a line of a list. A minus before a number is none. */
const DASH = /^\s*[-–—•*]\s*(?=\p{L})/u;
const TYPED_BOX = /^\s*\[( |x|X)?\]\s*/;

function startOf(text: string): { skip: number; begins: TextRun['begins'] } {
  const box = TYPED_BOX.exec(text);
  if (box) return { skip: box[0].length, begins: /x/i.test(box[1] ?? '') ? 'ticked' : 'box' };
  const dash = DASH.exec(text);
  return dash ? { skip: dash[0].length, begins: 'dash' } : { skip: 0, begins: null };
}

/** @param said what of the page was read, in reading order */
export function runsOf(page: string, placed: readonly Placed[], said: Said): TextRun[] {
  const out: TextRun[] = [];
  const strokes = strokesOf(placed);
  const by = new Map(strokes.map((s) => [s.id, s]));
  const lines = new Map<number, Said[number][]>();
  for (const w of said) lines.set(w.line, [...(lines.get(w.line) ?? []), w]);
  for (const words of lines.values()) {
    const box = words.map((w) => w.box).reduce(unionBox);
    const drawn = strokes.find((s) => isBoxBefore(s, box));
    // A box that was taken for a letter is none of the text.
    const own = drawn && words.length > 1 && words[0].strokes.length <= 2 && words[0].strokes.includes(drawn.id) ? words.slice(1) : words;
    const spans: { from: number; to: number; box: Box }[] = [];
    let text = '';
    for (const w of own) {
      if (text) text += ' ';
      spans.push({ from: text.length, to: text.length + w.text.length, box: w.box });
      text += w.text;
    }
    const { skip, begins } = startOf(text);
    const begun = by.get(own[0].strokes[0])?.stamp ?? null;
    out.push({
      page, id: own[0].strokes[0], text: text.slice(skip), box, stamp: begun, begins: drawn ? 'box' : begins,
      boxOf: (from, to) => {
        const [first, ...rest] = spans.filter((s) => s.to > from + skip && s.from < to + skip);
        return first ? rest.reduce((all, s) => unionBox(all, s.box), first.box) : box;
      },
    });
  }
  for (const it of placed) {
    if (it.kind !== 'typed' || !it.text.trim()) continue;
    out.push(...typedRun(page, it));
  }
  return out;
}

function typedRun(page: string, it: Typed): TextRun[] {
  const { skip, begins } = startOf(it.text);
  const list = it.list === 'open' ? 'box' : it.list === 'done' ? 'ticked' : it.list === 'dot' ? 'dash' : null;
  return [{
    page, id: it.id, text: it.text.slice(skip), box: it.box, stamp: it.times[0]?.stamp ?? it.stamp, begins: list ?? begins,
    boxOf: (from, to) => {
      const [first, ...rest] = boxesOfLetters(it, from + skip, to + skip);
      return first ? rest.reduce(unionBox, first) : it.box;
    },
  }];
}
