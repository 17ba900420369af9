/** The browser's own database, read and harmed without the application's help. */
import type { Page } from '@playwright/test';
import type { Stroke } from '../../src/core/ink/stroke';
import { readChunk } from '../../src/core/note/records';

/** Records of the browser's own database, as they are on disk. */
export const records = (page: Page, database: string): Promise<Record<string, string>> =>
  page.evaluate(async (name) => {
    const db = await new Promise<IDBDatabase>((resolve, reject) => {
      const open = indexedDB.open(name);
      open.onsuccess = () => resolve(open.result);
      open.onerror = () => reject(open.error);
    });
    const table = db.objectStoreNames[0];
    const store = db.transaction(table).objectStore(table);
    const ask = <T>(r: IDBRequest<T>) => new Promise<T>((resolve, reject) => ((r.onsuccess = () => resolve(r.result)), (r.onerror = () => reject(r.error))));
    const [keys, values] = await Promise.all([ask(store.getAllKeys()), ask(store.getAll())]);
    db.close();
    return Object.fromEntries(keys.map((k, i) => [String(k), values[i] as string]));
  }, database);

export const strokesOnDisk = async (page: Page): Promise<readonly Stroke[]> =>
  Object.entries(await records(page, 'scrivo'))
    .filter(([k]) => k.startsWith('ink/'))
    .flatMap(([, text]) => readChunk(text).strokes);

/** Puts a value of one's own in the place of a record. */
export const overwrite = (page: Page, database: string, key: string, value: string): Promise<void> =>
  page.evaluate(
    async ([name, k, v]) => {
      const db = await new Promise<IDBDatabase>((resolve, reject) => {
        const open = indexedDB.open(name);
        open.onsuccess = () => resolve(open.result);
        open.onerror = () => reject(open.error);
      });
      const table = db.objectStoreNames[0];
      const tx = db.transaction(table, 'readwrite');
      tx.objectStore(table).put(v, k);
      await new Promise((resolve) => (tx.oncomplete = resolve));
      db.close();
    },
    [database, key, value] as const,
  );
