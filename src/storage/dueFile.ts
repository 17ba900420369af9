/** On which days notes in the bin were found to be due. */
import { z } from 'zod';
import type { DueDays } from '../core/library/folder';
import { JsonRecord } from '../core/record';
import { keys, notesDb } from './databases';

const record = new JsonRecord<{ days: DueDays }>({ what: 'what is due in the bin', version: 1, schema: z.looseObject({ days: z.record(z.string(), z.array(z.string().max(10)).max(40)) }) });

/** None when it cannot be read: then the counting begins anew, and nothing is deleted too soon. */
export async function readDue(): Promise<DueDays> {
  try {
    return record.read((await notesDb().getItem(keys.due)) ?? '').days;
  } catch {
    return {};
  }
}

export const writeDue = (days: DueDays): Promise<void> => notesDb().setItem(keys.due, record.write({ days }));
