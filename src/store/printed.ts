/** What is printed on the pages of PDF: text, links, and finding words in it. */
import { findIn } from '../core/pdf/find';
import type { Box } from '../core/ink/stroke';
import type { Page } from '../core/note/schema';
import type { LeafLink, LeafText } from '../platform/pdf/pdfWork';
import { pdfs } from './backdrops';
import { runJob } from './jobs';
import { reasonOf, say } from './messages';
import type { Thunk } from './thunk';

/** Text of pages that were read, by file and page; so many at most. */
const texts = new Map<string, Promise<LeafText[]>>();
const MOST = 1000;

/** Nothing of a note that is locked now stays in memory. */
export const forgetPrinted = (): void => texts.clear();

/** None where a page has none. @throws PdfError */
export function printedText({ backdrop }: Page): Promise<LeafText[]> {
  if (backdrop?.leaf === undefined) return Promise.resolve([]);
  const { content, leaf, password } = backdrop;
  const name = `${content} ${leaf}`;
  let text = texts.get(name);
  if (!text) {
    text = pdfs.use(content, password ?? null, (pdf) => pdf.text(leaf));
    texts.set(name, text);
    text.catch(() => texts.delete(name));
    if (texts.size > MOST) texts.delete(texts.keys().next().value!);
  }
  return text;
}

/** @throws PdfError */
export function printedLinks({ backdrop }: Page): Promise<LeafLink[]> {
  if (backdrop?.leaf === undefined) return Promise.resolve([]);
  const { content, leaf, password } = backdrop;
  return pdfs.use(content, password ?? null, (pdf) => pdf.links(leaf));
}

/** Addresses that may be opened, after a question; whatever else a file names is none. */
export const webAddress = (url: string): string | null => (/^(https?:|mailto:)/i.test(url) ? url : null);

/** The page of the open note on which a page of a PDF lies; null when it was not brought in. */
export const pageOfLeaf =
  (content: string, leaf: number): Thunk<Page | null> =>
  (_, getState) =>
    getState().note.note?.header.pages.find((p) => p.backdrop?.content === content && p.backdrop.leaf === leaf) ?? null;

export interface PrintedHit {
  readonly page: string;
  readonly number: number;
  readonly boxes: readonly Box[];
  readonly around: string;
}

/** Places are listed up to so many. */
const MOST_HITS = 200;

/** Looks for words on the printed pages of the open note; `found` is told as pages are read. */
export const findPrinted =
  (wanted: string, found: (hits: readonly PrintedHit[]) => void): Thunk<Promise<boolean>> =>
  async (dispatch, getState) => {
    const pages = getState().note.note?.header.pages ?? [];
    const printed = pages.flatMap((page, i) => (page.backdrop?.leaf === undefined ? [] : [{ page, number: i + 1 }]));
    const hits: PrintedHit[] = [];
    return dispatch(
      runJob({
        kind: 'finding',
        title: `Looking for “${wanted}”`,
        async task({ signal, progress }) {
          for (let i = 0; i < printed.length && hits.length < MOST_HITS; i++) {
            signal.throwIfAborted();
            progress(i / printed.length);
            const { page, number } = printed[i];
            // A page that cannot be read has nothing to be found on; what is wrong with it is told where it is shown.
            const text = await printedText(page).catch(() => []);
            const more = findIn(text, wanted).map((h) => ({ page: page.id, number, ...h }));
            if (!more.length) continue;
            hits.push(...more);
            found(hits.slice(0, MOST_HITS));
          }
          found(hits.slice(0, MOST_HITS));
        },
        said: { key: 'finding', stopped: 'Looking was stopped.', failed: (e) => `The pages could not be looked through (${reasonOf(e)}).` },
      }),
    );
  };

export const notBroughtIn = (): Thunk => say('tool', 'info', 'That page of the PDF was not brought into this note.');
