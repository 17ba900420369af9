/** All notes of this device by their headers, the folders, and where each note lies. */
import { z } from 'zod';
import { folderRecord, placeRecord, type Folder, type Place } from '../core/library/folder';
import { noteRecord, readExtent } from '../core/note/records/noteRecord';
import type { Note } from '../core/note/edit';
import type { NoteSummary } from '../core/note/schema';
import { JsonRecord, NewerError, RecordError } from '../core/record';
import type { Cover } from '../core/vault/vault';
import { alone } from './alone';
import { letGo, stillNamed } from './contentFile';
import { isQuotaError, keys, keysStarting, notesDb, readMany, removeOwned } from './databases';
import { finishReplacing, writeNewNote, type Hold } from './noteFile';
import { whatOf } from './recordKinds';
import { policy } from './sealing';
import { removeSound } from './soundFile';
import { readCovers } from './vaultFile';

/** Headers and places are small: so many are read in one transaction. */
const BATCH = 500;

export interface Library {
  readonly headers: NoteSummary[];
  readonly folders: Folder[];
  readonly places: Place[];
  /** Of locked notes; while the lock is open they are among the headers too. */
  readonly covers: Cover[];
  /** What could not be read, in sentences for the user. */
  readonly problems: string[];
}

/** Holds a note against other tabs; null when one of them holds it. */
export type Holding = (note: string) => Promise<(Hold & { release(): unknown }) | null>;
const NOBODY_ELSE: Holding = (note) => Promise.resolve({ note, release: () => undefined });

/** What a program that ended left undone is gone on with under the hold on its note; another tab that holds it may be at just that. */
async function takeUp(hold: Holding): Promise<void> {
  for (const [prefix, goOn] of [[keys.gone(''), finishDeletion], [keys.replacing(''), finishReplacing]] as const) {
    for (const key of await keysStarting('notes', prefix)) {
      const note = key.slice(prefix.length);
      const held = await hold(note);
      if (!held) continue;
      try {
        await goOn(held);
      } finally {
        held.release();
      }
    }
  }
}

/** @param hold what is left undone is gone on with under it. */
export async function readLibrary(hold: Holding = NOBODY_ELSE): Promise<Library> {
  const db = notesDb();
  await takeUp(hold);
  const covers = await readCovers();
  const shut = new Set(policy.current.key ? [] : covers.flatMap((c) => [keys.note(c.id), keys.place(c.id)]));
  const wanted = (await keysStarting('notes', keys.note(''), keys.folder(''), keys.place(''))).filter((k) => !shut.has(k));
  // One record that is sealed and should not be must not cost the whole list.
  const found = await readMany({ getMany: (some) => db.getOpen(some) }, wanted, BATCH);
  const library: Library = { headers: [], folders: [], places: [], covers, problems: [] };
  for (const [key, text] of found) {
    try {
      // What a newer program wrote is shown as far as it can be read; it is not written over.
      if (key.startsWith(keys.note(''))) library.headers.push(noteRecord.peek(text).value);
      else if (key.startsWith(keys.folder(''))) library.folders.push(folderRecord.peek(text).value);
      else library.places.push(placeRecord.peek(text).value);
    } catch (e) {
      if (e instanceof NewerError) {
        library.problems.push(`There is something here (${whatOf('notes', key)}) that a newer Scrivo wrote. It is left as it is; update Scrivo to see it.`);
        continue;
      }
      if (!(e instanceof RecordError)) throw e;
      await db.setMany({ [keys.aside(key)]: text });
      library.problems.push(
        key.startsWith(keys.note(''))
          ? 'The record of a note is damaged, so it is not in the list. Its ink and sound are still on this device and were not touched. Settings shows what was set aside.'
          : key.startsWith(keys.folder(''))
            ? 'The record of a folder is damaged and was set aside. The notes in it are all there, outside of any folder.'
            : 'Where a note lies could not be read and was set aside. The note is there, outside of any folder.',
      );
    }
  }
  return { ...library, headers: await settled(library.headers), problems: [...new Set(library.problems)] };
}

/** Of notes that were being written when they were left, and may be still, their extent says what state they are in. */
async function settled(headers: readonly NoteSummary[]): Promise<NoteSummary[]> {
  const open = headers.filter((h) => h.state === '');
  if (!open.length) return [...headers];
  const extents = await readMany({ getMany: (some) => notesDb().getOpen(some) }, open.map((h) => keys.extent(h.id)), BATCH);
  return headers.map((h) => (h.state === '' ? { ...h, state: readExtent(extents.get(keys.extent(h.id)) ?? null)?.state } : h));
}

const todayRecord = new JsonRecord<{ headers: unknown[] }>({ what: 'what Today shows', version: 2, schema: z.looseObject({ headers: z.array(z.unknown()).max(20) }) });

/** What Today showed last: there at once, while the library itself is still being read. Empty when there is none that can be read. */
export async function readToday(): Promise<NoteSummary[]> {
  try {
    return todayRecord.read((await notesDb().getItem(keys.today)) ?? '').headers.map((h) => noteRecord.check(h).value);
  } catch {
    return [];
  }
}

export const writeToday = (headers: readonly NoteSummary[]): Promise<void> => notesDb().setItem(keys.today, todayRecord.write({ headers: headers.map((h) => ({ ...h, v: noteRecord.version })) }));

export const writeFolders = (folders: readonly Folder[]): Promise<void> => notesDb().setMany(Object.fromEntries(folders.map((f) => [keys.folder(f.id), folderRecord.write(f)])));
export const writePlaces = (places: readonly Place[]): Promise<void> => notesDb().setMany(Object.fromEntries(places.map((p) => [keys.place(p.note), placeRecord.write(p)])));

/** Folders go and what lay in them moves, in this order: what points to a folder that is gone lies at the top, so nothing is lost between the two. */
export async function removeFolders(ids: readonly string[], moved: readonly Folder[], places: readonly Place[]): Promise<void> {
  await notesDb().setMany({ ...Object.fromEntries(moved.map((f) => [keys.folder(f.id), folderRecord.write(f)])), ...Object.fromEntries(places.map((p) => [keys.place(p.note), placeRecord.write(p)])) });
  await notesDb().removeMany(ids.map(keys.folder));
}

interface Deletion {
  readonly note: string;
  readonly takes: readonly string[];
  readonly contents?: readonly string[];
}
const goneRecord = new JsonRecord<Deletion>({ what: 'a deletion', version: 1, schema: z.looseObject({ note: z.string().min(1), takes: z.array(z.string().min(1)), contents: z.array(z.string()).optional() }) });

type Doomed = Pick<NoteSummary, 'id' | 'takes' | 'contents'>;

/**
 * Deletes notes for good. First it is written down what is to go: a program that ends in between goes on with it the next time, and
 * no sound is left that nothing leads to. Sound, pictures and files that other notes need stay, by what is on disk when they would go.
 */
export async function deleteNotes(notes: readonly Doomed[]): Promise<void> {
  const deletions = notes.map(({ id: note, takes, contents }): Deletion => ({ note, takes: takes.map((t) => t.id), ...(contents ? { contents } : {}) }));
  try {
    await notesDb().setMany(Object.fromEntries(deletions.map((d) => [keys.gone(d.note), goneRecord.write(d)])));
  } catch (e) {
    // Room is made by deleting: without any to write down what is to go, it goes at once.
    if (!isQuotaError(e)) throw e;
  }
  await carryOut(deletions);
}

/**
 * Stores a note that comes from elsewhere with sound or files of its own, which take a while. First it is written down that it is to go: a program that ends
 * in between, or work that fails or is stopped, leaves nothing of it. To be called while nobody else can have the note. @throws what `rest` and storage throw
 */
export async function bringNote(note: Note, rest: () => Promise<void>): Promise<void> {
  const { id, takes, contents } = note.header;
  await allOrNothing({ note: id, takes: takes.map((t) => t.id), ...(contents ? { contents } : {}) }, async () => {
    await writeNewNote(note);
    await rest();
  });
}

/** The sound of a take on its way into a note that is there. `work` ends when the note's own record names it; until then `lease`, an id that is held against other tabs, stands for it. */
export const bringSoundFor = (lease: string, take: string, work: () => Promise<void>): Promise<void> => allOrNothing({ note: lease, takes: [take] }, work);

async function allOrNothing(doomed: Deletion, work: () => Promise<void>): Promise<void> {
  await notesDb().setMany({ [keys.gone(doomed.note)]: goneRecord.write(doomed) });
  try {
    await work();
    await notesDb().removeMany([keys.gone(doomed.note)]);
  } catch (e) {
    await carryOut([doomed]);
    throw e;
  }
}

/** Goes on with a deletion as it is written down now; somebody else may have brought it to its end. */
async function finishDeletion({ note }: Hold): Promise<void> {
  const text = await notesDb().getItem(keys.gone(note));
  if (text === null) return;
  let deletion: Deletion | null = null;
  try {
    deletion = goneRecord.read(text);
  } catch (e) {
    if (e instanceof NewerError) return;
    if (!(e instanceof RecordError)) throw e;
  }
  // One that cannot be read says nothing of what is to go.
  if (deletion?.note !== note) return notesDb().removeMany([keys.gone(note)]);
  await carryOut([deletion]);
}

async function carryOut(deletions: readonly Deletion[]): Promise<void> {
  const db = notesDb();
  const notes = new Set(deletions.map((d) => d.note));
  const going = new Set(deletions.map((d) => keys.gone(d.note)));
  // The record of a deletion itself goes last: with it a program that ends in between goes on.
  await removeOwned('notes', notes, going);
  const takes = [...new Set(deletions.flatMap((d) => d.takes))];
  // All at once: to know what others need every note is looked at.
  // Nothing goes while another tab is about to point to it.
  await alone('contents', async () => {
    const needed = await stillNamed(takes);
    await removeSound(takes.filter((id) => !needed.has(id)));
  });
  await letGo([...new Set(deletions.flatMap((d) => d.contents ?? []))]);
  await db.removeMany([...going]);
}
