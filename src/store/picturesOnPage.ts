/** Pictures on the pages of the open note: what is done to the selected ones. Each is one edit, which one undo takes back. */
import type { Ink } from '../core/note/edit';
import { isLocked, type Placed } from '../core/note/kinds/kinds';
import { cropped, mirrored, uncropped, type Picture } from '../core/note/kinds/picture';
import { change } from './change';
import { say } from './messages';
import { toolsSlice } from './slices';
import type { RootState } from './state';
import { selected } from './tools';
import type { Thunk } from './thunk';

const locked = new WeakMap<readonly Placed[], boolean>();
/** Something on these pages stays where it is; looked through once for each state of a page. */
export const anyLocked = (ink: Ink): boolean =>
  Object.values(ink).some((list) => {
    let has = locked.get(list);
    if (has === undefined) locked.set(list, (has = list.some(isLocked)));
    return has;
  });

export const selectedPictures = (state: RootState): readonly Picture[] => selected(state).filter((it): it is Picture => it.kind === 'picture');

const changed =
  (make: (it: Picture) => Picture | null): Thunk<boolean> =>
  (dispatch, getState) => {
    const put = selectedPictures(getState()).flatMap((it) => make(it) ?? []);
    return put.length > 0 && dispatch(change({ put }));
  };

export const mirrorSelected = (): Thunk<boolean> => changed(mirrored);
export const showWhole = (): Thunk<boolean> => changed((it) => (it.crop ? uncropped(it) : null));
/** A picture that moves is held still, or let go on. */
export const holdStill = (held: boolean): Thunk<boolean> => changed((it) => (it.moves === undefined ? null : Object.freeze({ ...it, held })));
/** Over the ink, or under it. */
export const layOver = (over: boolean): Thunk<boolean> => changed((it) => Object.freeze({ ...it, over }));

/** The next loop of the lasso crops. */
export const startCropping =
  (how: 'rectangle' | 'loop'): Thunk =>
  (dispatch) => {
    dispatch(toolsSlice.actions.set({ cropping: how }));
    dispatch(say('tool', 'info', how === 'loop' ? 'Draw a loop around what is to stay of the picture.' : 'Draw around what is to stay of the picture: it is cropped to the rectangle that holds it.'));
  };

/** `loop`: mm of the page. */
export const cropSelected =
  (loop: readonly (readonly [number, number])[]): Thunk =>
  (dispatch, getState) => {
    const { cropping } = getState().tools;
    const [xs, ys] = [loop.map((p) => p[0]), loop.map((p) => p[1])];
    const [l, t, r, b] = [Math.min(...xs), Math.min(...ys), Math.max(...xs), Math.max(...ys)];
    const within = cropping === 'rectangle' ? ([[l, t], [r, t], [r, b], [l, b]] as const) : loop;
    dispatch(toolsSlice.actions.set({ cropping: null }));
    if (!dispatch(changed((it) => cropped(it, within)))) dispatch(say('tool', 'info', 'The loop held nothing of the picture: it is as it was.'));
  };
