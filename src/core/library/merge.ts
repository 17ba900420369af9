/** What a restore does: the newer one wins, and nothing is replaced without being kept. */
import type { NoteSummary } from '../note/schema';
import type { Folder, Place } from './folder';

/**
 * `new`: not on this device. `same`: nothing to do. `update`: the archive's is newer; what is here is kept as a copy. `keep`: what is here is
 * newer and stays.
 */
export type NoteAction = 'new' | 'same' | 'update' | 'keep';

export function noteAction(here: Pick<NoteSummary, 'changed'> | undefined, there: Pick<NoteSummary, 'changed'>): NoteAction {
  if (!here) return 'new';
  return here.changed === there.changed ? 'same' : there.changed > here.changed ? 'update' : 'keep';
}

/** Of two sets of records those of the second that are new or newer. */
const newer = <T extends { readonly changed: number }>(here: ReadonlyMap<string, T>, there: readonly T[], id: (t: T) => string): T[] => there.filter((t) => (here.get(id(t))?.changed ?? -1) < t.changed);

export const foldersToPut = (here: ReadonlyMap<string, Folder>, there: readonly Folder[]): Folder[] => newer(here, there, (f) => f.id);
/**
 * Places of notes that are not there are passed over. What comes into the bin with them has its time there from `now` on (ms): the word of a file
 * deletes nothing.
 */
export const placesToPut = (here: Readonly<Record<string, Place>>, there: readonly Place[], notes: ReadonlySet<string>, now: number): Place[] =>
  newer(new Map(Object.entries(here)), there.filter((p) => notes.has(p.note)), (p) => p.note).map((p) => (p.binned !== null && here[p.note]?.binned !== p.binned ? { ...p, binned: now } : p));

export interface RestoreReport {
  readonly brought: string[];
  /** Updated to the newer one of the archive; each older one is kept as a copy. */
  readonly updated: string[];
  readonly same: string[];
  /** What is here is newer and stays. */
  readonly kept: string[];
  /** What could not be restored, and why. */
  readonly damaged: { readonly what: string; readonly why: string }[];
  readonly folders: number;
  /** Templates that were not there. */
  readonly templates: number;
}
