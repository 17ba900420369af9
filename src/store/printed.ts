/** What is printed on the pages of PDF: text, links, and finding words in it. */
import { findIn } from '../core/pdf/find';
import type { Box } from '../core/ink/stroke';
import type { Page } from '../core/note/schema';
import type { Query } from '../core/reading/search';
import type { LeafLink, LeafText } from '../platform/pdf/pdfWork';
import { pdfs } from './backdrops';
import { keepsReadable } from './forgetting';
import { say } from './messages';
import type { Thunk } from './thunk';

/** Text of pages that were read, by file and page; so many at most. */
const texts = new Map<string, Promise<LeafText[]>>();
const MOST = 1000;

keepsReadable('text of printed pages', { forget: () => texts.clear() });

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

/** What of a printed page is found: the words as they follow each other or, where they do not, each of them; nothing of a page that has what is left out. */
function printedOn(text: readonly LeafText[], { all, none }: Query): { boxes: readonly Box[]; around: string }[] {
  if (!text.length || none.some((phrase) => findIn(text, phrase.join(' ')).length)) return [];
  const together = findIn(text, all.flat().join(' '));
  if (together.length) return together;
  const found = all.map((phrase) => findIn(text, phrase.join(' ')));
  return found.some((hits) => !hits.length) ? [] : found.flat();
}

/** Looks for words on the printed pages of the open note; `told` is called as pages are read, with the share of them. @throws the signal's reason */
export const findPrinted =
  (query: Query, signal: AbortSignal, told: (hits: readonly PrintedHit[], share: number) => void): Thunk<Promise<void>> =>
  async (_, getState) => {
    const pages = getState().note.note?.header.pages ?? [];
    const printed = pages.flatMap((page, i) => (page.backdrop?.leaf === undefined ? [] : [{ page, number: i + 1 }]));
    const hits: PrintedHit[] = [];
    for (let i = 0; query.all.length && i < printed.length && hits.length < MOST_HITS; i++) {
      const { page, number } = printed[i];
      // A page that cannot be read has nothing to be found on; what is wrong with it is told where it is shown.
      const text = await printedText(page).catch(() => []);
      signal.throwIfAborted();
      const more = printedOn(text, query).map((h) => ({ page: page.id, number, ...h }));
      hits.push(...more);
      if (more.length || i % 20 === 19) told(hits.slice(0, MOST_HITS), (i + 1) / printed.length);
    }
    told(hits.slice(0, MOST_HITS), 1);
  };

export const notBroughtIn = (): Thunk => say('tool', 'info', 'That page of the PDF was not brought into this note.');
