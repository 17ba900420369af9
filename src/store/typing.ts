/** Typed lines: what the editor has becomes a change of the note, letter by letter, each with its moment. */
import { newId } from '../core/id';
import type { Typed } from '../core/note/kinds/typed';
import { flowFrom, retyped, type Draft, type Place } from '../core/text/flow';
import { canChange } from './change';
import { stampOf, heardBeside } from './recording';
import { changeByPen } from './reviewing';
import type { Thunk } from './thunk';

/**
 * @param time of the key, ms (time base of performance.now()).
 * @returns the lines of the flow as they are now; null when the note takes no change, and then nothing of it is kept.
 */
export const typeInto =
  (place: Place, drafts: readonly Draft[], time: number): Thunk<readonly Typed[] | null> =>
  (dispatch, getState) => {
    const { note } = getState().note;
    if (!note || !canChange(getState())) return null;
    const old = flowFrom(note.ink[place.page] ?? [], place);
    const heard = dispatch(heardBeside(time));
    const stamp = heard ?? dispatch(stampOf(time));
    // What is written along with sound that came from a file was not written before.
    const along = note.header.takes.some((t) => t.id === stamp?.take && t.brought);
    const now = { stamp, wall: Math.round(performance.timeOrigin + time) };
    const isEmpty = drafts.every((d) => d.text === '' && !d.list);
    const lines = isEmpty ? [] : retyped(old, drafts, place, now, newId, heard !== null && !along);
    const had = new Set(old);
    const left = new Set(lines.map((it) => it.id));
    dispatch(changeByPen({ put: lines.filter((it) => !had.has(it)), cut: old.filter((it) => !left.has(it.id)).map(({ id, page }) => ({ id, page })) }));
    return lines;
  };
