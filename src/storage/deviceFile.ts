/** The name of this device in the versions of what it changes; made once. */
import { z } from 'zod';
import { newId } from '../core/id';
import { JsonRecord, NewerError, RecordError } from '../core/record';
import { keys, notesDb } from './databases';

const device = new JsonRecord<{ id: string }>({ what: 'the name of this device', version: 1, schema: z.looseObject({ id: z.string().min(4).max(64) }) });
/** Twelve characters of 64 are 72 bits: no two devices of a lifetime meet by chance, and every version names one. */
const LENGTH = 12;

export async function deviceName(): Promise<string> {
  const text = await notesDb().getItem(keys.device);
  if (text !== null) {
    try {
      return device.read(text).id;
    } catch (e) {
      if (e instanceof NewerError) return device.peek(text).value.id;
      if (!(e instanceof RecordError)) throw e;
    }
  }
  const id = newId().slice(0, LENGTH);
  await notesDb().setItem(keys.device, device.write({ id }));
  return id;
}
