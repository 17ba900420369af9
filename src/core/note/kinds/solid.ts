/**
 * A solid drawn in oblique projection: what is seen of it in whole lines, what it hides of itself in dashed ones. Depth goes to the right and up at 45 degrees
 * (cabinet projection, ISO 5456-3; from memory).
 */
import { z } from 'zod';
import type { Rub } from '../../ink/erase';
import { outlineBox, type Shape } from '../../ink/shapes/shape';
import { distanceToBox, type Box, type PlacedBase } from '../../ink/stroke';
import { apply } from '../../ink/transform';
import { affineOf, mapWay, matrixBy, within, type Figure, type Matrix, type Way } from './drawn';
import { takenWhole, type Kind } from './kind';

export const SOLIDS = ['box', 'cylinder', 'cone', 'ball', 'pyramid', 'prism'] as const;
export type SolidName = (typeof SOLIDS)[number];

export interface Solid extends PlacedBase {
  readonly kind: 'solid';
  readonly solid: SolidName;
  /** From its own place (mm from its upper left corner) to the page. */
  readonly m: Matrix;
  /** Its size before `m`, with its depth, mm. */
  readonly w: number;
  readonly h: number;
  /** How far its back lies to the right and up, mm. */
  readonly d: number;
  /** Of its lines, and their width, mm. */
  readonly color: string;
  readonly width: number;
  readonly fill?: string;
  /** No points. */
  readonly pts: Uint8Array;
}

const NO_POINTS = new Uint8Array(0);
/** Depth over the smaller side of the front, and height of a round base over its width. */
const [DEPTH, FLAT] = [0.35, 0.18];
/** Of hidden lines, mm, and how strong they are against the others. */
const [DASH, THIN] = [[1.8, 1.3], 0.75] as const;

const finite = z.number().min(-1e6).max(1e6);
const color = z.string().regex(/^#[0-9a-f]{6}$/i);
const size = z.number().min(0.1).max(10_000);
const schema = z.looseObject({ solid: z.enum(SOLIDS), m: z.tuple([finite, finite, finite, finite, finite, finite]), w: size, h: size, d: z.number().min(0).max(10_000), color, width: z.number().min(0.05).max(50), fill: color.optional() });

type Vec3 = readonly [number, number, number];
interface Hull {
  readonly corners: readonly Vec3[];
  /** Corners of each face, in turn. */
  readonly faces: readonly (readonly number[])[];
}

/** Corners to the right, up and back (0 front, 1 back), mm; null for what is round. */
export function hullOf({ solid, w, h, d }: Pick<Solid, 'solid' | 'w' | 'h' | 'd'>): Hull | null {
  const [W, H] = [w - d, h - d];
  if (solid === 'box') {
    return { corners: [[0, 0, 0], [W, 0, 0], [W, H, 0], [0, H, 0], [0, 0, 1], [W, 0, 1], [W, H, 1], [0, H, 1]], faces: [[0, 1, 2, 3], [4, 5, 6, 7], [0, 1, 5, 4], [3, 2, 6, 7], [0, 3, 7, 4], [1, 2, 6, 5]] };
  }
  if (solid === 'prism') return { corners: [[0, 0, 0], [W, 0, 0], [W / 2, H, 0], [0, 0, 1], [W, 0, 1], [W / 2, H, 1]], faces: [[0, 1, 2], [3, 4, 5], [0, 1, 4, 3], [1, 2, 5, 4], [2, 0, 3, 5]] };
  if (solid === 'pyramid') return { corners: [[0, 0, 0], [W, 0, 0], [W, 0, 1], [0, 0, 1], [W / 2, h - d / 2, 0.5]], faces: [[0, 1, 2, 3], [0, 1, 4], [1, 2, 4], [2, 3, 4], [3, 0, 4]] };
  return null;
}

const minus = (a: Vec3, b: Vec3): Vec3 => [a[0] - b[0], a[1] - b[1], a[2] - b[2]];
const dot = (a: Vec3, b: Vec3): number => a[0] * b[0] + a[1] * b[1] + a[2] * b[2];
const cross = (a: Vec3, b: Vec3): Vec3 => [a[1] * b[2] - a[2] * b[1], a[2] * b[0] - a[0] * b[2], a[0] * b[1] - a[1] * b[0]];

/** Edges by their corners, and whether the solid hides them: both faces at them look away. `d`: as of the solid. */
export function edgesOf({ corners, faces }: Hull, d: number): { readonly ends: readonly [number, number]; readonly isHidden: boolean }[] {
  const middle = corners.reduce<Vec3>((s, c) => [s[0] + c[0] / corners.length, s[1] + c[1] / corners.length, s[2] + c[2] / corners.length], [0, 0, 0]);
  // What lies on a line of sight comes to the same place: towards the eye is to the right, up and to the front.
  const eye: Vec3 = [d, d, -1];
  const by = new Map<string, { ends: [number, number]; seen: boolean }>();
  for (const face of faces) {
    const [a, b, c] = face.map((k) => corners[k]);
    const n = cross(minus(b, a), minus(c, a));
    const out = dot(n, minus(a, middle)) > 0 ? 1 : -1;
    const isSeen = out * dot(n, eye) > 1e-9;
    face.forEach((p, i) => {
      const q = face[(i + 1) % face.length];
      const key = `${Math.min(p, q)} ${Math.max(p, q)}`;
      const had = by.get(key);
      by.set(key, { ends: [Math.min(p, q), Math.max(p, q)], seen: isSeen || (had?.seen ?? false) });
    });
  }
  return [...by.values()].map(({ ends, seen }) => ({ ends, isHidden: !seen }));
}

/** A part of an ellipse from an angle to another, clockwise on the page. */
function arc(x: number, y: number, rx: number, ry: number, from: number, to: number): Way {
  const n = Math.max(1, Math.ceil(Math.abs(to - from) / (Math.PI / 2) - 1e-9));
  const step = (to - from) / n;
  // Length of handles for an arc (common practice: within 0.03 % of the circle for a quarter).
  const k = (4 / 3) * Math.tan(step / 4);
  const at = (t: number) => [x + rx * Math.cos(t), y + ry * Math.sin(t)] as const;
  const along = (t: number) => [-rx * Math.sin(t) * k, ry * Math.cos(t) * k] as const;
  return {
    from: at(from),
    to: Array.from({ length: n }, (_, i) => {
      const [a, b] = [from + i * step, from + (i + 1) * step];
      const [p, q, u, v] = [at(a), at(b), along(a), along(b)];
      return [p[0] + u[0], p[1] + u[1], q[0] - v[0], q[1] - v[1], q[0], q[1]];
    }),
  };
}

/** Its lines on its own place, mm: those that are seen, those that are not, and its outline. */
export function linesOfSolid(it: Pick<Solid, 'solid' | 'w' | 'h' | 'd'>): { readonly seen: readonly Way[]; readonly hidden: readonly Way[]; readonly outline: Way } {
  const { w, h, d, solid } = it;
  const hull = hullOf(it);
  if (hull) {
    const at = ([x, y, z]: Vec3): [number, number] => [x + d * z, h - y - d * z];
    const ways = edgesOf(hull, d).map(({ ends: [p, q], isHidden }) => ({ isHidden, way: { from: at(hull.corners[p]), to: [at(hull.corners[q])] } as Way }));
    const outline = solid === 'box' ? [0, 1, 5, 6, 7, 3] : solid === 'prism' ? [0, 1, 4, 5, 2] : [0, 1, 2, 4];
    const corners = outline.map((k) => at(hull.corners[k]));
    return { seen: ways.filter((x) => !x.isHidden).map((x) => x.way), hidden: ways.filter((x) => x.isHidden).map((x) => x.way), outline: { from: corners[0], to: corners.slice(1), closed: true } };
  }
  const [rx, ry] = [w / 2, Math.min(FLAT * w, h / 4)];
  if (solid === 'ball') {
    const r = Math.min(w, h) / 2;
    const round: Way = { ...arc(w / 2, h / 2, r, r, 0, 2 * Math.PI), closed: true };
    return { seen: [round, arc(w / 2, h / 2, r, 2 * FLAT * r, 0, Math.PI)], hidden: [arc(w / 2, h / 2, r, 2 * FLAT * r, Math.PI, 2 * Math.PI)], outline: round };
  }
  if (solid === 'cylinder') {
    const front = arc(rx, h - ry, rx, ry, 0, Math.PI);
    return {
      seen: [{ ...arc(rx, ry, rx, ry, 0, 2 * Math.PI), closed: true }, front, { from: [0, ry], to: [[0, h - ry]] }, { from: [w, ry], to: [[w, h - ry]] }],
      hidden: [arc(rx, h - ry, rx, ry, Math.PI, 2 * Math.PI)],
      outline: { from: [w, h - ry], to: [...front.to, [0, ry], ...arc(rx, ry, rx, ry, Math.PI, 2 * Math.PI).to], closed: true },
    };
  }
  // Its sides touch the base where a line through the tip is tangent to the ellipse: sin t = -ry over the height of the tip above the middle of the base.
  const t = Math.asin(-ry / (h - ry));
  const front = arc(rx, h - ry, rx, ry, t, Math.PI - t);
  const end = front.to[front.to.length - 1].slice(-2);
  return { seen: [front, { from: [rx, 0], to: [front.from] }, { from: [rx, 0], to: [end] }], hidden: [arc(rx, h - ry, rx, ry, Math.PI - t, 2 * Math.PI + t)], outline: { from: [rx, 0], to: [front.from, ...front.to], closed: true } };
}

function boxOf(it: Pick<Solid, 'm' | 'w' | 'h'>): Box {
  const corners = [[0, 0], [it.w, 0], [it.w, it.h], [0, it.h]].map(([x, y]) => apply(affineOf(it.m), x, y));
  const [xs, ys] = [corners.map((c) => c[0]), corners.map((c) => c[1])];
  return [Math.min(...xs), Math.min(...ys), Math.max(...xs), Math.max(...ys)];
}

export const makeSolid = (it: Omit<Solid, 'kind' | 'pts' | 'box' | 'ms'>): Solid => Object.freeze({ ...it, kind: 'solid', pts: NO_POINTS, box: boxOf(it), ms: 0 });

/** The solid that a closed shape stands for: a box and a prism have it as their front, the others stand where it does. */
export function solidOver(shape: Shape, solid: SolidName, rest: Omit<Solid, 'kind' | 'pts' | 'box' | 'ms' | 'solid' | 'm' | 'w' | 'h' | 'd'>): Solid {
  const [l, t, r, b] = outlineBox(shape);
  const [W, H] = [Math.max(1, r - l), Math.max(1, b - t)];
  const d = DEPTH * Math.min(W, H);
  const hasFront = solid === 'box' || solid === 'prism';
  return makeSolid({ ...rest, solid, d: hasFront || solid === 'pyramid' ? d : 0, m: hasFront ? [1, 0, 0, 1, l, t - d] : [1, 0, 0, 1, l, t], w: hasFront ? W + d : W, h: hasFront ? H + d : H });
}

/** What a closed shape becomes when it is held on, one after the other. */
export const HELD: Partial<Record<Shape['name'], readonly SolidName[]>> = { square: ['box', 'prism'], rectangle: ['box', 'prism'], circle: ['ball'], ellipse: ['cylinder', 'cone'], triangle: ['pyramid', 'cone', 'prism'] };

/** Every line of it in short pieces, mm of the page. */
function pieces(it: Solid): (readonly [number, number])[][] {
  const { seen, hidden } = linesOfSolid(it);
  const to = affineOf(it.m);
  return [...seen, ...hidden].map((way) => {
    const { from, to: parts } = mapWay(to, way);
    const out: [number, number][] = [[from[0], from[1]]];
    for (const p of parts) {
      const [x, y] = out[out.length - 1];
      if (p.length === 2) out.push([p[0], p[1]]);
      else for (let i = 1; i <= 8; i++) {
        const [u, v] = [i / 8, 1 - i / 8];
        out.push([v ** 3 * x + 3 * v * v * u * p[0] + 3 * v * u * u * p[2] + u ** 3 * p[4], v ** 3 * y + 3 * v * v * u * p[1] + 3 * v * u * u * p[3] + u ** 3 * p[5]]);
      }
    }
    return out;
  });
}

const nearest = (it: Solid, x: number, y: number): number =>
  Math.min(
    ...pieces(it).flatMap((line) =>
      line.slice(1).map(([bx, by], i) => {
        const [ax, ay] = line[i];
        const l2 = (bx - ax) ** 2 + (by - ay) ** 2;
        const u = l2 ? Math.min(1, Math.max(0, ((x - ax) * (bx - ax) + (y - ay) * (by - ay)) / l2)) : 0;
        return Math.hypot(x - ax - u * (bx - ax), y - ay - u * (by - ay));
      }),
    ),
  );

const isWithin = ({ m, w, h }: Solid, x: number, y: number): boolean => {
  const [u, v] = within(m, x, y);
  return u >= 0 && v >= 0 && u <= w && v <= h;
};

export const solidKind: Kind<Solid> = {
  schema,
  layer: () => 'thing',
  reach: (it) => it.width,
  distance: (it, x, y) => (isWithin(it, x, y) ? 0 : Math.max(0.01, distanceToBox(it.box, x, y))),
  ...takenWhole,
  // It goes as a whole when one of its lines is rubbed; what is written on it can be rubbed out without it.
  isCrossed: (it, { x0, y0, x1, y1, radius }: Rub) => {
    const n = Math.max(1, Math.ceil(Math.hypot(x1 - x0, y1 - y0)));
    for (let i = 0; i <= n; i++) if (nearest(it, x0 + ((x1 - x0) * i) / n, y0 + ((y1 - y0) * i) / n) <= radius + it.width / 2) return true;
    return false;
  },
  rubbed: (it, rub) => (solidKind.isCrossed(it, rub) ? [] : null),
  map: (it, m) => makeSolid({ ...it, m: matrixBy(it.m, m) }),
  figures(it): readonly Figure[] {
    const to = affineOf(it.m);
    const { seen, hidden, outline } = linesOfSolid(it);
    return [
      ...(it.fill ? [{ ways: [mapWay(to, outline)], fill: it.fill }] : []),
      { ways: hidden.map((l) => mapWay(to, l)), line: it.color, width: THIN * it.width, dash: DASH },
      { ways: seen.map((l) => mapWay(to, l)), line: it.color, width: it.width },
    ];
  },
  read(base, fields) {
    const known = schema.safeParse(fields);
    return known.success ? makeSolid({ ...base, ...(known.data as unknown as Omit<Solid, keyof PlacedBase | 'kind' | 'pts'>) }) : null;
  },
  isDecoration: () => true,
};
