/**
 * Handwriting with known words: text set in Hershey's single-stroke fonts (A. V. Hershey, 1967; the fonts of the package
 * hersheytext) as strokes with times, slanted, jittered, with dots and bars set later as people do.
 */
import { createRequire } from 'node:module';
import type { PlainStroke } from '../../src/core/ink/words/grouping';

interface Glyph {
  readonly o: number;
  readonly d?: string;
  readonly name?: string;
}
interface HersheyText {
  readonly fonts: Record<string, { chars: Glyph[] }>;
  getFontData(font: string): { chars?: unknown };
}

const hershey = createRequire(__filename)('hersheytext') as HersheyText;

/** Letters of the fonts run from `!`; units: a capital is 21 high, a small letter 14, y down, baseline at 22. */
const BASELINE = 22;
const CAP = 21;
const SPACE = 16;

export const FONTS = ['futural', 'futuram', 'scripts', 'cursive', 'timesr', 'timesi', 'scriptc'] as const;
export type Font = (typeof FONTS)[number];

export function random(seed: number): () => number {
  // Mulberry32: small, and the same everywhere.
  let a = seed >>> 0;
  return () => {
    a = (a + 0x6d2b79f5) >>> 0;
    let t = a;
    t = Math.imul(t ^ (t >>> 15), t | 1);
    t ^= t + Math.imul(t ^ (t >>> 7), t | 61);
    return ((t ^ (t >>> 14)) >>> 0) / 4294967296;
  };
}

/** Polylines of a letter in font units, and its advance. */
export function glyph(font: string, char: string): { lines: [number, number][][]; advance: number } {
  if (char === ' ') return { lines: [], advance: SPACE };
  const g = hershey.fonts[font]?.chars[char.charCodeAt(0) - 33];
  if (!g) throw new Error(`No ${char} in ${font}.`);
  const lines: [number, number][][] = [];
  for (const [, command, rest] of (g.d ?? '').matchAll(/([ML])\s*([^ML]*)/g)) {
    const numbers = (rest.match(/-?[\d.]+/g) ?? []).map(Number);
    for (let i = 0; i + 1 < numbers.length; i += 2) {
      if (command === 'M' && i === 0) lines.push([]);
      lines[lines.length - 1].push([numbers[i], numbers[i + 1]]);
    }
  }
  return { lines: lines.filter((l) => l.length > 0), advance: g.o * 2 };
}

export interface WrittenWord {
  readonly text: string;
  readonly strokes: PlainStroke[];
}

export interface Hand {
  readonly font: Font;
  /** Height of a capital, mm. */
  readonly size: number;
  /** dx per dy, to the right going up. */
  readonly slant: number;
  /** Spread of each point and letter, share of the size. */
  readonly jitter: number;
  /** Share of words whose dots and bars are set after the whole word. */
  readonly late: number;
  /** Letter pitch, 1 as designed. */
  readonly tracking: number;
  /** Width of a space, 1 as designed. */
  readonly spacing: number;
}

/** Writes words on lines of a page. x, y: start of the first baseline, mm; time in ms from `wall`. */
export function writeText(words: readonly string[], hand: Hand, page: { x: number; y: number; width: number; pitch: number; wall: number; seed: number; drift?: number }): { words: WrittenWord[]; wall: number; y: number } {
  const rnd = random(page.seed);
  const spread = (s: number) => (rnd() + rnd() + rnd() - 1.5) * s;
  const k = hand.size / CAP;
  const out: WrittenWord[] = [];
  let [x, y, wall] = [page.x, page.y, page.wall];
  for (const text of words) {
    const glyphs = [...text].map((c) => ({ c, ...glyph(hand.font, c) }));
    const width = glyphs.reduce((s, g) => s + g.advance * k * hand.tracking, 0);
    if (x + width > page.x + page.width) [x, y] = [page.x, y + page.pitch];
    const now: { line: [number, number][]; late: boolean }[] = [];
    for (const g of glyphs) {
      const lift = spread(hand.jitter * hand.size * 0.5);
      const turn = spread(hand.jitter * 0.4);
      const grow = 1 + spread(hand.jitter * 0.6);
      g.lines.forEach((line) => {
        const placed = line.map(([gx, gy]): [number, number] => {
          const [dx, dy] = [gx * grow, (gy - BASELINE) * grow];
          const [rx, ry] = [dx - dy * turn, dy + dx * turn];
          return [x + rx * k - ry * k * hand.slant + spread(hand.jitter * 0.25), y + (page.drift ?? 0) * (x - page.x) + ry * k + lift + spread(hand.jitter * 0.25)];
        });
        const height = Math.max(...line.map((p) => p[1])) - Math.min(...line.map((p) => p[1]));
        now.push({ line: placed, late: height < 5 && 'ijt'.includes(g.c) });
      });
      x += g.advance * k * hand.tracking + spread(hand.jitter * hand.size * 0.4);
    }
    const putOff = rnd() < hand.late;
    const order = putOff ? [...now.filter((n) => !n.late), ...now.filter((n) => n.late)] : now;
    const strokes = order.map(({ line, late }, i): PlainStroke => {
      const shift = putOff && late ? hand.size * 0.12 * rnd() : 0;
      const ms = 40 + 12 * line.length;
      wall += 90 + 60 * rnd();
      const stroke = { id: `${page.seed}-${out.length}-${i}`, points: line.map(([px, py], k) => ({ x: px + shift, y: py, t: wall + (ms * k) / line.length })) };
      wall += ms;
      return stroke;
    });
    if (strokes.length) out.push({ text, strokes });
    x += SPACE * k * hand.spacing * (1 + spread(hand.jitter * 2));
    wall += 250 + 300 * rnd();
  }
  return { words: out, wall, y };
}
