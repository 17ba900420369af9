/** Labels: text (or anything) that belongs to a drawn shape or line by its id in `on`, stands in its middle, and goes where it goes. */
import { insidePolygon } from '../ink/polygon';
import { isOpen, nearestOn, pointAt } from '../ink/shapes/shape';
import { boxesMeet, growBox, pointsOf, type Box, type Stroke } from '../ink/stroke';
import { move } from '../ink/transform';
import { isStroke, liftOf, mapPlaced, type Placed } from './kinds/kinds';
import type { Typed } from './kinds/typed';

/** A shape larger than this is a frame around other things, and what is typed in it is no label of it, mm. */
const [WIDE, HIGH] = [90, 60];
/** A touch so near a line means it, mm. */
const NEAR = 2.5;
/** From the outline to the text, and above a line, mm; and the least width of a label. */
const [EDGE, ABOVE, LEAST] = [2, 2, 24];
/** A label that was moved by itself stays one while it is so near its shape, mm. */
const STAYS = 4;

type Shaped = Stroke & { readonly shape: NonNullable<Stroke['shape']> };
const isShaped = (it: Placed): it is Shaped => isStroke(it) && it.shape !== undefined;

const distance = (it: Stroke, x: number, y: number): number => {
  const { n, xy } = pointsOf(it);
  let best = Infinity;
  for (let i = 0; i < n; i++) best = Math.min(best, Math.hypot(xy[2 * i] / 100 - x, xy[2 * i + 1] / 100 - y));
  return best;
};

/** The shape or line that a place of a page (mm) means: the smallest it lies in, else the line it lies at; null where there is none. */
export function shapeAt(all: readonly Placed[], x: number, y: number): Shaped | null {
  const fits = all.filter(isShaped).filter(({ box: [l, t, r, b] }) => x >= l - NEAR && x <= r + NEAR && y >= t - NEAR && y <= b + NEAR);
  const size = ({ box: [l, t, r, b] }: Stroke) => (r - l) * (b - t);
  const closed = fits.filter((it) => {
    const [l, t, r, b] = it.box;
    if (isOpen(it.shape) || r - l > WIDE || b - t > HIGH) return false;
    const { n, xy } = pointsOf(it);
    return insidePolygon(Array.from({ length: n }, (_, i) => [xy[2 * i] / 100, xy[2 * i + 1] / 100] as const), x, y);
  });
  if (closed.length) return closed.reduce((a, b) => (size(b) < size(a) ? b : a));
  return fits.filter((it) => isOpen(it.shape) && distance(it, x, y) <= NEAR)[0] ?? null;
}

/** What belongs to a shape, in the order of its lines. */
export const labelOf = (all: readonly Placed[], shape: string): Typed[] => all.filter((it): it is Typed => it.kind === 'typed' && it.on === shape).sort((a, b) => a.n - b.n);

/** By which a shape holds its labels, mm: the middle of a closed one, and halfway along a line. */
function holdOf({ shape, box }: Shaped): readonly [number, number] {
  return isOpen(shape) ? pointAt(shape, 0.5) : [(box[0] + box[2]) / 2, (box[1] + box[3]) / 2];
}

/** Where a label of one line begins, and how wide it may be: in the middle of a shape, above the middle of a line. */
export function labelPlace(it: Shaped, pitch: number): { readonly m: Typed['m']; readonly width: number; readonly pitch: number } {
  const [x, y] = holdOf(it);
  const [l, , r] = it.box;
  const width = Math.max(LEAST, isOpen(it.shape) ? r - l : r - l - 2 * EDGE);
  // A line of text has its foot three quarters down its pitch.
  const top = isOpen(it.shape) ? y - pitch - ABOVE : y - 0.75 * pitch;
  return { m: [1, 0, 0, 1, x - width / 2, top], width, pitch };
}

/** Text as a label of a shape. */
export function labelled<T extends Placed>(it: T, shape: Stroke): T {
  const { lift: _, ...plain } = it;
  return Object.freeze({ ...plain, on: shape.id, ...(liftOf(shape) ? { lift: liftOf(shape) } : {}) }) as unknown as T;
}

/** Ink this near a line between two shapes is written at it, mm; and what is higher than this is no writing. */
const [AT_LINE, WRITING] = [7, 14];

/** The shape that new ink is written in, or the line between two shapes that it is written at: it is a label of it. Null for what is a shape itself, and for marks with the highlighter. */
export function labelledBy(it: Placed, all: readonly Placed[]): Shaped | null {
  if (!isStroke(it) || it.shape || it.fill || it.pen.kind === 'highlighter') return null;
  const [l, t, r, b] = it.box;
  const isIn = (of: Box) => l >= of[0] && t >= of[1] && r <= of[2] && b <= of[3];
  const found = shapeAt(all.filter((s) => isShaped(s) && !isOpen(s.shape) && isIn(s.box)), (l + r) / 2, (t + b) / 2);
  if (found || b - t > WRITING) return found;
  const [x, y] = [(l + r) / 2, (t + b) / 2];
  const lines = all.filter((s): s is Shaped => isShaped(s) && isOpen(s.shape) && s.shape.from !== undefined && s.shape.to !== undefined && boxesMeet(growBox(s.box, AT_LINE), it.box));
  return lines.find(({ shape }) => nearestOn(shape, x, y).d <= AT_LINE) ?? null;
}

/** Labels of shapes that changed, where they stand now. `put`: what changed, as it is now; `all`: the page before. What is in `put` itself moves by itself. */
export function labelsAlong(put: readonly Placed[], all: readonly Placed[]): Placed[] {
  const changed = new Map(put.map((it) => [it.id, it]));
  const riders = all.filter((it) => it.on !== undefined && changed.has(it.on) && !changed.has(it.id));
  if (!riders.length) return [];
  const before = new Map(all.map((it) => [it.id, it]));
  return riders.flatMap((it) => {
    const [was, is] = [before.get(it.on!), changed.get(it.on!)!];
    if (!was || !isShaped(was) || !isShaped(is)) return [];
    const [[ax, ay], [bx, by]] = [holdOf(was), holdOf(is)];
    return Math.hypot(bx - ax, by - ay) > 0.001 ? [mapPlaced(it, move(bx - ax, by - ay))] : [];
  });
}

/** Something that was moved by itself is still a label of the shape it belonged to. */
export function staysLabel(it: Placed, all: readonly Placed[]): boolean {
  const shape = it.on === undefined ? undefined : all.find((other) => other.id === it.on);
  return shape !== undefined && isStroke(shape) && boxesMeet(growBox(shape.box, STAYS), it.box);
}
