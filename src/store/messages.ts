/** What is said to the user, in sentences. */
import { isQuotaError } from '../storage/databases';
import { messagesSlice, recordingSlice, type Message } from './slices';
import type { Thunk } from './thunk';

export const say =
  (key: string, tone: Message['tone'], text: string, action?: Message['action'], note?: string): Thunk =>
  (dispatch) => {
    dispatch(messagesSlice.actions.said({ key, tone, text, ...(action ? { action } : {}), ...(note ? { note } : {}) }));
  };

/** An error without words is the full disk (`isQuotaError`). */
export const reasonOf = (e: unknown): string => (e instanceof Error ? e.message || 'this browser has no room left' : String(e)).replace(/\.$/, '');

const FULL = 'This browser has no room left for Scrivo. What is not stored yet is kept in this tab: leave it open, free some room (delete notes in the Library), and storing goes on by itself. To be safe, save a copy now.';

/** The key of what is said about storing. */
export const STORING = 'storing';

/** Storing the note or its sound failed or works again; one sentence for both. */
export const storing =
  (what: 'ink' | 'sound', error: unknown | null): Thunk =>
  (dispatch, getState) => {
    const failing = getState().messages.some((m) => m.key === STORING && m.tone === 'problem');
    if (what === 'sound' && getState().recording.soundFailed !== (error !== null)) dispatch(recordingSlice.actions.set({ soundFailed: error !== null }));
    const { note, recording } = getState();
    if (error) {
      // One sentence for ink and sound of the same note.
      if (failing) return;
      const text = isQuotaError(error) ? FULL : `Storing ${what === 'ink' ? 'the ink' : 'the sound'} failed (${reasonOf(error)}). It is kept in this tab and tried again every few seconds: leave the tab open. To be safe, save a copy now.`;
      dispatch(say(STORING, 'problem', text, 'save-copy'));
    } else if (failing && note.save !== 'failed' && !recording.soundFailed) dispatch(say(STORING, 'info', 'Everything is stored again.'));
  };
