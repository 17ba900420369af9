/** What was set aside because it could not be read: seen, handed out, tried again, thrown away. */
import { folderRecord, placeRecord } from '../core/library/folder';
import type { Incoming } from '../core/note/merge';
import { readInk } from '../core/note/records/inkChunk';
import { noteRecord } from '../core/note/records/noteRecord';
import { readRows } from '../core/note/records/rowChunk';
import { readTemplate } from '../core/note/template';
import { NewerError, RecordError } from '../core/record';
import { keys, keysStarting, notesDb, rawDbs } from './databases';
import { beforeAside, placeOf, whatOf } from './recordKinds';

export interface Aside {
  /** Where it stood before. */
  readonly key: string;
  readonly what: string;
  /** The note it belongs to; null for what belongs to none. */
  readonly note: string | null;
  readonly bytes: number;
}

export async function listAside(): Promise<Aside[]> {
  const found = await rawDbs().notes.getMany(await keysStarting('notes', keys.aside('')));
  return Object.entries(found).flatMap(([aside, text]) => {
    const key = beforeAside(aside)!;
    return text === null ? [] : [{ key, what: whatOf('notes', key), note: placeOf('notes', key).owner, bytes: text.length }];
  });
}

/** As it is stored; null when it is gone. @throws LockedError when it belongs to a locked note and the lock is closed. */
export const readAside = (key: string): Promise<string | null> => notesDb().getItem(keys.aside(key));

export const dropAside = (key: string): Promise<void> => notesDb().removeMany([keys.aside(key)]);

/** Reads a record and gives what it brings to its note; null for what is no part of a note. @throws RecordError, NewerError */
function read(key: string, text: string): Incoming | null {
  const { kind } = placeOf('notes', key);
  if (kind === 'ink' || kind === 'rows') {
    const ink = kind === 'ink' ? readInk(text) : { placed: [], gone: [], lost: 0 };
    const rows = kind === 'rows' ? readRows(text) : { rows: [], lost: 0 };
    if (ink.lost || rows.lost) throw new RecordError('Some of it still cannot be read.');
    return { rows: rows.rows, placed: ink.placed, gone: ink.gone, changed: 0 };
  }
  if (kind === 'folder') folderRecord.read(text);
  else if (kind === 'place') placeRecord.read(text);
  else if (kind === 'template') readTemplate(text);
  else if (kind === 'note') noteRecord.read(text);
  else throw new RecordError('There is nothing that reads it.');
  return null;
}

/**
 * Tries to read it once more. Null when it still cannot be; `back` when it stands in its old place again; else what it brings to its note, to be
 * merged there, and `dropAside` after it.
 */
export async function retryAside(key: string): Promise<Incoming | 'back' | null> {
  const text = await readAside(key);
  if (text === null) return null;
  let found: Incoming | null;
  try {
    found = read(key, text);
  } catch (e) {
    if (e instanceof RecordError || e instanceof NewerError) return null;
    throw e;
  }
  if (found) return found;
  if ((await notesDb().getItem(key)) === null) await notesDb().setItem(key, text);
  await dropAside(key);
  return 'back';
}
