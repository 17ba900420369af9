/** Closed areas: which one a touch lies in, bounded by one line or by several. */
import type { Vec } from './shapes/shape';
import { insidePolygon, polygonArea } from './polygon';
import { PRESSURE_MAX, type Points } from './points';
import { pointsOf, type Box, type Stroke } from './stroke';

/** A line closes when its ends are this near to each other, mm, or this share of its extent. */
const GAP_MM = 2;
const GAP_SHARE = 0.12;

/** Points of a stroke as a polygon, mm. */
export function polygonOf(stroke: Stroke): Vec[] {
  const { n, xy } = pointsOf(stroke);
  return Array.from({ length: n }, (_, i) => [xy[2 * i] / 100, xy[2 * i + 1] / 100]);
}

const isLoop = (line: readonly Vec[], [l, t, r, b]: Box): boolean => {
  const [p, q] = [line[0], line[line.length - 1]];
  return line.length > 3 && Math.hypot(p[0] - q[0], p[1] - q[1]) <= Math.max(GAP_MM, GAP_SHARE * Math.hypot(r - l, b - t));
};

/** The smallest single line that closes around a point. */
export function loopAround(strokes: readonly Stroke[], x: number, y: number): Stroke | null {
  let best: { stroke: Stroke; area: number } | null = null;
  for (const stroke of strokes) {
    const { box, pen } = stroke;
    if (pen.kind === 'highlighter' || x < box[0] || x > box[2] || y < box[1] || y > box[3]) continue;
    const line = polygonOf(stroke);
    if (!isLoop(line, box) || !insidePolygon(line, x, y)) continue;
    const area = polygonArea(line);
    if (!best || area < best.area) best = { stroke, area };
  }
  return best?.stroke ?? null;
}

/** Cells of the grid on which an area between several lines is looked for, to the mm; gaps up to about a cell are closed. */
const PER_MM = 4;

/**
 * The area around a point that the lines of several strokes enclose together, as a polygon in mm; null when it runs out to the edge of
 * `page`. Found on a grid of a quarter millimetre and drawn half a line under the ink.
 */
export function areaBetween(strokes: readonly Stroke[], x: number, y: number, page: Box): Vec[] | null {
  const [w, h] = [Math.ceil((page[2] - page[0]) * PER_MM) + 2, Math.ceil((page[3] - page[1]) * PER_MM) + 2];
  const grid = new Uint8Array(w * h);
  const cell = (mm: number, from: number) => Math.round((mm - from) * PER_MM);
  for (const stroke of strokes) {
    if (stroke.pen.kind === 'highlighter') continue;
    const { n, xy } = pointsOf(stroke);
    const r = Math.max(1, Math.round((stroke.pen.width / 2) * PER_MM));
    for (let i = 0; i < n; i++) {
      const k = Math.max(0, i - 1);
      const [ax, ay, bx, by] = [cell(xy[2 * k] / 100, page[0]), cell(xy[2 * k + 1] / 100, page[1]), cell(xy[2 * i] / 100, page[0]), cell(xy[2 * i + 1] / 100, page[1])];
      const steps = Math.max(Math.abs(bx - ax), Math.abs(by - ay), 1);
      for (let s = 0; s <= steps; s++) {
        const [cx, cy] = [Math.round(ax + ((bx - ax) * s) / steps), Math.round(ay + ((by - ay) * s) / steps)];
        for (let dy = -r; dy <= r; dy++) for (let dx = -r; dx <= r; dx++) {
          const [gx, gy] = [cx + dx, cy + dy];
          if (gx >= 0 && gy >= 0 && gx < w && gy < h) grid[gy * w + gx] = 1;
        }
      }
    }
  }
  const start = cell(y, page[1]) * w + cell(x, page[0]);
  if (grid[start] !== 0) return null;
  const stack = [start];
  grid[start] = 2;
  while (stack.length) {
    const at = stack.pop()!;
    const [cx, cy] = [at % w, Math.floor(at / w)];
    if (cx === 0 || cy === 0 || cx === w - 1 || cy === h - 1) return null;
    for (const next of [at - 1, at + 1, at - w, at + w]) {
      if (grid[next] !== 0) continue;
      grid[next] = 2;
      stack.push(next);
    }
  }
  return simplified(outline(grid, w, start).map(([cx, cy]): Vec => [page[0] + cx / PER_MM, page[1] + cy / PER_MM]), 0.12);
}

/** The outer edge of the filled cells, walked with the area on the right, from the leftmost cell of the topmost row. */
function outline(grid: Uint8Array, w: number, inside: number): [number, number][] {
  let at = inside;
  for (let i = 0; i < grid.length; i++) if (grid[i] === 2) {
    at = i;
    break;
  }
  const filled = (x: number, y: number) => grid[y * w + x] === 2;
  const [x0, y0] = [at % w, Math.floor(at / w)];
  // Along the corners of cells: east on the top side of the first one.
  let [x, y, dx, dy] = [x0, y0, 1, 0];
  const edge: [number, number][] = [];
  do {
    edge.push([x - 0.5 + grown(dx, dy)[0], y - 0.5 + grown(dx, dy)[1]]);
    [x, y] = [x + dx, y + dy];
    // Cells ahead, left and right of the way.
    const left = filled(x + (dx + dy - 1) / 2, y + (dy - dx - 1) / 2);
    const right = filled(x + (dx - dy - 1) / 2, y + (dy + dx - 1) / 2);
    if (left) [dx, dy] = [dy, -dx];
    else if (!right) [dx, dy] = [-dy, dx];
  } while (x !== x0 || y !== y0 || dx !== 1 || dy !== 0);
  return edge;
}

/** The edge is pushed a cell out, so that the colour reaches under the line. */
const grown = (dx: number, dy: number): [number, number] => [dy * 1.2, -dx * 1.2];

/** The line without points that lie within `tolerance` of it (D. Douglas and T. Peucker, 1973). */
function simplified(line: Vec[], tolerance: number): Vec[] {
  if (line.length < 3) return line;
  const keep = new Uint8Array(line.length);
  keep[0] = keep[line.length - 1] = 1;
  const stack: [number, number][] = [[0, line.length - 1]];
  while (stack.length) {
    const [i, j] = stack.pop()!;
    const [[ax, ay], [bx, by]] = [line[i], line[j]];
    const length = Math.hypot(bx - ax, by - ay);
    let [far, at] = [tolerance, -1];
    for (let k = i + 1; k < j; k++) {
      const d = length ? Math.abs((line[k][0] - ax) * (by - ay) - (line[k][1] - ay) * (bx - ax)) / length : Math.hypot(line[k][0] - ax, line[k][1] - ay);
      if (d > far) [far, at] = [d, k];
    }
    if (at < 0) continue;
    keep[at] = 1;
    stack.push([i, at], [at, j]);
  }
  return line.filter((_, i) => keep[i]);
}

/** A closed line of points around a polygon, for an area of colour that stands by itself. */
export function pointsAround(polygon: readonly Vec[]): Points {
  const n = polygon.length + 1;
  const points: Points = { n, xy: new Int32Array(2 * n), p: new Uint8Array(n).fill(Math.round(PRESSURE_MAX / 2)), t: new Int32Array(n) };
  for (let i = 0; i < n; i++) {
    const [x, y] = polygon[i % polygon.length];
    points.xy[2 * i] = Math.round(x * 100);
    points.xy[2 * i + 1] = Math.round(y * 100);
  }
  return points;
}
