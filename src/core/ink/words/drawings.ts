/** Tells drawings from writing. */
import { boxesMeet, growBox, unionBox, type Box } from '../stroke';
import { localHeights, meets, type Item } from './items';

export function setDrawingsAside(items: Item[], body: number): { written: Item[]; drawings: Item[][] } {
  const local = localHeights(items, body);
  const large = items.map((i, k) => {
    const unit = Math.min(local[k], 1.6 * body);
    return i.h > Math.max(4.2 * unit, 9) || (i.w > Math.max(16 * unit, 30) && i.h > 2.6 * unit) || (i.w > Math.max(9 * unit, 22) && i.h < 0.25 * i.w && isStraight(i));
  });
  const groups: { box: Box; items: Item[]; from: number; to: number }[] = [];
  items.forEach((item, k) => {
    if (!large[k]) return;
    const reach = growBox([item.l, item.t, item.r, item.b], 1.2 * body);
    const met = groups.filter((g) => boxesMeet(g.box, reach));
    const into = met[0] ?? { box: [item.l, item.t, item.r, item.b] as Box, items: [], from: item.wall, to: item.end };
    if (!met.length) groups.push(into);
    for (const other of met.slice(1)) {
      into.items.push(...other.items);
      into.box = unionBox(into.box, other.box);
      [into.from, into.to] = [Math.min(into.from, other.from), Math.max(into.to, other.to)];
      groups.splice(groups.indexOf(other), 1);
    }
    into.items.push(item);
    into.box = unionBox(into.box, [item.l, item.t, item.r, item.b]);
    [into.from, into.to] = [Math.min(into.from, item.wall), Math.max(into.to, item.end)];
  });
  const written: Item[] = [];
  items.forEach((item, k) => {
    if (large[k]) return;
    // A tick, an arrow head or hatching: ink that crosses the drawing's own lines, set while it was drawn.
    const home = groups.find(
      (g) => boxesMeet(g.box, [item.l, item.t, item.r, item.b]) && item.wall > g.from - 4000 && item.wall < g.to + 6000 && item.h < 3 * body && g.items.some((d) => meets(d, item, 0.35)),
    );
    if (home) home.items.push(item);
    else written.push(item);
  });
  return { written, drawings: groups.map((g) => g.items) };
}

/** Straight enough to be a rule or an underline: leaves the chord by less than a twelfth of its length. */
function isStraight(i: Item): boolean {
  const n = i.xy.length / 2;
  const [ax, ay, bx, by] = [i.xy[0], i.xy[1], i.xy[2 * n - 2], i.xy[2 * n - 1]];
  const length = Math.hypot(bx - ax, by - ay);
  if (length < 0.9 * i.w) return false;
  for (let k = 1; k < n; k++) if (Math.abs((bx - ax) * (i.xy[2 * k + 1] - ay) - (by - ay) * (i.xy[2 * k] - ax)) / length > length / 12) return false;
  return true;
}
