/** What a link holds to on a page: things as a whole, or letters of typed lines, which keep the link's name in their look. */
import { apply } from '../ink/transform';
import { boxAround, type Box } from '../ink/stroke';
import { MM_PER_PT } from '../text/faces';
import { tidied } from '../text/flow';
import { letterX, type Run } from '../text/layout';
import { affineOf } from './kinds/drawn';
import type { Placed } from './kinds/kinds';
import { HANG, linesOf, makeTyped, type Typed } from './kinds/typed';
import type { Ref } from './schema';

/** A link holds to it: the box of what it holds to there, mm, one for each line that its letters stand on. */
export interface Held {
  readonly placed: Placed;
  readonly boxes: readonly Box[];
}

/** Letters of a line that bear this name, from and to. */
function namedIn({ looks }: Typed, name: string): [number, number][] {
  const out: [number, number][] = [];
  let at = 0;
  for (const [n, look] of looks) {
    if (look.link === name && n > 0) {
      const last = out.at(-1);
      if (last?.[1] === at) last[1] += n;
      else out.push([at, at + n]);
    }
    at += n;
  }
  return out;
}

/** Of letters of a typed line, one for each line they stand on, mm. */
export function boxesOfLetters(it: Typed, from: number, to: number): Box[] {
  const at = affineOf(it.m);
  const size = Math.max(...it.looks.map(([, look]) => look.size)) * MM_PER_PT;
  return linesOf(it).flatMap((line, i) => {
    const [a, b] = [Math.max(from, line.from), Math.min(to, line.to)];
    if (a >= b) return [];
    const [left, right] = [letterX(line, a), Math.min(letterX(line, b), line.x + line.w)];
    const corners = [[left, (i + 1) * it.pitch - size], [right, (i + 1) * it.pitch - size], [right, (i + 1) * it.pitch + HANG * size], [left, (i + 1) * it.pitch + HANG * size]].map(([x, y]) => apply(at, x, y));
    const [xs, ys] = [corners.map((c) => c[0]), corners.map((c) => c[1])];
    return [[Math.min(...xs), Math.min(...ys), Math.max(...xs), Math.max(...ys)] as const];
  });
}

/** What a link holds to of what is given; nothing when it is not there any more. */
export function heldBy(ref: Pick<Ref, 'placed' | 'letters'>, placed: readonly Placed[]): Held[] {
  const { letters } = ref;
  if (letters === undefined) {
    const ids = new Set(ref.placed);
    return placed.flatMap((it) => (ids.has(it.id) ? [{ placed: it, boxes: [it.box] }] : []));
  }
  // Letters go on to other lines as text is edited: their name tells, not the line.
  return placed.flatMap((it) => {
    if (it.kind !== 'typed') return [];
    const boxes = namedIn(it, letters).flatMap(([from, to]) => boxesOfLetters(it, from, to));
    return boxes.length ? [{ placed: it, boxes }] : [];
  });
}

/** Where a link is to be touched: a box for things together, one for each line of letters. */
export function placesOf(ref: Pick<Ref, 'placed' | 'letters'>, placed: readonly Placed[]): Box[] {
  const held = heldBy(ref, placed);
  if (ref.letters !== undefined) return held.flatMap((h) => h.boxes);
  const box = boxAround(held.map((h) => h.placed));
  return box ? [box] : [];
}

/** A line whose letters bear a link's name, or none. */
export function linked(it: Typed, from: number, to: number, name: string | null): Typed {
  const looks: Run[] = [];
  let at = 0;
  for (const [n, look] of it.looks) {
    const { link: _, ...bare } = look;
    const inside = name === null ? bare : { ...bare, link: name };
    for (const [a, b, is] of [[at, Math.min(at + n, from), look], [Math.max(at, from), Math.min(at + n, to), inside], [Math.max(at, to), at + n, look]] as const) if (a < b) looks.push([b - a, is]);
    at += n;
  }
  return makeTyped({ ...it, looks: tidied(looks.length ? looks : it.looks) });
}

/** Lines without the name of a link. */
export const unlinked = (name: string, placed: readonly Placed[]): Typed[] =>
  placed.flatMap((it) => {
    const named = it.kind === 'typed' ? namedIn(it, name) : [];
    return it.kind === 'typed' && named.length ? [named.reduce((line, [from, to]) => linked(line, from, to, null), it)] : [];
  });
