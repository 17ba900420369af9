/** What of a page lies where: an R-tree over the boxes, and exact hits by what each kind calls being touched. */
import RBush from 'rbush';
import { distanceTo, isCrossed, uncoveredAt, type Placed } from '../note/kinds/kinds';
import type { Box } from './stroke';

interface Entry {
  minX: number;
  minY: number;
  maxX: number;
  maxY: number;
  placed: Placed;
}

const entryOf = (placed: Placed): Entry => ({ minX: placed.box[0], minY: placed.box[1], maxX: placed.box[2], maxY: placed.box[3], placed });

export class InkIndex {
  private tree = new RBush<Entry>(12);
  private entries = new Map<string, Entry>();

  constructor(all: readonly Placed[] = []) {
    const entries = all.map(entryOf);
    for (const e of entries) this.entries.set(e.placed.id, e);
    this.tree.load(entries);
  }

  /** Brings the index to `next` from the strokes it holds; cost is in what changed plus one pass over the ids. */
  update(next: readonly Placed[]): void {
    let changed = 0;
    for (const it of next) if (this.entries.get(it.id)?.placed !== it) changed++;
    // Packing a tree anew costs less than putting in a good part of its leaves one by one.
    if (changed + Math.abs(this.entries.size - next.length) > 64 + next.length / 8) {
      const entries = next.map(entryOf);
      this.entries = new Map(entries.map((e) => [e.placed.id, e]));
      this.tree.clear();
      this.tree.load(entries);
      return;
    }
    const seen = new Set<string>();
    for (const it of next) {
      seen.add(it.id);
      const had = this.entries.get(it.id);
      if (had?.placed === it) continue;
      if (had) this.tree.remove(had);
      const entry = entryOf(it);
      this.tree.insert(entry);
      this.entries.set(it.id, entry);
    }
    if (this.entries.size === seen.size) return;
    for (const [id, entry] of this.entries) {
      if (seen.has(id)) continue;
      this.tree.remove(entry);
      this.entries.delete(id);
    }
  }

  /** Others (or none) in the place of one, while a tool is moving; `update` sets it right again. */
  replace(id: string, by: readonly Placed[]): void {
    const had = this.entries.get(id);
    if (had) this.tree.remove(had);
    this.entries.delete(id);
    for (const it of by) {
      const entry = entryOf(it);
      this.tree.insert(entry);
      this.entries.set(it.id, entry);
    }
  }

  inBox(box: Box): Placed[] {
    return this.tree.search({ minX: box[0], minY: box[1], maxX: box[2], maxY: box[3] }).map((e) => e.placed);
  }

  /** What lies within `radius` mm of the point and is not hidden there, nearest first. */
  at(x: number, y: number, radius: number): Placed[] {
    const hits: { placed: Placed; d: number }[] = [];
    for (const placed of uncoveredAt(this.inBox([x - radius - 1, y - radius - 1, x + radius + 1, y + radius + 1]), x, y)) {
      const d = distanceTo(placed, x, y);
      if (d <= radius) hits.push({ placed, d });
    }
    return hits.sort((a, b) => a.d - b.d).map((h) => h.placed);
  }

  /** What is touched by the straight move from one point to another with an eraser of `radius` mm. */
  along(x0: number, y0: number, x1: number, y1: number, radius: number): Placed[] {
    const r = radius + 1;
    const rub = { x0, y0, x1, y1, radius };
    return uncoveredAt(this.inBox([Math.min(x0, x1) - r, Math.min(y0, y1) - r, Math.max(x0, x1) + r, Math.max(y0, y1) + r]), x1, y1).filter((it) => isCrossed(it, rub));
  }
}
