import * as fc from 'fast-check';
import { attach, followers } from '../../note/anchors';
import { makeStroke, pointsOf, reshaped, type Stroke } from '../stroke';
import { connected, sidesOf } from './connect';
import { headsOf, nearestOn, pointAt, pointsAlong, type Shape, type Vec } from './shape';

const box = (l: number, t: number, w: number, h: number): Shape => ({ name: 'rectangle', at: [[l, t], [l + w, t], [l + w, t + h], [l, t + h]] });
const line = (a: Vec, b: Vec): Shape => ({ name: 'line', at: [a, b] });
const strokeOf = (id: string, shape: Shape): Stroke => {
  const drawn = { n: 2, xy: Int32Array.from([...shape.at[0], ...shape.at[shape.at.length - 1]].map((v) => Math.round(100 * v))), p: new Uint8Array(2).fill(128), t: Int32Array.from([0, 400]) };
  return { ...makeStroke(pointsAlong(shape, drawn), { id, page: 'p', pen: { kind: 'ball', color: '#16324f', width: 0.5 }, stamp: null, wall: 1 }), shape };
};

describe('a line between the nearest sides', () => {
  const [a, b] = [box(0, 0, 30, 20), box(60, 4, 30, 20)];
  const shapes = new Map([['a', a], ['b', b]]);
  const held = (name: Shape['name']): Shape => ({ name, at: [[15, 0], [75, 24]], sides: true, from: { to: 'a', u: 0.1 }, to: { to: 'b', u: 0.6 } });

  it('runs from the middle of one to the middle of the other', () => {
    const set = connected(held('line'), (id) => shapes.get(id));
    expect(set.at).toEqual([[30, 10], [60, 14]]);
    for (const [end, of] of [[set.from!, a], [set.to!, b]] as const) expect(nearestOn(of, ...pointAt(of, end.u)).d).toBeCloseTo(0, 9);
  });

  it('goes to the other side when the shape does', () => {
    const below = box(2, 70, 30, 20);
    expect(connected(held('line'), (id) => (id === 'a' ? a : below)).at).toEqual([[15, 20], [17, 70]]);
  });

  it('holds the tips of a diamond and the quarters of a circle', () => {
    expect(sidesOf({ name: 'diamond', at: [[0, 5], [5, 0], [10, 5], [5, 10]] }).map((s) => s.at)).toEqual([[0, 5], [5, 0], [10, 5], [5, 10]]);
    expect(sidesOf({ name: 'circle', at: [[5, 5], [10, 5], [5, 10]] }).map((s) => s.at.map((v) => Math.round(v)))).toEqual([[10, 5], [5, 10], [0, 5], [5, 0]]);
  });
});

/** The least of length and bends over a grid of whole millimetres: every place and way of it, by Dijkstra (Numerische Mathematik 1, 1959). */
function least(size: number, walls: readonly (readonly [number, number, number, number])[], starts: readonly { at: Vec; way: Vec }[], ends: readonly { at: Vec; way: Vec }[], bend: number): number {
  const ways: readonly Vec[] = [[1, 0], [0, 1], [-1, 0], [0, -1]];
  const wayOf = (w: Vec) => ways.findIndex((v) => v[0] === w[0] && v[1] === w[1]);
  const n = size + 1;
  const cost = new Float64Array(n * n * 4).fill(Infinity);
  const buckets: number[][] = [];
  const put = (k: number, c: number) => {
    if (c >= cost[k]) return;
    cost[k] = c;
    (buckets[c] ??= []).push(k);
  };
  const inside = (x: number, y: number, dx: number, dy: number) => walls.some(([l, t, r, b]) => Math.min(x, x + dx) < r && Math.max(x, x + dx) > l && Math.min(y, y + dy) < b && Math.max(y, y + dy) > t);
  for (const { at, way } of starts) put((at[1] * n + at[0]) * 4 + wayOf(way), 0);
  for (let c = 0; c < buckets.length; c++) {
    for (const k of buckets[c] ?? []) {
      if (cost[k] !== c) continue;
      const [d, place] = [k % 4, k >> 2];
      const [x, y] = [place % n, Math.floor(place / n)];
      for (let turn = 0; turn < 4; turn++) {
        if ((turn + 2) % 4 === d) continue;
        const [dx, dy] = ways[turn];
        if (x + dx < 0 || y + dy < 0 || x + dx >= n || y + dy >= n || inside(x, y, dx, dy)) continue;
        put(((y + dy) * n + x + dx) * 4 + turn, c + 1 + (turn === d ? 0 : bend));
      }
    }
  }
  let best = Infinity;
  for (const { at, way } of ends) {
    for (let d = 0; d < 4; d++) {
      const into = (wayOf(way) + 2) % 4;
      if (d === wayOf(way)) continue;
      best = Math.min(best, cost[(at[1] * n + at[0]) * 4 + d] + (d === into ? 0 : bend));
    }
  }
  return best;
}

describe('a bent line', () => {
  const SIZE = 90;
  const rect = ({ at }: Shape) => [at[0][0], at[0][1], at[2][0], at[2][1]] as const;
  // Boxes of even size at even places, apart from each other, so that all sides and bends fall on whole millimetres.
  const layout = fc
    .array(fc.tuple(fc.integer({ min: 5, max: 32 }), fc.integer({ min: 5, max: 32 }), fc.integer({ min: 4, max: 9 }), fc.integer({ min: 3, max: 8 })), { minLength: 3, maxLength: 9 })
    .map((list) => list.reduce<Shape[]>((kept, [x, y, w, h]) => {
      const [l, t, r, b] = [2 * x, 2 * y, 2 * (x + w), 2 * (y + h)];
      const isFree = r < SIZE - 8 && b < SIZE - 8 && kept.map(rect).every((o) => l - o[2] >= 14 || o[0] - r >= 14 || t - o[3] >= 14 || o[1] - b >= 14);
      return isFree ? [...kept, box(l, t, r - l, b - t)] : kept;
    }, []))
    .filter((kept) => kept.length >= 2);

  it('is level and upright, goes through no shape, and is the best there is of length and bends', () => {
    fc.assert(
      fc.property(layout, (shapes) => {
        const [a, b, ...others] = shapes;
        const { at } = connected({ name: 'elbow', at: [[0, 0], [1, 1]], from: { to: 'a', u: 0 }, to: { to: 'b', u: 0 } }, (id) => (id === 'a' ? a : b), shapes);
        let [length, bends] = [0, at.length - 2];
        for (let i = 1; i < at.length; i++) {
          const [[x1, y1], [x2, y2]] = [at[i - 1], at[i]];
          expect(Math.min(Math.abs(x1 - x2), Math.abs(y1 - y2))).toBeLessThan(1e-6);
          length += Math.abs(x1 - x2) + Math.abs(y1 - y2);
          for (const [l, t, r, bottom] of shapes.map(rect)) expect(Math.min(x1, x2) < r - 1e-6 && Math.max(x1, x2) > l + 1e-6 && Math.min(y1, y2) < bottom - 1e-6 && Math.max(y1, y2) > t + 1e-6).toBe(false);
        }
        expect(nearestOn(a, ...at[0]).d).toBeLessThan(1e-6);
        expect(nearestOn(b, ...at[at.length - 1]).d).toBeLessThan(1e-6);
        const out = (s: Shape) => sidesOf(s).map(({ at: [x, y], way }) => ({ at: [x + 4 * way[0], y + 4 * way[1]] as Vec, way }));
        const walls = [a, b, ...others].map(rect).map(([l, t, r, bottom]) => [l - 4, t - 4, r + 4, bottom + 4] as const);
        const best = least(SIZE, walls, out(a), out(b), 12) + 8;
        // The halfway line may fall on half a millimetre; it is never needed for the best.
        expect(length + 12 * bends).toBeCloseTo(best, 3);
      }),
      { numRuns: 60 },
    );
  });

  it('comes to what it holds and to nothing else when a shape moves into its way, and keeps its pace and its id', () => {
    const [a, b, between] = [strokeOf('a', box(0, 40, 20, 20)), strokeOf('b', box(100, 40, 20, 20)), strokeOf('c', box(40, 100, 20, 20))];
    const drawn = strokeOf('l', line([20, 50], [100, 50]));
    const bent = reshaped(drawn, attach({ name: 'elbow', at: [[20, 50], [100, 50]], heads: 'end' }, [a, b, between]));
    expect(bent.shape!.at).toEqual([[20, 50], [100, 50]]);
    const moved = reshaped(between, box(40, 40, 20, 20));
    const [after, ...none] = followers([moved], [a, b, between, bent]);
    expect(none).toEqual([]);
    expect(after.id).toBe('l');
    // Over the tops of all three, or below their feet.
    const [over, foot] = after.shape!.at[0][1] === 40 ? [36, 40] : [64, 60];
    expect(after.shape!.at).toEqual([[10, foot], [10, over], [110, over], [110, foot]]);
    const { n, t } = pointsOf(after);
    expect([t[0], t[n - 1]]).toEqual([0, 400]);
    // Back out of the way it runs as before, and has no more points than it needs.
    let [now] = followers([between], [a, b, moved, after]);
    for (let i = 0; i < 20; i++) [now] = followers([i % 2 ? between : moved], [a, b, i % 2 ? moved : between, now]);
    expect(now.shape!.at).toEqual([[20, 50], [100, 50]]);
    expect(pointsOf(now).n).toBeLessThan(60);
    // Its head points along its last run, however that comes in.
    const [[barb, tip, other]] = headsOf(after.shape!, 0.5);
    expect(tip).toEqual([110, foot]);
    expect(barb[1]).toBeCloseTo(other[1], 9);
    expect(Math.sign(barb[1] - foot)).toBe(Math.sign(over - foot));
  });
});
