import { strokeThrough } from '../../../../tests/helpers/ink';
import { random } from '../../../../tests/helpers/hershey';
import { pointsOf, withPoints, type Stroke } from '../stroke';
import { tidyChart } from './chart';
import { pointsAlong, type Shape, type Vec } from './shape';

const shaped = (shape: Shape, id: string): Stroke => {
  const rough = strokeThrough(Array.from({ length: 40 }, (_, i) => [i, i] as const), { id });
  return { ...withPoints(rough, pointsAlong(shape, pointsOf(rough))), shape };
};
const box = (id: string, x: number, y: number, w: number, h: number, turn = 0): Stroke => {
  const at = [[-w / 2, -h / 2], [w / 2, -h / 2], [w / 2, h / 2], [-w / 2, h / 2]].map(([u, v]): Vec => [x + u * Math.cos(turn) - v * Math.sin(turn), y + u * Math.sin(turn) + v * Math.cos(turn)]);
  return shaped({ name: 'rectangle', at }, id);
};
const middle = ({ shape }: Stroke): Vec => {
  const at = shape!.name === 'ellipse' ? [shape!.at[0]] : shape!.at;
  return [at.reduce((s, p) => s + p[0], 0) / at.length, at.reduce((s, p) => s + p[1], 0) / at.length];
};
const size = ({ shape }: Stroke): Vec => {
  const [xs, ys] = [shape!.at.map((p) => p[0]), shape!.at.map((p) => p[1])];
  return [Math.max(...xs) - Math.min(...xs), Math.max(...ys) - Math.min(...ys)];
};

// What is a row and what is not is common practice, no source: the grid is the one that the boxes were drawn on.
test('boxes drawn on a grid by an unsteady hand stand on one, of one size, level', () => {
  for (let seed = 1; seed <= 30; seed++) {
    const rnd = random(seed);
    const off = (mm: number) => (rnd() - 0.5) * 2 * mm;
    const [rows, cols] = [2 + (seed % 2), 2 + (seed % 3)];
    const all = Array.from({ length: rows * cols }, (_, i) => box(`${i}`, 40 + 45 * (i % cols) + off(3), 40 + 30 * Math.floor(i / cols) + off(2), 30 + off(3), 15 + off(2), off(0.04)));
    const changed = new Map(tidyChart(all).map((s) => [s.id, s]));
    const now = all.map((s) => changed.get(s.id) ?? s);
    for (const axis of [0, 1] as const) {
      expect(new Set(now.map((s) => middle(s)[axis].toFixed(2))).size).toBe(axis ? rows : cols);
      expect(new Set(now.map((s) => size(s)[axis].toFixed(2))).size).toBe(1);
    }
    // Nothing jumped: each is near where it was, and its ink runs along it with its moments.
    now.forEach((s, i) => {
      expect(Math.hypot(middle(s)[0] - middle(all[i])[0], middle(s)[1] - middle(all[i])[1])).toBeLessThan(6);
      expect(pointsOf(s).t).toEqual(pointsOf(all[i]).t);
    });
    // Tidy once, it stays as it is.
    expect(tidyChart(now)).toEqual([]);
  }
});

test('what was meant to differ does: another kind, another size, far from any row; and what is no chart stays as it is', () => {
  const all = [box('a', 40, 40, 30, 15), box('b', 90, 43, 31, 16), box('big', 60, 120, 80, 40), shaped({ name: 'ellipse', at: [[140, 41], [155, 41], [140, 49]] }, 'round')];
  const now = new Map(tidyChart(all).map((s) => [s.id, s]));
  expect(size(now.get('a')!)).toEqual(size(now.get('b')!));
  expect(now.has('big')).toBe(false);
  expect(middle(now.get('round')!)[1]).toBeCloseTo(middle(now.get('a')!)[1], 6);
  expect(tidyChart([all[0]])).toEqual([]);
  expect(tidyChart([strokeThrough([[0, 0], [40, 0]]), shaped({ name: 'line', at: [[0, 0], [30, 3]] }, 'l')])).toEqual([]);
});
