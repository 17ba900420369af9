/**
 * Connecting lines that find their own way: from the side of one shape to the side of another that lies nearest to it, straight, or in level and upright runs that
 * go round whatever stands between. All in mm.
 */
import TinyQueue from 'tinyqueue';
import { endsOf, isOpen, isRound, outlineBox, pointAt, type Hold, type Shape, type Vec } from './shape';

/** From a shape to the first bend, and to what is gone round, mm. */
const GAP = 4;
/** A bend is as bad as so long a way, mm. */
const BEND = 12;
/** No more shapes than this are gone round, the nearest ones. */
const MOST = 16;

/** The middle of a side, or a corner of a diamond: `u` along the outline, and the way out of the shape there, level or upright. */
interface Side {
  readonly u: number;
  readonly at: Vec;
  readonly way: Vec;
}
type Rect = readonly [number, number, number, number];

/** Where lines begin at a closed shape. */
export function sidesOf(shape: Shape): readonly Side[] {
  const n = isRound(shape) ? 4 : shape.at.length;
  const half = isRound(shape) || shape.name === 'diamond' ? 0 : 0.5;
  const [l, t, r, b] = outlineBox(shape);
  const m: Vec = [(l + r) / 2, (t + b) / 2];
  return Array.from({ length: n }, (_, k) => {
    const u = (k + half) / n;
    const at = pointAt(shape, u);
    const [dx, dy] = [(at[0] - m[0]) / (r - l || 1), (at[1] - m[1]) / (b - t || 1)];
    return { u, at, way: Math.abs(dx) >= Math.abs(dy) ? [Math.sign(dx), 0] : [0, Math.sign(dy)] };
  });
}

/** Where an end may be: at a side of what it holds, or where it is. */
const startsOf = (held: Shape | undefined, end: Vec): readonly (Side | { readonly u?: undefined; readonly at: Vec; readonly way: null })[] => (held ? sidesOf(held) : [{ at: end, way: null }]);

/** The line as it runs between what it holds. `shapeOf`: shapes by their strokes' ids; `others`: closed shapes that a bent line goes round. */
export function connected(shape: Shape, shapeOf: (id: string) => Shape | undefined, others: readonly Shape[] = []): Shape {
  const [a, b] = endsOf(shape);
  const [from, to] = [shape.from && shapeOf(shape.from.to), shape.to && shapeOf(shape.to.to)];
  const hold = (was: Hold | undefined, u: number | undefined): Hold | undefined => (was && u !== undefined ? { ...was, u } : was);
  if (shape.name === 'elbow') {
    const found = route(startsOf(from, a), startsOf(to, b), [from, to].flatMap((s) => (s ? [outlineBox(s)] : [])), others.map(outlineBox));
    const [f, t] = [hold(shape.from, found.from), hold(shape.to, found.to)];
    return { ...shape, at: found.at, ...(f ? { from: f } : {}), ...(t ? { to: t } : {}) };
  }
  if (!shape.sides || (!from && !to)) return shape;
  let best: { d: number; a: Vec; b: Vec; u?: number; v?: number } | null = null;
  for (const p of startsOf(from, a)) for (const q of startsOf(to, b)) {
    const d = Math.hypot(p.at[0] - q.at[0], p.at[1] - q.at[1]);
    if (!best || d < best.d) best = { d, a: p.at, b: q.at, u: p.u, v: q.u };
  }
  const [f, t] = [hold(shape.from, best!.u), hold(shape.to, best!.v)];
  return { ...shape, at: [best!.a, ...shape.at.slice(1, -1), best!.b], ...(f ? { from: f } : {}), ...(t ? { to: t } : {}) };
}

const grown = ([l, t, r, b]: Rect, by: number): Rect => [l - by, t - by, r + by, b + by];
/** From one box to another, 0 where they meet. */
const between = (p: Rect, q: Rect): number => Math.max(q[0] - p[2], p[0] - q[2], q[1] - p[3], p[1] - q[3], 0);
/** A level or upright run goes through the inside of a box. */
const crosses = ([l, t, r, b]: Rect, [x1, y1]: Vec, [x2, y2]: Vec): boolean => Math.min(x1, x2) < r - 1e-6 && Math.max(x1, x2) > l + 1e-6 && Math.min(y1, y2) < b - 1e-6 && Math.max(y1, y2) > t + 1e-6;

interface State {
  readonly i: number;
  readonly j: number;
  /** The way it came, -1..1; none yet at a free end. */
  readonly way: Vec | null;
  readonly cost: number;
  readonly u: number | undefined;
  readonly before: State | null;
}

/** The best way in level and upright runs: short, with few bends, through none of the boxes. Where there is none it goes through. */
function route(from: ReturnType<typeof startsOf>, to: ReturnType<typeof startsOf>, own: readonly Rect[], all: readonly Rect[]): { at: readonly Vec[]; from: number | undefined; to: number | undefined } {
  const gap = Math.max(0.5, Math.min(GAP, own.length === 2 ? between(own[0], own[1]) / 3 : GAP));
  const out = (s: (typeof from)[number]): Vec => (s.way ? [s.at[0] + gap * s.way[0], s.at[1] + gap * s.way[1]] : s.at);
  const [starts, ends] = [from.map(out), to.map(out)];
  const area = [...starts, ...ends].reduce<Rect>(([l, t, r, b], [x, y]) => [Math.min(l, x), Math.min(t, y), Math.max(r, x), Math.max(b, y)], [Infinity, Infinity, -Infinity, -Infinity]);
  // A frame around both ends is no obstacle, and one around one of them cannot be gone round.
  const isAround = ([l, t, r, b]: Rect) => [...from, ...to].some(({ at: [x, y] }) => x > l && x < r && y > t && y < b);
  const others = [...all].filter((o) => !own.some((s) => s.every((v, k) => v === o[k])) && !isAround(o)).sort((p, q) => between(p, area) - between(q, area)).slice(0, MOST);
  const walls = [...own.map((s) => grown(s, gap - 0.01)), ...others.map((o) => grown(o, gap - 0.01))];
  const lines = (axis: 0 | 1) => {
    const places = [...[...starts, ...ends].map((p) => p[axis]), ...[...own, ...others].flatMap((o) => [o[axis] - gap, o[axis + 2] + gap])];
    // Halfway between both shapes a bend looks best.
    if (own.length === 2) places.push((Math.max(own[0][axis], own[1][axis]) + Math.min(own[0][axis + 2], own[1][axis + 2])) / 2);
    return [...new Set(places.map((v) => Math.round(v * 1000) / 1000))].sort((p, q) => p - q);
  };
  const [xs, ys] = [lines(0), lines(1)];
  const index = (list: readonly number[], v: number) => list.indexOf(Math.round(v * 1000) / 1000);
  const place = (i: number, j: number): Vec => [xs[i], ys[j]];
  const goals = new Map<string, { readonly side: (typeof to)[number] }[]>();
  ends.forEach(([x, y], k) => {
    const key = `${index(xs, x)},${index(ys, y)}`;
    goals.set(key, [...(goals.get(key) ?? []), { side: to[k] }]);
  });
  const queue = new TinyQueue<State & { readonly done?: (typeof to)[number] }>([], (p, q) => p.cost - q.cost);
  starts.forEach(([x, y], k) => {
    const blocked = walls.some((w) => crosses(w, [x - 1e-3, y - 1e-3], [x + 1e-3, y + 1e-3]));
    if (!blocked) queue.push({ i: index(xs, x), j: index(ys, y), way: from[k].way, cost: 0, u: from[k].u, before: null });
  });
  const seen = new Set<string>();
  for (let at = queue.pop(); at; at = queue.pop()) {
    if (at.done) return { at: runsOf(at, from, at.done, place), from: at.u, to: at.done.u };
    const key = `${at.i},${at.j},${at.way?.join() ?? ''}`;
    if (seen.has(key)) continue;
    seen.add(key);
    for (const { side } of goals.get(`${at.i},${at.j}`) ?? []) {
      const turns = side.way && at.way ? (at.way[0] === -side.way[0] && at.way[1] === -side.way[1] ? 0 : at.way[0] === side.way[0] && at.way[1] === side.way[1] ? Infinity : 1) : 0;
      if (turns < 2) queue.push({ ...at, cost: at.cost + BEND * turns, done: side });
    }
    for (const [dx, dy] of [[1, 0], [-1, 0], [0, 1], [0, -1]]) {
      const [i, j] = [at.i + dx, at.j + dy];
      if (i < 0 || j < 0 || i >= xs.length || j >= ys.length || (at.way && at.way[0] === -dx && at.way[1] === -dy)) continue;
      const [p, q] = [place(at.i, at.j), place(i, j)];
      if (walls.some((w) => crosses(w, p, q))) continue;
      const bends = at.way && (at.way[0] !== dx || at.way[1] !== dy) ? 1 : 0;
      queue.push({ i, j, way: [dx, dy], cost: at.cost + Math.abs(q[0] - p[0]) + Math.abs(q[1] - p[1]) + BEND * bends, u: at.u, before: at });
    }
  }
  return plain(from, to);
}

/** The way found, from side to side, without places that are no bends. */
function runsOf(last: State, from: ReturnType<typeof startsOf>, end: ReturnType<typeof startsOf>[number], place: (i: number, j: number) => Vec): Vec[] {
  const back: Vec[] = [];
  for (let at: State | null = last; at; at = at.before) back.push(place(at.i, at.j));
  const begin = from.find((s) => s.u === last.u)!;
  return corners([begin.at, ...back.reverse(), end.at]);
}

/** Without places that lie on the way between their neighbours, and without those that lie on each other. */
function corners(path: readonly Vec[]): Vec[] {
  const out: Vec[] = [];
  for (const p of path) {
    const q = out[out.length - 1];
    if (q && Math.hypot(p[0] - q[0], p[1] - q[1]) < 0.005) continue;
    const o = out[out.length - 2];
    if (o && Math.abs((q[0] - o[0]) * (p[1] - q[1]) - (q[1] - o[1]) * (p[0] - q[0])) < 1e-6) out.pop();
    out.push(p);
  }
  return out.length > 1 ? out : [path[0], path[path.length - 1]];
}

/** Where there is no way between: one bend in the middle, from the sides that lie nearest. */
function plain(from: ReturnType<typeof startsOf>, to: ReturnType<typeof startsOf>): ReturnType<typeof route> {
  const pairs = from.flatMap((p) => to.map((q) => [p, q] as const));
  const [p, q] = pairs.reduce((best, pair) => (Math.hypot(pair[0].at[0] - pair[1].at[0], pair[0].at[1] - pair[1].at[1]) < Math.hypot(best[0].at[0] - best[1].at[0], best[0].at[1] - best[1].at[1]) ? pair : best));
  const x = (p.at[0] + q.at[0]) / 2;
  return { at: corners([p.at, [x, p.at[1]], [x, q.at[1]], q.at]), from: p.u, to: q.u };
}

/** Whether a bent line has to look for its way again because a closed shape came to lie where it did not, or went. */
export function concerns(line: Shape, moved: Shape): boolean {
  if (line.name !== 'elbow' || isOpen(moved)) return false;
  const [xs, ys] = [line.at.map((p) => p[0]), line.at.map((p) => p[1])];
  return between([Math.min(...xs), Math.min(...ys), Math.max(...xs), Math.max(...ys)], outlineBox(moved)) < 2 * GAP;
}
