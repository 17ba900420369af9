/** What a note was before another state of it was brought into it: one touch goes back to that. */
import { editBetween } from '../core/note/kept';
import type { Edit, Note } from '../core/note/edit';
import { keys, keysStarting, notesDb } from './databases';
import { readStep, writeStep } from './historyFile';

/** So many are kept of a note; with another one the oldest goes. */
const KEPT = 5;

const atOf = (note: string, key: string): number => Number(key.slice(keys.checkpointPrefix(note).length));

/** When the note was merged into, ms since the epoch, the latest first. */
export async function checkpointsOf(note: string): Promise<number[]> {
  return (await keysStarting('notes', keys.checkpointPrefix(note))).map((key) => atOf(note, key)).filter((at) => at > 0).sort((a, b) => b - a);
}

/** Writes down what leads back from `after` to `before`, while the note is held. @throws what storage throws: then nothing must be merged. */
export async function writeCheckpoint(before: Note, after: Note, now: number): Promise<void> {
  const { id } = before.header;
  const were = await checkpointsOf(id);
  const at = Math.max(Math.floor(now), (were[0] ?? 0) + 1);
  await notesDb().setItem(keys.checkpoint(id, at), writeStep(editBetween(after, before)));
  const old = were.slice(KEPT - 1).map((t) => keys.checkpoint(id, t));
  if (old.length) await notesDb().removeMany(old);
}

/** The edit that goes back to before a merge; null when it cannot be read. */
export async function readCheckpoint(note: string, at: number): Promise<Edit | null> {
  const text = await notesDb().getItem(keys.checkpoint(note, at));
  return text === null ? null : readStep(text);
}

export const dropCheckpoint = (note: string, at: number): Promise<void> => notesDb().removeMany([keys.checkpoint(note, at)]);
