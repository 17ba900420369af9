import * as fc from 'fast-check';
import { KINDS, readPlaced } from './kinds';
import { move } from '../../ink/transform';
import { edgesOf, hullOf, linesOfSolid, makeSolid, solidOver, SOLIDS } from './solid';
import type { Way } from './drawn';

const rest = { id: 's', page: 'p', stamp: null, wall: 1, color: '#16324f', width: 0.5 };
const sized = fc.record({ w: fc.double({ min: 10, max: 120, noNaN: true }), h: fc.double({ min: 10, max: 120, noNaN: true }) }).map(({ w, h }) => ({ w, h, d: (0.35 / 1.35) * Math.min(w, h) }));
type P = readonly [number, number, number];

describe('hidden edges', () => {
  // Worked examples of drawing practice: front, right side and top of a box are seen (common practice, no source).
  it('of a box are the three that meet at the corner behind, to the left and below', () => {
    const hull = hullOf({ solid: 'box', w: 54, h: 54, d: 14 })!;
    const hidden = edgesOf(hull, 14).filter((e) => e.isHidden);
    expect(edgesOf(hull, 14)).toHaveLength(12);
    expect(hidden).toHaveLength(3);
    for (const { ends } of hidden) expect(ends.some((k) => hull.corners[k].every((v, i) => v === [0, 0, 1][i]))).toBe(true);
  });

  it('of a steep pyramid are those at its corner behind to the left; of a prism that lies those along its foot and behind', () => {
    const count = (solid: 'pyramid' | 'prism', w: number, h: number) => {
      const d = (0.35 / 1.35) * Math.min(w, h);
      const edges = edgesOf(hullOf({ solid, w, h, d })!, d);
      return [edges.length, edges.filter((e) => e.isHidden).length];
    };
    expect(count('pyramid', 40, 60)).toEqual([8, 3]);
    // Steep: its left slope looks away, so that the edge along the foot behind and those that end there are hidden.
    expect(count('prism', 40, 60)).toEqual([9, 3]);
  });

  it('are those that the solid itself lies before, as seen along the line of sight', () => {
    fc.assert(
      fc.property(fc.constantFrom('box' as const, 'pyramid' as const, 'prism' as const), sized, (solid, { w, h, d }) => {
        const { corners, faces } = hullOf({ solid, w, h, d })!;
        // Independent of which way faces look: a place a little nearer to the eye lies within the solid when it is on the inner side of every face.
        const middle = [0, 1, 2].map((i) => corners.reduce((s, c) => s + c[i], 0) / corners.length) as unknown as P;
        const side = (face: readonly number[], p: P): number => {
          const [a, b, c] = face.map((k) => corners[k]);
          const [u, v, q] = [[b[0] - a[0], b[1] - a[1], b[2] - a[2]], [c[0] - a[0], c[1] - a[1], c[2] - a[2]], [p[0] - a[0], p[1] - a[1], p[2] - a[2]]];
          return q[0] * (u[1] * v[2] - u[2] * v[1]) + q[1] * (u[2] * v[0] - u[0] * v[2]) + q[2] * (u[0] * v[1] - u[1] * v[0]);
        };
        for (const { ends, isHidden } of edgesOf({ corners, faces }, d)) {
          const [p, q] = ends.map((k) => corners[k]);
          const e = 1e-3;
          const near: P = [(p[0] + q[0]) / 2 + e * d, (p[1] + q[1]) / 2 + e * d, (p[2] + q[2]) / 2 - e];
          const values = faces.map((f) => side(f, near) * Math.sign(side(f, middle)));
          // Edges whose face is seen edge-on are neither.
          if (values.some((v) => Math.abs(v) < 1e-6 * w * h)) continue;
          expect(isHidden).toBe(values.every((v) => v > 0));
        }
      }),
      { numRuns: 200 },
    );
  });
});

const placesOf = ({ from, to }: Way): (readonly [number, number])[] => {
  const out: [number, number][] = [[from[0], from[1]]];
  for (const p of to) {
    const [x, y] = out[out.length - 1];
    if (p.length === 2) out.push([p[0], p[1]]);
    else for (let i = 1; i <= 40; i++) {
      const [u, v] = [i / 40, 1 - i / 40];
      out.push([v ** 3 * x + 3 * v * v * u * p[0] + 3 * v * u * u * p[2] + u ** 3 * p[4], v ** 3 * y + 3 * v * v * u * p[1] + 3 * v * u * u * p[3] + u ** 3 * p[5]]);
    }
  }
  return out;
};

describe('round solids', () => {
  it('keep the law of the ellipse, and the sides of a cone touch its base without cutting it', () => {
    fc.assert(
      fc.property(sized, ({ w, h }) => {
        const { seen, hidden } = linesOfSolid({ solid: 'cone', w, h, d: 0 });
        const [rx, ry] = [w / 2, Math.min(0.18 * w, h / 4)];
        const base = [...placesOf(seen[0]), ...placesOf(hidden[0])];
        for (const [x, y] of base) expect(((x - rx) / rx) ** 2 + ((y - h + ry) / ry) ** 2).toBeCloseTo(1, 2);
        for (const line of seen.slice(1)) {
          const [[ax, ay], [bx, by]] = placesOf(line);
          const sides = base.map(([x, y]) => ((bx - ax) * (y - ay) - (by - ay) * (x - ax)) / Math.hypot(bx - ax, by - ay));
          // All of the base lies on one side of the line, but for what the curves leave the ellipse by.
          expect(Math.min(Math.max(...sides), -Math.min(...sides))).toBeLessThan(0.002 * w);
        }
        // What is hidden is the part behind: higher on the page than the middle of the base.
        expect(Math.max(...placesOf(hidden[0]).map(([, y]) => y))).toBeLessThan(h - ry);
      }),
      { numRuns: 60 },
    );
  });

  it('of a cylinder and of a ball the half behind is hidden', () => {
    const cylinder = linesOfSolid({ solid: 'cylinder', w: 40, h: 60, d: 0 });
    expect(Math.max(...placesOf(cylinder.hidden[0]).map(([, y]) => y))).toBeCloseTo(60 - 7.2, 3);
    const ball = linesOfSolid({ solid: 'ball', w: 40, h: 40, d: 0 });
    expect(Math.max(...placesOf(ball.hidden[0]).map(([, y]) => y))).toBeCloseTo(20, 3);
    for (const [x, y] of placesOf(ball.seen[0])) expect(Math.hypot(x - 20, y - 20)).toBeCloseTo(20, 1);
  });
});

test('every solid lies within its size, comes back from its record, moves with its moment, and goes when one of its lines is rubbed, not when its middle is', () => {
  for (const solid of SOLIDS) {
    const it = solidOver({ name: 'rectangle', at: [[20, 30], [60, 30], [60, 80], [20, 80]] }, solid, rest);
    for (const way of [...linesOfSolid(it).seen, ...linesOfSolid(it).hidden]) for (const [x, y] of placesOf(way)) expect(x >= -0.01 && y >= -0.01 && x <= it.w + 0.01 && y <= it.h + 0.01).toBe(true);
    const { kind, pts: _, box: __, ms: ___, id, page, stamp, wall, ...fields } = it;
    expect(readPlaced(kind, { id, page, stamp, wall }, JSON.parse(JSON.stringify(fields)) as Record<string, unknown>)).toEqual(it);
    const moved = KINDS.solid.map(it, move(5, -7));
    expect([moved.box[0] - it.box[0], moved.box[1] - it.box[1], moved.wall]).toEqual([5, -7, 1]);
    const foot = KINDS.solid.rubbed(it, { x0: 40, y0: 84, x1: 40, y1: 76, radius: 1 }, () => 'n');
    expect(foot).toEqual([]);
  }
  const box = makeSolid({ ...rest, solid: 'box', m: [1, 0, 0, 1, 0, 0], w: 50, h: 50, d: 10 });
  expect(KINDS.solid.rubbed(box, { x0: 30, y0: 30, x1: 32, y1: 32, radius: 0.5 }, () => 'n')).toBeNull();
  // What a later program wrote into it is none of this one's.
  expect(readPlaced('solid', { id: 'x', page: 'p', stamp: null, wall: 1 }, { solid: 'torus', m: [1, 0, 0, 1, 0, 0], w: 1, h: 1, d: 0, color: '#000000', width: 1 })).toBeNull();
});
