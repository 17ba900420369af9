/** Files of an archive that this version does not know: they are kept as contents and go into the next archive as they came. */
import { z } from 'zod';
import { JsonRecord, NewerError, RecordError } from '../core/record';
import { keepContent, readContent } from './contentFile';
import { keys, notesDb } from './databases';

const record = new JsonRecord<{ files: Record<string, string> }>({ what: 'files of a newer Scrivo', version: 1, schema: z.looseObject({ files: z.record(z.string().max(500), z.string()) }) });

/** Hashes by name; a list that is damaged is set aside. @throws NewerError */
async function named(): Promise<Record<string, string>> {
  const text = await notesDb().getItem(keys.foreign);
  try {
    return text === null ? {} : record.read(text).files;
  } catch (e) {
    if (!(e instanceof RecordError)) throw e;
    await notesDb().setItem(keys.aside(keys.foreign), text!);
    return {};
  }
}

/** Keeps a file; what was kept under its name before makes way. @throws NewerError */
export async function keepForeign(name: string, bytes: Uint8Array): Promise<void> {
  const before = await named();
  await keepContent(bytes, async (hash) => notesDb().setItem(keys.foreign, record.write({ files: { ...before, [name]: hash } })));
}

/** Names and contents of those that are whole; none when a newer version has its own way with them. */
export async function readForeign(): Promise<Map<string, Uint8Array>> {
  const files = new Map<string, Uint8Array>();
  const list = await named().catch((e: unknown) => {
    if (e instanceof NewerError) return {};
    throw e;
  });
  for (const [name, hash] of Object.entries(list)) {
    const bytes = await readContent(hash);
    if (bytes) files.set(name, bytes);
  }
  return files;
}
