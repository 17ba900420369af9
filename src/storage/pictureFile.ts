/** The picture of a note's first page, kept so that lists need not draw it again. */
import { z } from 'zod';
import { JsonRecord, splitRecord } from '../core/record';
import { binaryOf, textOf } from '../core/note/binaryText';
import { noteRecord } from '../core/note/records/noteRecord';
import { keys, notesDb, readMany, setBeside } from './databases';

export interface KeptPicture {
  /** The note's `changed` of which it holds all ink. */
  readonly changed: number;
  /** WebP. */
  readonly bytes: Uint8Array;
}

const head = new JsonRecord<{ changed: number }>({ what: 'a picture', version: 1, schema: z.looseObject({ changed: z.number() }) });

/** Null when there is none, or none that can be read: it is drawn anew then. */
export async function readPicture(note: string): Promise<KeptPicture | null> {
  const text = await notesDb().getItem(keys.picture(note));
  if (!text) return null;
  const [top, bytes] = splitRecord(text);
  try {
    return { changed: head.read(top).changed, bytes: binaryOf(bytes) };
  } catch {
    return null;
  }
}

export const writePicture = (note: string, { changed, bytes }: KeptPicture): Promise<void> => setBeside({ note }, { [keys.picture(note)]: `${head.write({ changed })}\n${textOf(bytes)}` });

/** Records that are read at a time, and how many at most: the first page of a note is in its first records. */
const STEP = 4;
const MOST = 16;

/** The first records of a note's ink, as they are, and up to which change of the note they hold it all: what was changed since may still be on its way to the disk. @throws RecordError where the note's own record cannot be read */
export async function firstInk(note: string): Promise<{ readonly changed: number; readonly texts: readonly string[] }> {
  // Before the ink, which is never older than what the note's record says (see `NoteFile`).
  const { changed } = noteRecord.peek((await notesDb().getItem(keys.note(note))) ?? '').value;
  const texts: string[] = [];
  for (let from = 0; from < MOST; from += STEP) {
    const found = await readMany(notesDb(), Array.from({ length: STEP }, (_, i) => keys.ink(note, from + i)));
    texts.push(...found.values());
    if (!found.size) break;
  }
  return { changed, texts };
}
