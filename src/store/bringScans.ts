/** Sheets of paper, straightened from photos, as pages: of the open note, or of a new one. */
import { sha256Hex } from '../core/hash';
import { newId } from '../core/id';
import { addPages } from '../core/note/pages';
import { A4, newPage, type Page } from '../core/note/schema';
import { keepContent } from '../storage/contentFile';
import { isQuotaError } from '../storage/databases';
import { arrive, bringAsNote, type Place } from './bringing';
import { canChange, change } from './change';
import { runJob } from './jobs';
import { reasonOf, say } from './messages';
import type { Thunk } from './thunk';

export interface ScannedSheet {
  readonly bytes: Uint8Array;
  readonly w: number;
  readonly h: number;
}

/** A page that such a sheet fills: as high (or, lying, as wide) as A4. */
function pageOf(sheet: ScannedSheet, content: string): Page {
  const k = A4.h / Math.max(sheet.w, sheet.h);
  const side = (px: number) => Math.round(px * k * 100) / 100;
  return { ...newPage(newId(), { w: side(sheet.w), h: side(sheet.h), paper: { kind: 'plain', spacing: 8, top: 24, sheet: '#ffffff' } }), backdrop: { content } };
}

export const bringScans =
  (sheets: readonly ScannedSheet[], place: Place, go: (note: string) => void): Thunk<Promise<boolean>> =>
  async (dispatch, getState, alive) => {
    const into = place.into === null ? null : alive.file;
    const from = window.location.pathname;
    if (place.into !== null && (!into || getState().note.id !== place.into || !canChange(getState()))) return false;
    const what = sheets.length === 1 ? 'The sheet' : `${sheets.length} sheets`;
    return dispatch(
      runJob({
        kind: 'bring',
        title: sheets.length === 1 ? 'Bringing in a sheet' : `Bringing in ${sheets.length} sheets`,
        async task({ signal, progress }) {
          const hashes = await Promise.all(sheets.map((s) => sha256Hex(s.bytes)));
          const pages = sheets.map((s, i) => pageOf(s, hashes[i]));
          if (!into) {
            const title = `Paper, ${new Date().toLocaleTimeString('en-GB', { hour: '2-digit', minute: '2-digit' })}`;
            const rest = async () => {
              for (const [i, { bytes }] of sheets.entries()) {
                await keepContent(bytes, () => Promise.resolve(signal.throwIfAborted()));
                progress((i + 1) / sheets.length);
              }
            };
            const id = await dispatch(bringAsNote(title, place.folder, pages, () => ({}), rest));
            return void (await dispatch(arrive(id, from, go)));
          }
          for (const [i, { bytes }] of sheets.entries()) {
            signal.throwIfAborted();
            await into.keep(bytes);
            progress((i + 1) / sheets.length);
          }
          const { note } = getState().note;
          // The note may have been closed meanwhile: what nothing points to goes with it.
          if (alive.file !== into || !note) return;
          const at = note.header.pages.findIndex((p) => p.id === place.after) + 1 || note.header.pages.length;
          if (dispatch(change(addPages(note, at, pages)))) dispatch(say('tool', 'info', `${what} came in as ${sheets.length === 1 ? 'a page' : 'pages'}.`, 'undo'));
        },
        said: {
          key: 'bring',
          stopped: 'The sheets were not brought in.',
          failed: (e) => (isQuotaError(e) ? 'There is no room left for the sheets. Nothing was changed; free some room (Settings, Storage) and bring them in once more.' : `The sheets could not be brought in: ${reasonOf(e)}. Nothing was changed.`),
        },
      }),
    );
  };
