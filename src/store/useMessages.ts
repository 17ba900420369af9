import { saveCopy } from './handOn';
import { acceptOffer, canUndoFiling, undoFiling } from './filing';
import { ask } from './lockState';
import { canChange, undo } from './change';
import { writeHere } from './following';
import { setMode } from './mode';
import { canUndoThere, undoThere } from './pages';
import { messagesSlice, toolsSlice, type Message } from './slices';
import { useAppDispatch, useAppSelector, useAppStore } from './store';
import { goBack, originOf, showOrigin } from './takingOver';

const WORDS: Record<NonNullable<Message['action']>, string> = { 'save-copy': 'Save a copy', 'write-here': 'Write here', 'hear-there': 'Hear it there', 'show-there': 'Show it there', 'go-back': 'Go back', undo: 'Undo', 'undo-there': 'Undo', 'undo-filing': 'Undo', 'put-there': 'Put it there', unlock: 'Unlock', write: 'Write', listen: 'Show me', 'pdf-password': 'Enter password' };

/** The messages that stand, with what their buttons do. `go` opens another note, `onWeb` an address. */
export function useMessages(go?: (note: string) => void, onWeb?: (url: string) => void) {
  const dispatch = useAppDispatch();
  const store = useAppStore();
  const list = useAppSelector((s) => s.messages);
  // A way back that leads nowhere any more is not offered.
  const canUndo = useAppSelector((s) => s.note.undo.length > 0 && canChange(s));
  const stands = (action: Message['action']): boolean => (action === 'undo' ? canUndo : action === 'undo-there' ? dispatch(canUndoThere()) : action === 'undo-filing' ? canUndoFiling() : true);
  return {
    messages: list.map(({ action, ...m }) => ({ key: m.key, tone: m.tone, text: m.text, ...(action && stands(action) ? { action: WORDS[action] } : {}) })),
    onAction: (key: string) => {
      const { action, note } = list.find((m) => m.key === key) ?? {};
      if (action === 'hear-there' && note) go?.(note);
      if (action === 'show-there' && note) {
        const origin = originOf(store.getState(), note);
        dispatch(messagesSlice.actions.dismissed(key));
        if (origin) dispatch(showOrigin(origin, (url) => onWeb?.(url)));
      }
      if (action === 'go-back') {
        dispatch(messagesSlice.actions.dismissed(key));
        dispatch(goBack(go));
      }
      if (action === 'undo') {
        dispatch(undo());
        dispatch(messagesSlice.actions.dismissed(key));
      }
      if (action === 'undo-there') {
        dispatch(messagesSlice.actions.dismissed(key));
        void dispatch(undoThere());
      }
      if (action === 'undo-filing') void dispatch(undoFiling());
      if (action === 'put-there') void dispatch(acceptOffer());
      if (action === 'write') dispatch(setMode('write'));
      if (action === 'listen') {
        dispatch(messagesSlice.actions.dismissed(key));
        dispatch(setMode('listen'));
      }
      if (action === 'pdf-password') dispatch(toolsSlice.actions.set({ sheet: 'password' }));
      if (action === 'unlock') dispatch(ask({ kind: 'unlock' }));
      if (action === 'save-copy') void dispatch(saveCopy(note));
      if (action === 'write-here') void dispatch(writeHere());
    },
    onDismiss: (key: string) => void dispatch(messagesSlice.actions.dismissed(key)),
  };
}
