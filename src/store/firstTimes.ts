/** What is said once: of a tool when it is first taken up, of touching a word after the first recording; and what waits until a recording has ended. */
import { askOffered } from './filing';
import { say } from './messages';
import { messagesSlice, settingsSlice, type Message, type ToolName } from './slices';
import type { store as Store } from './store';
import type { Thunk } from './thunk';

const TOOLS: Partial<Record<ToolName | 'strip', string>> = {
  shapes: 'Draw a shape: it is clean as the pen lifts. Touch one to take hold of it.',
  room: 'Drag down: what is written below makes room. Drag up to close it.',
  pan: 'Drag moves the page. A touch on the pen writes again.',
  type: 'Touch a line and type, or press Enter. A touch on typed words puts the caret there.',
  strip: 'Write large down here: it lands small on the line above.',
};

/** The key of what is said of the tool in hand: it goes with the tool, and with the note. */
const TOOL = 'first-tool';

const once =
  (key: string, what: string, text: string, action?: Message['action']): Thunk =>
  (dispatch, getState) => {
    const { told } = getState().settings;
    if (told.includes(what)) return;
    dispatch(settingsSlice.actions.patched({ told: [...told, what] }));
    dispatch(say(key, 'info', text, action));
  };

/** @returns what ends the watch. */
export function watchFirstTimes(store: typeof Store): () => void {
  let ran = false;
  let before: string | null = null;
  return store.subscribe(() => {
    const { recording, tools, note } = store.getState();
    if (ran && recording.state === 'idle') {
      ran = false;
      store.dispatch(askOffered());
      store.dispatch(once('first', 'listen', 'Touch a word, and hear what was said then.', 'listen'));
    } else if (recording.state === 'recording') ran = true;
    const now = note.status === 'open' && note.mode === 'write' ? (tools.strip ? 'strip' : tools.tool) : null;
    if (now === before) return;
    before = now;
    store.dispatch(messagesSlice.actions.dismissed(TOOL));
    const text = now && TOOLS[now];
    if (now && text) store.dispatch(once(TOOL, now, text));
  });
}
