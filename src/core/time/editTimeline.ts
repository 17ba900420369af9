/**
 * Changes of the timeline as rows to put and rows to take: what is not touched is not written, so that undo takes back just that, and a
 * recording that was added meanwhile stays. Takes and stamps are never touched. Positions and lengths in ms.
 */
import { orderAt } from '../note/order';
import type { RowPut } from '../note/edit';
import type { Span } from '../audio/speech';
import type { Stretch } from './timeline';

/** A stretch as a row. */
export interface Laid extends Stretch {
  readonly id: string;
  readonly order: string;
}

/** A stretch after a change: a row of before, or (`id` null) one that is new there; `moved` ones get another place. */
interface Piece extends Stretch {
  readonly id: string | null;
  readonly order: string | null;
}

const asPiece = ({ id, order, take, from, to }: Laid): Piece => ({ id, order, take, from, to });

/** The rows that make `after` of `before`. */
function rows(before: readonly Laid[], after: readonly Piece[], newId: () => string): RowPut[] {
  const was = new Map(before.map((s) => [s.id, s]));
  const stays = new Set(after.flatMap((p) => p.id ?? []));
  const out: RowPut[] = before.filter((s) => !stays.has(s.id)).map(({ id }) => ({ table: 'stretches', id, v: null }));
  const laid = after.map((p) => ({ ...p, id: p.id ?? newId() }));
  for (let i = 0; i < laid.length; ) {
    if (laid[i].order !== null) {
      const { id, take, from, to, order } = laid[i++];
      const old = was.get(id)!;
      if (old.from !== from || old.to !== to) out.push({ table: 'stretches', id, v: { take, from, to, order } });
      continue;
    }
    let end = i;
    while (end < laid.length && laid[end].order === null) end++;
    const around = [...(i > 0 ? [laid[i - 1]] : []), ...laid.slice(end)].map(({ id, order }) => ({ id, order: order! }));
    const keys = orderAt(around, i > 0 ? 1 : 0, end - i);
    for (let k = 0; i < end; i++, k++) {
      const { id, take, from, to } = laid[i];
      laid[i] = { ...laid[i], order: keys[k] };
      out.push({ table: 'stretches', id, v: { take, from, to, order: keys[k] } });
    }
  }
  return out;
}

/** The pieces of a run of the timeline, and those before and after it; a stretch that it cuts through keeps its row in its first part. */
function parted(list: readonly Laid[], { from, to }: Span): { before: Piece[]; inside: Piece[]; after: Piece[] } {
  const parts = { before: [] as Piece[], inside: [] as Piece[], after: [] as Piece[] };
  let start = 0;
  for (const s of list) {
    const end = start + s.to - s.from;
    let first = true;
    for (const [part, a, b] of [['before', start, Math.min(end, from)], ['inside', Math.max(start, from), Math.min(end, to)], ['after', Math.max(start, to), end]] as const) {
      if (b <= a) continue;
      const piece = { take: s.take, from: s.from + a - start, to: s.from + b - start };
      parts[part].push(first ? { ...piece, id: s.id, order: s.order } : { ...piece, id: null, order: null });
      first = false;
    }
    start = end;
  }
  return parts;
}

/** Sound of a take at the end of the timeline: what was recorded since it was last laid there. */
export function append(list: readonly Laid[], { take, from, to }: Stretch, newId: () => string): RowPut[] {
  return to > from ? rows(list, [...list.map(asPiece), { take, from, to, id: null, order: null }], newId) : [];
}

/** Takes a run out of what is heard. */
export function cut(list: readonly Laid[], run: Span, newId: () => string): RowPut[] {
  const { before, after } = parted(list, run);
  return rows(list, [...before, ...after], newId);
}

/** Keeps a run and takes out what is before and after it. */
export function trim(list: readonly Laid[], run: Span, newId: () => string): RowPut[] {
  return rows(list, parted(list, run).inside, newId);
}

/** Parts the stretch at a position; what is heard stays the same. */
export function split(list: readonly Laid[], at: number, newId: () => string): RowPut[] {
  const { before, after } = parted(list, { from: at, to: at });
  return rows(list, [...before, ...after], newId);
}

/** Makes one stretch of those that go on where the one before ends; what is heard stays the same. */
export function join(list: readonly Laid[], newId: () => string): RowPut[] {
  const out: Piece[] = [];
  for (const s of list) {
    const last = out.at(-1);
    if (last && last.take === s.take && last.to === s.from) out[out.length - 1] = { ...last, to: s.to };
    else out.push(asPiece(s));
  }
  return rows(list, out, newId);
}

/** A run comes to stand before what is at position `to` now. Inside itself it stays where it is. */
export function move(list: readonly Laid[], run: Span, to: number, newId: () => string): RowPut[] {
  if (to > run.from && to < run.to) return [];
  const first = parted(list, run);
  const moved = first.inside.map((p) => ({ ...p, order: null }));
  if (!moved.length || to === run.from || to === run.to) return [];
  // The rest in order, as if the run were not there; the place in it.
  const rest = [...first.before, ...first.after];
  const at = to <= run.from ? to : to - (run.to - run.from);
  const out: Piece[] = [];
  let start = 0;
  let done = false;
  for (const p of rest) {
    const end = start + p.to - p.from;
    if (!done && at <= start) {
      out.push(...moved);
      done = true;
    }
    if (!done && at < end) {
      const middle = p.from + at - start;
      out.push({ ...p, to: middle }, ...moved, { ...p, from: middle, id: null, order: null });
      done = true;
    } else out.push(p);
    start = end;
  }
  if (!done) out.push(...moved);
  return rows(list, out, newId);
}

/** Lays sound of a take back that is not on the timeline: after what comes before it in its take, or before what comes after it. */
export function putBack(list: readonly Laid[], { take, from, to }: Stretch, newId: () => string): RowPut[] {
  let missing: Span[] = [{ from, to }];
  for (const s of list) {
    if (s.take !== take) continue;
    missing = missing.flatMap((m) => [{ from: m.from, to: Math.min(m.to, s.from) }, { from: Math.max(m.from, s.to), to: m.to }].filter((x) => x.to > x.from));
  }
  const out: Piece[] = list.map(asPiece);
  for (const m of missing) {
    const piece: Piece = { take, ...m, id: null, order: null };
    let at = -1;
    out.forEach((p, i) => {
      if (p.take === take && p.to <= m.from && (at < 0 || out[at].to <= p.to)) at = i;
    });
    if (at < 0) at = out.findIndex((p) => p.take === take && p.from >= m.to) - 1;
    out.splice(at < -1 ? out.length : at + 1, 0, piece);
  }
  return rows(list, out, newId);
}
