/** The browser's own database, read and harmed without the application's help. */
import type { Page } from '@playwright/test';
import { noteOfRows } from '../../src/core/note/edit';
import type { Stroke } from '../../src/core/ink/stroke';
import { strokesOf, type Placed } from '../../src/core/note/kinds/kinds';
import { readInk } from '../../src/core/note/records/inkChunk';
import { noteRecord } from '../../src/core/note/records/noteRecord';
import { readRows } from '../../src/core/note/records/rowChunk';
import type { NoteHeader } from '../../src/core/note/schema';
import { rowsByTable } from '../../src/core/formats/bundle';

/** Records of the browser's own database, as they are on disk. */
export const records = (page: Page, database: string): Promise<Record<string, string>> =>
  page.evaluate(async (name) => {
    const db = await new Promise<IDBDatabase | null>((resolve, reject) => {
      const open = indexedDB.open(name);
      let absent = false;
      // One that the application has not made yet must not be made here, without its table.
      open.onupgradeneeded = () => {
        absent = true;
        open.transaction!.abort();
      };
      open.onsuccess = () => resolve(open.result);
      open.onerror = () => (absent ? resolve(null) : reject(open.error));
    });
    if (!db) return {};
    const table = db.objectStoreNames[0];
    const store = db.transaction(table).objectStore(table);
    const ask = <T>(r: IDBRequest<T>) => new Promise<T>((resolve, reject) => ((r.onsuccess = () => resolve(r.result)), (r.onerror = () => reject(r.error))));
    const [keys, values] = await Promise.all([ask(store.getAllKeys()), ask(store.getAll())]);
    db.close();
    return Object.fromEntries(keys.map((k, i) => [String(k), values[i] as string]));
  }, database);

export const inkOnDisk = async (page: Page): Promise<readonly Placed[]> =>
  Object.entries(await records(page, 'scrivo'))
    .filter(([k]) => k.startsWith('ink/'))
    .flatMap(([, text]) => readInk(text).placed);

export const strokesOnDisk = async (page: Page): Promise<readonly Stroke[]> => strokesOf(await inkOnDisk(page));

/** The headers of all notes, as their rows on disk give them. */
export async function headersOnDisk(page: Page): Promise<NoteHeader[]> {
  const all = Object.entries(await records(page, 'scrivo'));
  return all.flatMap(([key, text]) => {
    if (!key.startsWith('note/')) return [];
    const summary = noteRecord.read(text);
    const rows = all.filter(([k]) => k.startsWith(`rows/${summary.id}/`)).flatMap(([, t]) => readRows(t).rows);
    return [noteOfRows(summary, rowsByTable(rows)).header];
  });
}

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

/** What other pages of this site have stored fills what the browser allows it, which has to be little. */
export const fillDisk = (page: Page): Promise<void> =>
  page.evaluate(async () => {
    const db = await new Promise<IDBDatabase>((resolve) => {
      const r = indexedDB.open('filler', 1);
      r.onupgradeneeded = () => r.result.createObjectStore('x');
      r.onsuccess = () => resolve(r.result);
    });
    for (const size of [200_000, 20_000, 2000]) {
      for (let i = 0; i < 40; i++) {
        const ok = await new Promise<boolean>((resolve) => {
          const tx = db.transaction('x', 'readwrite');
          const bytes = crypto.getRandomValues(new Uint8Array(60_000));
          tx.objectStore('x').put(new Uint8Array(size).map((_, k) => bytes[k % 60_000] ^ (k / 60_000)), `${performance.now()}-${size}-${i}`);
          tx.oncomplete = () => resolve(true);
          tx.onabort = () => resolve(false);
        });
        if (!ok) break;
      }
    }
    db.close();
  });
