/** The text of pages, as it was read of their ink. */
import { isOf, madeOf, type MadeOf } from '../core/note/schema';
import { MODEL } from '../core/reading/model';
import { readPageText, writePageText, type PageText } from '../core/reading/pageText';
import { NewerError, RecordError } from '../core/record';
import { keys, notesDb, setBeside } from './databases';

/** Null where nothing was read yet; a damaged record is made anew. */
export async function readTextOf(note: string, page: string): Promise<PageText | null> {
  const text = await notesDb().getItem(keys.text(note, page));
  if (text === null) return null;
  try {
    return readPageText(text);
  } catch (e) {
    if (!(e instanceof RecordError || e instanceof NewerError)) throw e;
    return null;
  }
}

export const writeTextOf = (note: string, page: string, text: PageText): Promise<void> => setBeside({ note }, { [keys.text(note, page)]: writePageText(text) });

/** The note can be looked through as it is in this state, page by page. */
export const markRead = (note: string, of: MadeOf, pages: readonly string[]): Promise<void> => setBeside({ note }, { [keys.textOf(note)]: JSON.stringify({ v: 2, ...madeOf(of), pages }) });

/** In what state it was when it was read, and its pages then; null where it was not read as a whole. */
async function readMark(note: string): Promise<(MadeOf & { pages: readonly string[] }) | null> {
  try {
    const { state, changed, pages } = JSON.parse((await notesDb().getItem(keys.textOf(note))) ?? 'null') as MadeOf & { pages: string[] };
    return typeof changed === 'number' && Array.isArray(pages) ? { ...(typeof state === 'string' ? { state } : {}), changed, pages } : null;
  } catch {
    // It is made anew.
    return null;
  }
}

/** The text of a note that was not changed since it was read, page by page; null where it has to be read. `of`: the note as it is now, or null where any text will do. */
export async function readNoteText(note: string, of: MadeOf | null): Promise<{ readonly page: string; readonly text: PageText }[] | null> {
  const mark = await readMark(note);
  if (!mark || (of && !isOf(mark, of))) return null;
  const pages = await Promise.all(mark.pages.map(async (page) => ({ page, text: await readTextOf(note, page) })));
  return pages.every(({ text }) => text?.model === MODEL) ? (pages as { page: string; text: PageText }[]) : null;
}
