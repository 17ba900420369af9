/** What is done to several things at once: which lies over which, and how they stand to each other. */
import type { Grouping } from '../ink/words/grouping';
import { boxAround, boxesMeet, type Box } from '../ink/stroke';
import { liftOf, lowestLift, paintOrder, topLift, type Placed } from './kinds/kinds';

export type Order = 'front' | 'forward' | 'back' | 'backward';

const lifted = <T extends Placed>(it: T, lift: number): T => {
  const { lift: _, ...plain } = it;
  return Object.freeze(lift ? { ...plain, lift } : plain) as unknown as T;
};

/** Lifts that they have now, each put to `to` and those after it, in their order. */
function risenTo(chosen: readonly Placed[], to: number): Placed[] {
  const lifts = [...new Set(chosen.map(liftOf))].sort((a, b) => a - b);
  return chosen.map((it) => lifted(it, to + lifts.indexOf(liftOf(it))));
}

/**
 * What has to change so that `chosen` comes before everything on its page, one step forward or back, or behind everything. A step is over what lies nearest in the
 * order of drawing and touches it.
 * @param all everything on the page; @param chosen with all that lies on it
 */
export function reordered(all: readonly Placed[], chosen: readonly Placed[], order: Order): Placed[] {
  if (!chosen.length) return [];
  const ids = new Set(chosen.map((it) => it.id));
  const others = all.filter((it) => !ids.has(it.id));
  const count = new Set(chosen.map(liftOf)).size;
  const changed = (list: readonly Placed[]) => list.filter((it) => liftOf(it) !== liftOf(all.find((old) => old.id === it.id) ?? it));
  if (order === 'front') return others.length ? changed(risenTo(chosen, topLift(others) + 1)) : [];
  if (order === 'back') return others.length ? changed(risenTo(chosen, Math.min(0, lowestLift(others)) - count)) : [];
  const meeting = others.filter((it) => it.kind !== 'unknown' && chosen.some((c) => boxesMeet(c.box, it.box)));
  if (order === 'forward') {
    const top = [...chosen].sort(paintOrder).at(-1)!;
    const next = meeting.filter((it) => paintOrder(it, top) > 0).sort(paintOrder)[0];
    if (!next) return [];
    const at = liftOf(next) + 1;
    return changed([...others.filter((it) => liftOf(it) >= at).map((it) => lifted(it, liftOf(it) + count)), ...risenTo(chosen, at)]);
  }
  const lowest = [...chosen].sort(paintOrder)[0];
  const next = meeting.filter((it) => paintOrder(it, lowest) < 0).sort(paintOrder).at(-1);
  if (!next) return [];
  const at = liftOf(next);
  return changed([...others.filter((it) => liftOf(it) < at).map((it) => lifted(it, liftOf(it) - count)), ...risenTo(chosen, at - count)]);
}

/** Parts of what is chosen that move as one: what is grouped, what lies on one sticky note or table, a word, a text. */
export function unitsOf(chosen: readonly Placed[], grouping: Grouping | null): Placed[][] {
  const wordOf = new Map<string, string>();
  for (const w of [...(grouping?.words ?? []), ...(grouping?.drawings ?? [])]) for (const id of w.strokes) wordOf.set(id, w.strokes[0]);
  const ids = new Set(chosen.map((it) => it.id));
  const by = new Map<string, Placed[]>();
  for (const it of chosen) {
    const key = it.on !== undefined && ids.has(it.on) ? it.on : (it.group ?? wordOf.get(it.id) ?? (it.kind === 'typed' ? it.flow : it.id));
    const list = by.get(key);
    if (list) list.push(it);
    else by.set(key, [it]);
  }
  return [...by.values()];
}

export type Alignment = 'left' | 'middle' | 'right' | 'top' | 'centre' | 'bottom';

/** How far each unit has to go, mm, for all of them to stand flush; in the order of `boxes`. */
export function aligned(boxes: readonly Box[], to: Alignment): [number, number][] {
  const l = Math.min(...boxes.map((b) => b[0]));
  const t = Math.min(...boxes.map((b) => b[1]));
  const r = Math.max(...boxes.map((b) => b[2]));
  const b = Math.max(...boxes.map((c) => c[3]));
  return boxes.map(([left, top, right, bottom]): [number, number] => {
    if (to === 'left') return [l - left, 0];
    if (to === 'right') return [r - right, 0];
    if (to === 'middle') return [(l + r - left - right) / 2, 0];
    if (to === 'top') return [0, t - top];
    if (to === 'bottom') return [0, b - bottom];
    return [0, (t + b - top - bottom) / 2];
  });
}

/** How far each unit has to go for the air between them to be the same everywhere; the outermost stay. Across when `axis` is 0, down when it is 1. */
export function spread(boxes: readonly Box[], axis: 0 | 1): [number, number][] {
  const order = boxes.map((_, i) => i).sort((a, b) => boxes[a][axis] + boxes[a][axis + 2] - boxes[b][axis] - boxes[b][axis + 2]);
  const size = (i: number) => boxes[i][axis + 2] - boxes[i][axis];
  const [first, last] = [order[0], order[order.length - 1]];
  const room = boxes[last][axis + 2] - boxes[first][axis] - order.reduce((sum, i) => sum + size(i), 0);
  const air = room / Math.max(1, order.length - 1);
  const out: [number, number][] = boxes.map(() => [0, 0]);
  let at = boxes[first][axis];
  for (const i of order) {
    out[i][axis] = at - boxes[i][axis];
    at += size(i) + air;
  }
  return out;
}

export const boxesOf = (units: readonly (readonly Placed[])[]): Box[] => units.map((u) => boxAround(u)!);
