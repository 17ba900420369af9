/** Between the application and storage: what belongs to a locked note is stored sealed, and read only while the lock is open. */
import type { AsyncStorage } from '@react-native-async-storage/async-storage';
import { isSealed as isSealedText, openText, SealError, sealText } from '../core/vault/seal';
import { isSealed, type Locked, type Store } from './recordKinds';

/** Something is locked and there is no key: a sentence for the user. */
export class LockedError extends Error {
  readonly name = 'LockedError';
}
const LOCKED = 'This is locked. Unlock it with the passphrase first.';

/** Of storage only what is used. */
export type Records = Pick<AsyncStorage, 'getItem' | 'setItem' | 'getMany' | 'setMany' | 'removeMany' | 'getAllKeys'> & {
  /** As `getMany`, and null for what is locked. */
  getOpen: AsyncStorage['getMany'];
};

/** What is sealed, and the key while the lock is open. */
export interface Policy extends Locked {
  /** The lock that there is; null without one. */
  readonly lock: string | null;
  readonly key: CryptoKey | null;
}
export const NO_LOCK: Policy = { lock: null, key: null, whole: false, notes: new Set(), takes: new Set() };

export const policy: { current: Policy } = { current: NO_LOCK };

export const seals = (store: Store, key: string): boolean => isSealed(store, key, policy.current);
/** Whether a record could be written now: while the lock is closed nothing that is locked can. */
export const isWritable = (store: Store, key: string): boolean => policy.current.key !== null || !seals(store, key);

/** @throws LockedError without a key. What was damaged, or sealed by a lock that is gone, is given as it is stored, so that who reads it finds and sets it aside. */
async function opened(key: string, text: string): Promise<string> {
  if (!isSealedText(text)) return text;
  if (!policy.current.lock) return text;
  if (!policy.current.key) throw new LockedError(LOCKED);
  try {
    return await openText(policy.current.key, key, text);
  } catch (e) {
    if (e instanceof SealError) return text;
    throw e;
  }
}

async function closed(key: string, text: string): Promise<string> {
  if (!policy.current.key) throw new LockedError(LOCKED);
  return sealText(policy.current.key, key, text);
}

/** Records as they are stored, sealed where they have to be. @throws LockedError without a key. */
export async function asStored(store: Store, entries: Readonly<Record<string, string>>): Promise<Record<string, string>> {
  const kept = { ...entries };
  for (const [key, text] of Object.entries(entries)) if (seals(store, key)) kept[key] = await closed(key, text);
  return kept;
}

export function sealing(db: AsyncStorage, store: Store): Records {
  return {
    getAllKeys: () => db.getAllKeys(),
    removeMany: (keys) => db.removeMany(keys),
    async getItem(key) {
      const text = await db.getItem(key);
      return text === null ? null : opened(key, text);
    },
    async getMany(keys) {
      const found = await db.getMany(keys);
      for (const [key, text] of Object.entries(found)) if (text !== null && isSealedText(text)) found[key] = await opened(key, text);
      return found;
    },
    async getOpen(keys) {
      const found = await db.getMany(keys);
      for (const [key, text] of Object.entries(found)) {
        if (text !== null && isSealedText(text)) found[key] = policy.current.lock && !policy.current.key ? null : await opened(key, text);
      }
      return found;
    },
    async setItem(key, text) {
      return db.setItem(key, seals(store, key) ? await closed(key, text) : text);
    },
    async setMany(entries) {
      return db.setMany(await asStored(store, entries));
    },
  };
}

/** Records that are looked at in one step of a sweep. */
const STEP = 48;

/**
 * Brings records to what the policy wants, sealed or not; those that are right already are only read. It may be broken off anywhere and begun
 * anew. `db`: the store itself. A record that does not open is left as it is. @throws AbortError when stopped, and what storage throws.
 */
export async function sweep(db: AsyncStorage, store: Store, keys: readonly string[], signal: AbortSignal, progress: (done: number) => void): Promise<void> {
  const { key: secret } = policy.current;
  if (!secret) throw new LockedError(LOCKED);
  for (let i = 0; i < keys.length; i += STEP) {
    signal.throwIfAborted();
    const changed: Record<string, string> = {};
    for (const [key, text] of Object.entries(await db.getMany(keys.slice(i, i + STEP)))) {
      if (text === null || isSealedText(text) === seals(store, key)) continue;
      if (seals(store, key)) changed[key] = await sealText(secret, key, text);
      else changed[key] = await opened(key, text);
    }
    if (Object.keys(changed).length) await db.setMany(changed);
    progress(Math.min(keys.length, i + STEP));
  }
}
