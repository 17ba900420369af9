/** What lies behind pages: choosing a picture, taking it away, and showing pictures and pages of PDF where pages are seen in small. */
import { useEffect, useMemo, useRef, useState } from 'react';
import { setBackdrop, withPassword } from '../core/note/pages';
import type { Page } from '../core/note/schema';
import type { Placed } from '../core/note/kinds/kinds';
import type { Picture } from '../core/note/kinds/picture';
import { sheetOfPicture, type PictureSource } from '../platform/drawing/pictureOnPage';
import { backdropOf, BACKDROP_TYPES, checkPicture, decodeFor, PictureError } from '../platform/drawing/backdrops';
import { chooseFile } from '../platform/files';
import { PdfFile, PdfPasswordError, PdfShelf } from '../platform/pdf/pdfFile';
import { wholeLeaf } from '../platform/pdf/wholeLeaf';
import { contentSource, readContent } from '../storage/contentFile';
import { isQuotaError } from '../storage/databases';
import { canChange, change } from './change';
import { runJob } from './jobs';
import { reasonOf, say } from './messages';
import { messagesSlice } from './slices';
import type { Thunk } from './thunk';

/** PDF files that pages point to. */
export const pdfs = new PdfShelf(contentSource);

/** What lies behind a page, whole, for showing it once at `k` px per mm; null where there is nothing, or it is not on this device. @throws PictureError, PdfError */
export async function backdropBitmap(page: Pick<Page, 'backdrop' | 'w' | 'h'>, k: number): Promise<ImageBitmap | null> {
  if (!page.backdrop) return null;
  const { content, leaf, password } = page.backdrop;
  if (leaf !== undefined) return pdfs.use(content, password ?? null, (pdf) => wholeLeaf(pdf, leaf, page, k));
  const bytes = await readContent(content);
  return bytes && decodeFor(page, bytes, k);
}

/** Bytes beyond which a file is not even read. */
const LARGEST = 64 << 20;

/** A picture that the user chooses comes behind a page of the open note. */
export const choosePicture =
  (page: string): Thunk<Promise<void>> =>
  async (dispatch, getState, alive) => {
    const file = await chooseFile(BACKDROP_TYPES);
    const into = alive.file;
    if (!file || !into || !canChange(getState())) return;
    await dispatch(
      runJob({
        kind: 'picture',
        title: 'Putting a picture behind the page',
        async task({ signal }) {
          if (file.size > LARGEST) throw new PictureError(`it has ${Math.round(file.size / 1e6)} MB, and ${LARGEST >> 20} are the most`);
          const bytes = new Uint8Array(await file.arrayBuffer());
          await checkPicture(bytes);
          signal.throwIfAborted();
          const content = await into.keep(bytes);
          const { note } = getState().note;
          // The note may have been closed meanwhile: what nothing points to goes with it.
          if (alive.file !== into || !note) return;
          if (dispatch(change(setBackdrop(note, page, content)))) dispatch(say('tool', 'info', 'The picture lies behind the page.', 'undo'));
        },
        said: {
          key: 'tool',
          stopped: 'No picture was put behind the page.',
          failed: (e) => (isQuotaError(e) ? 'There is no room left for this picture. Nothing was changed; free some room (Settings, Storage) and choose it again.' : `“${file.name}” was not put behind the page: ${reasonOf(e)}. Nothing was changed; choose another picture.`),
        },
      }),
    );
  };

export const dropPicture =
  (page: string): Thunk =>
  (dispatch, getState) => {
    const { note } = getState().note;
    if (note && dispatch(change(setBackdrop(note, page, null)))) dispatch(say('tool', 'info', 'The picture was taken away from behind the page.', 'undo'));
  };

/** What behind a page cannot be shown, and why; a PDF whose password is not with the note is asked for it. */
export const pictureFailed = (why: string): Thunk => (ASKS.includes(why) ? say('backdrop', 'problem', 'A PDF in this note is locked, and its password did not come along. Your ink is all there.', 'pdf-password') : shownNot(why));
const ASKS: readonly string[] = [false, true].map((wrong) => new PdfPasswordError(wrong).message);

/** The password of PDFs behind pages: of all that it opens. @returns whether it opened any. */
export const givePassword =
  (password: string): Thunk<Promise<boolean>> =>
  async (dispatch, getState) => {
    const { note } = getState().note;
    const files = new Set(note?.header.pages.flatMap((p) => (p.backdrop?.leaf === undefined ? [] : [p.backdrop.content])));
    let opened = false;
    for (const content of files) {
      const source = await contentSource(content).catch(() => null);
      const pdf = source && (await PdfFile.open(source, password).catch(() => null));
      if (!pdf) continue;
      pdf.close();
      const now = getState().note.note;
      // Of one that asks for none nothing is written down.
      const free = await PdfFile.open(source, null).then((f) => (f.close(), true), () => false);
      if (now && !free && dispatch(change(withPassword(now, content, password), false))) opened = true;
    }
    if (opened) {
      pdfs.clear();
      dispatch(messagesSlice.actions.dismissed('backdrop'));
    }
    return opened;
  };

const shownNot = (why: string): Thunk => say('backdrop', 'problem', `The picture behind a page cannot be shown: ${why}. The page and its ink are all there. Choose the picture again under Paper, or restore a backup that has it.`);

/** The picture behind a page, for showing the page `width` px across; null while there is none. */
export function usePageBackdrop({ backdrop, w, h }: Pick<Page, 'backdrop' | 'w' | 'h'>, width: number): ImageBitmap | null {
  const [shown, setShown] = useState<{ of: object; bitmap: ImageBitmap } | null>(null);
  useEffect(() => {
    if (!backdrop) return undefined;
    let wanted = true;
    const show = async () => {
      const bitmap = await backdropBitmap({ backdrop, w, h }, (width / w) * Math.min(3, window.devicePixelRatio || 1));
      if (!bitmap) return;
      if (wanted) setShown({ of: backdrop, bitmap });
      else bitmap.close();
    };
    // What is wrong with it is told where the page is open.
    show().catch(() => undefined);
    return () => {
      wanted = false;
    };
  }, [backdrop, w, h, width]);
  useEffect(() => () => shown?.bitmap.close(), [shown]);
  return shown?.of === backdrop ? (shown?.bitmap ?? null) : null;
}

/** Where the pictures that lie on a page come from, where it is seen in small at `k` px per mm. */
export function usePlacedPictures(placed: readonly Placed[], k: number): PictureSource | undefined {
  const [shown, setShown] = useState<ReadonlyMap<string, ImageBitmap> | null>(null);
  const pictures = useMemo(() => placed.filter((it): it is Picture => it.kind === 'picture'), [placed]);
  // Moved or turned they are the same pixels.
  const names = [...new Set(pictures.map((p) => p.content))].sort().join();
  const latest = useRef(pictures);
  useEffect(() => {
    latest.current = pictures;
  });
  useEffect(() => {
    if (!names) return undefined;
    let wanted = true;
    const made = new Map<string, ImageBitmap>();
    const show = async () => {
      for (const it of latest.current) {
        if (made.has(it.content)) continue;
        const bytes = await readContent(it.content);
        const bitmap = bytes && wanted && (await decodeFor(sheetOfPicture(it), bytes, k * Math.min(3, window.devicePixelRatio || 1)));
        if (bitmap) made.set(it.content, bitmap);
      }
      if (wanted) setShown(made);
    };
    // What is wrong with one is told where the page is open.
    show().catch(() => undefined);
    return () => {
      wanted = false;
      for (const bitmap of made.values()) bitmap.close();
    };
  }, [names, k]);
  return useMemo(() => {
    if (!shown || !names) return undefined;
    return (it: Picture) => {
      const bitmap = shown.get(it.content);
      return bitmap && bitmap.width > 0 ? backdropOf(bitmap, sheetOfPicture(it)) : null;
    };
  }, [shown, names]);
}
