/** Axes with numbers, and a grid where it is wanted, or a number line: what is drawn on them can be read off in their units. */
import { Big } from 'big.js';
import { z } from 'zod';
import { boxesMeet, distanceToBox, pointsOf, type Box, type PlacedBase, type Stroke } from '../../ink/stroke';
import { apply } from '../../ink/transform';
import { FACES, MM_PER_PT, type Look } from '../../text/faces';
import { laidOut } from '../../text/layout';
import { GRID } from '../paper';
import { affineOf, mapWay, matrixBy, straight, within, type Block, type Figure, type Matrix, type Way } from './drawn';
import { takenWhole, type Kind } from './kind';

/** Numbers along an axis, as they are typed: decimals, which binary fractions are not. */
export interface Scale {
  readonly from: string;
  readonly to: string;
  /** From one number to the next. */
  readonly step: string;
}

export interface Axes extends PlacedBase {
  readonly kind: 'axes';
  /** From its own place (mm from the upper left corner of what the axes span) to the page. */
  readonly m: Matrix;
  readonly w: number;
  readonly h: number;
  readonly x: Scale;
  /** Null for a number line. */
  readonly y: Scale | null;
  readonly grid?: true;
  readonly look: Look;
  /** No points. */
  readonly pts: Uint8Array;
}

const NO_POINTS = new Uint8Array(0);
/** Numbers of a scale at most. */
export const MOST_TICKS = 200;
/** Half a tick, a head and how far an axis goes beyond its last number, mm. */
const [TICK, HEAD, BEYOND] = [1.1, 2.2, 5] as const;
/** Widths of axis and grid, mm. */
const [LINE, FINE] = [0.4, 0.16] as const;
/** A number has so much room to its sides, mm. */
const ROOM = 30;

const decimal = z.string().regex(/^-?\d{1,9}(\.\d{1,9})?$/);
const scaleSchema = z.object({ from: decimal, to: decimal, step: decimal }).refine(({ from, to, step }) => isScale({ from, to, step }));
const finite = z.number().min(-1e6).max(1e6);
const schema = z.looseObject({
  m: z.tuple([finite, finite, finite, finite, finite, finite]),
  w: z.number().min(1).max(10_000),
  h: z.number().min(0).max(10_000),
  x: scaleSchema,
  y: scaleSchema.nullable(),
  grid: z.literal(true).optional(),
  look: z.object({ face: z.enum(FACES), size: z.number().min(1).max(400), color: z.string().regex(/^#[0-9a-f]{6}$/i) }),
});

/** What is typed as a number, with a comma or a point and any minus; null when it is none. */
export function decimalOf(text: string): string | null {
  const plain = text.trim().replace(/[−–]/g, '-').replace(',', '.');
  return decimal.safeParse(plain).success ? new Big(plain).toFixed() : null;
}

/** It goes up, in steps, and not in too many. */
export function isScale({ from, to, step }: Scale): boolean {
  const [a, b, s] = [new Big(from), new Big(to), new Big(step)];
  return s.gt(0) && b.gt(a) && b.minus(a).div(s).lte(MOST_TICKS);
}

/** Numbers of a scale: the multiples of its step, written alike, with as many places as the step has. */
export function ticksOf({ from, to, step }: Scale): { readonly value: number; readonly text: string }[] {
  const s = new Big(step);
  const places = step.split('.')[1]?.length ?? 0;
  const first = new Big(from).div(s).round(0, 3);
  const start = first.times(s).lt(from) ? first.plus(1) : first;
  const out: { value: number; text: string }[] = [];
  for (let v = start.times(s); v.lte(to); v = v.plus(s)) out.push({ value: v.toNumber(), text: v.toFixed(places).replace('-', '−') });
  return out;
}

const shareOf = ({ from, to }: Scale, v: number): number => (v - Number(from)) / (Number(to) - Number(from));

/** Where units lie on its own place, mm. */
const ownPlace = ({ w, h, x, y }: Pick<Axes, 'w' | 'h' | 'x' | 'y'>, vx: number, vy: number): [number, number] => [w * shareOf(x, vx), y ? h * (1 - shareOf(y, vy)) : 0];

/** Where units lie on the page, mm. */
export const placeOf = (it: Axes, vx: number, vy: number): [number, number] => apply(affineOf(it.m), ...ownPlace(it, vx, vy));

/** The units at a place of the page, mm; of a number line `y` is 0. */
export function unitsAt(it: Pick<Axes, 'm' | 'w' | 'h' | 'x' | 'y'>, px: number, py: number): { readonly x: number; readonly y: number } {
  const [u, v] = within(it.m, px, py);
  const at = ({ from, to }: Scale, share: number) => Number(from) + share * (Number(to) - Number(from));
  return { x: at(it.x, u / it.w), y: it.y ? at(it.y, 1 - v / it.h) : 0 };
}

/** Where the axes cross: at zero, or at the edge that is nearest to it. */
function crossing({ x, y, w, h }: Pick<Axes, 'x' | 'y' | 'w' | 'h'>): [number, number] {
  const within01 = (v: number) => Math.min(1, Math.max(0, v));
  return [w * within01(shareOf(x, 0)), y ? h * (1 - within01(shareOf(y, 0))) : 0];
}

/** Lines of its axes, ticks and heads, and of its grid, on its own place. */
function waysOf(it: Pick<Axes, 'x' | 'y' | 'w' | 'h' | 'grid'>): { lines: Way[]; grid: Way[] } {
  const { x, y, w, h } = it;
  const [cx, cy] = crossing(it);
  const head = (px: number, py: number, dx: number, dy: number): Way[] => [straight(px, py, px - HEAD * dx - 0.45 * HEAD * dy, py - HEAD * dy + 0.45 * HEAD * dx), straight(px, py, px - HEAD * dx + 0.45 * HEAD * dy, py - HEAD * dy - 0.45 * HEAD * dx)];
  const xs = ticksOf(x).map(({ value }) => w * shareOf(x, value));
  const lines = [straight(0, cy, w + BEYOND, cy), ...head(w + BEYOND, cy, 1, 0), ...xs.map((v) => straight(v, cy - TICK, v, cy + TICK))];
  if (!y) return { lines, grid: [] };
  const ys = ticksOf(y).map(({ value }) => h * (1 - shareOf(y, value)));
  lines.push(straight(cx, h, cx, -BEYOND), ...head(cx, -BEYOND, 0, -1), ...ys.map((v) => straight(cx - TICK, v, cx + TICK, v)));
  return { lines, grid: it.grid ? [...xs.map((v) => straight(v, 0, v, h)), ...ys.map((v) => straight(0, v, w, v))] : [] };
}

/** Numbers beside the axes: where each stands on its own place. Zero stands once, where the axes cross. */
function numbersOf(it: Pick<Axes, 'x' | 'y' | 'w' | 'h' | 'look'>): { readonly text: string; readonly x: number; readonly y: number; readonly align: 'middle' | 'right' }[] {
  const { x, y, w, h, look } = it;
  const [cx, cy] = crossing(it);
  const high = look.size * MM_PER_PT;
  const isCrossing = (v: number, c: number) => Math.abs(v - c) < 1e-6;
  const across = ticksOf(x).map(({ value, text }) => ({ text, at: w * shareOf(x, value) }));
  const up = y ? ticksOf(y).map(({ value, text }) => ({ text, at: h * (1 - shareOf(y, value)) })) : [];
  // Numbers that would stand over each other are left out, so that each stands alone.
  const every = (all: readonly { text: string }[], room: number, need: number) => Math.max(1, Math.ceil((need * Math.max(1, all.length - 1)) / Math.max(1e-6, room)));
  const longest = Math.max(1, ...across.map(({ text }) => text.length));
  const [nx, ny] = [every(across, w, (0.62 * longest + 0.8) * high), every(up, h, 1.3 * high)];
  // Where an axis runs on to the left of the other one, zero stands below it.
  const hasZero = y !== null && across.some((o) => isCrossing(o.at, cx)) && up.some((o) => isCrossing(o.at, cy));
  const below = TICK + 1.15 * high;
  const all = [
    ...up.filter(({ at }) => hasZero && isCrossing(at, cy)).map(({ text, at }) => ({ text, x: cx - TICK - 0.6, y: at + (cx > 0.01 ? below : 0.35 * high), align: 'right' as const })),
    ...across.filter(({ at }, i) => i % nx === 0 && !(hasZero && isCrossing(at, cx))).map(({ text, at }) => ({ text, x: at, y: cy + below, align: 'middle' as const })),
    ...up.filter(({ at }, i) => i % ny === 0 && !(hasZero && isCrossing(at, cy))).map(({ text, at }) => ({ text, x: cx - TICK - 0.6, y: at + 0.35 * high, align: 'right' as const })),
  ];
  return all.reduce<typeof all>((kept, it) => (kept.some((o) => boxesMeet(boxOfNumber(o, look), boxOfNumber(it, look))) ? kept : [...kept, it]), []);
}

/** Where a number stands, on the place of its axes. */
function boxOfNumber({ text, x, y, align }: { readonly text: string; readonly x: number; readonly y: number; readonly align: 'middle' | 'right' }, look: Look): Box {
  const high = look.size * MM_PER_PT;
  const { w } = laidOut({ text, looks: [[text.length, look]], width: ROOM, indent: 0, align: 'left' })[0];
  return align === 'middle' ? [x - w / 2, y - high, x + w / 2, y + 0.25 * high] : [x - w, y - high, x, y + 0.25 * high];
}

/** All that is seen of it, on its own place. */
function extent(it: Pick<Axes, 'x' | 'y' | 'w' | 'h' | 'look'>): Box {
  const numbers = numbersOf(it).map((n) => boxOfNumber(n, it.look));
  return [[-TICK, it.y ? -BEYOND : -TICK, it.w + BEYOND, it.h + TICK] as Box, ...numbers].reduce((a, b) => [Math.min(a[0], b[0]), Math.min(a[1], b[1]), Math.max(a[2], b[2]), Math.max(a[3], b[3])]);
}

export function makeAxes(given: Omit<Axes, 'kind' | 'pts' | 'box' | 'ms'>): Axes {
  const [l, t, r, b] = extent(given);
  const corners = [[l, t], [r, t], [r, b], [l, b]].map(([x, y]) => apply(affineOf(given.m), x, y));
  const [xs, ys] = [corners.map((c) => c[0]), corners.map((c) => c[1])];
  return Object.freeze({ ...given, kind: 'axes', pts: NO_POINTS, box: [Math.min(...xs), Math.min(...ys), Math.max(...xs), Math.max(...ys)] as Box, ms: 0 });
}

/** In words, as it is read out. */
export const axesText = ({ x, y }: Pick<Axes, 'x' | 'y'>): string => `${y ? 'x' : 'Number line'} from ${x.from} to ${x.to} by ${x.step}${y ? `, y from ${y.from} to ${y.to} by ${y.step}` : ''}`;

/**
 * What a drawn line says at every number of the x axis that it passes, in units: where it passes several times, the first in the order it was drawn. Rounded to a
 * twentieth of the y axis' step, finer than which nobody draws.
 */
export function readOff(it: Axes, line: Pick<Stroke, 'pts'>): { readonly x: string; readonly y: string }[] {
  const { y } = it;
  if (!y) return [];
  const { n, xy } = pointsOf(line);
  const at = Array.from({ length: n }, (_, i) => unitsAt(it, xy[2 * i] / 100, xy[2 * i + 1] / 100));
  const fine = new Big(y.step).div(20);
  const places = Math.max(0, fine.toFixed().split('.')[1]?.length ?? 0);
  return ticksOf(it.x).flatMap(({ value, text }) => {
    for (let i = 1; i < at.length; i++) {
      const [a, b] = [at[i - 1], at[i]];
      if ((a.x - value) * (b.x - value) > 0) continue;
      const u = b.x === a.x ? 0 : (value - a.x) / (b.x - a.x);
      const found = a.y + u * (b.y - a.y);
      return [{ x: text, y: new Big(Math.round(found / fine.toNumber())).times(fine).toFixed(places).replace('-', '−') }];
    }
    return [];
  });
}

export const axesKind: Kind<Axes> = {
  schema,
  layer: () => 'thing',
  reach: () => 0.5,
  distance: (it, x, y) => Math.max(0.01, distanceToBox(it.box, x, y)),
  ...takenWhole,
  map: (it, m) => makeAxes({ ...it, m: matrixBy(it.m, m) }),
  figures(it): readonly Figure[] {
    const to = affineOf(it.m);
    const { lines, grid } = waysOf(it);
    return [...(grid.length ? [{ ways: grid.map((w) => mapWay(to, w)), line: GRID, width: FINE }] : []), { ways: lines.map((w) => mapWay(to, w)), line: it.look.color, width: LINE }];
  },
  blocks(it): readonly Block[] {
    const { look } = it;
    const to = affineOf(it.m);
    return numbersOf(it).map(({ text, x, y, align }) => {
      const lines = laidOut({ text, looks: [[text.length, look]], width: ROOM, indent: 0, align });
      // The foot of the letters stands on `y`: a pitch below the block's own place.
      const pitch = look.size * MM_PER_PT;
      return { m: matrixBy([1, 0, 0, 1, align === 'middle' ? x - ROOM / 2 : x - ROOM, y - pitch], to), lines, pitch };
    });
  },
  read(base, fields) {
    const known = schema.safeParse(fields);
    return known.success ? makeAxes({ ...base, ...(known.data as unknown as Omit<Axes, keyof PlacedBase | 'kind' | 'pts'>) }) : null;
  },
  isDecoration: () => true,
};
