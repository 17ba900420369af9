/** A part of a page, with all that lies on it, as a picture. */
import type { Leaving } from '../../core/formats/exporter';
import type { Box } from '../../core/ink/stroke';
import { inSight, type Placed } from '../../core/note/kinds/kinds';
import type { Page } from '../../core/note/schema';
import { PdfFile, sourceOf } from '../pdf/pdfFile';
import { wholeLeaf } from '../pdf/wholeLeaf';
import { backdropOf, decodeFor } from './backdrops';
import type { Backdrop } from './kindPainter';
import { paintPage } from './pagePainter';
import { sheetOfPicture, type PictureSource } from './pictureOnPage';
import { facesOf } from './typedFaces';

/** 300 pixels to the inch, as for print, unless the picture would be too large for a canvas. */
const PRINT_PX = 300 / 25.4;
export const LARGEST_PX = 8000;

/** What lies behind a page, at `k` px to the mm. */
export async function behind(page: Page, bytes: Uint8Array, k: number): Promise<ImageBitmap> {
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

/** Draws it at `k` px to the mm onto a context whose upper left corner it takes. */
export async function paintPart(ctx: CanvasRenderingContext2D, { page, placed, part, paper, contents }: Part, k: number, x = 0, y = 0): Promise<void> {
  ctx.setTransform(k, 0, 0, k, x - part[0] * k, y - part[1] * k);
  const picture = paper && page.backdrop ? (await contents()).contents.get(page.backdrop.content) : undefined;
  const bitmap = picture ? await behind(page, picture, k) : null;
  const pictures = await shownOf(placed, contents, k);
  await facesOf(placed);
  ctx.save();
  ctx.beginPath();
  ctx.rect(part[0], part[1], part[2] - part[0], part[3] - part[1]);
  ctx.clip();
  paintPage(ctx, { page, pictures, placed: inSight(placed), part, k, backdrop: bitmap && backdropOf(bitmap, page), sheet: paper, bare: !paper });
  ctx.restore();
  bitmap?.close();
}

export async function blobOfCanvas(canvas: HTMLCanvasElement, type: string, quality?: number): Promise<Blob> {
  const blob = await new Promise<Blob | null>((resolve) => canvas.toBlob(resolve, type, quality));
  if (!blob) throw new Error('this browser cannot make a picture of that size');
  return blob;
}

/** A part of a page as a PNG. @throws Error with a clause that says why it cannot be made. */
export async function pictureOfPart(part: Part, fine = PRINT_PX): Promise<Blob> {
  const [w, h] = [part.part[2] - part.part[0], part.part[3] - part.part[1]];
  const k = Math.min(fine, LARGEST_PX / Math.max(w, h));
  const canvas = document.createElement('canvas');
  [canvas.width, canvas.height] = [Math.max(1, Math.ceil(w * k)), Math.max(1, Math.ceil(h * k))];
  await paintPart(canvas.getContext('2d')!, part, k);
  return blobOfCanvas(canvas, 'image/png');
}
