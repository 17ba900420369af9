/** Folders in folders, and where each note lies among them. */
import { compareNames } from '../collation';
import { z } from 'zod';
import { LAST_MS } from '../note/limits';
import { JsonRecord } from '../record';

const id = z.string().min(1).max(64);
const wall = z.number().min(0).max(LAST_MS);

export const FOLDER_COLORS = ['navy', 'green', 'amber', 'brick', 'slate', 'plum', 'teal', 'sand'] as const;
export const EMBLEMS = ['wave', 'buoy', 'bell', 'lamp', 'knot', 'compass', 'flag', 'anchor'] as const;

export const folderSchema = z.looseObject({
  v: z.number(),
  id,
  name: z.string().min(1).max(80),
  /** The folder it lies in; null at the top. */
  parent: id.nullable(),
  color: z.enum(FOLDER_COLORS),
  emblem: z.enum(EMBLEMS),
  made: wall,
  changed: wall,
});

/** Where a note lies. Apart from the note itself, so that filing never meets with writing in another tab. */
export const placeSchema = z.looseObject({
  v: z.number(),
  note: id,
  folder: id.nullable(),
  tags: z.array(z.string().min(1).max(40)).max(40),
  /** Wall clock at which it was archived or thrown into the bin, ms; null when it was not. */
  archived: wall.nullable(),
  binned: wall.nullable(),
  /** Wall clock of the last filing, ms. */
  changed: wall,
});

type Known<T> = { [K in keyof T as string extends K ? never : K]: T[K] };
export type Folder = Known<z.infer<typeof folderSchema>>;
export type Place = Known<z.infer<typeof placeSchema>>;

/** Where a note lies that was never filed. */
export const unfiled = (note: string): Place => ({ v: 1, note, folder: null, tags: [], archived: null, binned: null, changed: 0 });

export const folderRecord = new JsonRecord<Folder>({ what: 'a folder', version: 1, schema: folderSchema });
export const placeRecord = new JsonRecord<Place>({ what: 'where a note lies', version: 1, schema: placeSchema });

/** The folders from the top down to this one. Two devices can have put two folders into each other: a circle ends where it closes. */
export function pathTo(folders: ReadonlyMap<string, Folder>, folder: string | null): Folder[] {
  const path: Folder[] = [];
  for (let f = folder === null ? undefined : folders.get(folder); f && !path.includes(f); f = f.parent === null ? undefined : folders.get(f.parent)) path.unshift(f);
  return path;
}

/** Folders that lie directly in one, by name. What lies in a folder that is gone, or in a circle, lies at the top. */
export function foldersIn(folders: ReadonlyMap<string, Folder>, parent: string | null): Folder[] {
  const at = (f: Folder): string | null => {
    const path = pathTo(folders, f.id);
    return f.parent !== null && path.length > 1 && path[path.length - 2].id === f.parent && path[0].parent === null ? f.parent : null;
  };
  return [...folders.values()].filter((f) => at(f) === parent).sort((a, b) => compareNames(a.name, b.name));
}

/** A folder and all folders within it, by id. */
export function within(folders: ReadonlyMap<string, Folder>, folder: string): Set<string> {
  return new Set([...folders.values()].filter((f) => f.id === folder || pathTo(folders, f.id).some((p) => p.id === folder)).map((f) => f.id));
}

/** False for a folder that would come to lie within itself. */
export const canMoveInto = (folders: ReadonlyMap<string, Folder>, folder: string, into: string | null): boolean => into === null || !within(folders, folder).has(into);

const DAY_MS = 86_400_000;
/** Days that what is in the bin is kept. */
export const BIN_DAYS = 30;

/** True when a note has lain in the bin for its time. `now`: ms since the epoch. */
export const isDue = (place: Place, now: number): boolean => place.binned !== null && now - place.binned >= BIN_DAYS * DAY_MS;

/** Days of use on which notes were found to have lain in the bin for their time, by note: `YYYY-MM-DD`. */
export type DueDays = Readonly<Record<string, readonly string[]>>;
/**
 * What is due goes on the third day of use that finds it so, all three within a month: clocks jump, by a month and by several, and nothing is deleted on
 * the word of one alone.
 */
export const DUE_DAYS = 3;
const WITHIN_DAYS = 30;

/** Counts a day of use. `gone`: what goes now. What is no longer due is counted afresh when it is. */
export function dueOn(day: string, due: readonly string[], seen: DueDays): { seen: DueDays; gone: string[] } {
  const near = (other: string): boolean => Math.abs(Date.parse(day) - Date.parse(other)) <= WITHIN_DAYS * DAY_MS;
  const next = Object.fromEntries(due.map((id) => [id, [...new Set([...(seen[id] ?? []).filter(near), day])]]));
  return { seen: next, gone: due.filter((id) => next[id].length >= DUE_DAYS) };
}

/** Whole days that a note in the bin still has, 0 to 30. */
export const daysLeft = (place: Place, now: number): number => (place.binned === null ? Infinity : Math.min(BIN_DAYS, Math.max(0, Math.ceil(BIN_DAYS - (now - place.binned) / DAY_MS))));

/** Days after which a backup counts as old. */
const OLD_DAYS = 14;

/** True when there is something to lose and no backup of late. `now`: ms since the epoch; a last one after it was dated by a clock that ran ahead, and is none. */
export const isBackupOld = (last: number | null, notes: number, first: number, now: number): boolean => notes > 0 && now - (last !== null && last <= now ? last : first) > OLD_DAYS * DAY_MS;
