/** A page of a PDF as one picture, for a page of a note that is drawn once. */
import type { Page } from '../../core/note/schema';
import { sheetOf } from '../../core/pdf/leaf';
import { placeOnPage } from '../drawing/backdrops';
import type { PdfFile } from './pdfFile';

/** Pixels beyond which a picture is no longer made in one piece. */
const MOST_PX = 40e6;

/** At `k` px per mm of the page of the note. @throws PdfError */
export async function wholeLeaf(pdf: PdfFile, leaf: number, page: Pick<Page, 'w' | 'h'>, k: number): Promise<ImageBitmap> {
  const [size] = await pdf.sizes(leaf, leaf + 1);
  const { w, h } = sheetOf(size.w, size.h);
  const [l, , r] = placeOnPage(w, h, page);
  const fine = Math.min(k * ((r - l) / w), Math.sqrt(MOST_PX / (w * h)));
  return pdf.draw(leaf, fine, [0, 0, w, h]);
}
