/** Ink of an InkML file as pages: of the open note, or of a new one. */
import { addInk, type BroughtInk } from '../core/formats/inkml/pages';
import { newId } from '../core/id';
import { inkColor } from '../core/ink/inks';
import type { Pen } from '../core/ink/pen';
import { packer } from '../platform/packing';
import { isQuotaError } from '../storage/databases';
import { arrive, bringAsNote, titleOf, type Place } from './bringing';
import { canChange, change } from './change';
import { runJob } from './jobs';
import { reasonOf, say } from './messages';
import { paperFor } from './newPaper';
import type { Thunk } from './thunk';

/** The pen of ink that does not say its own. */
const PLAIN_PEN: Pen = { kind: 'ball', color: inkColor('Navy'), width: 0.4 };

/** 100,000 strokes; more than that is none that anybody wrote, bytes. */
const LARGEST_INK = 80e6;

/** What is in a file of ink. @throws InkmlError */
export const lookAtInk =
  (file: File): Thunk<Promise<BroughtInk>> =>
  async (_, getState) => {
    if (file.size > LARGEST_INK) throw new Error(`it has ${Math.round(file.size / 1e6)} MB, and ${LARGEST_INK / 1e6} are the most of ink`);
    const { w, h } = paperFor(getState(), 'written');
    // Ink that says no moment is as old as its file.
    return packer.readInk(await file.text(), { w, h }, PLAIN_PEN, file.lastModified || Date.now());
  };

export const bringInkFile =
  (file: File, ink: BroughtInk, place: Place, go: (note: string) => void): Thunk<Promise<void>> =>
  async (dispatch, getState) => {
    const from = window.location.pathname;
    const form = paperFor(getState(), 'written');
    const { note } = getState().note;
    if (place.into !== null) {
      if (!note || note.header.id !== place.into || !canChange(getState())) return;
      const { pages } = note.header;
      const at = place.after === null ? pages.length : pages.findIndex((p) => p.id === place.after) + 1 || pages.length;
      if (dispatch(change(addInk(note, at, ink, form, newId)))) dispatch(say('tool', 'info', `${ink.strokes.toLocaleString('en-GB')} strokes of “${file.name}” came in.`, 'undo'));
      return;
    }
    await dispatch(
      runJob({
        kind: 'bring',
        title: `Bringing in “${file.name}”`,
        async task() {
          const id = await dispatch(bringAsNote(titleOf(file), place.folder, [], (made) => addInk(made, 0, ink, form, newId), () => Promise.resolve()));
          await dispatch(arrive(id, from, go));
        },
        said: {
          key: 'bring',
          stopped: `“${file.name}” was not brought in; nothing of it was kept.`,
          failed: (e) => (isQuotaError(e) ? `There is no room left for “${file.name}”. Nothing was changed; free some room (Settings, Storage) and bring it in once more.` : `“${file.name}” was not brought in: ${reasonOf(e)}. Nothing was changed.`),
        },
      }),
    );
  };
