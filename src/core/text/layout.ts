/**
 * Lays typed text out in lines, without a browser: breaks by UAX 14 (package `linebreak`), widths from the faces' own tables, no kerning and no ligatures.
 * Text drawn, written into files and played letter by letter all goes by this; the editor is told to do the same.
 */
import LineBreaker from 'linebreak';
import { advanceOf, isSameLook, type Look } from './faces';

/** A stretch of letters (UTF-16 units) that look alike. */
export type Run = readonly [letters: number, look: Look];

export interface Piece {
  readonly text: string;
  /** Index of its first letter in the text. */
  readonly at: number;
  /** mm from the left edge of the text. */
  readonly x: number;
  readonly w: number;
  readonly look: Look;
}

export interface Line {
  /** Letters from and to, the blanks at its end among them. */
  readonly from: number;
  readonly to: number;
  /** mm from the left edge, and without the blanks at its end. */
  readonly x: number;
  readonly w: number;
  readonly pieces: readonly Piece[];
}

export interface Setting {
  readonly text: string;
  /** Together as long as the text; of an empty text the look that it will have. */
  readonly looks: readonly Run[];
  /** The longest line, mm. */
  readonly width: number;
  /** How far in lines begin, mm. */
  readonly indent: number;
  readonly align: 'left' | 'middle' | 'right';
}

const isBlank = (text: string, i: number): boolean => text[i] === ' ' || text[i] === '\t';

/** Width of every letter, mm; the second half of a pair has none. */
function widthsOf({ text, looks }: Pick<Setting, 'text' | 'looks'>): Float64Array {
  const widths = new Float64Array(text.length);
  let i = 0;
  for (const [n, look] of looks) {
    for (const end = Math.min(text.length, i + n); i < end; ) {
      const code = text.codePointAt(i)!;
      widths[i] = advanceOf(look, code === 9 ? 32 : code);
      i += code > 0xffff ? 2 : 1;
    }
  }
  return widths;
}

/** A text without line feeds, in one line at least. */
export function laidOut(setting: Setting): Line[] {
  const { text } = setting;
  const widths = widthsOf(setting);
  const room = Math.max(1, setting.width - setting.indent);
  const ends: number[] = [];
  let [start, x] = [0, 0];
  const close = (at: number) => {
    ends.push(at);
    [start, x] = [at, 0];
  };
  const breaker = new LineBreaker(text);
  let from = 0;
  for (let found = breaker.nextBreak(); found; found = breaker.nextBreak()) {
    const to = found.position;
    let visible = to;
    while (visible > from && isBlank(text, visible - 1)) visible--;
    let w = 0;
    for (let i = from; i < visible; i++) w += widths[i];
    // A hair of rounding is no reason for a new line.
    if (x + w > room + 1e-9 && from > start) close(from);
    if (x + w > room + 1e-9) {
      // A word longer than a line is broken where the line ends.
      for (let i = from; i < visible; i++) {
        if (x + widths[i] > room + 1e-9 && i > start) close(i);
        x += widths[i];
      }
    } else x += w;
    for (let i = visible; i < to; i++) x += widths[i];
    from = to;
  }
  ends.push(text.length);
  const lines: Line[] = [];
  let begin = 0;
  for (const end of ends) {
    let visible = end;
    while (visible > begin && isBlank(text, visible - 1)) visible--;
    let w = 0;
    for (let i = begin; i < visible; i++) w += widths[i];
    const spare = Math.max(0, room - w);
    const left = setting.indent + (setting.align === 'left' ? 0 : setting.align === 'right' ? spare : spare / 2);
    lines.push({ from: begin, to: end, x: left, w, pieces: piecesOf(setting, widths, begin, end, left) });
    begin = end;
  }
  return lines;
}

function piecesOf({ text, looks }: Setting, widths: Float64Array, from: number, to: number, x: number): Piece[] {
  const pieces: Piece[] = [];
  let i = 0;
  for (const [n, look] of looks) {
    const [a, b] = [Math.max(from, i), Math.min(to, i + n)];
    i += n;
    if (a >= b) continue;
    let w = 0;
    for (let k = a; k < b; k++) w += widths[k];
    const last = pieces.at(-1);
    if (last && isSameLook(last.look, look)) pieces[pieces.length - 1] = { ...last, text: last.text + text.slice(a, b), w: last.w + w };
    else pieces.push({ text: text.slice(a, b), at: a, x, w, look });
    x += w;
  }
  return pieces;
}

/** Where a letter of a line begins, mm from the left edge. */
export function letterX(line: Line, index: number): number {
  for (const { text, at, x, look } of line.pieces) {
    if (index > at + text.length) continue;
    let at_ = x;
    for (let i = 0; i < index - at; ) {
      const code = text.codePointAt(i)!;
      at_ += advanceOf(look, code === 9 ? 32 : code);
      i += code > 0xffff ? 2 : 1;
    }
    return at_;
  }
  return line.x + line.w;
}

/** The letter of a line at a place, mm from the left edge: the one that stands there, or the nearest. */
export function letterAt(line: Line, x: number): number {
  let best = line.from;
  for (let i = line.from; i < line.to; i++) if (letterX(line, i) <= x) best = i;
  return best;
}
