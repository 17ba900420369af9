/** What locked notes in an archive open with: the lock of this device where it is the same, else its passphrase is asked for. */
import { importKey } from '../core/vault/seal';
import { unlock, vaultOf, waitAfter, WrongPassphrase, type Keyhole } from '../core/vault/vault';
import { deriveInWorker } from '../platform/passphrase';
import { policy } from '../storage/sealing';
import { beginVault } from '../storage/vaultFile';
import { ask, showVault, vault } from './lockState';
import { reasonOf, say } from './messages';
import { lockSlice } from './slices';
import type { Thunk } from './thunk';

const { set } = lockSlice.actions;

let asked: { lock: Keyhole; wrong: number; answer: (keyBytes: Uint8Array | null) => void } | null = null;

/** The key of an archive's lock; null when its notes are left out. A device without a lock takes that of the archive over. */
export const keyOfArchive =
  (lock: Keyhole): Thunk<Promise<CryptoKey | null>> =>
  async (dispatch, getState) => {
    // What is left of a damaged lock must not be written over.
    if (getState().lock.status === 'broken') return null;
    if (vault.current && !policy.current.key) {
      dispatch(say('backup-locked', 'info', 'Locked notes of the backup are left out while the lock here is closed. Unlock, and restore once more.', 'unlock'));
      return null;
    }
    if (vault.current?.id === lock.id) return policy.current.key;
    const keyBytes = await new Promise<Uint8Array | null>((answer) => {
      asked = { lock, wrong: 0, answer };
      dispatch(ask({ kind: 'archive', hint: lock.hint }));
    });
    asked = null;
    dispatch(ask(null));
    if (!keyBytes) return null;
    if (!vault.current) {
      const taken = vaultOf(lock);
      await beginVault(taken, keyBytes);
      dispatch(showVault(taken));
    }
    return importKey(keyBytes);
  };

export const leaveLockedOut = (): void => asked?.answer(null);

export const tryArchivePassphrase =
  (passphrase: string): Thunk<Promise<void>> =>
  async (dispatch, getState) => {
    if (!asked || getState().lock.trying) return;
    dispatch(set({ trying: true, failure: null }));
    try {
      asked.answer(await unlock(asked.lock, passphrase, deriveInWorker));
    } catch (e) {
      if (e instanceof WrongPassphrase) {
        asked.wrong++;
        dispatch(set({ failure: 'This is not the passphrase of the backup.', notBefore: Date.now() + waitAfter(asked.wrong) }));
      } else dispatch(set({ failure: `It could not be tried (${reasonOf(e)}).` }));
    } finally {
      dispatch(set({ trying: false }));
    }
  };
