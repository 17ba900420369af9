/** What pages show that is no ink, for whatever surface shows them: pictures, pages of PDF, and where their links lead. */
import { sheetOf } from '../../core/pdf/leaf';
import { readContent } from '../../storage/contentFile';
import { pdfs } from '../../store/backdrops';
import { printedLinks, printedText } from '../../store/printed';
import type { SurfaceEvents } from './surface/state';

export const pageSources: Pick<SurfaceEvents, 'content' | 'leaves'> = {
  content: readContent,
  leaves: {
    size: (hash, password, leaf) => pdfs.use(hash, password, async (pdf) => (await pdf.sizes(leaf, leaf + 1)).map((s) => sheetOf(s.w, s.h))[0]),
    draw: (hash, password, leaf, k, part) => pdfs.use(hash, password, (pdf) => pdf.draw(leaf, k, part)),
  },
};

export const printedSources = { text: printedText, links: printedLinks };
