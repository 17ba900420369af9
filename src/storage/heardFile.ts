import { readHeard, writeHeard, type Heard } from '../core/audio/heard';
import { RecordError } from '../core/record';
import { keys, setBeside, soundDb } from './databases';

/** What is known of the sound of a take, or null: it can be found out anew, so a damaged record is none. */
export async function readTakeHeard(take: string): Promise<Heard | null> {
  const text = await soundDb().getItem(keys.heard(take));
  if (text === null) return null;
  try {
    return readHeard(text);
  } catch (e) {
    if (!(e instanceof RecordError)) throw e;
    return null;
  }
}

/** @param note that the take belongs to. */
export const writeTakeHeard = (note: string, take: string, heard: Heard): Promise<void> => setBeside({ note, take }, { [keys.heard(take)]: writeHeard(heard) });
