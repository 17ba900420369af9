/** Labels: text (or anything) that belongs to a drawn shape or line by its id in `on`, stands in its middle, and goes where it goes. */
import { insidePolygon } from '../ink/polygon';
import { isOpen, pointAt } from '../ink/shapes/shape';
import { boxesMeet, growBox, pointsOf, type Stroke } from '../ink/stroke';
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
