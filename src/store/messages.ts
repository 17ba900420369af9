/** What is said to the user, in sentences. */
import { isQuotaError } from '../storage/databases';
import { messagesSlice, type Message } from './slices';
import type { Thunk } from './thunk';

export const say =
  (key: string, tone: Message['tone'], text: string, action?: Message['action'], note?: string): Thunk =>
  (dispatch) => {
    dispatch(messagesSlice.actions.said({ key, tone, text, ...(action ? { action } : {}), ...(note ? { note } : {}) }));
  };

export const reasonOf = (e: unknown): string => (e instanceof Error ? e.message : String(e));

const FULL = 'This browser has no room left for Scrivo. What is not stored yet is kept in this tab: leave it open, free some room (delete notes in the Library), and storing goes on by itself. To be safe, save a copy now.';

/** Storing the note or its sound failed or works again; one sentence for both. */
export const storing =
  (what: 'ink' | 'sound', error: unknown | null): Thunk =>
  (dispatch, getState) => {
    const key = `storing-${what}`;
    const failing = getState().messages.some((m) => m.key === key && m.tone === 'problem');
    if (error) {
      if (failing) return;
      const text = isQuotaError(error) ? FULL : `Storing ${what === 'ink' ? 'the ink' : 'the sound'} failed (${reasonOf(error)}). It is kept in this tab and tried again every few seconds: leave the tab open. To be safe, save a copy now.`;
      dispatch(say(key, 'problem', text, 'save-copy'));
    } else if (failing) dispatch(say(key, 'info', 'Everything is stored again.'));
  };
