/** What was chosen on a page as a PNG. */
import { z } from 'zod';
import type { Exporter, Leaving } from '../../core/formats/exporter';
import { growBox, unionBox, type Box } from '../../core/ink/stroke';
import { coveredBy, type Placed } from '../../core/note/kinds/kinds';
import { backdropOf, decodeFor } from './backdrops';
import type { Backdrop } from './kindPainter';
import { paintPage } from './pagePainter';
import { sheetOfPicture, type PictureSource } from './pictureOnPage';
import { PdfFile, sourceOf } from '../pdf/pdfFile';
import { wholeLeaf } from '../pdf/wholeLeaf';
import type { Page } from '../../core/note/schema';

/** 300 pixels to the inch, as for print, unless the picture would be too large for a canvas. */
const PX_PER_MM = 300 / 25.4;
const LARGEST_PX = 8000;
const AIR_MM = 2;

async function behind(page: Page, bytes: Uint8Array, k: number): Promise<ImageBitmap> {
  const { leaf, password } = page.backdrop!;
  if (leaf === undefined) return decodeFor(page, bytes, k);
  const pdf = await PdfFile.open(sourceOf(new Blob([bytes as Uint8Array<ArrayBuffer>])), password);
  try {
    return await wholeLeaf(pdf, leaf, page, k);
  } finally {
    pdf.close();
  }
}

/** Pictures among what was chosen, as fine as they come out. */
async function shownOf(chosen: Leaving['chosen'], contents: Leaving['contents'], k: number): Promise<PictureSource> {
  const shown = new Map<Placed, Backdrop>();
  for (const it of chosen) {
    const bytes = it.kind === 'picture' ? (await contents()).contents.get(it.content) : undefined;
    if (it.kind === 'picture' && bytes) shown.set(it, backdropOf(await decodeFor(sheetOfPicture(it), bytes, k), sheetOfPicture(it)));
  }
  return (it) => shown.get(it) ?? null;
}

export interface Part {
  readonly page: Page;
  /** What of it is drawn. */
  readonly placed: readonly Placed[];
  /** mm of the page. */
  readonly part: Box;
  /** With the paper, or see-through. */
  readonly paper: boolean;
  readonly contents: Leaving['contents'];
}

/** A part of a page as a PNG. @throws Error with a clause that says why it cannot be made. */
export async function pictureOfPart({ page, placed, part, paper, contents }: Part): Promise<Blob> {
  const [w, h] = [part[2] - part[0], part[3] - part[1]];
  const k = Math.min(PX_PER_MM, LARGEST_PX / Math.max(w, h));
  const canvas = document.createElement('canvas');
  [canvas.width, canvas.height] = [Math.ceil(w * k), Math.ceil(h * k)];
  const ctx = canvas.getContext('2d')!;
  ctx.setTransform(k, 0, 0, k, -part[0] * k, -part[1] * k);
  const picture = paper && page.backdrop ? (await contents()).contents.get(page.backdrop.content) : undefined;
  const bitmap = picture ? await behind(page, picture, k) : null;
  const pictures = await shownOf(placed, contents, k);
  paintPage(ctx, { page, pictures, placed, part, k, backdrop: bitmap && backdropOf(bitmap, page), sheet: paper, bare: !paper });
  bitmap?.close();
  const blob = await new Promise<Blob | null>((resolve) => canvas.toBlob(resolve, 'image/png'));
  if (!blob) throw new Error('this browser cannot make a picture of that size');
  return blob;
}

export const pictureExporter: Exporter<{ paper: boolean }> = {
  name: 'Picture',
  extension: 'png',
  type: 'image/png',
  /** With the paper, or see-through. */
  options: z.object({ paper: z.boolean().default(true) }),
  write({ note, chosen, contents }, { paper }) {
    const page = note.header.pages.find((p) => p.id === chosen[0]?.page);
    if (!page) return Promise.reject(new Error('nothing is selected'));
    return pictureOfPart({ page, placed: chosen, part: growBox(chosen.map(coveredBy).reduce(unionBox), AIR_MM), paper, contents });
  },
};
