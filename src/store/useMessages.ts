import { saveCopy } from './copies';
import { writeHere } from './session';
import { messagesSlice, type Message } from './slices';
import { useAppDispatch, useAppSelector } from './store';

const WORDS: Record<NonNullable<Message['action']>, string> = { 'save-copy': 'Save a copy', 'write-here': 'Write here' };

/** The messages that stand, with what their buttons do. */
export function useMessages() {
  const dispatch = useAppDispatch();
  const list = useAppSelector((s) => s.messages);
  return {
    messages: list.map(({ action, ...m }) => ({ ...m, ...(action ? { action: WORDS[action] } : {}) })),
    onAction: (key: string) => {
      const action = list.find((m) => m.key === key)?.action;
      if (action === 'save-copy') void dispatch(saveCopy());
      if (action === 'write-here') void dispatch(writeHere());
    },
    onDismiss: (key: string) => void dispatch(messagesSlice.actions.dismissed(key)),
  };
}
