/** Lines that hold on to shapes: where one takes hold, and how it follows when the shape moves. */
import { pointsOf, withPoints, type Stroke } from '../stroke';
import { isOpen, isStraight, nearestOn, pointAt, pointsMoved, type Anchor, type Shape, type Vec } from './shape';

/** An end this close to a shape's line holds on to it, mm (about half a fingertip). */
export const HOLD_MM = 3;

/** Which of the closed shapes an end lies on, if any. */
function anchorOf([x, y]: Vec, shapes: readonly Stroke[]): Anchor | undefined {
  let best: { anchor: Anchor; d: number } | undefined;
  for (const { id, shape } of shapes) {
    if (!shape || isOpen(shape)) continue;
    const { u, d } = nearestOn(shape, x, y);
    if (d <= HOLD_MM && (!best || d < best.d)) best = { anchor: { to: id, u }, d };
  }
  return best?.anchor;
}

const ends = (shape: Shape): [Vec, Vec] => [shape.at[0], shape.at[shape.at.length - 1]];

/** The line with its ends set where they are said to be; a curve keeps its bend. */
function withEnds(shape: Shape, from: Vec, to: Vec): Shape {
  if (isStraight(shape)) return { ...shape, at: [from, to] };
  const [a, b] = ends(shape);
  const d = (p: Vec, q: Vec): Vec => [q[0] - p[0], q[1] - p[1]];
  const [da, db] = [d(a, from), d(b, to)];
  return { ...shape, at: [from, [shape.at[1][0] + da[0], shape.at[1][1] + da[1]], [shape.at[2][0] + db[0], shape.at[2][1] + db[1]], to] };
}

/** A new or moved line, its ends set onto the shapes they came to lie on. Shapes that are no lines come back as they are. */
export function attach(shape: Shape, strokes: readonly Stroke[]): Shape {
  if (!isOpen(shape)) return shape;
  const byId = new Map(strokes.map((s) => [s.id, s]));
  const [a, b] = ends(shape);
  const [from, to] = [anchorOf(a, strokes), anchorOf(b, strokes)];
  const at = (anchor: Anchor | undefined, end: Vec): Vec => {
    const held = anchor && byId.get(anchor.to)?.shape;
    return held ? pointAt(held, anchor.u) : end;
  };
  const { from: _, to: __, ...plain } = withEnds(shape, at(from, a), at(to, b));
  return { ...plain, ...(from ? { from } : {}), ...(to ? { to } : {}) };
}

/** Strokes to change because shapes they hold on to have changed. `changed`: as they are now; lines among them move by themselves. */
export function followers(changed: readonly Stroke[], strokes: readonly Stroke[]): Stroke[] {
  const now = new Map(changed.map((s) => [s.id, s]));
  const out: Stroke[] = [];
  for (const stroke of strokes) {
    const { shape } = stroke;
    if (!shape || !isOpen(shape) || now.has(stroke.id)) continue;
    const held = (anchor: Anchor | undefined) => (anchor ? now.get(anchor.to)?.shape : undefined);
    const [from, to] = [held(shape.from), held(shape.to)];
    if (!from && !to) continue;
    const [a, b] = ends(shape);
    out.push(reshaped(stroke, withEnds(shape, from ? pointAt(from, shape.from!.u) : a, to ? pointAt(to, shape.to!.u) : b)));
  }
  return out;
}

/** A stroke whose shape was changed: its points run along the new one at the old pace. */
export const reshaped = (stroke: Stroke, shape: Shape): Stroke => withPoints(stroke, pointsMoved(pointsOf(stroke), stroke.shape!, shape), { shape });
