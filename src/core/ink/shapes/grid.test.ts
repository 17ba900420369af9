import { strokeThrough } from '../../../../tests/helpers/ink';
import { random } from '../../../../tests/helpers/hershey';
import type { Stroke } from '../stroke';
import { gridOf } from './grid';

/** A grid as a hand draws it: lines that sway and tremble, start early and overshoot; `border`: in one go, line by line, or none. */
function drawn(rows: number, cols: number, border: 'loop' | 'lines' | 'none', seed: number): { strokes: Stroke[]; xs: number[]; ys: number[] } {
  const rnd = random(seed);
  const off = (mm: number) => (rnd() - 0.5) * 2 * mm;
  const [x0, y0] = [20 + 40 * rnd(), 30 + 60 * rnd()];
  const xs = [x0];
  const ys = [y0];
  for (let c = 0; c < cols; c++) xs.push(xs[c] + 18 + 22 * rnd());
  for (let r = 0; r < rows; r++) ys.push(ys[r] + 9 + 8 * rnd());
  const line = (ax: number, ay: number, bx: number, by: number) => {
    const [tilt, bow, phase] = [off(0.012), off(0.8), 6 * rnd()];
    const n = 30;
    const [dx, dy] = [bx - ax, by - ay];
    const l = Math.hypot(dx, dy);
    return Array.from({ length: n }, (_, i) => {
      const u = i / (n - 1);
      const d = bow * Math.sin(Math.PI * u) + tilt * l * (u - 0.5) + 0.15 * Math.sin(9 * u + phase) + off(0.08);
      return [ax + u * dx - (d * dy) / l, ay + u * dy + (d * dx) / l] as const;
    });
  };
  const strokes: Stroke[] = [];
  const [l, r, t, b] = [xs[0], xs[cols], ys[0], ys[rows]];
  if (border === 'loop') strokes.push(strokeThrough([...line(l, t, r + off(1), t), ...line(r, t, r, b + off(1)), ...line(r, b, l + off(1), b), ...line(l, b, l, t + off(1))]));
  const inner = border === 'lines' ? [0, 0] : [1, 1];
  for (let i = inner[0]; i <= rows - inner[0]; i++) strokes.push(strokeThrough(line(l + off(2), ys[i] + off(0.8), r + off(2), ys[i] + off(0.8))));
  for (let i = inner[1]; i <= cols - inner[1]; i++) strokes.push(strokeThrough(line(xs[i] + off(0.8), t + off(2), xs[i] + off(0.8), b + off(2))));
  return { strokes, xs, ys };
}

/** Letters in a cell: short strokes, some of them level or upright. */
const letters = (x: number, y: number, seed: number): Stroke[] => {
  const rnd = random(seed);
  return Array.from({ length: 4 }, (_, i) => strokeThrough([[x + 3 * i, y], [x + 3 * i + 2 * rnd(), y + 3], [x + 3 * i + 2, y + 1], [x + 3 * i + 2.4, y + 3]]));
};

// How hands draw tables is common practice, no source; what is expected is how many rows and columns were drawn, and where.
test.each(['loop', 'lines', 'none'] as const)('a grid drawn by hand is found, border %s', (border) => {
  let found = 0;
  for (let seed = 1; seed <= 60; seed++) {
    const [rows, cols] = [2 + (seed % 4), 2 + (seed % 3)];
    const { strokes, xs, ys } = drawn(rows, cols, border, seed);
    const written = xs.slice(0, -1).flatMap((x, c) => ys.slice(0, -1).flatMap((y, r) => letters(x + 2, y + 2, seed * 31 + r * 7 + c)));
    const grid = gridOf([...strokes, ...written]);
    if (!grid || grid.xs.length !== cols + 1 || grid.ys.length !== rows + 1) continue;
    found++;
    // What is written in it is none of its lines.
    expect(grid.lines.some((id) => written.some((w) => w.id === id))).toBe(false);
    expect(grid.lines).toHaveLength(strokes.length);
    for (const [i, x] of xs.entries()) expect(Math.abs(grid.xs[i] - x)).toBeLessThan(3);
    for (const [i, y] of ys.entries()) expect(Math.abs(grid.ys[i] - y)).toBeLessThan(3);
  }
  expect(found).toBeGreaterThanOrEqual(58);
});

test('writing, a single line, a frame around nothing and a cross of two strokes of a letter are no tables', () => {
  expect(gridOf([])).toBeNull();
  expect(gridOf(letters(20, 20, 3))).toBeNull();
  expect(gridOf([strokeThrough([[10, 20], [60, 20.5]])])).toBeNull();
  expect(gridOf([strokeThrough([[10, 20], [60, 20], [60, 50], [10, 50], [10, 20]])])).toBeNull();
  expect(gridOf([strokeThrough([[10, 20], [14, 20]]), strokeThrough([[12, 18], [12, 22]])])).toBeNull();
});
