/**
 * Making room: everything below a line goes down, across page ends, or comes up again.
 *
 * What moves are blocks: written lines and drawings, so that nothing is torn apart. A block that would run over the end of its page
 * goes to the head of the next one, and what stands there makes way only as far as it must.
 */
import type { Grouping } from './words/grouping';
import { isCarrier, isDecoration, mapPlaced, withGroups, type Placed } from '../note/kinds/kinds';
import { move } from './transform';
import { boxAround, unionBox, type Box } from './stroke';

export interface RoomPage {
  readonly id: string;
  /** mm. */
  readonly h: number;
  /** Distance of the ruling, mm, and its first line. */
  readonly spacing: number;
  readonly top: number;
  readonly strokes: readonly Placed[];
  /** Words of the page; without them every stroke is a block. */
  readonly grouping: Grouping | null;
}

export interface Room {
  /** Strokes that moved, in their new place. Those with another page than before have left it. */
  readonly moved: readonly Placed[];
  /** How many blank pages are to be added at the end: ink moved to ids from `extra`. */
  readonly added: number;
}

interface Block {
  box: Box;
  strokes: Placed[];
}

/** Kept free at the foot of a page, mm. */
const FOOT = 10;

/** Written lines and drawings, each with the marks that lie on it, top to bottom. */
export function blocksOf({ strokes, grouping }: Pick<RoomPage, 'strokes' | 'grouping'>): Block[] {
  const byId = new Map(strokes.map((s) => [s.id, s]));
  const blocks: Block[] = [];
  const gather = (ids: readonly string[]) => {
    const list = ids.flatMap((id) => byId.get(id) ?? []);
    for (const s of list) byId.delete(s.id);
    const box = boxAround(list);
    if (box) blocks.push({ box, strokes: list });
  };
  // A sticky note or a table goes with all that lies on it.
  for (const it of strokes) if (isCarrier(it) && it.on === undefined) gather(withGroups<Placed>([it], strokes).map((s) => s.id));
  for (const line of grouping?.lines ?? []) gather(line.words.flatMap((w) => grouping!.words[w].strokes));
  for (const d of grouping?.drawings ?? []) gather(d.strokes);
  // Highlighter and underlines go with the line they lie on; what belongs to nothing goes by itself.
  for (const s of byId.values()) {
    const [mid, h] = [(s.box[1] + s.box[3]) / 2, s.box[3] - s.box[1]];
    const home = isDecoration(s) && h < 15 ? blocks.find((b) => mid >= b.box[1] - 1 && mid <= b.box[3] + 2 && s.box[0] < b.box[2] && s.box[2] > b.box[0]) : undefined;
    if (home) home.strokes.push(s);
    else blocks.push({ box: s.box, strokes: [s] });
  }
  // Blocks that overlap in height by much (a drawing with its labels) keep together.
  blocks.sort((a, b) => a.box[1] - b.box[1]);
  const joined: Block[] = [];
  for (const b of blocks) {
    const last = joined.at(-1);
    const shared = last ? Math.min(last.box[3], b.box[3]) - Math.max(last.box[1], b.box[1]) : 0;
    if (last && shared > 0.5 * Math.min(last.box[3] - last.box[1], b.box[3] - b.box[1])) {
      last.box = unionBox(last.box, b.box);
      last.strokes.push(...b.strokes);
    } else joined.push({ box: b.box, strokes: [...b.strokes] });
  }
  return joined;
}

const middle = (b: Block) => (b.box[1] + b.box[3]) / 2;

/**
 * Moves what stands below `y` (mm) of page `index` by `dy`. `extra(k)` gives the id of the k-th page to be added.
 * Pulling up stops where ink above the line would be met; then blocks of the next page that fit come over.
 */
export function makeRoom(pages: readonly RoomPage[], index: number, y: number, dy: number, extra: (k: number) => string): Room {
  const page = pages[index];
  const blocks = blocksOf(page);
  const below = blocks.filter((b) => middle(b) >= y);
  const above = blocks.filter((b) => middle(b) < y);
  return dy >= 0 ? push(pages, index, below, dy, extra) : pull(pages, index, below, above, y, dy);
}

function push(pages: readonly RoomPage[], index: number, below: readonly Block[], dy: number, extra: (k: number) => string): Room {
  const moved: Placed[] = [];
  let added = 0;
  let k = index;
  // Blocks that have to find a place on page k, their tops in its coordinates.
  let coming = below.map((block) => ({ block, from: k, by: dy }));
  for (;;) {
    const page = pages[k] ?? { ...pages[pages.length - 1], id: extra(k - pages.length), strokes: [], grouping: null };
    if (k >= pages.length) added = k - pages.length + 1;
    const limit = page.h - FOOT;
    let over = coming.findIndex(({ block, by }) => block.box[3] + by > limit);
    // A block taller than a page has to stay where it begins.
    if (over === 0 && k > index && coming[0].block.box[1] + coming[0].by <= page.top) over = coming.length > 1 ? 1 : -1;
    const [stay, leave] = over < 0 ? [coming, []] : [coming.slice(0, over), coming.slice(over)];
    for (const { block, from, by } of stay) for (const s of block.strokes) if (by !== 0 || from !== k) moved.push(mapPlaced(s, move(0, by), page.id));
    if (!leave.length) break;
    // They begin on the first lines of the next page, as far from each other as they were; what stands there gives way by whole lines.
    const next = pages[k + 1];
    const head = (next ?? page).top - (next ?? page).spacing;
    const shift = head - leave[0].block.box[1];
    const arriving = leave.map(({ block, from }) => ({ block, from, by: shift }));
    const last = arriving[arriving.length - 1];
    const end = last.block.box[3] + last.by;
    const there = next ? blocksOf(next) : [];
    const first = there[0]?.box[1] ?? Infinity;
    const spacing = (next ?? page).spacing;
    const give = first < end + 2 ? Math.ceil((end + 2 - first) / spacing) * spacing : 0;
    coming = [...arriving, ...there.map((block) => ({ block, from: k + 1, by: give }))].sort((a, b) => a.block.box[1] + a.by - b.block.box[1] - b.by);
    k++;
  }
  return { moved, added };
}

function pull(pages: readonly RoomPage[], index: number, below: readonly Block[], above: readonly Block[], y: number, dy: number): Room {
  const page = pages[index];
  const moved: Placed[] = [];
  const roof = Math.max(0, ...above.map((b) => b.box[3] + 0.5));
  const free = below.length ? Math.max(0, below[0].box[1] - roof) : Math.max(0, -dy);
  const up = Math.min(-dy, free);
  for (const b of below) for (const s of b.strokes) moved.push(mapPlaced(s, move(0, -up)));
  const next = pages[index + 1];
  if (!next || (below.length > 0 && up === 0)) return { moved, added: 0 };
  // What the move has freed at the foot is filled from the next page, block by block, as far as it fits.
  const limit = page.h - FOOT;
  const foot = below.length ? below[below.length - 1].box[3] - up : Math.max(roof, y + dy);
  const there = blocksOf(next);
  if (!there.length) return { moved, added: 0 };
  const gap = below.length ? next.spacing * 0.4 : 0;
  const shift = foot + gap - there[0].box[1];
  const come = there.findIndex((b) => b.box[3] + shift > limit);
  const arriving = come < 0 ? there : there.slice(0, come);
  if (!arriving.length || up < 1) return { moved, added: 0 };
  for (const b of arriving) for (const s of b.strokes) moved.push(mapPlaced(s, move(0, shift), page.id));
  const rest = there.slice(arriving.length);
  if (rest.length) {
    const rise = rest[0].box[1] - there[0].box[1];
    for (const b of rest) for (const s of b.strokes) moved.push(mapPlaced(s, move(0, -rise)));
  }
  return { moved, added: 0 };
}
