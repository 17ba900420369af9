/** Takes that come from files, and those that were left running when the program ended. */
import { newId } from '../id';
import { orderAt } from './order';
import { append } from '../time/editTimeline';
import { put, type Edit, type Note } from './edit';
import type { Take } from './schema';
import { entriesOf, inTheirOrder } from './tables';

/** A take that came from a file, with all its sound at the end of the timeline. */
export function bringTake(note: Note, take: Pick<Take, 'id' | 'name' | 'ms' | 'wall' | 'film'>): Edit {
  const { id, name, ms, wall, film } = take;
  const [order] = orderAt(inTheirOrder(note.rows, 'takes'), note.header.takes.length);
  return { rows: [put('takes', id, { name: name.slice(0, 200), wall, ms, state: 'done', parts: [{ at: 0, wall }], brought: true, ...(film && { film }), order }), ...append(inTheirOrder(note.rows, 'stretches'), { take: id, from: 0, to: ms }, newId)] };
}

/**
 * The edit that ends them with the length of their sound, which goes to the end of the timeline; null when none is running.
 * @param lengthOf ms of sound that are stored of a take.
 */
export async function finishedTakes(note: Note, lengthOf: (take: string) => Promise<number>): Promise<Edit | null> {
  const running = entriesOf(note.rows, 'takes').filter(([, t]) => t.state === 'recording');
  if (!running.length) return null;
  let stretches = inTheirOrder(note.rows, 'stretches');
  const rows = [];
  for (const [id, t] of running) {
    const ms = Math.max(t.ms, await lengthOf(id));
    // What was laid of it by its pauses is there already.
    const laid = append(stretches, { take: id, from: t.ms, to: ms }, newId);
    rows.push(put('takes', id, { ...t, ms, state: 'done' }), ...laid);
    stretches = [...stretches, ...laid.map((r) => ({ ...(r.v as (typeof stretches)[number]), id: r.id }))];
  }
  return { rows };
}
