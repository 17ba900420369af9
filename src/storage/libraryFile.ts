/** All notes of this device by their headers, the folders, and where each note lies. */
import { z } from 'zod';
import { readFolder, readPlace, type Folder, type Place } from '../core/library/folder';
import { readHeader, RecordError, writeHeader } from '../core/note/records';
import { headerSchema, wholeTimeline, type NoteHeader } from '../core/note/schema';
import type { Cover } from '../core/vault/vault';
import { keys, notesDb, readMany } from './databases';
import { finishReplacing } from './noteFile';
import { policy } from './sealing';
import { removeSound, storedLength } from './soundFile';
import { readCovers } from './vaultFile';

/** Headers and places are small: so many are read in one transaction. */
const BATCH = 500;

export interface Library {
  readonly headers: NoteHeader[];
  readonly folders: Folder[];
  readonly places: Place[];
  /** Of locked notes; while the lock is open they are among the headers too. */
  readonly covers: Cover[];
  /** What could not be read, in sentences for the user. */
  readonly problems: string[];
}

export async function readLibrary(): Promise<Library> {
  const db = notesDb();
  const all = await db.getAllKeys();
  await finishDeletions(all.filter((k) => k.startsWith(keys.gone(''))));
  for (const key of all.filter((k) => k.startsWith(keys.replacing('')))) await finishReplacing(key.slice(keys.replacing('').length), Number(await db.getItem(key)));
  const covers = await readCovers(all);
  const shut = new Set(policy.current.key ? [] : covers.flatMap((c) => [keys.note(c.id), keys.place(c.id)]));
  const wanted = all.filter((k) => /^(note|folder|place)\//.test(k) && !shut.has(k));
  // One record that is sealed and should not be must not cost the whole list.
  const found = await readMany({ getMany: (some) => db.getOpen(some) }, wanted, BATCH);
  const library: Library = { headers: [], folders: [], places: [], covers, problems: [] };
  for (const [key, text] of found) {
    try {
      if (key.startsWith(keys.note(''))) library.headers.push(readHeader(text));
      else if (key.startsWith(keys.folder(''))) library.folders.push(readFolder(text));
      else library.places.push(readPlace(text));
    } catch (e) {
      if (!(e instanceof RecordError)) throw e;
      await db.setMany({ [keys.aside(key)]: text });
      library.problems.push(
        key.startsWith(keys.note(''))
          ? 'The header of a note is damaged, so it is not in the list. Its ink and sound are still on this device and were not touched.'
          : key.startsWith(keys.folder(''))
            ? 'The record of a folder is damaged and was set aside. The notes in it are all there, outside of any folder.'
            : 'Where a note lies could not be read and was set aside. The note is there, outside of any folder.',
      );
    }
  }
  return { ...library, problems: [...new Set(library.problems)] };
}

const todaySchema = z.object({ v: z.literal(1), headers: z.array(headerSchema).max(20) });

/** What Today showed last: there at once, while the library itself is still being read. Empty when there is none that can be read. */
export async function readToday(): Promise<NoteHeader[]> {
  try {
    return todaySchema.parse(JSON.parse((await notesDb().getItem(keys.today)) ?? '')).headers;
  } catch {
    return [];
  }
}

export const writeToday = (headers: readonly NoteHeader[]): Promise<void> => notesDb().setItem(keys.today, JSON.stringify({ v: 1, headers }));

export const writeFolders = (folders: readonly Folder[]): Promise<void> => notesDb().setMany(Object.fromEntries(folders.map((f) => [keys.folder(f.id), JSON.stringify(f)])));
export const writePlaces = (places: readonly Place[]): Promise<void> => notesDb().setMany(Object.fromEntries(places.map((p) => [keys.place(p.note), JSON.stringify(p)])));

/** Folders go and what lay in them moves, in this order: what points to a folder that is gone lies at the top, so nothing is lost between the two. */
export async function removeFolders(ids: readonly string[], moved: readonly Folder[], places: readonly Place[]): Promise<void> {
  await notesDb().setMany({ ...Object.fromEntries(moved.map((f) => [keys.folder(f.id), JSON.stringify(f)])), ...Object.fromEntries(places.map((p) => [keys.place(p.note), JSON.stringify(p)])) });
  await notesDb().removeMany(ids.map(keys.folder));
}

/** A take that was running when the program ended: its length becomes what is on disk. Null when the note has none. */
export async function finishBrokenTakes(header: NoteHeader): Promise<NoteHeader | null> {
  if (!header.takes.some((t) => t.state === 'recording')) return null;
  const takes = [];
  for (const t of header.takes) {
    takes.push(t.state === 'recording' ? { ...t, state: 'done' as const, ms: Math.max(t.ms, await storedLength(t.id)) } : t);
  }
  const next: NoteHeader = { ...header, takes, timeline: wholeTimeline(takes) };
  await notesDb().setMany({ [keys.note(header.id)]: writeHeader(next) });
  return next;
}

const goneSchema = z.object({ v: z.literal(1), note: z.string().min(1), takes: z.array(z.string().min(1)) });

/**
 * Deletes a note for good. First it is written down what is to go: a program that ends in between goes on with it the next time, and
 * no sound is left that nothing leads to. `shared`: takes whose sound other notes need.
 */
export async function deleteNote(header: NoteHeader, shared: ReadonlySet<string> = new Set()): Promise<void> {
  const takes = header.takes.map((t) => t.id).filter((id) => !shared.has(id));
  await notesDb().setMany({ [keys.gone(header.id)]: JSON.stringify({ v: 1, note: header.id, takes }) });
  await finishDeletion(header.id, takes);
}

async function finishDeletion(note: string, takes: readonly string[]): Promise<void> {
  const mine = [keys.inkPrefix(note), keys.historyPrefix(note)];
  const gone = (await notesDb().getAllKeys()).filter((k) => mine.some((p) => k.startsWith(p)));
  await notesDb().removeMany([keys.note(note), keys.review(note), keys.place(note), keys.picture(note), keys.extent(note), keys.cover(note), ...gone]);
  await removeSound(takes);
  await notesDb().removeMany([keys.gone(note)]);
}

async function finishDeletions(begun: readonly string[]): Promise<void> {
  for (const [key, text] of await readMany(notesDb(), begun)) {
    const parsed = goneSchema.safeParse(JSON.parse(text));
    if (parsed.success) await finishDeletion(parsed.data.note, parsed.data.takes);
    else await notesDb().removeMany([key]);
  }
}
