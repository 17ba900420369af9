/** A sticky note: a slip of paper that is written, drawn or typed on. What is on it has its id in `on` and its `lift`, and goes where it goes. */
import { z } from 'zod';
import { insidePolygon } from '../../ink/polygon';
import { apply } from '../../ink/transform';
import { distanceToBox, type Box, type PlacedBase } from '../../ink/stroke';
import { affineOf, ellipse, mapWay, matrixBy, polygon, rounded, straight, within, type Matrix, type Way } from './drawn';
import { takenWhole, type Kind } from './kind';

export const SLIP_SHAPES = ['square', 'rounded', 'round', 'tag'] as const;
export const SLIP_PAPERS = ['plain', 'ruled', 'squared'] as const;
export type SlipShape = (typeof SLIP_SHAPES)[number];
export type SlipPaper = (typeof SLIP_PAPERS)[number];

export interface Slip extends PlacedBase {
  readonly kind: 'slip';
  /** From its own place (mm from its upper left corner) to the page. */
  readonly m: Matrix;
  /** Its size before `m`, mm. */
  readonly w: number;
  readonly h: number;
  /** `#rrggbb`. */
  readonly tint: string;
  readonly shape: SlipShape;
  readonly paper: SlipPaper;
  /** Only its tab is seen. */
  readonly folded?: true;
  /** No points. */
  readonly pts: Uint8Array;
}

const NO_POINTS = new Uint8Array(0);
/** Lines and squares of its paper, mm. */
export const SLIP_PITCH = 7;
const SQUARE = 5;
/** From its edge to where text begins, mm. */
export const SLIP_EDGE = 3.5;
/** What is seen of a folded one, mm. */
const [TAB_W, TAB_H] = [14, 9];
const [CORNER, CUT] = [3, 6];
export const [SLIP_W, SLIP_H] = [62, 48];

const finite = z.number().min(-1e6).max(1e6);
const schema = z.looseObject({
  m: z.tuple([finite, finite, finite, finite, finite, finite]),
  w: z.number().min(1).max(10_000),
  h: z.number().min(1).max(10_000),
  tint: z.string().regex(/^#[0-9a-f]{6}$/i),
  shape: z.enum(SLIP_SHAPES),
  paper: z.enum(SLIP_PAPERS),
  folded: z.literal(true).optional(),
});

/** Corners of its paper, or of its tab, on its own place. */
function cornersOf({ w, h, shape, folded }: Pick<Slip, 'w' | 'h' | 'shape' | 'folded'>): [number, number][] {
  if (folded) return [[0, 0], [TAB_W, 0], [TAB_W, TAB_H], [0, TAB_H]];
  if (shape === 'tag') return [[CUT, 0], [w, 0], [w, h], [CUT, h], [0, h - CUT], [0, CUT]];
  if (shape !== 'round') return [[0, 0], [w, 0], [w, h], [0, h]];
  return Array.from({ length: 32 }, (_, i) => [(w / 2) * (1 + Math.cos((i * Math.PI) / 16)), (h / 2) * (1 + Math.sin((i * Math.PI) / 16))]);
}

/** Corners of what is seen of it, mm of the page. */
export const slipOutline = (it: Pick<Slip, 'm' | 'w' | 'h' | 'shape' | 'folded'>): [number, number][] => cornersOf(it).map(([x, y]) => apply(affineOf(it.m), x, y));

function boxOf(it: Pick<Slip, 'm' | 'w' | 'h' | 'shape' | 'folded'>): Box {
  const corners = slipOutline(it);
  const [xs, ys] = [corners.map((c) => c[0]), corners.map((c) => c[1])];
  return [Math.min(...xs), Math.min(...ys), Math.max(...xs), Math.max(...ys)];
}

export const makeSlip = (it: Omit<Slip, 'kind' | 'pts' | 'box' | 'ms'>): Slip => Object.freeze({ ...it, kind: 'slip', pts: NO_POINTS, box: boxOf(it), ms: 0 });

const isWithin = (it: Slip, x: number, y: number): boolean => insidePolygon(slipOutline(it), x, y);

/** Covers what lies under it at a place of the page, mm. */
export const covers = (it: Slip, x: number, y: number): boolean => x >= it.box[0] && x <= it.box[2] && y >= it.box[1] && y <= it.box[3] && isWithin(it, x, y);

function wayOf({ w, h, shape }: Slip): Way {
  if (shape === 'rounded') return rounded(w, h, Math.min(CORNER, w / 2, h / 2));
  return shape === 'round' ? ellipse(w / 2, h / 2, w / 2, h / 2) : polygon(cornersOf({ w, h, shape }));
}

/** How strong the lines of its paper and its edge are against its tint, and how strong the fold of a folded one. */
const [RULE, EDGE] = [0.82, 0.62];
const darker = (color: string, by: number): string => `#${[1, 3, 5].map((i) => Math.round(Number.parseInt(color.slice(i, i + 2), 16) * by).toString(16).padStart(2, '0')).join('')}`;

/** Where a level (or upright) line at `at` is within its outline: from and to. */
function span(corners: readonly (readonly [number, number])[], at: number, axis: 0 | 1): [number, number] | null {
  const cuts: number[] = [];
  corners.forEach((p, i) => {
    const q = corners[(i + 1) % corners.length];
    if (p[axis] > at !== q[axis] > at) cuts.push(p[1 - axis] + ((at - p[axis]) / (q[axis] - p[axis])) * (q[1 - axis] - p[1 - axis]));
  });
  return cuts.length < 2 ? null : [Math.min(...cuts), Math.max(...cuts)];
}

function ruling(it: Slip): Way[] {
  const corners = cornersOf(it);
  const out: Way[] = [];
  const step = it.paper === 'ruled' ? SLIP_PITCH : SQUARE;
  for (let y = it.paper === 'ruled' ? SLIP_EDGE + SLIP_PITCH : step; y < it.h - 0.5; y += step) {
    const at = span(corners, y, 1);
    if (at) out.push(straight(at[0], y, at[1], y));
  }
  if (it.paper === 'squared') {
    for (let x = step; x < it.w - 0.5; x += step) {
      const at = span(corners, x, 0);
      if (at) out.push(straight(x, at[0], x, at[1]));
    }
  }
  return out;
}

export const slipKind: Kind<Slip> = {
  schema,
  layer: () => 'slip',
  reach: () => 0.3,
  distance: (it, x, y) => (isWithin(it, x, y) ? 0 : Math.max(0.01, distanceToBox(it.box, x, y))),
  ...takenWhole,
  map: (it, m) => makeSlip({ ...it, m: matrixBy(it.m, m) }),
  figures(it) {
    const to = affineOf(it.m);
    const [edge, rule] = [darker(it.tint, EDGE), darker(it.tint, RULE)];
    if (it.folded) {
      const fold = [polygon([[TAB_W - 3, 0], [TAB_W, 3], [TAB_W - 3, 3]])];
      return [{ ways: [mapWay(to, polygon([[0, 0], [TAB_W - 3, 0], [TAB_W, 3], [TAB_W, TAB_H], [0, TAB_H]]))], fill: it.tint, line: edge, width: 0.3 }, { ways: fold.map((w) => mapWay(to, w)), fill: edge }, { ways: [mapWay(to, straight(2.5, 4.6, TAB_W - 3.5, 4.6)), mapWay(to, straight(2.5, 6.6, TAB_W - 5, 6.6))], line: edge, width: 0.3 }];
    }
    const lines = it.paper === 'plain' ? [] : ruling(it);
    return [{ ways: [mapWay(to, wayOf(it))], fill: it.tint, line: edge, width: 0.25 }, ...(lines.length ? [{ ways: lines.map((l) => mapWay(to, l)), line: rule, width: 0.16 }] : [])];
  },
  read(base, fields) {
    const known = schema.safeParse(fields);
    return known.success ? makeSlip({ ...base, ...(known.data as unknown as Omit<Slip, keyof PlacedBase | 'kind' | 'pts'>) }) : null;
  },
  isDecoration: () => true,
};

/** Where text goes that is typed on it at a place of the page: on its lines, from edge to edge. */
export function textPlace(it: Slip, x: number, y: number, least: number): { m: Matrix; width: number; pitch: number } {
  const [, v] = within(it.m, x, y);
  const pitch = it.paper === 'ruled' ? Math.max(1, Math.ceil(least / SLIP_PITCH)) * SLIP_PITCH : least;
  const corners = cornersOf({ ...it, folded: undefined });
  const row = Math.max(0, Math.floor((v - SLIP_EDGE) / pitch));
  const top = SLIP_EDGE + row * pitch;
  const sides = [span(corners, Math.min(it.h - 0.1, top + 0.1), 1), span(corners, Math.min(it.h - 0.1, top + pitch), 1)].flatMap((s) => (s ? [s] : []));
  const left = Math.max(...sides.map((s) => s[0]), 0) + SLIP_EDGE;
  const right = Math.min(...sides.map((s) => s[1]), it.w) - SLIP_EDGE;
  return { m: matrixBy([1, 0, 0, 1, left, top], affineOf(it.m)), width: Math.max(10, right - left), pitch };
}
