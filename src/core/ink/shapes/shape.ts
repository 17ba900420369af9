/**
 * Clean shapes. A shape is a stroke whose points run along it, at the pace at which it was drawn, together with the few corners that
 * say what it is; moving, erasing, replaying and exporting need only the points.
 */
import { PRESSURE_MAX, type Points } from '../points';

export type Vec = readonly [number, number];

export const SHAPE_NAMES = ['line', 'arrow', 'curve', 'elbow', 'circle', 'ellipse', 'square', 'rectangle', 'triangle', 'diamond', 'polygon'] as const;
export type ShapeName = (typeof SHAPE_NAMES)[number];

/** Where the end of a line holds on to another shape: its stroke's id, and a place 0..1 along that shape. */
export interface Hold {
  readonly to: string;
  readonly u: number;
}

export interface Shape {
  readonly name: ShapeName;
  /**
   * mm on the page. Line and arrow: both ends. Curve: start, two control points, end (cubic Bézier). Elbow: a line in level and upright runs, by its ends and bends. Circle and ellipse: middle, end of
   * one half-axis, end of the other. All others: the corners in turn.
   */
  readonly at: readonly Vec[];
  /** Arrow heads of lines and curves. */
  readonly heads?: 'start' | 'end' | 'both';
  readonly from?: Hold;
  readonly to?: Hold;
  /** Its ends keep to the sides of what they hold on to that lie nearest to each other. */
  readonly sides?: true;
}

export const isRound = (s: Shape): boolean => s.name === 'circle' || s.name === 'ellipse';
export const isStraight = (s: Shape): boolean => s.name === 'line' || s.name === 'arrow';
/** Lines and curves have ends; all others close. */
export const isOpen = (s: Shape): boolean => isStraight(s) || s.name === 'curve' || s.name === 'elbow';

/** Both ends of a line or curve. */
export const endsOf = (shape: Shape): [Vec, Vec] => [shape.at[0], shape.at[shape.at.length - 1]];

/** The line with its ends set where they are said to be; a curve keeps its bend. */
export function withEnds(shape: Shape, from: Vec, to: Vec): Shape {
  if (isStraight(shape)) return { ...shape, at: [from, to] };
  if (shape.name === 'elbow') return { ...shape, at: [from, ...shape.at.slice(1, -1), to] };
  const [a, b] = endsOf(shape);
  const d = (p: Vec, q: Vec): Vec => [q[0] - p[0], q[1] - p[1]];
  const [da, db] = [d(a, from), d(b, to)];
  return { ...shape, at: [from, [shape.at[1][0] + da[0], shape.at[1][1] + da[1]], [shape.at[2][0] + db[0], shape.at[2][1] + db[1]], to] };
}

export const mapShape = (shape: Shape, to: (x: number, y: number) => Vec): Shape => ({ ...shape, at: shape.at.map(([x, y]) => to(x, y)) });

const mix = (a: Vec, b: Vec, u: number): Vec => [a[0] + u * (b[0] - a[0]), a[1] + u * (b[1] - a[1])];
const apart = (a: Vec, b: Vec): number => Math.hypot(b[0] - a[0], b[1] - a[1]);

/** The box of a shape's outline, mm. */
export function outlineBox(shape: Shape): readonly [number, number, number, number] {
  if (isRound(shape)) {
    const [m, a, b] = shape.at;
    // The extent of an ellipse whose half-axes lie slanting.
    const [w, h] = [Math.hypot(a[0] - m[0], b[0] - m[0]), Math.hypot(a[1] - m[1], b[1] - m[1])];
    return [m[0] - w, m[1] - h, m[0] + w, m[1] + h];
  }
  const [xs, ys] = [shape.at.map((p) => p[0]), shape.at.map((p) => p[1])];
  return [Math.min(...xs), Math.min(...ys), Math.max(...xs), Math.max(...ys)];
}

/** The ways from the beginning of a bent line to its ends and bends, mm. */
const waysOf = (at: readonly Vec[]): number[] => at.reduce<number[]>((ways, p, i) => [...ways, i ? ways[i - 1] + apart(at[i - 1], p) : 0], []);

/** The place `u` (0..1, of closed shapes taken round) along a shape, mm. */
export function pointAt(shape: Shape, u: number): Vec {
  const { at } = shape;
  if (isStraight(shape)) return mix(at[0], at[1], u);
  if (shape.name === 'elbow') {
    const ways = waysOf(at);
    const way = u * ways[ways.length - 1];
    const k = Math.max(1, ways.findIndex((w, i) => i > 0 && w >= way - 1e-9));
    return mix(at[k - 1], at[k], ways[k] > ways[k - 1] ? Math.min(1, Math.max(0, (way - ways[k - 1]) / (ways[k] - ways[k - 1]))) : 0);
  }
  if (shape.name === 'curve') {
    const v = 1 - u;
    const [a, b, c, d] = [v * v * v, 3 * v * v * u, 3 * v * u * u, u * u * u];
    return [a * at[0][0] + b * at[1][0] + c * at[2][0] + d * at[3][0], a * at[0][1] + b * at[1][1] + c * at[2][1] + d * at[3][1]];
  }
  if (isRound(shape)) {
    const [m, p, q] = at;
    const [c, s] = [Math.cos(2 * Math.PI * u), Math.sin(2 * Math.PI * u)];
    return [m[0] + c * (p[0] - m[0]) + s * (q[0] - m[0]), m[1] + c * (p[1] - m[1]) + s * (q[1] - m[1])];
  }
  const n = at.length;
  const w = (((u % 1) + 1) % 1) * n;
  const k = Math.min(n - 1, Math.floor(w));
  return mix(at[k], at[(k + 1) % n], w - k);
}

/** The place along a shape nearest to a point, 0..1; and how far away it is, mm. */
export function nearestOn(shape: Shape, x: number, y: number): { u: number; d: number } {
  const { at } = shape;
  const onSegment = (a: Vec, b: Vec): { u: number; d: number } => {
    const [dx, dy] = [b[0] - a[0], b[1] - a[1]];
    const l2 = dx * dx + dy * dy;
    const u = l2 ? Math.min(1, Math.max(0, ((x - a[0]) * dx + (y - a[1]) * dy) / l2)) : 0;
    return { u, d: Math.hypot(x - a[0] - u * dx, y - a[1] - u * dy) };
  };
  if (isStraight(shape)) return onSegment(at[0], at[1]);
  if (shape.name === 'elbow') {
    const ways = waysOf(at);
    return at.slice(1).reduce((best, q, i) => {
      const s = onSegment(at[i], q);
      return s.d < best.d ? { u: (ways[i] + s.u * (ways[i + 1] - ways[i])) / (ways[ways.length - 1] || 1), d: s.d } : best;
    }, { u: 0, d: Infinity });
  }
  if (!isRound(shape) && shape.name !== 'curve') {
    let best = { u: 0, d: Infinity };
    at.forEach((a, k) => {
      const s = onSegment(a, at[(k + 1) % at.length]);
      if (s.d < best.d) best = { u: (k + s.u) / at.length, d: s.d };
    });
    return best;
  }
  // Curved: the nearest of 96 places, then halved in on.
  let best = { u: 0, d: Infinity };
  const look = (u: number) => {
    const [px, py] = pointAt(shape, u);
    const d = Math.hypot(x - px, y - py);
    if (d < best.d) best = { u, d };
  };
  for (let i = 0; i <= 96; i++) look(i / 96);
  for (let step = 1 / 192; step > 1e-5; step /= 2) {
    const { u } = best;
    for (const v of [u - step, u + step]) if (isRound(shape) || (v >= 0 && v <= 1)) look(v);
  }
  return { u: ((best.u % 1) + 1) % 1 === 0 && shape.name === 'curve' ? best.u : isRound(shape) ? ((best.u % 1) + 1) % 1 : best.u, d: best.d };
}

/** Half the way of a corner's two guards, mm: with them a smoothed line still turns sharply there. */
const GUARD = 0.02;
/** Steps of a full turn of a curved line. */
const TURN_STEPS = 90;

/**
 * Points along a shape, drawn at the pace of the hand: where the hand was after a share of its way, the shape is after the same share.
 * Every drawn point is there with its time; corners and the bends of curves are added in between.
 */
export function pointsAlong(shape: Shape, drawn: Points): Points {
  const path = outlinePath(shape, drawn);
  const ways = [0];
  for (let i = 1; i < path.length; i++) ways.push(ways[i - 1] + apart(path[i - 1].at, path[i].at));
  const total = ways[ways.length - 1] || 1;
  const shares = [0];
  for (let i = 1; i < drawn.n; i++) shares.push(shares[i - 1] + Math.hypot(drawn.xy[2 * i] - drawn.xy[2 * i - 2], drawn.xy[2 * i + 1] - drawn.xy[2 * i - 1]));
  const all = shares[shares.length - 1] || 1;
  const out: { share: number; at: Vec }[] = [];
  const place = (way: number): Vec => {
    let k = 1;
    while (k < ways.length - 1 && ways[k] < way) k++;
    if (ways.length < 2) return path[0].at;
    const length = ways[k] - ways[k - 1];
    return mix(path[k - 1].at, path[k].at, length ? Math.min(1, Math.max(0, (way - ways[k - 1]) / length)) : 0);
  };
  for (const s of shares) out.push({ share: s / all, at: place((s / all) * total) });
  path.forEach((p, i) => {
    if (i === 0 || i === path.length - 1) return;
    out.push({ share: ways[i] / total, at: p.at });
    if (p.corner) for (const way of [ways[i] - GUARD, ways[i] + GUARD]) out.push({ share: way / total, at: place(way) });
  });
  out.sort((a, b) => a.share - b.share);
  const n = out.length;
  const points: Points = { n, xy: new Int32Array(2 * n), p: new Uint8Array(n).fill(Math.round(PRESSURE_MAX / 2)), t: new Int32Array(n) };
  let k = 0;
  out.forEach(({ share, at }, i) => {
    points.xy[2 * i] = Math.round(at[0] * 100);
    points.xy[2 * i + 1] = Math.round(at[1] * 100);
    while (k < drawn.n - 2 && shares[k + 1] / all < share) k++;
    const [s0, s1] = [shares[k] / all, (shares[Math.min(k + 1, drawn.n - 1)] ?? 0) / all];
    const u = s1 > s0 ? Math.min(1, Math.max(0, (share - s0) / (s1 - s0))) : 0;
    points.t[i] = Math.round(drawn.t[k] + u * (drawn.t[Math.min(k + 1, drawn.n - 1)] - drawn.t[k]));
  });
  return points;
}

/** The shape from where the hand began, in the direction it went. */
function outlinePath(shape: Shape, drawn: Points): { at: Vec; corner: boolean }[] {
  const start: Vec = [drawn.xy[0] / 100, drawn.xy[1] / 100];
  if (isStraight(shape) || shape.name === 'elbow') return shape.at.map((at, i) => ({ at, corner: i > 0 && i < shape.at.length - 1 }));
  if (shape.name === 'curve') return Array.from({ length: TURN_STEPS / 2 + 1 }, (_, i) => ({ at: pointAt(shape, i / (TURN_STEPS / 2)), corner: false }));
  let area = 0;
  for (let i = 0; i < drawn.n; i++) {
    const k = (i + 1) % drawn.n;
    area += drawn.xy[2 * i] * drawn.xy[2 * k + 1] - drawn.xy[2 * k] * drawn.xy[2 * i + 1];
  }
  const { u } = nearestOn(shape, start[0], start[1]);
  const corners = isRound(shape) ? [shape.at[1], shape.at[2], [2 * shape.at[0][0] - shape.at[1][0], 2 * shape.at[0][1] - shape.at[1][1]] as Vec] : shape.at;
  let turn = 0;
  corners.forEach((a, i) => {
    const b = corners[(i + 1) % corners.length];
    turn += a[0] * b[1] - b[0] * a[1];
  });
  const way = Math.sign(area || 1) * Math.sign(turn || 1);
  if (isRound(shape)) return Array.from({ length: TURN_STEPS + 1 }, (_, i) => ({ at: pointAt(shape, u + (way * i) / TURN_STEPS), corner: false }));
  const n = shape.at.length;
  const path: { at: Vec; corner: boolean }[] = [{ at: pointAt(shape, u), corner: false }];
  for (let i = 1; i <= n; i++) {
    const k = way > 0 ? Math.floor(u * n) + i : Math.ceil(u * n) - i;
    path.push({ at: shape.at[((k % n) + n) % n], corner: true });
  }
  path.push({ at: pointAt(shape, u), corner: true });
  return path.filter((p, i) => i === 0 || i === path.length - 1 || apart(p.at, path[i - 1].at) > 1e-6);
}

/** Of a line that finds its way anew no more places are kept than say at which pace it was drawn. */
const PACE = 24;

function thinned({ n, xy, p, t }: Points): Points {
  const of = n <= PACE ? null : Array.from({ length: PACE }, (_, i) => Math.round((i * (n - 1)) / (PACE - 1)));
  return of ? { n: PACE, xy: Int32Array.from(of.flatMap((i) => [xy[2 * i], xy[2 * i + 1]])), p: Uint8Array.from(of, (i) => p[i]), t: Int32Array.from(of, (i) => t[i]) } : { n, xy, p, t };
}

/** Points that ran along one shape, on another of the same kind. */
export function pointsMoved(points: Points, from: Shape, to: Shape): Points {
  if (from.name === 'elbow' || to.name === 'elbow') return pointsAlong(to, thinned(points));
  const xy = new Int32Array(2 * points.n);
  for (let i = 0; i < points.n; i++) {
    const [x, y] = pointAt(to, nearestOn(from, points.xy[2 * i] / 100, points.xy[2 * i + 1] / 100).u);
    xy[2 * i] = Math.round(x * 100);
    xy[2 * i + 1] = Math.round(y * 100);
  }
  return { ...points, xy };
}

/** Where a shape can be taken hold of, mm. */
export function handlesOf(shape: Shape): readonly Vec[] {
  // The bends of a line that finds its own way are not set by hand.
  if (shape.name === 'elbow') return endsOf(shape);
  if (!isRound(shape)) return shape.at;
  const [m, a, b] = shape.at;
  return [a, b, [2 * m[0] - a[0], 2 * m[1] - a[1]], [2 * m[0] - b[0], 2 * m[1] - b[1]]];
}

/** The shape with one handle moved; squares stay square, circles round, rectangles and diamonds keep their right angles. */
export function dragHandle(shape: Shape, handle: number, to: Vec): Shape {
  const { at, name } = shape;
  if (name === 'elbow') return { ...shape, at: handle ? [...at.slice(0, -1), to] : [to, ...at.slice(1)] };
  if (isRound(shape)) {
    const [m, a, b] = at;
    const end: Vec = handle < 2 ? to : [2 * m[0] - to[0], 2 * m[1] - to[1]];
    const other = handle % 2 ? a : b;
    const [dx, dy] = [end[0] - m[0], end[1] - m[1]];
    const length = Math.max(0.5, Math.hypot(dx, dy));
    const k = name === 'circle' ? 1 : Math.max(0.5, apart(m, other)) / length;
    const side: Vec = handle % 2 ? [m[0] + dy * k, m[1] - dx * k] : [m[0] - dy * k, m[1] + dx * k];
    return { ...shape, at: handle % 2 ? [m, side, end] : [m, end, side] };
  }
  if (name === 'square' || name === 'rectangle') {
    const o = at[(handle + 2) % 4];
    const next = at[(handle + 3) % 4];
    const l = apart(o, next) || 1;
    const [ux, uy] = [(next[0] - o[0]) / l, (next[1] - o[1]) / l];
    // Along the side from the fixed corner, and square to it.
    let w = (to[0] - o[0]) * ux + (to[1] - o[1]) * uy;
    let h = -(to[0] - o[0]) * uy + (to[1] - o[1]) * ux;
    [w, h] = [atLeast(w), atLeast(h)];
    if (name === 'square') {
      const side = Math.max(Math.abs(w), Math.abs(h));
      [w, h] = [Math.sign(w) * side, Math.sign(h) * side];
    }
    const corner = (a: number, b: number): Vec => [o[0] + a * ux - b * uy, o[1] + a * uy + b * ux];
    const made = [...at];
    made[(handle + 3) % 4] = corner(w, 0);
    made[handle] = corner(w, h);
    made[(handle + 1) % 4] = corner(0, h);
    return { ...shape, at: made };
  }
  if (name === 'diamond') {
    const m: Vec = [(at[0][0] + at[2][0]) / 2, (at[0][1] + at[2][1]) / 2];
    const [dx, dy] = [at[handle][0] - m[0], at[handle][1] - m[1]];
    const l = Math.hypot(dx, dy) || 1;
    const k = Math.max(0.5, ((to[0] - m[0]) * dx + (to[1] - m[1]) * dy) / l) / l;
    const made = [...at];
    made[handle] = [m[0] + k * dx, m[1] + k * dy];
    made[(handle + 2) % 4] = [m[0] - k * dx, m[1] - k * dy];
    return { ...shape, at: made };
  }
  return { ...shape, at: at.map((p, i) => (i === handle ? to : p)) };
}

const atLeast = (v: number): number => (Math.abs(v) < 0.5 ? (v < 0 ? -0.5 : 0.5) : v);

/** Angle of a direction against the line of writing, degrees counter-clockwise, 0..360. */
export const angleOf = (a: Vec, b: Vec): number => ((Math.atan2(a[1] - b[1], b[0] - a[0]) * 180) / Math.PI + 360) % 360;

/** Length and angle, or width and height, mm, in words for the screen. */
export function sizeText(shape: Shape): string {
  const mm = (v: number) => `${v.toFixed(1)} mm`;
  if (isOpen(shape)) {
    const [a, b] = [shape.at[0], shape.at[shape.at.length - 1]];
    return `${mm(apart(a, b))}, ${angleOf(a, b).toFixed(0)}°`;
  }
  if (isRound(shape)) {
    const [w, h] = [2 * apart(shape.at[0], shape.at[1]), 2 * apart(shape.at[0], shape.at[2])];
    return shape.name === 'circle' ? `⌀ ${mm(w)}` : `${w.toFixed(1)} × ${mm(h)}`;
  }
  if (shape.name === 'square' || shape.name === 'rectangle') {
    const [a, b, c] = shape.at;
    const sides = [apart(a, b), apart(b, c)];
    // Width first, whichever side was drawn first.
    if (Math.abs(b[1] - a[1]) > Math.abs(b[0] - a[0])) sides.reverse();
    return `${sides[0].toFixed(1)} × ${mm(sides[1])}`;
  }
  if (shape.name === 'diamond') return `${apart(shape.at[0], shape.at[2]).toFixed(1)} × ${mm(apart(shape.at[1], shape.at[3]))}`;
  const xs = shape.at.map((p) => p[0]);
  const ys = shape.at.map((p) => p[1]);
  return `${(Math.max(...xs) - Math.min(...xs)).toFixed(1)} × ${mm(Math.max(...ys) - Math.min(...ys))}`;
}

/** Within so many degrees of level, upright and 45 degrees a shape is set so. */
const SNAP_DEGREES = 6;

const snapTurn = (angle: number): number => {
  const near = Math.round(angle / 45) * 45;
  return Math.abs(angle - near) <= SNAP_DEGREES ? near - angle : 0;
};

/** The shape turned so that it stands level, upright or at 45 degrees, if it nearly does. */
export function snapShape(shape: Shape): Shape {
  const { at, name } = shape;
  const line = name === 'triangle' || name === 'polygon' ? longestSide(at) : name === 'diamond' ? ([at[0], at[2]] as const) : name === 'curve' || name === 'elbow' ? null : ([at[0], at[1]] as const);
  if (!line || name === 'circle') return shape;
  const turn = (-snapTurn(angleOf(line[0], line[1])) * Math.PI) / 180;
  if (!turn) return shape;
  const [mx, my] = isStraight(shape) ? at[0] : isRound(shape) ? at[0] : [at.reduce((s, p) => s + p[0], 0) / at.length, at.reduce((s, p) => s + p[1], 0) / at.length];
  const [c, s] = [Math.cos(turn), Math.sin(turn)];
  return mapShape(shape, (x, y) => [mx + c * (x - mx) - s * (y - my), my + s * (x - mx) + c * (y - my)]);
}

function longestSide(at: readonly Vec[]): readonly [Vec, Vec] {
  let best: readonly [Vec, Vec] = [at[0], at[1]];
  at.forEach((p, i) => {
    const q = at[(i + 1) % at.length];
    if (apart(p, q) > apart(best[0], best[1])) best = [p, q];
  });
  return best;
}

/** Barbs of the heads of a line, mm: each tip, then the two ends of its barbs. */
export function headsOf(shape: Shape, width: number): readonly (readonly [Vec, Vec, Vec])[] {
  const heads = shape.heads;
  if (!heads || !isOpen(shape)) return [];
  const length = apart(shape.at[0], shape.at[shape.at.length - 1]);
  const barb = headSize(width, length);
  const head = (tip: Vec, from: Vec): readonly [Vec, Vec, Vec] => {
    const a = Math.atan2(from[1] - tip[1], from[0] - tip[0]);
    const end = (turn: number): Vec => [tip[0] + barb * Math.cos(a + turn), tip[1] + barb * Math.sin(a + turn)];
    return [end(0.45), tip, end(-0.45)];
  };
  // At a bent line a head points along its last run, however short that is.
  if (shape.name === 'elbow') {
    const { at } = shape;
    return [...(heads !== 'end' ? [head(at[0], at[1])] : []), ...(heads !== 'start' ? [head(at[at.length - 1], at[at.length - 2])] : [])];
  }
  return [...(heads !== 'end' ? [head(pointAt(shape, 0), pointAt(shape, 0.05))] : []), ...(heads !== 'start' ? [head(pointAt(shape, 1), pointAt(shape, 0.95))] : [])];
}

/** Length of a barb for a pen's width and a line's length, mm. */
const headSize = (width: number, length = Infinity): number => Math.min(Math.max(2.6, 5 * width), Math.max(1.2, 0.4 * length));
