/** All notes of this device, by their headers. */
import { readHeader, RecordError, writeHeader } from '../core/note/records';
import { wholeTimeline, type NoteHeader } from '../core/note/schema';
import { keys, notesDb, readMany } from './databases';
import { removeSound, storedLength } from './soundFile';

export async function readLibrary(): Promise<{ headers: NoteHeader[]; problems: string[] }> {
  const db = notesDb();
  const wanted = (await db.getAllKeys()).filter((k) => k.startsWith('note/'));
  const found = await readMany(db, wanted);
  const headers: NoteHeader[] = [];
  const problems: string[] = [];
  for (const [key, text] of found) {
    try {
      headers.push(readHeader(text));
    } catch (e) {
      if (!(e instanceof RecordError)) throw e;
      await db.setMany({ [keys.aside(key)]: text });
      problems.push('The header of a note is damaged, so it is not in the list. Its ink and sound are still on this device and were not touched.');
    }
  }
  return { headers, problems };
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

/** `shared`: takes whose sound other notes need. */
export async function deleteNote(header: NoteHeader, shared: ReadonlySet<string> = new Set()): Promise<void> {
  const mine = [keys.inkPrefix(header.id), keys.historyPrefix(header.id)];
  const gone = (await notesDb().getAllKeys()).filter((k) => mine.some((p) => k.startsWith(p)));
  await notesDb().removeMany([keys.note(header.id), keys.review(header.id), ...gone]);
  await removeSound(header.takes.map((t) => t.id).filter((id) => !shared.has(id)));
}
