/**
 * What is tied to ink: tags, headings and words by the ids of what they were made of, lines by their ends, which hold on to a shape. This is the
 * one place that says how ink is found again. After rubbing out, the largest part of a stroke keeps the id, so what is tied to it stays.
 */
import { concerns, connected } from '../ink/shapes/connect';
import { endsOf, isOpen, nearestOn, pointAt, withEnds, type Hold, type Shape, type Vec } from '../ink/shapes/shape';
import { boxAround, reshaped, type Box, type PlacedBase, type Stroke } from '../ink/stroke';

/** Ink of one page. */
export interface Anchor {
  readonly page: string;
  readonly strokes: readonly string[];
}

/** What is left of it on its page, with what it covers; null when nothing is. */
export function anchored<T extends PlacedBase>(ink: Readonly<Record<string, readonly T[]>>, { page, strokes }: Anchor): { placed: readonly T[]; box: Box } | null {
  const ids = new Set(strokes);
  const placed = (ink[page] ?? []).filter((s) => ids.has(s.id));
  const box = boxAround(placed);
  return box && { placed, box };
}

/** Whether two anchors have ink in common. */
export const meets = (a: Pick<Anchor, 'strokes'>, ids: ReadonlySet<string>): boolean => a.strokes.some((s) => ids.has(s));

/** Finds the tags of a run of ink: those of anything in it, each name once. */
export function tagsOn(tags: readonly { readonly stroke: string; readonly names: readonly string[] }[] = []): (placed: readonly PlacedBase[]) => readonly string[] {
  const by = new Map(tags.map((t) => [t.stroke, t.names]));
  return (placed) => (by.size ? [...new Set(placed.flatMap((s) => by.get(s.id) ?? []))] : []);
}

/** An end this close to a shape's line holds on to it, mm (about half a fingertip). */
export const HOLD_MM = 3;

/** Which of the closed shapes an end lies on, if any. */
function holdOf([x, y]: Vec, shapes: readonly Stroke[]): Hold | undefined {
  let best: { hold: Hold; d: number } | undefined;
  for (const { id, shape } of shapes) {
    if (!shape || isOpen(shape)) continue;
    const { u, d } = nearestOn(shape, x, y);
    if (d <= HOLD_MM && (!best || d < best.d)) best = { hold: { to: id, u }, d };
  }
  return best?.hold;
}

/** A new or moved line, its ends set onto the shapes they came to lie on. Shapes that are no lines come back as they are. */
export function attach(shape: Shape, strokes: readonly Stroke[]): Shape {
  if (!isOpen(shape)) return shape;
  const byId = new Map(strokes.map((s) => [s.id, s]));
  const [a, b] = endsOf(shape);
  const [from, to] = [holdOf(a, strokes), holdOf(b, strokes)];
  const at = (hold: Hold | undefined, end: Vec): Vec => {
    const held = hold && byId.get(hold.to)?.shape;
    return held ? pointAt(held, hold.u) : end;
  };
  const { from: _, to: __, ...plain } = withEnds(shape, at(from, a), at(to, b));
  const set: Shape = { ...plain, ...(from ? { from } : {}), ...(to ? { to } : {}) };
  return set.sides || set.name === 'elbow' ? lineThrough(set, strokes) : set;
}

/** A line as it runs between what it holds on to, on a page with these strokes. */
export function lineThrough(shape: Shape, strokes: readonly Stroke[]): Shape {
  const byId = new Map(strokes.map((s) => [s.id, s.shape]));
  return connected(shape, (id) => byId.get(id), strokes.flatMap((s) => (s.shape && !isOpen(s.shape) ? [s.shape] : [])));
}

/** Strokes to change because shapes they hold on to, or that they go round, have changed. `changed`: as they are now; lines among them move by themselves. */
export function followers(changed: readonly Stroke[], strokes: readonly Stroke[]): Stroke[] {
  const now = new Map(changed.map((s) => [s.id, s]));
  const before = new Map(strokes.map((s) => [s.id, s]));
  const all = strokes.map((s) => now.get(s.id) ?? s);
  const out: Stroke[] = [];
  for (const stroke of strokes) {
    const { shape } = stroke;
    if (!shape || !isOpen(shape) || now.has(stroke.id)) continue;
    const held = (hold: Hold | undefined) => (hold ? now.get(hold.to)?.shape : undefined);
    const [from, to] = [held(shape.from), held(shape.to)];
    const isInWay = shape.name === 'elbow' && changed.some(({ id, shape: is }) => [is, before.get(id)?.shape].some((s) => s && concerns(shape, s)));
    if (!from && !to && !isInWay) continue;
    const [a, b] = endsOf(shape);
    const next = shape.sides || shape.name === 'elbow' ? lineThrough(shape, all) : withEnds(shape, from ? pointAt(from, shape.from!.u) : a, to ? pointAt(to, shape.to!.u) : b);
    out.push(reshaped(stroke, next));
  }
  return out;
}

/** A line in a copy: its ends hold on to the copies of what they held on to; `to` gives null for what was not copied. */
export function holdsCopied({ from, to: end, ...plain }: Shape, to: (id: string) => string | null): Shape {
  const copied = (hold: Hold | undefined) => {
    const id = hold && to(hold.to);
    return hold && id ? { ...hold, to: id } : undefined;
  };
  const [a, b] = [copied(from), copied(end)];
  return { ...plain, ...(a ? { from: a } : {}), ...(b ? { to: b } : {}) };
}
