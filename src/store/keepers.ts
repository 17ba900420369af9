/** What the state and what lives beside it keep of notes, and how it is let go of. Modules with a memory of their own register where they stand. */
import { forgetReader } from '../platform/reading';
import { dropPending } from '../storage/settingsFile';
import { pdfs } from './backdrops';
import { isIn, keepsReadable } from './forgetting';
import { besideSlice, clipboardSlice, hearingSlice, messagesSlice, reviewSlice, toolsSlice } from './slices';

keepsReadable('messages, which name notes', { onSide: (of) => (dispatch) => void (of.notes === null && dispatch(messagesSlice.actions.forgotten())) });
keepsReadable('what was copied or cut', {
  onSide: (of) => (dispatch, getState) => {
    const { clipboard, beside } = getState();
    if (clipboard && isIn(of, clipboard.note)) dispatch(clipboardSlice.actions.forgotten());
    if (beside.copied && isIn(of, beside.copied.note)) dispatch(besideSlice.actions.set({ copied: null }));
  },
});
keepsReadable('a look that was copied, places that were found', { onSide: (of) => (dispatch, getState) => void (of.notes === null || isIn(of, getState().note.id) || Object.keys(getState().library.covers).some((id) => isIn(of, id)) ? dispatch(toolsSlice.actions.forgotten()) : undefined) });
keepsReadable('what is unfinished', { onSide: () => (dispatch) => void dispatch(reviewSlice.actions.forgotten()) });
keepsReadable('levels and speech of takes', { onSide: ({ takes }) => (dispatch) => void dispatch(hearingSlice.actions.forgotten([...takes])) });
keepsReadable('what was done last in another note, and the ways back to where one was', {
  onSide: (of) => (_, __, alive) => {
    if (isIn(of, alive.there?.note)) alive.there = null;
    if (alive.cameFrom && (isIn(of, alive.cameFrom.note) || isIn(of, alive.cameFrom.told?.in) || of.notes === null)) alive.cameFrom = null;
    if (isIn(of, alive.toShow?.note)) alive.toShow = null;
    if (isIn(of, alive.toHear?.note)) alive.toHear = null;
    if (of.notes === null) alive.offered = [];
  },
});
keepsReadable('settings that are on their way to the disk', { forget: ({ notes }) => void (notes === null && dropPending()) });
keepsReadable('open files of PDF', { forget: () => pdfs.clear() });
// Words of notes and titles were told to it; it is started anew when it is next needed.
keepsReadable('words that the reader was told', { forget: () => forgetReader() });
