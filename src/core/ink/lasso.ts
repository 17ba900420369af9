/** What a loop of the pen takes hold of. */
import { isLocked, kindOf, paintOrder, slipAt, type Placed } from '../note/kinds/kinds';
import { insidePolygon, polygonBox } from './polygon';
import type { Vec } from './shapes/shape';

/** Share of a stroke that must lie in the loop. A hurried loop cuts through ascenders; a neighbour it grazes is not meant. */
const SHARE = 0.6;

/** What the loop holds the larger part of. */
export function inLoop<T extends Placed>(all: readonly T[], loop: readonly Vec[]): T[] {
  if (loop.length < 3) return [];
  const [l, t, r, b] = polygonBox(loop);
  const held = all.filter((s) => !isLocked(s) && !(s.box[0] > r || s.box[2] < l || s.box[1] > b || s.box[3] < t) && kindOf(s).shareIn(s, (x, y) => insidePolygon(loop, x, y)) >= SHARE);
  // What a sticky note hides is not meant.
  return all.some((s) => s.kind === 'slip') ? held.filter((s) => isSeen(s, all)) : held;
}

function isSeen(it: Placed, all: readonly Placed[]): boolean {
  const slip = slipAt(all, (it.box[0] + it.box[2]) / 2, (it.box[1] + it.box[3]) / 2);
  return !slip || slip === it || paintOrder(it, slip) > 0;
}
