/** The text of pages, as it was read of their ink. */
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

/** The note can be looked through as it was when it had been changed at this time, page by page. */
export const markRead = (note: string, changed: number, pages: readonly string[]): Promise<void> => setBeside({ note }, { [keys.textOf(note)]: JSON.stringify({ v: 1, changed, pages }) });

/** When it had been changed last when it was read, and its pages then; null where it was not read as a whole. */
async function readMark(note: string): Promise<{ changed: number; pages: readonly string[] } | null> {
  try {
    const { changed, pages } = JSON.parse((await notesDb().getItem(keys.textOf(note))) ?? 'null') as { changed: number; pages: string[] };
    return typeof changed === 'number' && Array.isArray(pages) ? { changed, pages } : null;
  } catch {
    // It is made anew.
    return null;
  }
}

/** The text of a note that was not changed since it was read, page by page; null where it has to be read. */
export async function readNoteText(note: string, changed: number): Promise<{ readonly page: string; readonly text: PageText }[] | null> {
  const mark = await readMark(note);
  if (!mark || mark.changed < changed) return null;
  const pages = await Promise.all(mark.pages.map(async (page) => ({ page, text: await readTextOf(note, page) })));
  return pages.every(({ text }) => text?.model === MODEL) ? (pages as { page: string; text: PageText }[]) : null;
}
