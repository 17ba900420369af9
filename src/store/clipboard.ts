/** Copying, cutting and pasting, and what the clipboard holds meanwhile: it is everybody's, and outlives the note that it came from. */
import { newId } from '../core/id';
import { boxAround } from '../core/ink/stroke';
import { move, type Affine } from '../core/ink/transform';
import { keptOnPage } from '../core/note/board';
import { contentsOfPlaced } from '../core/note/contents';
import { copiedPlaced } from '../core/note/copy';
import { put as putRow } from '../core/note/edit';
import { isCarrier, mapPlaced, paintOrder, settled, topLift, type Placed } from '../core/note/kinds/kinds';
import { bringTakes } from '../core/note/pages';
import { markClipboard } from '../platform/files';
import { isQuotaError } from '../storage/databases';
import { holdInClipboard } from '../storage/leaseFile';
import { change } from './change';
import { reasonOf, say } from './messages';
import { clipboardSlice, toolsSlice } from './slices';
import type { RootState } from './state';
import type { Thunk } from './thunk';
import { deleteSelected, heldBy, pageOf, select, withCarrier } from './tools';

type Clipboard = NonNullable<RootState['clipboard']>;

/** Copies on a page: sticky notes lie before what is there, and what was loose belongs to the one it comes to lie on. */
function copiesOf(placed: readonly Placed[], page: string, m: Affine, there: readonly Placed[]): Placed[] {
  const { copies } = copiedPlaced(placed.map((s) => mapPlaced(s, m, page)), () => page, newId);
  const top = topLift(there);
  const slips = copies.flatMap((it) => (it.kind === 'slip' ? [it] : [])).sort(paintOrder).map((it, i) => Object.freeze({ ...it, lift: top + i + 1 }));
  const loose = settled(copies.filter((it) => it.kind !== 'slip' && it.on === undefined), there);
  const by = new Map<string, Placed>([...slips, ...loose].map((it) => [it.id, it]));
  // Tables on sticky notes first, then what is written on them.
  const riders = copies.filter((it) => it.on !== undefined).sort((a, b) => Number(isCarrier(b)) - Number(isCarrier(a)));
  return [...slips, ...loose, ...riders.map((it) => { const laid = withCarrier(it, by.get(it.on!)); by.set(laid.id, laid); return laid; })];
}

export const duplicateSelected = (): Thunk => (dispatch, getState) => {
  const state = getState();
  const strokes = heldBy(state);
  const box = boxAround(strokes);
  const page = box && pageOf(state, strokes[0].page);
  if (!page) return;
  const put = copiesOf(strokes, page.id, move(...keptOnPage(page, box, 6, 6)), state.note.note?.ink[page.id] ?? []);
  dispatch(change({ put }));
  dispatch(select(page.id, put.map((s) => s.id)));
};

/** The pictures, files and takes of what was copied stay on this device until something else is, or a day has passed. */
const holdCopied =
  (contents: readonly string[], takes: readonly string[]): Thunk<Promise<void>> =>
  async (dispatch) => {
    try {
      await holdInClipboard([...new Set(contents)], takes, Date.now());
    } catch {
      if (contents.length || takes.length) dispatch(say('tool', 'problem', 'The copied pictures could not be kept. Paste them before you close this note.'));
    }
  };

export const copySelected = (): Thunk => (dispatch, getState) => {
  const { note } = getState();
  const strokes = heldBy(getState());
  if (!strokes.length || !note.note || !note.id) return;
  const used = new Set(strokes.flatMap((s) => s.stamp?.take ?? []));
  // Without a word of the note: the clipboard is everybody's.
  const mark = `Copied in Scrivo (${newId().slice(0, 8)})`;
  // What is in the clipboard outlives the note it came from.
  void dispatch(holdCopied(strokes.flatMap(contentsOfPlaced), [...used]));
  // The title of a locked note goes into no other.
  const title = note.id in getState().library.covers ? '' : note.note.header.title;
  dispatch(clipboardSlice.actions.copied({ placed: strokes, note: note.id, title, takes: note.note.header.takes.filter((t) => used.has(t.id)), mark, marking: true }));
  void markClipboard(mark).then((done) => dispatch(clipboardSlice.actions.marked({ mark, done })));
};

export const cutSelected = (): Thunk => (dispatch) => {
  dispatch(copySelected());
  dispatch(deleteSelected());
};

/** True when pasting would bring ink whose sound is in another note, so that the writer has to say what becomes of it. */
export function pasteAsks({ clipboard, note }: RootState): boolean {
  const has = new Set(note.note?.header.takes.map((t) => t.id));
  return clipboard !== null && clipboard.note !== note.id && clipboard.takes.some((t) => !has.has(t.id));
}

/**
 * Pastes onto a page around x, y (mm; where it was when absent). Ink keeps its stamps. Its sound is brought along as takes of this
 * note, or left where it is and reached from here. Pictures and sound of another note are this one's before it points to them.
 */
export const paste =
  (page: string, sound: 'bring' | 'reach', at?: { x: number; y: number }): Thunk<Promise<void>> =>
  async (dispatch, getState, alive) => {
    const { clipboard } = getState();
    const note = getState().note.note;
    const into = alive.file;
    if (!clipboard || !note) return;
    const has = new Set(note.header.takes.map((t) => t.id));
    const takes = sound === 'bring' ? clipboard.takes.flatMap((t) => (has.has(t.id) ? [] : [t.id])) : [];
    const contents = [...new Set(clipboard.placed.flatMap(contentsOfPlaced))].filter((hash) => into && !into.holds(hash));
    if (!into || (!contents.length && !takes.length)) return dispatch(lay(clipboard, page, sound, at));
    try {
      await into.share(contents, takes, (there) => {
        // The note may have been closed meanwhile.
        if (alive.file !== into) return;
        const gone = new Set(contents.filter((hash) => !there.has(hash)));
        const placed = clipboard.placed.filter((it) => it.kind === 'unknown' || !contentsOfPlaced(it).some((hash) => gone.has(hash)));
        const left = clipboard.placed.length - placed.length;
        if (placed.length) dispatch(lay({ ...clipboard, placed, takes: clipboard.takes.filter((t) => !takes.includes(t.id) || there.has(t.id)) }, page, sound, at));
        const silent = takes.filter((t) => !there.has(t)).length;
        const lost = [...(left ? [`${left === 1 ? 'A picture was' : `${left} pictures were`} not pasted`] : []), ...(silent ? [`the ink came without ${silent === 1 ? 'its sound' : `${silent} of its takes`}`] : [])];
        if (lost.length) dispatch(say('tool', 'problem', sentence(`${lost.join(', and ')}: what was copied is not on this device any more. Copy it again where it still is.`)));
      });
    } catch (e) {
      dispatch(say('tool', 'problem', isQuotaError(e) ? 'There is no room left for what was copied. Nothing was changed; free some room (Settings, Storage) and paste once more.' : `What was copied could not be pasted: ${reasonOf(e)}. Nothing was changed.`));
    }
  };

const sentence = (text: string): string => text[0].toUpperCase() + text.slice(1);

const lay =
  (clipboard: Clipboard, page: string, sound: 'bring' | 'reach', at?: { x: number; y: number }): Thunk =>
  (dispatch, getState) => {
    const state = getState();
    const header = state.note.note?.header;
    const sheet = pageOf(state, page);
    if (!header || !sheet) return;
    const box = boxAround(clipboard.placed)!;
    const same = clipboard.placed[0].page === page;
    const [dx, dy] = at ? [at.x - (box[0] + box[2]) / 2, at.y - (box[1] + box[3]) / 2] : same ? [6, 6] : [0, 0];
    const put = copiesOf(clipboard.placed, page, move(...keptOnPage(sheet, box, dx, dy)), state.note.note?.ink[page] ?? []);
    const has = new Set(header.takes.map((t) => t.id));
    // A take that was running when the ink was copied has ended since: its length stands in its own note.
    const source = state.library.headers.find((h) => h.id === clipboard.note);
    const missing = clipboard.takes.filter((t) => !has.has(t.id)).map((t) => source?.takes.find((now) => now.id === t.id) ?? t);
    // The takes are no part of the step that undo takes back: an undo later must not take a recording made meanwhile with it.
    if (missing.length && sound === 'bring') dispatch(change({ rows: bringTakes(state.note.note!, missing, clipboard.title, newId) }, false));
    else if (missing.length) dispatch(change({ rows: missing.map((t) => putRow('links', t.id, { note: clipboard.note })) }, false));
    const origin = clipboard.note === header.id ? [] : [putRow('origins', newId(), { placed: put.map((p) => p.id), note: clipboard.note, page: clipboard.placed[0].page, box })];
    dispatch(change({ put, rows: origin }));
    dispatch(toolsSlice.actions.toolChosen('lasso'));
    dispatch(select(page, put.map((s) => s.id)));
  };
