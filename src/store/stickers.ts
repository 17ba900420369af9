/** Stickers: those that ship, and the writer's own, which are kept as templates are (`core/note/template.ts`) and come back with a backup. */
import { sha256Hex } from '../core/hash';
import { newId } from '../core/id';
import { cornerOn } from '../core/note/board';
import { copiedPlaced } from '../core/note/copy';
import { mapPlaced, topLift, type Placed } from '../core/note/kinds/kinds';
import { makePicture } from '../core/note/kinds/picture';
import { isSticker, STICKER, templateOf, type Template } from '../core/note/template';
import { NEW_PAPER } from '../core/note/schema';
import { boxAround } from '../core/ink/stroke';
import { move } from '../core/ink/transform';
import { stickerFile, type StickerName } from '../core/stickers';
import { pictureOfFile } from '../platform/bringing/pictureIn';
import { contentsOf } from '../storage/archive';
import { isQuotaError } from '../storage/databases';
import { tell } from '../platform/tabs';
import { readTemplates, storeTemplate } from '../storage/templateFile';
import { canChange, change } from './change';
import { reasonOf, say } from './messages';
import { stampOf } from './recording';
import { isTooLarge, keepContents, TOO_LARGE } from './templates';
import { templatesSlice } from './slices';
import { settledNew } from './slips';
import { middleInSight } from './takingOver';
import { heldBy, hold } from './tools';
import type { Thunk } from './thunk';

/** Of a shipped one, mm; and the pixels it is kept with, sharp to four times that. */
const [SIZE_MM, PX] = [16, 384];

/** Puts one of the shipped stickers into the middle of what is in sight, in hand to be moved. */
export const addSticker =
  (name: StickerName): Thunk<Promise<void>> =>
  async (dispatch, getState, alive) => {
    const into = alive.file;
    const at = dispatch(middleInSight());
    if (!into || !at || !canChange(getState())) return;
    const now = performance.now();
    const stamp = dispatch(stampOf(now));
    try {
      const answer = await fetch(stickerFile(name)).catch(() => null);
      if (!answer?.ok) throw new Error('a part of the program is not here; connect to the network, load the page anew and try again');
      const svg = (await answer.text()).replace('<svg ', `<svg width="${PX}" height="${PX}" `);
      const { bytes, w, h } = await pictureOfFile(new File([svg], `${name}.svg`, { type: 'image/svg+xml' }), true);
      await into.keep(bytes);
      const { note } = getState().note;
      const page = note?.header.pages.find((p) => p.id === at.page);
      if (alive.file !== into || !note || !page) return;
      const [x, y] = cornerOn(page, at.x - SIZE_MM / 2, at.y - SIZE_MM / 2, SIZE_MM, SIZE_MM);
      const picture = makePicture({ id: newId(), page: page.id, stamp, wall: Math.round(performance.timeOrigin + now), content: await sha256Hex(bytes), px: [w, h], name, m: [SIZE_MM, 0, 0, SIZE_MM, x, y] });
      const put = dispatch(settledNew([picture]));
      if (dispatch(change({ put }))) dispatch(hold(page.id, put));
    } catch (e) {
      dispatch(say('tool', 'problem', isQuotaError(e) ? 'There is no room left for the sticker. Nothing was changed; free some room (Settings, Storage) and try again.' : `The sticker could not be put there: ${reasonOf(e)}. Nothing was changed.`));
    }
  };

/** The smallest sheet that can be kept, mm (`formSchema`). */
const LEAST_MM = 20;

/** What is selected is kept at hand under a name, pictures too. */
export const keepSticker =
  (name: string): Thunk<Promise<void>> =>
  async (dispatch, getState) => {
    const chosen = heldBy(getState()).filter((it) => it.kind !== 'unknown');
    const box = boxAround(chosen);
    if (!box) return dispatch(say('templates', 'info', 'A sticker is made of what this version knows; there is nothing of it in the selection.'));
    const [l, t, r, b] = box;
    const placed = chosen.map((it) => mapPlaced(it, move(-l, -t)));
    const { note } = getState().note;
    if (!note) return;
    try {
      const sticker = templateOf({ id: '', w: Math.max(LEAST_MM, r - l), h: Math.max(LEAST_MM, b - t), paper: { ...NEW_PAPER, kind: 'plain' } }, placed, name.trim().slice(0, 60), `${STICKER}${newId()}`, Date.now(), (await contentsOf(note)).contents);
      if (isTooLarge(sticker)) return dispatch(say('templates', 'info', TOO_LARGE));
      await storeTemplate(sticker);
      dispatch(templatesSlice.actions.loaded(await readTemplates()));
      tell({ kind: 'templates' });
      dispatch(say('templates', 'info', `“${sticker.name}” is among your stickers now.`));
    } catch (e) {
      dispatch(say('templates', 'problem', `The sticker could not be stored (${reasonOf(e)}). The page is unchanged.`));
    }
  };

export const ownStickers = (templates: readonly Template[] | null): readonly Template[] => (templates ?? []).filter(isSticker);

/** Puts one of the writer's own into the middle of what is in sight. */
export const addOwnSticker =
  (sticker: Template): Thunk<Promise<void>> =>
  async (dispatch, getState) => {
    const at = dispatch(middleInSight());
    if (!at || !canChange(getState())) return;
    // The moment is that of the touch, however long its pictures take.
    const now = performance.now();
    const moment = { stamp: dispatch(stampOf(now)), wall: Math.round(performance.timeOrigin + now) };
    if (!(await dispatch(keepContents(sticker)))) return;
    const state = getState();
    const page = state.note.note?.header.pages.find((p) => p.id === at.page);
    if (!page || !canChange(state)) return;
    const { w, h } = sticker.form;
    const [x, y] = cornerOn(page, at.x - w / 2, at.y - h / 2, w, h);
    const { copies } = copiedPlaced(sticker.placed.map((it) => mapPlaced(it, move(x, y), page.id)), () => page.id, newId);
    const top = topLift(state.note.note?.ink[page.id] ?? []);
    // It is put there now, as a whole, before what lies there.
    const dated = copies.map((it, i): Placed => Object.freeze({ ...it, ...moment, wall: moment.wall + i, ...(it.kind === 'slip' || it.on !== undefined ? { lift: top + Math.max(1, it.lift ?? 1) } : {}) }));
    const put = dated.map((it) => (it.on === undefined && it.kind !== 'slip' ? dispatch(settledNew([it]))[0] : it));
    if (dispatch(change({ put }))) dispatch(hold(page.id, put));
  };

