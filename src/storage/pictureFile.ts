/** The picture of a note's first page, kept so that lists need not draw it again. */
import { z } from 'zod';
import { JsonRecord, splitRecord } from '../core/record';
import { binaryOf, textOf } from '../core/note/binaryText';
import { noteRecord, readExtent } from '../core/note/records/noteRecord';
import { madeOf, type MadeOf } from '../core/note/schema';
import { keys, notesDb, readMany, setBeside } from './databases';

export interface KeptPicture {
  /** The state of the note of which it holds all ink. */
  readonly of: MadeOf;
  /** WebP. */
  readonly bytes: Uint8Array;
}

const head = new JsonRecord<MadeOf>({ what: 'a picture', version: 1, schema: z.looseObject({ state: z.string().optional(), changed: z.number() }) });

/** Null when there is none, or none that can be read: it is drawn anew then. */
export async function readPicture(note: string): Promise<KeptPicture | null> {
  const text = await notesDb().getItem(keys.picture(note));
  if (!text) return null;
  const [top, bytes] = splitRecord(text);
  try {
    return { of: madeOf(head.read(top)), bytes: binaryOf(bytes) };
  } catch {
    return null;
  }
}

export const writePicture = (note: string, { of, bytes }: KeptPicture): Promise<void> => setBeside({ note }, { [keys.picture(note)]: `${head.write(of)}\n${textOf(bytes)}` });

/** Records that are read at a time, and how many at most: the first page of a note is in its first records. */
const STEP = 4;
const MOST = 16;

/** The first records of a note's ink, as they are, and of which state of the note they hold it all: what was changed since may still be on its way to the disk. @throws RecordError where the note's own record cannot be read */
export async function firstInk(note: string): Promise<{ readonly of: MadeOf; readonly texts: readonly string[] }> {
  // Before the ink, which is never older than what these say (see `NoteFile`).
  const found = await notesDb().getMany([keys.note(note), keys.extent(note)]);
  const { changed } = noteRecord.peek(found[keys.note(note)] ?? '').value;
  const of = madeOf({ changed, state: readExtent(found[keys.extent(note)] ?? null)?.state });
  const texts: string[] = [];
  for (let from = 0; from < MOST; from += STEP) {
    const some = await readMany(notesDb(), Array.from({ length: STEP }, (_, i) => keys.ink(note, from + i)));
    texts.push(...some.values());
    if (!some.size) break;
  }
  return { of, texts };
}
