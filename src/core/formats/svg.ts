/**
 * Pages as SVG (W3C, SVG 2): strokes stay strokes, with their times in `data-` attributes; 1 user unit is 1 mm.
 *
 * Of a stroke: `data-id`, `data-wall` (when the pen came down, ISO 8601), `data-ms` (how long it stayed), and where sound was recorded `data-take` and `data-at`
 * (ms of that take); `data-second` where it was written while listening.
 */
import { XMLBuilder } from 'fast-xml-parser';
import { runsOf } from '../ink/curves';
import { inkColor } from '../ink/inks';
import { sampleStroke, tracePen, type PathSink } from '../ink/outline';
import { headsOf, isOpen } from '../ink/shapes/shape';
import { pointsOf, type Box, type PlacedBase, type Stroke } from '../ink/stroke';
import { textIn, drawingOrder, figuresOf, isTogether, inSight, type Placed } from '../note/kinds/kinds';
import type { Matrix, Way } from '../note/kinds/drawn';
import { outlineOf } from '../note/kinds/picture';
import { linesOf, markOf, type Typed } from '../note/kinds/typed';
import { lineColor, PRINT, rulingOf, SHEET, sheetColor } from '../note/paper';
import type { Page } from '../note/schema';
import { FAMILIES, MM_PER_PT, type Look } from '../text/faces';
import { letterX, type Line } from '../text/layout';
import { xmlText } from './xmlText';

type Node = Record<string, unknown>;

const builder = new XMLBuilder({ ignoreAttributes: false, attributeNamePrefix: '@', suppressEmptyNode: true, preserveOrder: false, format: false });

/** How far ink may leave the pen's own line, mm. */
const FINE = { off: 0.012, thick: 0.02 } as const;
const [HAIR, STRONG, DOT] = [0.16, 0.35, 0.56];
/** A longer line is shown as a whole where it plays: each letter is an element of its own. */
const LETTERS = 2000;
/** Between pages of a strip, mm. */
const GAP = 4;
/** Of what leads somewhere. */
const LINK = inkColor('Green');

const num = (v: number): string => String(Math.round(v * 100) / 100);

export interface SvgPage {
  readonly page: Page;
  readonly placed: readonly Placed[];
  /** What lies behind it, as an address of data; null where nothing does. */
  readonly behind: string | null;
  readonly links?: readonly SvgLink[];
  /** What it says, for who does not see it (SVG 2, 5.8: `desc`). */
  readonly says?: string;
}

/** What leads somewhere from a place of a page. */
export interface SvgLink {
  /** mm. */
  readonly box: Box;
  readonly href: string;
  /** Where it leads, in words. */
  readonly name: string;
}

export interface SvgOptions {
  /** The sheet and its ruling are drawn. */
  readonly paper: boolean;
  readonly title: string;
  /** Pictures by hash, as addresses of data. */
  readonly pictures: ReadonlyMap<string, string>;
  /** For what plays: when something is heard, ms of the timeline, and each letter of a typed line; they are written as `data-from`. */
  readonly heard?: (it: PlacedBase, letter?: number) => number | null;
  /** What of the first page is shown, mm; all of it without. */
  readonly part?: Box;
}

/** One page, a part of it, or several below each other as one strip. */
export function writeSvg(pages: readonly SvgPage[], options: SvgOptions): string {
  const width = Math.max(...pages.map(({ page }) => page.w));
  let y = 0;
  const groups = pages.map(({ page, placed, behind, links = [], says }, i) => {
    const at = { x: (width - page.w) / 2, y };
    y += page.h + GAP;
    return { ...(pages.length > 1 ? { '@id': pageMark(i) } : {}), '@data-page': page.id, ...(at.x || at.y ? { '@transform': `translate(${num(at.x)} ${num(at.y)})` } : {}), ...(says ? { desc: says } : {}), g: [...(options.paper ? [paperOf(page, behind)] : []), ...inkOf(placed, options)], ...(links.length ? { a: links.map((link) => linkOf(link, options.heard !== undefined)) } : {}) };
  });
  const [l, t, r, b] = options.part ?? [0, 0, width, y - GAP];
  const doc = {
    '?xml': { '@version': '1.0', '@encoding': 'UTF-8' },
    svg: { '@xmlns': 'http://www.w3.org/2000/svg', '@width': `${num(r - l)}mm`, '@height': `${num(b - t)}mm`, '@viewBox': [l, t, r - l, b - t].map(num).join(' '), title: options.title, g: groups },
  };
  return xmlText(builder.build(doc));
}

/** The name of a page within a strip. */
export const pageMark = (index: number): string => `page-${index + 1}`;

/** A line below what leads somewhere, and a sign after it. Where touching plays, only the sign is touched. */
function linkOf({ box: [l, t, r, b], href, name }: SvgLink, plays: boolean): Node {
  const [x, y] = [r + 0.8, b - 3.4];
  const hold = plays ? { '@x': num(x - 1), '@y': num(y - 1.5), '@width': 6.4, '@height': 6.4 } : { '@x': num(l), '@y': num(t), '@width': num(r - l + 5), '@height': num(b - t + 0.6) };
  return {
    '@href': href,
    '@aria-label': name,
    ...(/^https?:|^mailto:/.test(href) ? { '@target': '_blank', '@rel': 'noopener' } : {}),
    path: [{ '@d': `M${num(l)} ${num(b + 0.5)}H${num(r)}`, '@fill': 'none', '@stroke': LINK, '@stroke-width': 0.3 }, { '@d': `M${num(x)} ${num(y + 3)}l2.6 -2.6M${num(x + 0.6)} ${num(y + 0.4)}h2v2`, '@fill': 'none', '@stroke': LINK, '@stroke-width': 0.45, '@stroke-linecap': 'round' }],
    rect: [{ ...hold, '@fill': 'none', '@pointer-events': 'all' }],
  };
}

function paperOf(page: Page, behind: string | null): Node {
  const { lines, dots, words, plate } = rulingOf(page);
  const path = (strong: boolean): Node[] => {
    const some = lines.filter((l) => Boolean(l.strong) === strong);
    return some.length ? [{ '@d': some.map((l) => `M${num(l.x1)} ${num(l.y1)}L${num(l.x2)} ${num(l.y2)}`).join(''), '@fill': 'none', '@stroke': lineColor(page.paper), '@stroke-width': strong ? STRONG : HAIR }] : [];
  };
  const dotted = dots.length ? [{ '@d': dots.map(({ x, y }) => `M${num(x)} ${num(y)}h0`).join(''), '@fill': 'none', '@stroke': lineColor(page.paper), '@stroke-width': DOT, '@stroke-linecap': 'round' }] : [];
  return {
    '@data-layer': 'paper',
    rect: [
      { '@width': num(page.w), '@height': num(page.h), '@fill': sheetColor(page.paper) },
      ...(plate ? [{ '@x': num(plate.x), '@y': num(plate.y), '@width': num(plate.w), '@height': num(plate.h), '@fill': SHEET }, { '@x': 6, '@y': 6, '@width': num(page.w - 12), '@height': num(page.h - 12), '@fill': 'none', '@stroke': SHEET, '@stroke-width': 0.5 }] : []),
    ],
    ...(behind === null ? {} : { image: { '@width': num(page.w), '@height': num(page.h), '@href': behind } }),
    path: [...path(false), ...path(true), ...dotted],
    text: words.map(({ x, y, size, text }) => ({ '@x': num(x), '@y': num(y), '@font-size': num(size * 1.35), '@font-family': 'Atkinson Hyperlegible, sans-serif', '@fill': PRINT, '#text': text })),
  };
}

/** What lies on a page, in the order in which it is drawn. */
function inkOf(placed: readonly Placed[], { pictures, heard }: Pick<SvgOptions, 'pictures' | 'heard'>): Node[] {
  const from = (it: PlacedBase): Node => fromOf(heard?.(it) ?? null);
  return drawingOrder(inSight(placed)).flatMap((it): Node[] => {
    if (isTogether(it)) return highlights(it);
    if (it.kind === 'stroke') return [strokeOf(it)];
    if (it.kind === 'area') return [{ ...timesOf(it), ...from(it), path: { '@d': loopOf(it), '@fill': it.fill, '@fill-rule': 'evenodd' } }];
    if (it.kind === 'typed') return [typedOf(it, heard)];
    if (it.kind !== 'picture') return drawnOf(it, from(it));
    const href = pictures.get(it.content);
    if (href === undefined) return [];
    const clip = `c${it.id}`;
    const image = { '@width': 1, '@height': 1, '@preserveAspectRatio': 'none', '@transform': matrix(it.m), '@href': href };
    if (!it.crop) return [{ ...timesOf(it), ...from(it), image }];
    return [{ ...timesOf(it), ...from(it), clipPath: { '@id': clip, path: { '@d': `M${outlineOf(it).map(([x, y]) => `${num(x)} ${num(y)}`).join('L')}Z` } }, g: { '@clip-path': `url(#${clip})`, image } }];
  });
}

/** Highlighter of one colour and strength is see-through as one, so that it does not darken where it crosses; each stroke stays one. */
function highlights(light: readonly Stroke[]): Node[] {
  const by = new Map<string, Stroke[]>();
  for (const it of light) {
    const key = `${it.pen.color} ${it.pen.opacity ?? 1}`;
    by.set(key, [...(by.get(key) ?? []), it]);
  }
  return [...by.values()].map((strokes) => ({ '@data-layer': 'highlighter', ...((strokes[0].pen.opacity ?? 1) < 1 ? { '@opacity': strokes[0].pen.opacity } : {}), g: strokes.map((it) => strokeOf({ ...it, pen: { ...it.pen, opacity: 1 } })) }));
}

/** What is made of lines, areas and text: sticky notes, tables. */
function drawnOf(it: Placed, from: Node): Node[] {
  const path = figuresOf(it).map(({ ways, fill, line, width, dash }) => ({ '@d': ways.map(wayOf).join(''), '@fill': fill ?? 'none', ...(fill ? { '@fill-rule': 'evenodd' } : {}), ...(line ? { '@stroke': line, '@stroke-width': width, '@stroke-linecap': 'round', '@stroke-linejoin': 'round' } : {}), ...(dash ? { '@stroke-dasharray': dash.join(' ') } : {}) }));
  const g = textIn(it).map(({ m, lines, pitch }) => ({ '@transform': matrix(m), ...textOf(lines, pitch) }));
  return path.length || g.length ? [{ ...timesOf(it), ...from, '@data-kind': it.kind, path, g }] : [];
}

const wayOf = ({ from, to, closed }: Way): string => `M${from.map(num).join(' ')}${to.map((p) => `${p.length === 2 ? 'L' : 'C'}${p.map(num).join(' ')}`).join('')}${closed ? 'Z' : ''}`;
const matrix = (m: Matrix): string => `matrix(${m.map((v) => String(Math.round(v * 1e4) / 1e4)).join(' ')})`;

function lettersOf(text: string, look: Look, x: number, y: number, w: number): Node {
  return {
    '@x': num(x),
    '@y': num(y),
    '@font-family': `${FAMILIES[look.face]}, ${look.face === 'sans' ? 'sans-serif' : look.face === 'serif' ? 'serif' : look.face === 'typewriter' ? 'monospace' : 'cursive'}`,
    '@font-size': num(look.size * MM_PER_PT),
    ...(look.bold ? { '@font-weight': 700 } : {}),
    ...(look.slant ? { '@font-style': 'italic' } : {}),
    '@fill': look.color,
    ...(w > 0 ? { '@textLength': num(w), '@lengthAdjust': 'spacing' } : { '@text-anchor': 'end' }),
    '@xml:space': 'preserve',
    '#text': text,
  };
}

/** Text stays text. Every piece says how wide it is, so that it keeps its place where its face is missing. */
function textOf(lines: readonly Line[], pitch: number): { rect?: Node[]; text: Node[] } {
  const pieces = lines.flatMap((line, i) => line.pieces.map((p) => ({ ...p, y: (i + 1) * pitch })));
  const marked = pieces.filter((p) => p.look.marked).map(({ x, y, w, look }) => ({ '@x': num(x), '@y': num(y - 0.82 * look.size * MM_PER_PT), '@width': num(w), '@height': num(1.08 * look.size * MM_PER_PT), '@fill': look.marked }));
  return { ...(marked.length ? { rect: marked } : {}), text: pieces.map(({ text, look, x, y, w }) => lettersOf(text, look, x, y, w)) };
}

const fromOf = (ms: number | null): Node => (ms === null ? {} : { '@data-from': Math.round(ms) });

/** A line in its letters, each with its place. */
function letterByLetter(line: Line): Line {
  const pieces = line.pieces.flatMap((p) => {
    let at = p.at;
    return [...p.text].map((text) => {
      const x = letterX(line, at);
      const piece = { ...p, text, at, x, w: letterX(line, at + text.length) - x };
      at += text.length;
      return piece;
    });
  });
  return { ...line, pieces };
}

function typedOf(it: Typed, heard?: SvgOptions['heard']): Node {
  const mark = markOf(it);
  const shapes = !mark || mark.is === 'text' ? [] : mark.is === 'dot' ? [{ '@d': `M${num(mark.x)} ${num(mark.y)}h0`, '@stroke': mark.look.color, '@stroke-width': num(2 * mark.r), '@stroke-linecap': 'round' }] : [{ '@d': `M${num(mark.x - mark.r)} ${num(mark.y - mark.r)}h${num(2 * mark.r)}v${num(2 * mark.r)}h${num(-2 * mark.r)}Z${mark.done ? `M${num(mark.x - 0.6 * mark.r)} ${num(mark.y)}L${num(mark.x - 0.15 * mark.r)} ${num(mark.y + 0.5 * mark.r)}L${num(mark.x + 0.7 * mark.r)} ${num(mark.y - 0.6 * mark.r)}` : ''}`, '@fill': 'none', '@stroke': mark.look.color, '@stroke-width': num(0.08 * mark.size) }];
  const plays = heard !== undefined && it.text.length <= LETTERS;
  const lines = plays ? linesOf(it).map(letterByLetter) : linesOf(it);
  const at = lines.flatMap((l) => l.pieces.map((p) => p.at));
  const { rect, text: set } = textOf(lines, it.pitch);
  const text = plays ? set.map((node, i) => ({ ...node, ...fromOf(heard(it, at[i])) })) : set;
  return { ...timesOf(it), ...(plays ? {} : fromOf(heard?.(it) ?? null)), '@transform': matrix(it.m), ...(rect ? { rect } : {}), ...(shapes.length ? { path: shapes } : {}), text: [...(mark?.is === 'text' ? [lettersOf(mark.text, mark.look, mark.right, mark.y, 0)] : []), ...text] };
}

function timesOf(it: PlacedBase): Node {
  return {
    '@data-id': it.id,
    '@data-wall': new Date(it.wall).toISOString(),
    '@data-ms': Math.round(it.ms),
    ...(it.stamp ? { '@data-take': it.stamp.take, '@data-at': Math.round(it.stamp.at) } : {}),
    ...(it.second ? { '@data-second': 'true' } : {}),
  };
}

function loopOf(it: { readonly pts: Uint8Array }): string {
  const { n, xy } = pointsOf(it);
  return n ? `M${Array.from({ length: n }, (_, i) => `${num(xy[2 * i] / 100)} ${num(xy[2 * i + 1] / 100)}`).join('L')}Z` : '';
}

function strokeOf(it: Stroke): Node {
  const { pen } = it;
  const filled = it.fill ? [{ '@d': loopOf(it), '@fill': it.fill, '@fill-rule': 'evenodd' }] : [];
  const look = (pen.opacity ?? 1) < 1 ? { '@opacity': pen.opacity } : {};
  const samples = sampleStroke(pointsOf(it), pen);
  // A nib is no round line.
  if (pen.kind === 'chisel') return { ...timesOf(it), ...look, path: [...filled, { '@d': outlined(it, samples), '@fill': pen.color }] };
  const dashes = pen.line === 'dashed' ? { '@stroke-dasharray': `${num(4 * pen.width)} ${num(3 * pen.width)}` } : pen.line === 'dotted' ? { '@stroke-dasharray': `0 ${num(2.5 * pen.width)}` } : {};
  const runs = runsOf(samples, pen.line ? { ...FINE, thick: Infinity } : FINE).map(({ width, xy }) => ({ '@d': curvesOf(xy), '@stroke-width': num(width), ...dashes }));
  const heads = it.shape && isOpen(it.shape) ? headsOf(it.shape, pen.width).map((head) => ({ '@d': `M${head.map(([x, y]) => `${num(x)} ${num(y)}`).join('L')}`, '@stroke-width': num(pen.width) })) : [];
  return { ...timesOf(it), ...look, '@data-pen': pen.kind, '@fill': 'none', '@stroke': pen.color, '@stroke-linecap': 'round', '@stroke-linejoin': 'round', path: [...filled, ...runs, ...heads] };
}

const curvesOf = (xy: readonly number[]): string => {
  let d = `M${num(xy[0])} ${num(xy[1])}`;
  if (xy.length === 2) return `${d}h0`;
  for (let i = 2; i < xy.length; i += 6) d += `C${xy.slice(i, i + 6).map(num).join(' ')}`;
  return d;
};

function outlined({ pen }: Stroke, samples: Parameters<typeof tracePen>[1]): string {
  let d = '';
  const sink: PathSink = {
    moveTo: (x, y) => void (d += `M${num(x)} ${num(y)}`),
    lineTo: (x, y) => void (d += `L${num(x)} ${num(y)}`),
    arc: (x, y, r) => void (d += `A${num(r)} ${num(r)} 0 1 1 ${num(x - r)} ${num(y)}A${num(r)} ${num(r)} 0 1 1 ${num(x + r)} ${num(y)}`),
  };
  tracePen(pen, samples, sink);
  return d;
}
