/** Takes that come from files, and those that were left running when the program ended. */
import { newId } from '../id';
import { orderAt } from './order';
import { append } from '../time/editTimeline';
import type { Stamp } from '../time/timeline';
import { put, type Edit, type Note, type RowPut } from './edit';
import type { Placed } from './kinds/kinds';
import type { Take } from './schema';
import { entriesOf, inTheirOrder } from './tables';

/** A take that came from a file, with all its sound at the end of the timeline. */
export function bringTake(note: Note, take: Pick<Take, 'id' | 'name' | 'ms' | 'wall' | 'film'>): Edit {
  const { id, name, ms, wall, film } = take;
  const [order] = orderAt(inTheirOrder(note.rows, 'takes'), note.header.takes.length);
  return { rows: [put('takes', id, { name: name.slice(0, 200), wall, ms, state: 'done', parts: [{ at: 0, wall }], brought: true, ...(film && { film }), order }), ...append(inTheirOrder(note.rows, 'stretches'), { take: id, from: 0, to: ms }, newId)] };
}

/** What is left of a take that was running when the program ended. */
export interface Remains {
  /** ms of sound that are stored of it. */
  readonly ms: number;
  /** Wall clock at which it was last known to run, ms; null when that is not known. */
  readonly until: number | null;
}

/**
 * The edit that ends them with the length of their sound, which goes to the end of the timeline, and says how much sound of their end is lost, as far as that
 * is known; null when none is running.
 */
export async function finishedTakes(note: Note, remainsOf: (take: string) => Promise<Remains>): Promise<Edit | null> {
  const running = entriesOf(note.rows, 'takes').filter(([, t]) => t.state === 'recording');
  if (!running.length) return null;
  let stretches = inTheirOrder(note.rows, 'stretches');
  const rows: RowPut[] = [];
  const mended: Placed[] = [];
  for (const [id, t] of running) {
    const remains = await remainsOf(id);
    const ms = Math.max(t.ms, remains.ms);
    const momentOf = byParts(t.parts);
    const placed = restamped(note, id, momentOf, DOUBTFUL_MS).put ?? [];
    mended.push(...placed);
    const last = Math.max(0, remains.until === null ? 0 : (momentOf(remains.until) ?? 0), ...allPlaced(note).flatMap((it) => (it.stamp?.take === id && !it.second ? (momentOf(it.wall) ?? 0) : [])));
    const lost = Math.round(last - ms);
    // What was laid of it by its pauses is there already.
    const laid = append(stretches, { take: id, from: t.ms, to: ms }, newId);
    rows.push(put('takes', id, { ...t, ms, state: 'done', ...(lost > 0 ? { lost } : {}) }), ...laid);
    stretches = [...stretches, ...laid.map((r) => ({ ...(r.v as (typeof stretches)[number]), id: r.id }))];
  }
  return { rows, ...(mended.length ? { put: mended } : {}) };
}

const allPlaced = (note: Note): Placed[] => Object.values(note.ink).flat();

/** What a take's own record says of a moment by the wall clock. */
const byParts =
  (parts: Take['parts']) =>
  (wall: number): number | null => {
    const part = parts.findLast((p) => p.wall <= wall) ?? null;
    return part && part.at + wall - part.wall;
  };

/** A stamp is as exact as this, ms: wall clocks are kept in whole ms. */
const EXACT_MS = 3;
/** By so much a stamp may differ from what the record of its take says, ms: those of before 2026-12 name the start of a part by the clock as it was read somewhat later. */
const DOUBTFUL_MS = 500;
/** A stroke begun in the last moment of a take can be dated so much after its last packet, ms (see `toTimeline`). */
const TAIL_MS = 400;

/**
 * What is known of a take when its sound has come: things on the page that were stamped otherwise while sound was late, or beyond its end, are put right, by
 * the wall clock of each as witness. Ink of a second pass is not of the moment it was made at and stays.
 *
 * @param momentOf take time in ms of a moment by the wall clock (ms since the epoch); null when no sound was recorded then.
 */
export function restamped(note: Note, take: string, momentOf: (wall: number) => number | null, within = EXACT_MS): Edit {
  const put = allPlaced(note).flatMap((it): Placed[] => {
    if (it.second) return [];
    const right = mended(it, (stamp, wall) => {
      if (stamp.take !== take) return stamp;
      const at = momentOf(wall);
      // It may have come just before the first sound, or just after the last.
      if (at === null) return stamp.at <= TAIL_MS || [-TAIL_MS, TAIL_MS].some((near) => momentOf(wall + near) !== null) ? stamp : null;
      return Math.abs(at - stamp.at) <= within ? stamp : { take, at: Math.round(at * 10) / 10 };
    });
    return right === it ? [] : [right];
  });
  return put.length ? { put } : {};
}

/** A thing with all its moments seen to, those of its letters and cells too; the same object when nothing of it changes. */
function mended<T>(it: T, see: (stamp: Stamp, wall: number) => Stamp | null): T {
  if (typeof it !== 'object' || it === null || ArrayBuffer.isView(it)) return it;
  let next: Record<string, unknown> | null = null;
  const change = (key: string, value: unknown): void => {
    next ??= (Array.isArray(it) ? [...(it as unknown[])] : { ...it }) as Record<string, unknown>;
    next[key] = value;
  };
  for (const [key, value] of Object.entries(it)) {
    const wall = (it as { wall?: unknown }).wall;
    const right: unknown = key === 'stamp' && value !== null && typeof wall === 'number' ? see(value as Stamp, wall) : key === 'past' || key === 's' ? value : mended(value as unknown, see);
    if (right !== value) change(key, right);
  }
  return (next ?? it) as T;
}
