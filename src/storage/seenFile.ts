/** Where one stopped in a note: which place of which page stood at the top, and how large it was shown. */
import { z } from 'zod';
import { JsonRecord, NewerError, RecordError } from '../core/record';
import { keys, notesDb, setBeside } from './databases';

const schema = z.looseObject({
  page: z.string(),
  /** mm down the page. */
  y: z.number().min(-1000).max(10_000),
  /** Left edge of the view on the page, mm. */
  x: z.number().min(-1000).max(10_000),
  /** Share of true size; null for the width of the view. */
  zoom: z.number().min(0.1).max(20).nullable(),
});
export interface Seen {
  readonly page: string;
  readonly y: number;
  readonly x: number;
  readonly zoom: number | null;
}

const seenRecord = new JsonRecord<Seen>({ what: 'where one stopped', version: 1, schema });

/** Null where it is not known; a damaged record is as good as none, since nothing is lost with it. @throws what storage throws. */
export async function readSeen(note: string): Promise<Seen | null> {
  const text = await notesDb().getItem(keys.seen(note));
  if (!text) return null;
  try {
    return seenRecord.read(text);
  } catch (e) {
    if (e instanceof RecordError || e instanceof NewerError) return null;
    throw e;
  }
}

export const writeSeen = (note: string, seen: Seen): Promise<void> => setBeside({ note }, { [keys.seen(note)]: seenRecord.write(seen) });
