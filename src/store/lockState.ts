/** What is known of the lock, for everything that has to ask. */
import type { Vault } from '../core/vault/vault';
import { RecordError } from '../core/record';
import { policy } from '../storage/sealing';
import { loadVault } from '../storage/vaultFile';
import { lockSlice, messagesSlice, type LockQuestion } from './slices';
import type { RootState } from './state';
import type { Dispatch } from './thunk';

const { set } = lockSlice.actions;

/** The record of the lock as it is on disk. */
export const vault: { current: Vault | null } = { current: null };

/** Nothing may be read: everything is locked. */
export const isShut = ({ lock }: Pick<RootState, 'lock'>): boolean => lock.status === 'locked' && lock.whole;


/** Brings the record of the lock to the screen. */
export const showVault =
  (v: Vault | null) =>
  (dispatch: Dispatch): void => {
    vault.current = v;
    dispatch(v ? set({ status: policy.current.key ? 'open' : 'locked', hint: v.hint, whole: v.whole, idle: v.idle, notBefore: v.notBefore }) : set({ status: 'none', hint: '', whole: false }));
  };

export const loadLock =
  () =>
  async (dispatch: Dispatch): Promise<void> => {
    try {
      dispatch(showVault(await loadVault()));
    } catch (e) {
      if (!(e instanceof RecordError)) throw e;
      dispatch(set({ status: 'broken' }));
      dispatch(messagesSlice.actions.said({ key: 'lock', tone: 'problem', text: 'The record of the lock is damaged, and so is its copy: locked notes cannot be opened. Everything else works. Restore them from a backup.' }));
    }
  };

/** Asks over whatever is on the screen; null for no more. */
export const ask = (asking: LockQuestion | null) => (dispatch: Dispatch) => void dispatch(set({ asking, failure: null }));

/** To lock notes there has to be a passphrase, and the lock has to be open. */
export const askToLock = (notes: readonly string[]) => (dispatch: Dispatch, getState: () => RootState) => {
  const { status } = getState().lock;
  dispatch(ask(status === 'none' ? { kind: 'set', notes } : status === 'open' ? { kind: 'lock', notes } : { kind: 'unlock', toLock: notes }));
};
