/** What a restore does: the newer one wins, and nothing is replaced without being kept. */
import type { NoteSummary } from '../note/schema';
import type { Folder, Place } from './folder';

/**
 * `new`: not on this device. `same`: nothing to do. Else both sides have something of their own, or that is not known; where they cannot be brought together row by
 * row, of `update` the archive's is newer and what is here is kept as a copy, of `keep` what is here is newer and stays.
 */
export type NoteAction = 'new' | 'same' | 'update' | 'keep';

type Known = Pick<NoteSummary, 'changed' | 'state'>;

/** Two notes are the same when they are in the same state, whatever the time of their last change says. */
export function noteAction(here: Known | undefined, there: Known): NoteAction {
  if (!here) return 'new';
  if (here.state && here.state === there.state) return 'same';
  return there.changed > here.changed ? 'update' : 'keep';
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
  /** Changed on both sides: what lost is kept, and waits for somebody to choose. */
  readonly both: { readonly note: string; readonly title: string; readonly what: readonly string[] }[];
  /** Titles of notes with changes that were dated far ahead of this device's clock. */
  readonly ahead: string[];
  /** What could not be restored, and why. */
  readonly damaged: { readonly what: string; readonly why: string }[];
  readonly folders: number;
  /** Templates that were not there. */
  readonly templates: number;
}
