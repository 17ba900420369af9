/**
 * Handwriting with known words and lines, from handwriting faces (SIL Open Font License, packages @fontsource/…): each outline is reduced to its centre
 * lines, which are put in an order and at a pace as a hand has them. Spaces, drift, slope, joined letters and late dots vary as in notes.
 */
import { readFileSync } from 'node:fs';
import { createRequire } from 'node:module';
import type { PlainStroke } from '../../src/core/ink/words/grouping';
import { random } from './hershey';

/** Faces that the finder may be made by, and those that it is only held against. */
export const LEARNED = ['caveat', 'patrick-hand', 'shadows-into-light', 'indie-flower', 'nothing-you-could-do', 'architects-daughter', 'over-the-rainbow', 'la-belle-aurore', 'zeyada', 'handlee', 'schoolbell', 'bad-script'] as const;
export const KEPT_APART = ['kalam', 'reenie-beanie', 'cedarville-cursive', 'gochi-hand', 'dawning-of-a-new-day', 'coming-soon'] as const;
export type FaceName = (typeof LEARNED)[number] | (typeof KEPT_APART)[number];

interface OutlineGlyph {
  readonly advanceWidth: number;
  getPath(x: number, y: number, size: number): { commands: readonly { type: 'M' | 'L' | 'Q' | 'C' | 'Z'; x: number; y: number; x1: number; y1: number; x2: number; y2: number }[] };
}
interface OutlineFont {
  readonly unitsPerEm: number;
  charToGlyph(char: string): OutlineGlyph;
  charToGlyphIndex(char: string): number;
}
const requireHere = createRequire(__filename);
const opentype = requireHere('opentype.js') as { parse(buffer: ArrayBuffer): OutlineFont };

/** Height of a small letter in the picture that is thinned, px. */
const X_PX = 36;

type Line = [number, number][];

/** In units of a small letter's height, y down from the baseline. */
interface Letter {
  readonly lines: readonly { readonly line: Line; readonly late: boolean }[];
  readonly advance: number;
  /** Ink from and to. */
  readonly from: number;
  readonly to: number;
}

interface Face {
  readonly font: OutlineFont;
  /** Font size at which a small letter is `X_PX` high. */
  readonly size: number;
  readonly letters: Map<string, Letter>;
}
const faces = new Map<FaceName, Face>();

function faceOf(name: FaceName): Face {
  let face = faces.get(name);
  if (!face) {
    const file = readFileSync(requireHere.resolve(`@fontsource/${name}/files/${name}-latin-400-normal.woff`));
    const font = opentype.parse(file.buffer.slice(file.byteOffset, file.byteOffset + file.byteLength));
    const tops = ['x', 'n', 'o', 'a'].map((c) => -Math.min(...outline(font, c, 1000).flat().map((p) => p[1]))).sort((a, b) => a - b);
    faces.set(name, (face = { font, size: (1000 * X_PX) / ((tops[1] + tops[2]) / 2), letters: new Map() }));
  }
  return face;
}

/** The outline of a letter as polygons, px. */
function outline(font: OutlineFont, char: string, size: number): Line[] {
  const rings: Line[] = [];
  let [x, y] = [0, 0];
  for (const c of font.charToGlyph(char).getPath(0, 0, size).commands) {
    if (c.type === 'M') rings.push([[c.x, c.y]]);
    else if (c.type === 'L') rings.at(-1)!.push([c.x, c.y]);
    else if (c.type !== 'Z') {
      for (let k = 1; k <= 8; k++) {
        const t = k / 8;
        const u = 1 - t;
        rings.at(-1)!.push(
          c.type === 'Q'
            ? [u * u * x + 2 * u * t * c.x1 + t * t * c.x, u * u * y + 2 * u * t * c.y1 + t * t * c.y]
            : [u ** 3 * x + 3 * u * u * t * c.x1 + 3 * u * t * t * c.x2 + t ** 3 * c.x, u ** 3 * y + 3 * u * u * t * c.y1 + 3 * u * t * t * c.y2 + t ** 3 * c.y],
        );
      }
    }
    if (c.type !== 'Z') [x, y] = [c.x, c.y];
  }
  return rings;
}

interface Picture {
  readonly w: number;
  readonly h: number;
  readonly on: Uint8Array;
}

/** Filled by the nonzero rule. Corner: where its first pixel lies. */
function fill(rings: readonly Line[], left: number, top: number, w: number, h: number): Picture {
  const on = new Uint8Array(w * h);
  for (let row = 0; row < h; row++) {
    const y = top + row + 0.5;
    const crossings: { x: number; turn: number }[] = [];
    for (const ring of rings) {
      ring.forEach(([x1, y1], i) => {
        const [x2, y2] = ring[(i + 1) % ring.length];
        if (y1 <= y !== y2 <= y) crossings.push({ x: x1 + ((y - y1) / (y2 - y1)) * (x2 - x1), turn: y2 > y1 ? 1 : -1 });
      });
    }
    crossings.sort((a, b) => a.x - b.x);
    let winding = 0;
    crossings.forEach(({ x, turn }, i) => {
      winding += turn;
      if (winding !== 0 && i + 1 < crossings.length) for (let c = Math.max(0, Math.round(x - left)); c < Math.min(w, Math.round(crossings[i + 1].x - left)); c++) on[row * w + c] = 1;
    });
  }
  return { w, h, on };
}

/** Thinned to lines of one pixel (T. Y. Zhang and C. Y. Suen, A fast parallel algorithm for thinning digital patterns, Comm. ACM 27, 1984). */
function thin({ w, h, on }: Picture): void {
  const at = (i: number) => [on[i - w], on[i - w + 1], on[i + 1], on[i + w + 1], on[i + w], on[i + w - 1], on[i - 1], on[i - w - 1]];
  for (let changed = true; changed; ) {
    changed = false;
    for (const step of [0, 1]) {
      const gone: number[] = [];
      for (let y = 1; y + 1 < h; y++) {
        for (let x = 1; x + 1 < w; x++) {
          const i = y * w + x;
          if (!on[i]) continue;
          const p = at(i);
          const n = p.reduce((s, v) => s + v, 0);
          if (n < 2 || n > 6) continue;
          let rises = 0;
          for (let k = 0; k < 8; k++) if (!p[k] && p[(k + 1) % 8]) rises++;
          if (rises !== 1) continue;
          if (step === 0 ? p[0] * p[2] * p[4] || p[2] * p[4] * p[6] : p[0] * p[2] * p[6] || p[0] * p[4] * p[6]) continue;
          gone.push(i);
        }
      }
      for (const i of gone) on[i] = 0;
      changed ||= gone.length > 0;
    }
  }
}

const AROUND = (w: number) => [1, w, -1, -w, w + 1, w - 1, -w + 1, -w - 1];
/** Twigs shorter than this are corners of the outline, not strokes, px. */
const TWIG_PX = 7;

/** The lines of a thinned picture: from end to end, straight on where lines cross. */
function traced({ w, on }: Picture, corner: readonly [number, number]): Line[] {
  const around = AROUND(w);
  const neighbours = (i: number) => {
    const near = around.slice(0, 4).map((d) => i + d).filter((k) => on[k]);
    // A corner that is reached over a side is no neighbour of its own.
    return [...near, ...around.slice(4).map((d) => i + d).filter((k) => on[k] && !near.some((n) => around.slice(0, 4).some((d) => n + d === k)))];
  };
  const pixels = [...on.keys()].filter((i) => on[i]);
  const degree = new Map(pixels.map((i) => [i, neighbours(i).length]));
  const isNode = (i: number) => degree.get(i) !== 2;
  const used = new Set<string>();
  const edge = (a: number, b: number) => (a < b ? `${a} ${b}` : `${b} ${a}`);
  let chains: number[][] = [];
  const walk = (from: number, next: number): number[] => {
    const chain = [from, next];
    used.add(edge(from, next));
    for (let last = from, now = next; !isNode(now); ) {
      const on2 = neighbours(now).find((k) => k !== last && !used.has(edge(now, k)));
      if (on2 === undefined) break;
      used.add(edge(now, on2));
      chain.push(on2);
      [last, now] = [now, on2];
    }
    return chain;
  };
  for (const i of pixels.filter(isNode)) {
    if (degree.get(i) === 0) chains.push([i]);
    for (const k of neighbours(i)) if (!used.has(edge(i, k))) chains.push(walk(i, k));
  }
  // Rings have no node.
  for (const i of pixels) for (const k of neighbours(i)) if (!used.has(edge(i, k))) chains.push(walk(i, k));
  const ends = (c: number[]) => [degree.get(c[0]) === 1, degree.get(c.at(-1)!) === 1];
  const whole = chains.length === 1;
  chains = chains.filter((c) => whole || c.length >= TWIG_PX || ends(c)[0] === ends(c)[1]);
  let lines = chains.map((c): Line => c.map((i) => [(i % w) + 0.5 + corner[0], Math.floor(i / w) + 0.5 + corner[1]]));
  // At a crossing the two that go on straightest are one line.
  const way = (line: Line, atEnd: boolean): [number, number] => {
    const own = atEnd ? [...line].reverse() : line;
    const far = own[Math.min(8, own.length - 1)];
    const [dx, dy] = [far[0] - own[0][0], far[1] - own[0][1]];
    const n = Math.hypot(dx, dy) || 1;
    return [dx / n, dy / n];
  };
  for (let joined = true; joined; ) {
    joined = false;
    let best: { i: number; iEnd: boolean; k: number; kEnd: boolean; cos: number } | null = null;
    for (let i = 0; i < lines.length; i++) {
      for (let k = i + 1; k < lines.length; k++) {
        for (const iEnd of [false, true]) {
          for (const kEnd of [false, true]) {
            const [p, q] = [iEnd ? lines[i].at(-1)! : lines[i][0], kEnd ? lines[k].at(-1)! : lines[k][0]];
            const apart = Math.hypot(p[0] - q[0], p[1] - q[1]);
            if (apart > 14) continue;
            const [a, b] = [way(lines[i], iEnd), way(lines[k], kEnd)];
            const cos = -(a[0] * b[0] + a[1] * b[1]);
            // Two that cross at a narrow angle share a stretch, which thinning gives to one of them.
            if (apart > 3.5 && (cos < 0.6 || (a[0] * (p[0] - q[0]) + a[1] * (p[1] - q[1])) / apart < 0.4)) continue;
            if (cos > 0.2 && (!best || cos > best.cos)) best = { i, iEnd, k, kEnd, cos };
          }
        }
      }
    }
    if (best) {
      const a = best.iEnd ? lines[best.i] : [...lines[best.i]].reverse();
      const b = best.kEnd ? [...lines[best.k]].reverse() : lines[best.k];
      lines = [...lines.filter((_, n) => n !== best.i && n !== best.k), [...a, ...b]];
      joined = true;
    }
  }
  return lines;
}

function letterOf(face: Face, char: string): Letter {
  let letter = face.letters.get(char);
  if (letter) return letter;
  if (!face.font.charToGlyphIndex(char)) throw new Error(`This face has no ${char}.`);
  const rings = outline(face.font, char, face.size);
  const advance = (face.font.charToGlyph(char).advanceWidth * face.size) / face.font.unitsPerEm / X_PX;
  const all = rings.flat();
  const [l, t] = [Math.floor(Math.min(...all.map((p) => p[0]))) - 2, Math.floor(Math.min(...all.map((p) => p[1]))) - 2];
  const [r, b] = [Math.ceil(Math.max(...all.map((p) => p[0]))) + 2, Math.ceil(Math.max(...all.map((p) => p[1]))) + 2];
  const picture = fill(rings, l, t, r - l, b - t);
  thin(picture);
  const lines = traced(picture, [l, t])
    // Every third pixel is enough, and both ends.
    .map((line): Line => line.filter((_, i) => i % 3 === 0 || i === line.length - 1).map(([x, y]) => [x / X_PX, y / X_PX]))
    // Begun at the left, as one writes; strokes down begin at the top.
    .map((line): Line => {
      const [p, q] = [line[0], line.at(-1)!];
      return Math.abs(q[1] - p[1]) > 2 * Math.abs(q[0] - p[0]) ? (p[1] <= q[1] ? line : [...line].reverse()) : p[0] <= q[0] ? line : [...line].reverse();
    });
  const shaped = lines.map((line) => {
    const [ys, xs] = [line.map((p) => p[1]), line.map((p) => p[0])];
    const [top, bottom] = [Math.min(...ys), Math.max(...ys)];
    const dot = bottom - top < 0.45 && Math.max(...xs) - Math.min(...xs) < 0.45 && bottom < -0.9;
    const bar = bottom - top < 0.4 && lines.length > 1 && 'tfj'.includes(char);
    return { line, late: lines.length > 1 && (dot || bar) };
  });
  shaped.sort((a, b) => Number(a.late) - Number(b.late) || Math.min(...a.line.map((p) => p[0])) - Math.min(...b.line.map((p) => p[0])));
  const xs = lines.flat().map((p) => p[0]);
  letter = { lines: shaped, advance, from: Math.min(...xs), to: Math.max(...xs) };
  face.letters.set(char, letter);
  return letter;
}

/** How somebody writes. Lengths in heights of a small letter. */
export interface WrittenHand {
  readonly face: FaceName;
  /** Height of a small letter, mm. */
  readonly height: number;
  /** Air between words, and by how much of itself it varies either way. */
  readonly space: number;
  readonly varied: number;
  /** Letter pitch, 1 as drawn. */
  readonly tracking: number;
  /** How far letters stand off the line. */
  readonly drift: number;
  /** dy per dx of the line. */
  readonly slope: number;
  /** Share of words whose dots and bars are set when the word is written. */
  readonly late: number;
  /** Share of neighbours that are written in one go where they touch. */
  readonly joined: number;
  /** How long the pen is away within a word and between words as a rule, ms. */
  readonly within: number;
  readonly between: number;
}

export interface HandWord {
  readonly text: string;
  readonly line: number;
  readonly strokes: readonly PlainStroke[];
}

/** Writes words into a column; null in the list begins a new line. x, y: start of the first baseline, mm; time in ms from `wall`. */
export function writeHand(texts: readonly (string | null)[], hand: WrittenHand, page: { x: number; y: number; width: number; pitch: number; wall: number; seed: number; line?: number }): { words: HandWord[]; wall: number; y: number; line: number } {
  const face = faceOf(hand.face);
  const rnd = random(page.seed);
  const spread = (s: number) => ((rnd() + rnd() + rnd()) / 1.5 - 1) * s;
  const k = hand.height;
  const out: HandWord[] = [];
  let [x, y, wall, line] = [page.x, page.y, page.wall, page.line ?? 0];
  /** ms that the pen is away: by far not always the same, now and then somebody thinks. */
  const pause = (middle: number, varied: number): number => (rnd() < 0.03 ? 500 + 2500 * rnd() : middle * Math.exp(varied * 1.4 * spread(1)));
  const next = () => ([x, y, line] = [page.x + Math.abs(spread(1)), y + page.pitch, line + 1]);
  for (const text of texts) {
    if (text === null) {
      next();
      continue;
    }
    const letters = [...text].map((c) => ({ c, letter: letterOf(face, c) }));
    const width = letters.reduce((s, { letter }) => s + letter.advance * k * hand.tracking, 0);
    if (x + width > page.x + page.width && x > page.x + 5) next();
    const now: { line: Line; late: boolean }[] = [];
    // The pen is put down where the ink of the word begins.
    let at = x - letters[0].letter.from * k;
    let right = x;
    for (const { letter } of letters) {
      const lift = spread(hand.drift) * k;
      const grow = 1 + spread(0.08);
      for (const { line: drawn, late } of letter.lines) {
        const placed = drawn.map(([gx, gy]): [number, number] => {
          const px = at + gx * k * grow + spread(0.012) * k;
          return [px, y + hand.slope * (px - page.x) + gy * k * grow + lift + spread(0.012) * k];
        });
        for (const p of placed) right = Math.max(right, p[0]);
        const before = now.at(-1);
        const [p, q] = [before?.line.at(-1), placed[0]];
        if (before && !before.late && !late && p && Math.hypot(p[0] - q[0], p[1] - q[1]) < 0.3 * k && rnd() < hand.joined) before.line.push(...placed);
        else now.push({ line: placed, late });
      }
      at += letter.advance * k * hand.tracking * (1 + spread(0.05));
    }
    const putOff = rnd() < hand.late;
    const order = putOff ? [...now.filter((n) => !n.late), ...now.filter((n) => n.late)] : now;
    const strokes = order.map(({ line: drawn, late }, i): PlainStroke => {
      const shift = putOff && late ? 0.15 * k * spread(1) : 0;
      let way = 0;
      const ways = drawn.map((p, n) => (way += n ? Math.hypot(p[0] - drawn[n - 1][0], p[1] - drawn[n - 1][1]) : 0));
      // About a small letter's height in 55 ms.
      const ms = 30 + (55 * way) / k;
      wall += i ? pause(hand.within, 0.5) : 0;
      const stroke = { id: `${page.seed}-${page.line ?? 0}-${out.length}-${i}`, points: drawn.map(([px, py], n) => ({ x: px + shift, y: py, t: wall + (way ? (ms * ways[n]) / way : 0) })) };
      wall += ms;
      return stroke;
    });
    out.push({ text, line, strokes });
    x = right + hand.space * (1 + spread(hand.varied)) * k;
    wall += pause(hand.between, 0.55);
  }
  return { words: out, wall, y, line };
}

const PROSE = `the tide rises by twelfths in six hours one then two then three then three then two then one
buoys to port are red when you come from the sea and green to starboard with a cone on top
in fog the pilot listens for the bell at the harbour mouth and counts the seconds to the cliff
a spring tide follows the full moon by a day or two and the neap comes seven days later
chart datum is the lowest astronomical tide so the depth is at least what the chart shows
the old pilot said that a good skipper looks over the side before he looks at the chart
open day needs a tent, two boats, a rota for the gate and somebody to talk to the press`.split(/\s+/);
const ITEMS = ['tent and tables', 'ask the mayor', 'two boats at ten', 'rota for the gate', 'first aid kit', 'print the chart', 'tea, cake, juice', 'who locks up?'];

export type Layout = 'prose' | 'columns' | 'list' | 'sums' | 'insertion' | 'sizes';
export const LAYOUTS: readonly Layout[] = ['prose', 'columns', 'list', 'sums', 'insertion', 'sizes'];

/** A hand by chance, as varied as people are. */
export function someHand(face: FaceName, rnd: () => number): WrittenHand {
  return { face, height: 1.5 + 2.5 * rnd(), space: 0.6 + 0.8 * rnd(), varied: 0.25, tracking: 0.92 + 0.16 * rnd(), drift: 0.06, slope: 0.04 * (rnd() - 0.5), late: rnd(), joined: rnd(), within: 80 + 60 * rnd(), between: 130 + 270 * rnd() };
}

/** A page of this layout in that hand. */
export function somePage(layout: Layout, hand: WrittenHand, seed: number): HandWord[] {
  const rnd = random(seed);
  const k = hand.height;
  const pitch = k * (3.4 + 1.2 * rnd());
  const from = Math.floor(rnd() * (PROSE.length - 70));
  const prose = PROSE.slice(from, from + 45);
  const first = { x: 14, y: 25, width: 180, pitch, wall: 1e6, seed };
  if (layout === 'prose') return writeHand(prose, hand, first).words;
  if (layout === 'columns') {
    const left = writeHand(prose.slice(0, 24), hand, { ...first, width: 80 });
    return [...left.words, ...writeHand(prose.slice(24), hand, { ...first, x: 112, y: 25 + pitch * 0.3 * rnd(), width: 80, wall: left.wall + 30_000, seed: seed + 1, line: left.line + 1 }).words];
  }
  if (layout === 'list') return writeHand(ITEMS.flatMap((item) => ['-', ...item.split(' '), null]), hand, first).words;
  if (layout === 'sums') {
    const sums = Array.from({ length: 7 }, () => {
      const [a, b] = [Math.floor(10 + 80 * rnd()) / 10, Math.floor(10 + 80 * rnd()) / 10];
      return ['h', '=', a.toFixed(1), '+', b.toFixed(1), '=', (a + b).toFixed(1), 'm', null];
    });
    return writeHand(sums.flat(), hand, first).words;
  }
  if (layout === 'sizes') {
    const large = writeHand(prose.slice(0, 12), { ...hand, height: 1.8 * k }, { ...first, pitch: 1.8 * pitch });
    return [...large.words, ...writeHand(prose.slice(12, 40), hand, { ...first, y: large.y + 1.5 * pitch, wall: large.wall + 4000, seed: seed + 1, line: large.line + 1 }).words];
  }
  // Somebody comes back later and writes in smaller letters between two words that left room.
  const wide = writeHand(prose.slice(0, 20), { ...hand, space: 1.2 }, first);
  const at = wide.words.findIndex((w, i) => i > 3 && wide.words[i + 1]?.line === w.line);
  const [a, b] = [wide.words[at], wide.words[at + 1]];
  const right = Math.max(...a.strokes.flatMap((s) => s.points.map((p) => p.x)));
  const room = 0.7 * k;
  const late = writeHand(['not'], { ...hand, height: 0.8 * k }, { ...first, x: right + room, y: 25 + pitch * (a.line - 0), wall: wide.wall + 60_000, seed: seed + 2, line: a.line });
  const end = Math.max(...late.words[0].strokes.flatMap((s) => s.points.map((p) => p.x)));
  // What follows on the line stands farther to the right, as it would where room was left.
  const move = end + room - Math.min(...b.strokes.flatMap((s) => s.points.map((p) => p.x)));
  const moved = wide.words.map((w, i) => (i > at && w.line === a.line ? { ...w, strokes: w.strokes.map((s) => ({ ...s, points: s.points.map((p) => ({ ...p, x: p.x + Math.max(0, move) })) })) } : w));
  return [...moved.slice(0, at + 1), { ...late.words[0], line: a.line }, ...moved.slice(at + 1)];
}
