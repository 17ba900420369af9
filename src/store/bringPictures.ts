/** Pictures onto the pages of the open note, or of a new one. Those that are placed while a recording runs are stamped with its moment. */
import { sha256Hex } from '../core/hash';
import { newId } from '../core/id';
import { cornerOn, extentOf, sizeFor } from '../core/note/board';
import { put as putRow, type Edit } from '../core/note/edit';
import { makePicture, type Picture } from '../core/note/kinds/picture';
import { newPage, type Page } from '../core/note/schema';
import { pictureOfFile } from '../platform/bringing/pictureIn';
import { keepContent } from '../storage/contentFile';
import { isQuotaError } from '../storage/databases';
import { arrive, bringAsNote, titleOf, type Place } from './bringing';
import { canChange, change } from './change';
import { runJob } from './jobs';
import { reasonOf, say } from './messages';
import { paperFor } from './newPaper';
import { stampOf } from './recording';
import { toolsSlice } from './slices';
import type { Thunk } from './thunk';

export interface PictureFile {
  readonly file: File;
  /** It is SVG. */
  readonly drawing: boolean;
}

/** A picture takes at most this share of the page's width and height. */
const SHARE = 0.7;
/** Pixels to the mm of one that is smaller than that: as it would be seen on paper at 150 dpi. */
const PX_PER_MM = 150 / 25.4;
/** Several are laid a little aside of each other, mm. */
const ASIDE_MM = 8;

/** Where a picture of `px` goes on a page, around a place of it (mm) and wholly on the sheet. */
export function placed([pw, ph]: readonly [number, number], page: Pick<Page, 'w' | 'h' | 'board'>, x: number, y: number): Picture['m'] {
  const size = sizeFor(page);
  const k = Math.min(1 / PX_PER_MM, (SHARE * size.w) / pw, (SHARE * size.h) / ph);
  const [w, h] = [pw * k, ph * k];
  return [w, 0, 0, h, ...cornerOn(page, x - w / 2, y - h / 2, w, h)];
}

/** `at`: the place in sight, mm. `url`: the address they were copied from. */
export const bringPictures =
  (files: readonly PictureFile[], place: Place, at: { readonly page: string; readonly x: number; readonly y: number } | null, url: string | null, go: (note: string) => void): Thunk<Promise<void>> =>
  async (dispatch, getState, alive) => {
    const into = place.into === null ? null : alive.file;
    const from = window.location.pathname;
    if (place.into !== null && (!into || getState().note.id !== place.into || !canChange(getState()))) return;
    // The moment is that of the touch, however long the picture takes.
    const stamp = place.into === null ? null : dispatch(stampOf(performance.now()));
    const wall = Date.now();
    const what = files.length === 1 ? `“${files[0].file.name}”` : `${files.length} pictures`;
    await dispatch(
      runJob({
        kind: 'bring',
        title: `Bringing in ${what}`,
        async task({ signal, progress }) {
          const made: { bytes: readonly Uint8Array[]; hash: string; moves?: string; px: readonly [number, number]; name: string }[] = [];
          for (const [i, { file, drawing }] of files.entries()) {
            signal.throwIfAborted();
            progress(i / files.length, file.name);
            const { bytes, w, h, moves } = await pictureOfFile(file, drawing);
            made.push({ bytes: moves ? [bytes, moves] : [bytes], hash: await sha256Hex(bytes), ...(moves && { moves: await sha256Hex(moves) }), px: [w, h], name: file.name.slice(0, 300) });
          }
          signal.throwIfAborted();
          const withOrigin = (put: readonly Picture[]): Edit => ({ put, rows: url === null ? [] : [putRow('origins', newId(), { placed: put.map((p) => p.id), url })] });
          const lay = (page: Page, x: number, y: number): Picture[] => made.map(({ hash, moves, px, name }, i) => makePicture({ id: newId(), page: page.id, stamp, wall: wall + i, content: hash, ...(moves && { moves }), px, name, m: placed(px, page, x + i * ASIDE_MM, y + i * ASIDE_MM) }));
          if (!into) {
            const page = newPage(newId(), paperFor(getState(), 'written'));
            const rest = async () => {
              for (const bytes of made.flatMap((m) => m.bytes)) await keepContent(bytes, () => Promise.resolve(signal.throwIfAborted()));
            };
            const id = await dispatch(bringAsNote(titleOf(files[0].file), place.folder, [page], () => withOrigin(lay(page, page.w / 2, page.h / 3)), rest));
            return void (await dispatch(arrive(id, from, go)));
          }
          for (const bytes of made.flatMap((m) => m.bytes)) await into.keep(bytes);
          signal.throwIfAborted();
          const { note } = getState().note;
          // The note may have been closed meanwhile: what nothing points to goes with it.
          if (alive.file !== into || !note) return;
          const page = note.header.pages.find((p) => p.id === at?.page) ?? note.header.pages.at(-1)!;
          const [l, t, r, b] = extentOf(page);
          const put = lay(page, at?.x ?? (l + r) / 2, at?.y ?? (t + b) / 2);
          if (!dispatch(change(withOrigin(put)))) return;
          if (getState().note.mode === 'write') {
            // It is in hand, to be put where it belongs.
            dispatch(toolsSlice.actions.toolChosen('lasso'));
            dispatch(toolsSlice.actions.set({ selection: { page: page.id, ids: put.map((p) => p.id) } }));
          }
          dispatch(say('tool', 'info', files.length === 1 ? 'The picture lies on the page.' : `${files.length} pictures lie on the page.`, 'undo'));
        },
        said: {
          key: 'bring',
          stopped: `${what} ${files.length === 1 ? 'was' : 'were'} not brought in.`,
          failed: (e) => (isQuotaError(e) ? `There is no room left for ${what}. Nothing was changed; free some room (Settings, Storage) and bring it in once more.` : `${what} could not be brought in: ${reasonOf(e)}. Nothing was changed.`),
        },
      }),
    );
  };
