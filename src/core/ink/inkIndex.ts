/** Which strokes of a page lie where: an R-tree over their boxes, and exact hits on the line itself. */
import RBush from 'rbush';
import { pointsOf, type Box, type Stroke } from './stroke';

interface Entry {
  minX: number;
  minY: number;
  maxX: number;
  maxY: number;
  stroke: Stroke;
}

const entryOf = (stroke: Stroke): Entry => ({ minX: stroke.box[0], minY: stroke.box[1], maxX: stroke.box[2], maxY: stroke.box[3], stroke });

export class InkIndex {
  private tree = new RBush<Entry>(12);
  private entries = new Map<string, Entry>();

  constructor(strokes: readonly Stroke[] = []) {
    const entries = strokes.map(entryOf);
    for (const e of entries) this.entries.set(e.stroke.id, e);
    this.tree.load(entries);
  }

  /** Brings the index to `next` from the strokes it holds; cost is in what changed plus one pass over the ids. */
  update(next: readonly Stroke[]): void {
    let changed = 0;
    for (const stroke of next) if (this.entries.get(stroke.id)?.stroke !== stroke) changed++;
    // Packing a tree anew costs less than putting in a good part of its leaves one by one.
    if (changed + Math.abs(this.entries.size - next.length) > 64 + next.length / 8) {
      const entries = next.map(entryOf);
      this.entries = new Map(entries.map((e) => [e.stroke.id, e]));
      this.tree.clear();
      this.tree.load(entries);
      return;
    }
    const seen = new Set<string>();
    for (const stroke of next) {
      seen.add(stroke.id);
      const had = this.entries.get(stroke.id);
      if (had?.stroke === stroke) continue;
      if (had) this.tree.remove(had);
      const entry = entryOf(stroke);
      this.tree.insert(entry);
      this.entries.set(stroke.id, entry);
    }
    if (this.entries.size === seen.size) return;
    for (const [id, entry] of this.entries) {
      if (seen.has(id)) continue;
      this.tree.remove(entry);
      this.entries.delete(id);
    }
  }

  /** Other strokes (or none) in the place of one, while a tool is moving; `update` sets it right again. */
  replace(id: string, by: readonly Stroke[]): void {
    const had = this.entries.get(id);
    if (had) this.tree.remove(had);
    this.entries.delete(id);
    for (const stroke of by) {
      const entry = entryOf(stroke);
      this.tree.insert(entry);
      this.entries.set(stroke.id, entry);
    }
  }

  inBox(box: Box): Stroke[] {
    return this.tree.search({ minX: box[0], minY: box[1], maxX: box[2], maxY: box[3] }).map((e) => e.stroke);
  }

  /** Strokes whose line passes within `radius` mm of the point, nearest first. */
  at(x: number, y: number, radius: number): Stroke[] {
    const hits: { stroke: Stroke; d: number }[] = [];
    for (const stroke of this.inBox([x - radius - 1, y - radius - 1, x + radius + 1, y + radius + 1])) {
      const d = distanceTo(stroke, x, y) - stroke.pen.width / 2;
      if (d <= radius) hits.push({ stroke, d });
    }
    return hits.sort((a, b) => a.d - b.d).map((h) => h.stroke);
  }

  /** Strokes touched by the straight move from one point to another with an eraser of `radius` mm. */
  along(x0: number, y0: number, x1: number, y1: number, radius: number): Stroke[] {
    const r = radius + 1;
    return this.inBox([Math.min(x0, x1) - r, Math.min(y0, y1) - r, Math.max(x0, x1) + r, Math.max(y0, y1) + r]).filter((stroke) =>
      crosses(stroke, x0, y0, x1, y1, radius + stroke.pen.width / 2),
    );
  }
}

/** Distance from a point to a segment, same unit as given. */
export function segmentDistance(px: number, py: number, ax: number, ay: number, bx: number, by: number): number {
  const [dx, dy] = [bx - ax, by - ay];
  const l2 = dx * dx + dy * dy;
  const u = l2 ? Math.min(1, Math.max(0, ((px - ax) * dx + (py - ay) * dy) / l2)) : 0;
  return Math.hypot(px - ax - u * dx, py - ay - u * dy);
}

/** Distance in mm from a point to the middle line of a stroke. */
export function distanceTo(stroke: Stroke, x: number, y: number): number {
  const { n, xy } = pointsOf(stroke);
  const [px, py] = [x * 100, y * 100];
  let best = n ? Math.hypot(px - xy[0], py - xy[1]) : Infinity;
  for (let i = 1; i < n; i++) best = Math.min(best, segmentDistance(px, py, xy[2 * i - 2], xy[2 * i - 1], xy[2 * i], xy[2 * i + 1]));
  return best / 100;
}

const side = (ax: number, ay: number, bx: number, by: number, px: number, py: number) => Math.sign((bx - ax) * (py - ay) - (by - ay) * (px - ax));

function crosses(stroke: Stroke, x0: number, y0: number, x1: number, y1: number, radius: number): boolean {
  const { n, xy } = pointsOf(stroke);
  const [ax, ay, bx, by, r] = [x0 * 100, y0 * 100, x1 * 100, y1 * 100, radius * 100];
  for (let i = 0; i < n; i++) {
    const [qx, qy] = [xy[2 * i], xy[2 * i + 1]];
    if (segmentDistance(qx, qy, ax, ay, bx, by) <= r) return true;
    if (i === 0) continue;
    const [px, py] = [xy[2 * i - 2], xy[2 * i - 1]];
    if (segmentDistance(ax, ay, px, py, qx, qy) <= r || segmentDistance(bx, by, px, py, qx, qy) <= r) return true;
    if (side(ax, ay, bx, by, px, py) !== side(ax, ay, bx, by, qx, qy) && side(px, py, qx, qy, ax, ay) !== side(px, py, qx, qy, bx, by)) return true;
  }
  return false;
}
