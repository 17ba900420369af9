/** Bringing files in: what they are, the sheet that asks, and PDF as pages of a note. Nothing is left half done, whatever stops it. */
import { fileKind, HEAD_BYTES, type FileKind } from '../core/bring/fileKind';
import { sha256Hex } from '../core/hash';
import { newId } from '../core/id';
import { unfiled } from '../core/library/folder';
import { applyEdit, noteOf, type Edit, type Note } from '../core/note/edit';
import { addLeaves, type Leaf, type LeafHeading } from '../core/note/pages';
import { summaryOf, type Page } from '../core/note/schema';
import { headingLevel, sheetOf } from '../core/pdf/leaf';
import { PdfFile, sourceOf } from '../platform/pdf/pdfFile';
import { holdIfFree, tell } from '../platform/tabs';
import { keepContent } from '../storage/contentFile';
import { isQuotaError } from '../storage/databases';
import { bringNote, writePlaces } from '../storage/libraryFile';
import { canChange, change } from './change';
import { byOf } from './alive';
import { runJob, type JobWork } from './jobs';
import { reasonOf, say } from './messages';
import { openNote } from './openNote';
import { bringingSlice, librarySlice, type Bringing } from './slices';
import type { Thunk } from './thunk';

/** Bytes beyond which a file is not even read. */
export const LARGEST = 500e6;
/** A PDF can claim any number of pages. */
export const MOST_LEAVES = 5000;

/** Opens the sheet, with files where some were handed over already. */
export const askToBring =
  (where: Omit<Bringing, 'turn'>, files: readonly File[] = []): Thunk =>
  (dispatch, _, alive) => {
    alive.offered = files;
    dispatch(bringingSlice.actions.asked(where));
  };

/** Files come into the sheet that is open. */
export const handOver =
  (files: readonly File[]): Thunk =>
  (dispatch, _, alive) => {
    alive.offered = files;
    dispatch(bringingSlice.actions.handed());
  };

export const offered = (): Thunk<readonly File[]> => (_, __, alive) => alive.offered;

export const shutBringing = (): Thunk => (dispatch, _, alive) => {
  alive.offered = [];
  dispatch(bringingSlice.actions.shut());
};

/** What a file is; a clause where it cannot be brought in. */
export async function lookAt(file: File): Promise<FileKind | { readonly refused: string }> {
  if (file.size === 0) return { refused: 'it is empty' };
  if (file.size > LARGEST) return { refused: `it has ${Math.round(file.size / 1e6)} MB, and ${LARGEST / 1e6} are the most` };
  try {
    const kind = fileKind(new Uint8Array(await file.slice(0, HEAD_BYTES).arrayBuffer()));
    return kind ?? { refused: 'it is none of the kinds that can be brought in: PDF, pictures, sound, film and ink (InkML)' };
  } catch (e) {
    return { refused: `it cannot be read (${reasonOf(e)})` };
  }
}

/** A file's name without its ending. */
export const titleOf = (file: File): string => file.name.replace(/\.[^.]{1,5}$/, '').trim().slice(0, 200) || 'Untitled';

/** Where what is brought in goes: to the end of the open note or after one of its pages, or into a new note. */
export interface Place {
  readonly into: string | null;
  /** The page that it comes after; null for the end. */
  readonly after: string | null;
  readonly folder: string | null;
}

/** A new note with contents of its own: all of it comes to be, or nothing. `make` gives its edit; `rest` stores what belongs to it. */
export const bringAsNote =
  (title: string, folder: string | null, pages: readonly Page[], make: (note: Note) => Edit, rest: (note: Note) => Promise<void>): Thunk<Promise<string>> =>
  async (dispatch, _, alive) => {
    const now = Date.now();
    const empty = noteOf({ v: 2, id: newId(), title, made: now, changed: now, pages, takes: [], timeline: [] });
    const { note } = applyEdit(empty, make(empty), byOf(alive));
    const { id } = note.header;
    const held = await holdIfFree(id);
    try {
      await bringNote(note, () => rest(note));
    } finally {
      await held?.release();
    }
    if (folder !== null) {
      const place = { ...unfiled(id), folder, changed: now };
      await writePlaces([place]);
      dispatch(librarySlice.actions.filed([place]));
    }
    dispatch(librarySlice.actions.upserted(summaryOf(note.header)));
    tell({ kind: 'library' });
    return id;
  };

/**
 * Shows a note that was made, and opens it: unless the writer has gone elsewhere meanwhile, or records, which nothing may end. True when it is open.
 */
export const arrive =
  (id: string, from: string, go: (note: string) => void): Thunk<Promise<boolean>> =>
  async (dispatch, getState) => {
    if (getState().recording.state !== 'idle' || window.location.pathname !== from) {
      const title = getState().library.headers.find((h) => h.id === id)?.title ?? '';
      dispatch(say('bring', 'info', `“${title}” is in the Library now.`));
      return false;
    }
    go(id);
    await dispatch(openNote(id));
    return getState().note.id === id && getState().note.status === 'open';
  };

/** Sizes are asked for so many pages at a time. */
const STEP = 25;

async function leavesOf(pdf: PdfFile, chosen: readonly number[], { signal, progress }: JobWork): Promise<{ leaves: Leaf[]; outline: LeafHeading[] }> {
  const leaves: Leaf[] = [];
  for (let i = 0; i < chosen.length; i += STEP) {
    signal.throwIfAborted();
    progress(0.2 + (0.5 * i) / chosen.length, `page ${i + 1} of ${chosen.length}`);
    const some = chosen.slice(i, i + STEP);
    const inOrder = some.every((n, k) => n === some[0] + k);
    const sizes = inOrder ? await pdf.sizes(some[0], some[0] + some.length) : (await Promise.all(some.map((n) => pdf.sizes(n, n + 1)))).flat();
    some.forEach((leaf, k) => leaves.push({ leaf, ...sheetOf(sizes[k].w, sizes[k].h) }));
  }
  // An outline that cannot be read costs the headings, not the pages.
  const outline = await pdf.outline().catch(() => []);
  return { leaves, outline: outline.map(({ title, depth, leaf, y }) => ({ title, leaf, y, level: headingLevel(depth) })) };
}

/** Pages of a PDF, by their indices, come as pages of a note. `go` shows a note that was made for them. */
export const bringPdf =
  (file: File, password: string | null, chosen: readonly number[], place: Place, go: (note: string) => void): Thunk<Promise<void>> =>
  async (dispatch, getState, alive) => {
    const into = place.into === null ? null : alive.file;
    const from = window.location.pathname;
    if (place.into !== null && (!into || getState().note.id !== place.into || !canChange(getState()))) return;
    await dispatch(
      runJob({
        kind: 'bring',
        title: `Bringing in “${file.name}”`,
        async task(work) {
          const bytes = new Uint8Array(await file.arrayBuffer());
          const hash = await sha256Hex(bytes);
          work.progress(0.1);
          work.signal.throwIfAborted();
          const pdf = await PdfFile.open(sourceOf(file), password);
          let found: Awaited<ReturnType<typeof leavesOf>>;
          try {
            found = await leavesOf(pdf, chosen, work);
          } finally {
            pdf.close();
          }
          work.signal.throwIfAborted();
          work.progress(0.75, 'storing it');
          const backdrop = { content: hash, ...(password === null ? {} : { password }) };
          const told = `${found.leaves.length} ${found.leaves.length === 1 ? 'page' : 'pages'} of “${file.name}”`;
          if (!into) {
            const make = (note: Note): Edit => addLeaves(note, 0, backdrop, found.leaves, found.outline, newId);
            const rest = async () => {
              await keepContent(bytes, () => Promise.resolve(work.signal.throwIfAborted()));
              work.signal.throwIfAborted();
            };
            return void (await dispatch(arrive(await dispatch(bringAsNote(titleOf(file), place.folder, [], make, rest)), from, go)));
          }
          await into.keep(bytes);
          work.signal.throwIfAborted();
          const { note } = getState().note;
          // The note may have been closed meanwhile: what nothing points to goes with it.
          if (alive.file !== into || !note) return;
          const at = place.after === null ? note.header.pages.length : note.header.pages.findIndex((p) => p.id === place.after) + 1;
          if (dispatch(change(addLeaves(note, at || note.header.pages.length, backdrop, found.leaves, found.outline, newId)))) dispatch(say('tool', 'info', `${told} came in.`, 'undo'));
        },
        said: {
          key: 'bring',
          stopped: `“${file.name}” was not brought in; nothing of it was kept.`,
          failed: (e) => (isQuotaError(e) ? `There is no room left for “${file.name}”. Nothing was changed; free some room (Settings, Storage) and bring it in once more.` : `“${file.name}” was not brought in: ${reasonOf(e)}. Nothing was changed.`),
        },
      }),
    );
  };
