/** A chart that was drawn by hand, made tidy: shapes stand level, those of one kind and about one size are of one size, and those that nearly stand in a row or a column do. */
import { reshaped, type Stroke } from '../stroke';
import { isOpen, mapShape, outlineBox, snapShape, type Shape, type Vec } from './shape';

/** Shapes are meant to be of one size when they differ by no more than this. */
const ALIKE = 1.5;
/** They are meant to stand in a row when their middles differ by less than this share of their height, and in a column of their width. */
const IN_ROW = 0.45;

interface Part {
  readonly stroke: Stroke;
  readonly shape: Shape;
  x: number;
  y: number;
  w: number;
  h: number;
}

const median = (list: readonly number[]): number => {
  const sorted = [...list].sort((a, b) => a - b);
  return (sorted[(sorted.length - 1) >> 1] + sorted[sorted.length >> 1]) / 2;
};

/** Parts that belong together by their middles: each is nearer to that of those before it than a share of the smallest of them. */
function runs(parts: readonly Part[], of: (p: Part) => number, size: (p: Part) => number): Part[][] {
  const out: Part[][] = [];
  for (const part of [...parts].sort((a, b) => of(a) - of(b))) {
    const last = out.at(-1);
    const middle = last ? last.reduce((sum, p) => sum + of(p), 0) / last.length : 0;
    if (last && Math.abs(of(part) - middle) < IN_ROW * Math.min(size(part), ...last.map(size))) last.push(part);
    else out.push([part]);
  }
  return out;
}

/** Closed shapes as they stand afterwards; none where there are not two at least. Those that did not change are left out. */
export function tidyChart(strokes: readonly Stroke[]): Stroke[] {
  const parts = strokes.flatMap((stroke): Part[] => {
    if (!stroke.shape || isOpen(stroke.shape)) return [];
    const shape = snapShape(stroke.shape);
    const [l, t, r, b] = outlineBox(shape);
    return r - l > 0.5 && b - t > 0.5 ? [{ stroke, shape, x: (l + r) / 2, y: (t + b) / 2, w: r - l, h: b - t }] : [];
  });
  if (parts.length < 2) return [];
  // Of one size: kind by kind, from the smallest on.
  const left = new Set(parts);
  for (const first of [...parts].sort((a, b) => a.w * a.h - b.w * b.h)) {
    if (!left.has(first)) continue;
    const alike = [...left].filter((p) => p.shape.name === first.shape.name && p.w / first.w <= ALIKE && first.w / p.w <= ALIKE && p.h / first.h <= ALIKE && first.h / p.h <= ALIKE);
    for (const p of alike) left.delete(p);
    const [w, h] = [median(alike.map((p) => p.w)), median(alike.map((p) => p.h))];
    for (const p of alike) [p.w, p.h] = [w, h];
  }
  for (const row of runs(parts, (p) => p.y, (p) => p.h)) {
    const y = row.reduce((sum, p) => sum + p.y, 0) / row.length;
    for (const p of row) p.y = y;
  }
  for (const column of runs(parts, (p) => p.x, (p) => p.w)) {
    const x = column.reduce((sum, p) => sum + p.x, 0) / column.length;
    for (const p of column) p.x = x;
  }
  return parts.flatMap(({ stroke, shape, x, y, w, h }) => {
    const [l, t, r, b] = outlineBox(shape);
    const to = (px: number, py: number): Vec => [x + ((px - (l + r) / 2) * w) / (r - l), y + ((py - (t + b) / 2) * h) / (b - t)];
    const next = mapShape(shape, to);
    return next.at.some(([px, py], i) => Math.hypot(px - stroke.shape!.at[i][0], py - stroke.shape!.at[i][1]) > 0.01) ? [reshaped(stroke, next)] : [];
  });
}
