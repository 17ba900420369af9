/** Boards of the open note. */
import { newBoard } from '../core/note/board';
import { newId } from '../core/id';
import { addPages, growPage } from '../core/note/pages';
import { NEW_FORM } from '../core/note/schema';
import { change } from './change';
import { say } from './messages';
import { toolsSlice } from './slices';
import { middleInSight } from './takingOver';
import type { Thunk } from './thunk';

const HOW = 'Write near an edge, or move on with two fingers: the board grows there.';

/** A board after the page in sight, of its paper, which is open from now on. */
export const addBoard = (): Thunk => (dispatch, getState, alive) => {
  const { note } = getState().note;
  if (!note) return;
  const { pages } = note.header;
  const at = pages.findIndex((p) => p.id === dispatch(middleInSight())?.page);
  const board = newBoard(newId(), pages[Math.max(0, at)] ?? NEW_FORM);
  if (!dispatch(change(addPages(note, at + 1, [board])))) return;
  alive.view?.turnTo(board.id);
  dispatch(say('tool', 'info', HOW, 'undo'));
};

/** The writing strip, in hand or put away. It goes along lines from their beginning to their end. */
export const turnStrip = (): Thunk => (dispatch, getState) => {
  const { tools, note: { note } } = getState();
  const at = dispatch(middleInSight());
  if (!tools.strip && note?.header.pages.some((p) => p.id === at?.page && p.board)) return dispatch(say('tool', 'info', 'The writing strip goes along the lines of a page, and those of a board have no end. Make the board larger in sight, and write on it.'));
  dispatch(toolsSlice.actions.stripTurned());
};

/** A page grows to every side from now on. */
export const makeBoard =
  (page: string): Thunk =>
  (dispatch, getState, alive) => {
    const { note } = getState().note;
    if (!note || !dispatch(change(growPage(note, page)))) return;
    alive.view?.turnTo(page);
    dispatch(say('tool', 'info', HOW, 'undo'));
  };
