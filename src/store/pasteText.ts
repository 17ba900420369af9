/** Text that was copied elsewhere, as typed lines on the page. */
import { newId } from '../core/id';
import { put, type RowPut } from '../core/note/edit';
import { cornerOn, sizeFor } from '../core/note/board';
import { linesToWriteOn } from '../core/note/paper';
import { MM_PER_PT } from '../core/text/faces';
import type { Draft } from '../core/text/flow';
import { canChange } from './change';
import { say } from './messages';
import { toolsSlice } from './slices';
import { middleInSight } from './takingOver';
import type { Thunk } from './thunk';
import { select } from './tools';
import { typeInto } from './typing';

/** Text beyond it is no excerpt, characters. */
const MOST_TEXT = 5000;
/** The longest line of pasted text, and from it to the sides of the page, mm. */
const [WIDTH, EDGE] = [120, 10] as const;

/** Into the middle of what is in sight, on its lines where it has some; `url`: where it comes from, which can be opened again, or what it is. It is in hand afterwards. */
export const pasteText =
  (drafts: readonly Draft[], url: string | null): Thunk =>
  (dispatch, getState) => {
    const state = getState();
    const at = dispatch(middleInSight());
    const page = state.note.note?.header.pages.find((p) => p.id === at?.page);
    if (!at || !page || !canChange(state)) return;
    const words = drafts.map((d) => d.text).join('\n').trim();
    if (words.length > MOST_TEXT) return dispatch(say('tool', 'info', `That is a text of ${words.length.toLocaleString('en-GB')} characters; ${MOST_TEXT.toLocaleString('en-GB')} are the most that is set on a page at once. Copy less of it.`));
    const size = Math.max(...drafts.flatMap((d) => d.looks.map(([, look]) => look.size))) * MM_PER_PT;
    const width = Math.min(WIDTH, sizeFor(page).w - 2 * EDGE);
    const [x] = cornerOn(page, at.x - width / 2, at.y, width, size, EDGE);
    const ruling = linesToWriteOn(page, x);
    const pitch = ruling && ruling.spacing >= size ? ruling.spacing : 1.4 * size;
    const top = ruling && pitch === ruling.spacing ? ruling.top + Math.round((at.y - ruling.top) / pitch) * pitch - pitch : at.y - pitch;
    const { copied } = state.beside;
    const from = url !== null ? { url } : copied?.text === words && copied.note !== state.note.id ? { note: copied.note, page: copied.page, box: copied.box } : null;
    const along = (placed: readonly string[]): RowPut[] => [...(from ? [put('origins', newId(), { ...from, placed: [...placed] })] : []), ...(url !== null && url === words ? [put('refs', newId(), { placed: [...placed], to: { is: 'web', url } })] : [])];
    const made = dispatch(typeInto({ flow: newId(), page: page.id, m: [1, 0, 0, 1, x, top], width, pitch }, drafts, performance.now(), along));
    if (!made) return;
    dispatch(toolsSlice.actions.toolChosen('lasso'));
    dispatch(select(page.id, made.here.map((it) => it.id)));
  };
