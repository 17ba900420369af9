/**
 * Keys of records by how they begin. AsyncStorage gives all keys or none, which in a library of years are a hundred thousand, for every note that is left
 * or restored; so its own database is asked.
 * No content is read here; records go by whole stretches, which takes a tenth of the time of one by one, and what hangs on another record comes only with it.
 */
import { openDB, type IDBPDatabase } from 'idb';

/** The table of AsyncStorage. */
const TABLE = 'entries';
/** Comes right after `/`: what begins with `a/` lies between `a/` and `a0`. */
const AFTER_SLASH = '0';
/** Comes after everything a key is made of. */
const END = '\uffff';

export class KeyRanges {
  private db: Promise<IDBPDatabase> | null = null;

  /** @param name of the database. */
  constructor(private readonly name: string) {}

  private open(): Promise<IDBPDatabase> {
    this.db ??= openDB(this.name, 1, {
      // Whoever comes first makes it, as AsyncStorage would.
      upgrade: (db) => void (db.objectStoreNames.contains(TABLE) || db.createObjectStore(TABLE)),
      terminated: () => (this.db = null),
    }).catch((e: unknown) => {
      this.db = null;
      throw e;
    });
    return this.db;
  }

  /** Keys that begin with any of these, each once, in order. */
  async starting(prefixes: readonly string[]): Promise<string[]> {
    const tx = (await this.open()).transaction(TABLE);
    const found = await Promise.all([...new Set(prefixes)].map((p) => tx.store.getAllKeys(IDBKeyRange.bound(p, p + END)) as Promise<string[]>));
    return [...new Set(found.flat())].sort();
  }

  /** Removes these and whatever begins with one of those, all or nothing. */
  async remove(single: readonly string[], prefixes: readonly string[]): Promise<void> {
    if (!single.length && !prefixes.length) return;
    const tx = (await this.open()).transaction(TABLE, 'readwrite');
    const asked = [...single.map((k) => tx.store.delete(k)), ...prefixes.map((p) => tx.store.delete(IDBKeyRange.bound(p, p + END)))];
    await Promise.all([...asked, tx.done]);
  }

  /**
   * Stores these while `owner`, or a record that begins with it where it ends in a slash, is there, and none of `unless` is; in one step, so that nothing comes after
   * the owner has gone, or after it was locked.
   */
  async setWhile(owner: string, entries: Readonly<Record<string, string>>, unless: readonly string[] = []): Promise<void> {
    const tx = (await this.open()).transaction(TABLE, 'readwrite');
    const there = (await tx.store.getKey(owner.endsWith('/') ? IDBKeyRange.bound(owner, owner + END) : owner)) !== undefined;
    const barred = await Promise.all(unless.map((k) => tx.store.getKey(k)));
    const asked = there && barred.every((k) => k === undefined) ? Object.entries(entries).map(([key, text]) => tx.store.put(text, key)) : [];
    await Promise.all([...asked, tx.done]);
  }

  /** What stands before the first slash after `under`, of all keys that begin with it: one step for each, however many keys there are. */
  async heads(under = ''): Promise<string[]> {
    const tx = (await this.open()).transaction(TABLE);
    const out: string[] = [];
    let cursor = await tx.store.openKeyCursor(IDBKeyRange.bound(under, under + END));
    while (cursor) {
      const rest = (cursor.key as string).slice(under.length);
      const slash = rest.indexOf('/');
      if (slash >= 0) out.push(rest.slice(0, slash));
      cursor = slash >= 0 ? await cursor.continue(`${under}${rest.slice(0, slash)}${AFTER_SLASH}`) : await cursor.continue();
    }
    return out;
  }
}
