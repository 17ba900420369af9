/**
 * Notes as PDF (ISO 32000-1): ink as curves, on the paper it was written on or on the pages of a PDF that was brought in, whose own objects stay as they are.
 * The package does the objects and the file; what is drawn is `content.ts`.
 */
import * as fontkit from '@cantoo/fontkit';
import { PDFArray, PDFDict, PDFDocument, PDFHexString, PDFName, PDFNumber, type PDFFont, type PDFImage, type PDFPage, type PDFRef } from '@cantoo/pdf-lib';
import type { Box } from '../../ink/stroke';
import { lettersIn, type Placed } from '../../note/kinds/kinds';
import { rulingOf } from '../../note/paper';
import type { Page } from '../../note/schema';
import { MM_PER_POINT } from '../../pdf/leaf';
import { PageContent, UNITS, type ContentOf, type Letters } from './content';

const POINTS = 1 / MM_PER_POINT;

/** Text on a page: `size` is the height of its letters, mm, its foot line begins at x, y. */
export interface SetText {
  readonly text: string;
  readonly x: number;
  readonly y: number;
  readonly size: number;
  /** `#rrggbb`; without one it is not seen, but found and copied. */
  readonly color?: string;
}

export interface PdfSheet {
  readonly page: Page;
  readonly placed: readonly Placed[];
  readonly texts: readonly SetText[];
  /** Places (mm) that lead to an address, absolute or beside the file, or to another sheet of the book, from 0. */
  readonly links: readonly ({ readonly box: Box } & ({ readonly url: string } | { readonly sheet: number }))[];
}

export interface PdfPicture {
  readonly bytes: Uint8Array;
  /** Of the two that a PDF takes as they are. */
  readonly type: 'png' | 'jpeg';
}

export interface PdfBook {
  readonly title: string;
  readonly keywords: readonly string[];
  /** ms since the epoch. */
  readonly made: number;
  readonly changed: number;
  readonly sheets: readonly PdfSheet[];
  /** `sheet` counts from 0; `y` mm down the page. */
  readonly outline: readonly { readonly title: string; readonly level: number; readonly sheet: number; readonly y: number }[];
  /** By hash. */
  readonly pictures: ReadonlyMap<string, PdfPicture>;
  /** PDFs that pages lie on, by hash. */
  readonly files: ReadonlyMap<string, { readonly bytes: Uint8Array; readonly password: string | null }>;
  /** The sheet and its ruling are drawn; without, ink alone. Pages of a PDF that was brought in always are. */
  readonly paper: boolean;
  /** Fonts for what is set, the first that has a letter sets it. */
  readonly fonts: readonly Uint8Array[];
  /** Fonts of typed text by the name of its face, likewise. */
  readonly faces?: ReadonlyMap<string, readonly Uint8Array[]>;
}

/** What cannot be written: a clause. */
export class PdfOutError extends Error {
  readonly name = 'PdfOutError';
}

/** @param progress share of the pages that are done, 0..1. @throws PdfOutError */
export async function writePdf(book: PdfBook, progress: (share: number) => void = () => undefined): Promise<Uint8Array> {
  const whole = wholeFile(book);
  const doc = whole ? await open(book, whole) : await PDFDocument.create({ updateMetadata: false });
  const writing = new Writing(doc, book);
  const pages = whole ? doc.getPages() : await writing.newPages();
  for (let i = 0; i < book.sheets.length; i++) {
    await writing.sheet(book.sheets[i], pages[i], pages);
    progress((i + 1) / book.sheets.length);
  }
  if (book.outline.length && !(whole && doc.catalog.has(PDFName.of('Outlines')))) writing.outline(pages);
  // What came in keeps what it says of itself.
  if (!whole || !doc.getTitle()) doc.setTitle(book.title, { showInWindowTitleBar: true });
  if (book.keywords.length) doc.setKeywords([...new Set([...(whole ? (doc.getKeywords()?.split(' ') ?? []) : []), ...book.keywords])]);
  if (!whole) {
    doc.setCreator('Scrivo');
    doc.setProducer('Scrivo (pdf-lib)');
    doc.setCreationDate(new Date(book.made));
  }
  doc.setModificationDate(new Date(book.changed));
  return whole ? doc.commit({ useObjectStreams: true }) : doc.save({ useObjectStreams: true, addDefaultPage: false });
}

/** The hash of the file whose pages, all of them and in their order, are the pages of the book; null when there is none. */
function wholeFile({ sheets, files }: PdfBook): string | null {
  const hash = sheets[0]?.page.backdrop?.content;
  if (hash === undefined || !files.has(hash)) return null;
  return sheets.every(({ page }, i) => page.backdrop?.content === hash && page.backdrop.leaf === i) ? hash : null;
}

async function open({ files, sheets }: PdfBook, hash: string): Promise<PDFDocument> {
  const { bytes, password } = files.get(hash)!;
  try {
    const doc = await PDFDocument.load(bytes, { forIncrementalUpdate: true, updateMetadata: false, ...(password === null ? {} : { password }) });
    // Other pages than these would be handed on without having been chosen.
    if (doc.getPageCount() === sheets.length) return doc;
  } catch (e) {
    throw new PdfOutError(`the PDF that was brought in cannot be opened for it (${e instanceof Error ? e.message : String(e)})`, { cause: e });
  }
  throw new PdfOutError('not all pages of the PDF were chosen');
}

/** An address in ASCII, as a PDF has it (ISO 32000-1, 12.6.4.7). One that is no well-formed address is said as far as it is. */
function asUri(url: string): string {
  try {
    return encodeURI(decodeURI(url));
  } catch {
    return encodeURI(url.replace(/\p{Surrogate}/gu, ''));
  }
}

/** ASCII as a string in hexadecimal digits: what stands in it can end no string, as brackets would. */
const hexOf = (ascii: string): PDFHexString => PDFHexString.of([...ascii].map((c) => c.charCodeAt(0).toString(16).padStart(2, '0')).join('').toUpperCase());

class Writing {
  private readonly images = new Map<string, PDFImage>();
  private readonly fonts: { font: PDFFont; has: ReadonlySet<number>; face: string | null }[] = [];
  private readonly alphas = new Map<number, PDFRef>();
  /** What stands before the content of every page that came in. */
  private saving: PDFRef | null = null;

  constructor(
    private readonly doc: PDFDocument,
    private readonly book: PdfBook,
  ) {
    doc.registerFontkit(fontkit as unknown as Parameters<PDFDocument['registerFontkit']>[0]);
  }

  /** Blank sheets, and copies of the pages that were brought in. */
  async newPages(): Promise<PDFPage[]> {
    const { doc, book } = this;
    const copies = new Map<string, PDFPage[]>();
    for (const [hash, { bytes, password }] of book.files) {
      const leaves = book.sheets.flatMap(({ page }) => (page.backdrop?.content === hash && page.backdrop.leaf !== undefined ? [page.backdrop.leaf] : []));
      if (!leaves.length) continue;
      try {
        const source = await PDFDocument.load(bytes, { updateMetadata: false, ...(password === null ? {} : { password }) });
        copies.set(hash, await doc.copyPages(source, leaves));
      } catch (e) {
        throw new PdfOutError(`a PDF that was brought in cannot be opened for it (${e instanceof Error ? e.message : String(e)})`, { cause: e });
      }
    }
    return book.sheets.map(({ page }) => {
      const copy = page.backdrop?.leaf === undefined ? undefined : copies.get(page.backdrop.content)?.shift();
      return copy ? doc.addPage(copy) : doc.addPage([page.w * POINTS, page.h * POINTS]);
    });
  }

  async sheet({ page, placed, texts, links }: PdfSheet, on: PDFPage, all: readonly PDFPage[]): Promise<void> {
    const content = new PageContent(await this.letters(texts.length > 0 || rulingOf(page).words.length > 0 || placed.some((it) => lettersIn(it).length > 0)));
    const isLeaf = page.backdrop?.leaf !== undefined && this.book.files.has(page.backdrop.content);
    if (this.book.paper && !isLeaf) {
      content.paper(page);
      const { content: hash } = page.backdrop ?? {};
      if (hash !== undefined && this.book.pictures.has(hash)) content.backdrop(hash, [0, 0, page.w, page.h]);
      content.ruling(page);
    }
    content.placed(placed.filter((it) => it.kind !== 'picture' || this.book.pictures.has(it.content)));
    for (const t of texts) content.words(t.text, t.x, t.y, t.size, t.color ?? '#000000', t.color !== undefined);
    const done = content.result();
    // Nothing was written on it: a page that came in stays as it is.
    if (done.text) await this.lay(done, on, page);
    for (const to of links) this.link(on, page, to, all);
  }

  /** What was drawn as an object of its own, so that the page's own resources stay as they are. */
  private async lay({ text, alphas, pictures, fonts }: ContentOf, on: PDFPage, page: Page): Promise<void> {
    const { context } = this.doc;
    const resources = context.obj({});
    const put = (kind: string, entries: readonly (readonly [string, PDFRef])[]) => entries.length && resources.set(PDFName.of(kind), context.obj(Object.fromEntries(entries)));
    put('ExtGState', [...alphas].map(([alpha, name]) => [name, this.alpha(alpha)] as const));
    put('Font', [...fonts].map((name) => [name, this.fonts[Number(name.slice(1))].font.ref] as const));
    put('XObject', await Promise.all([...pictures].map(async ([hash, name]) => [name, (await this.image(hash)).ref] as const)));
    const ink = context.register(context.flateStream(text, { Type: 'XObject', Subtype: 'Form', BBox: [0, 0, page.w * UNITS, page.h * UNITS], Resources: resources, ...(alphas.size ? { Group: { S: 'Transparency' } } : {}) }));
    const name = on.node.newXObject('Ink', ink);
    const matrix = this.matrixOf(on, page).map((v) => String(Math.round(v * 1e7) / 1e7)).join(' ');
    const drawing = `q ${matrix} cm ${String(name)} Do Q`;
    const before = on.node.Contents();
    if (!before) return void on.node.set(PDFName.of('Contents'), context.register(context.stream(drawing)));
    // What stood there before may leave its state as it likes.
    this.saving ??= context.register(context.stream('q'));
    const drawn = context.register(context.stream(`Q ${drawing}`));
    const old = before instanceof PDFArray ? before.asArray() : [on.node.get(PDFName.of('Contents'))!];
    on.node.set(PDFName.of('Contents'), context.obj([this.saving, ...old, drawn]));
  }

  /** From mm of the page as it is shown (in units of the content, y down) to its own space (ISO 32000-1, 8.3.2.3 and 14.11.2). */
  private matrixOf(on: PDFPage, page: Page): [number, number, number, number, number, number] {
    const { x, y, width, height } = on.getCropBox();
    const turn = ((on.getRotation().angle % 360) + 360) % 360;
    const [w, h] = turn % 180 ? [height, width] : [width, height];
    // A sheet of another size than the page it lies on has it in its middle, as large as it goes.
    const s = Math.max(w / (page.w * UNITS), h / (page.h * UNITS));
    const [dx, dy] = [(w - s * page.w * UNITS) / 2, (h - s * page.h * UNITS) / 2];
    if (turn === 90) return [0, s, s, 0, x + dy, y + dx];
    if (turn === 180) return [-s, 0, 0, s, x + width - dx, y + dy];
    if (turn === 270) return [0, -s, -s, 0, x + width - dy, y + height - dx];
    return [s, 0, 0, -s, x + dx, y + height - dy];
  }

  private alpha(alpha: number): PDFRef {
    let ref = this.alphas.get(alpha);
    if (!ref) this.alphas.set(alpha, (ref = this.doc.context.register(this.doc.context.obj({ Type: 'ExtGState', ca: alpha, CA: alpha }))));
    return ref;
  }

  private async image(hash: string): Promise<PDFImage> {
    let image = this.images.get(hash);
    const picture = this.book.pictures.get(hash)!;
    if (!image) this.images.set(hash, (image = picture.type === 'png' ? await this.doc.embedPng(picture.bytes) : await this.doc.embedJpg(picture.bytes)));
    return image;
  }

  /** Letters of the fonts, which are read when there is something to set. */
  private async letters(needed: boolean): Promise<Letters> {
    const add = async (bytes: Uint8Array, face: string | null) => {
      // Letters are set one by one, as the layout has them.
      const font = await this.doc.embedFont(bytes, { subset: true, ...(face === null ? {} : { features: { liga: false, clig: false, calt: false, kern: false } }) });
      this.fonts.push({ font, has: new Set(font.getCharacterSet()), face });
    };
    if (needed && !this.fonts.length) {
      for (const bytes of this.book.fonts) await add(bytes, null);
      for (const [face, files] of this.book.faces ?? []) for (const bytes of files) await add(bytes, face);
    }
    return {
      runs: (text, face) => {
        const runs: { font: string; hex: string; width: number }[] = [];
        let [now, part] = [-1, ''];
        const close = () => {
          if (part) runs.push({ font: `F${now}`, hex: String(this.fonts[now].font.encodeText(part)), width: this.fonts[now].font.widthOfTextAtSize(part, 1) });
          part = '';
        };
        for (const letter of text) {
          const code = letter.codePointAt(0)!;
          const own = face === undefined ? -1 : this.fonts.findIndex((f) => f.face === face && f.has.has(code));
          const which = own >= 0 ? own : this.fonts.findIndex((f) => f.face === null && f.has.has(code));
          // A letter that no font has is left out.
          if (which < 0) continue;
          if (which !== now) close();
          [now, part] = [which, part + letter];
        }
        close();
        return runs;
      },
    };
  }

  private link(on: PDFPage, page: Page, to: PdfSheet['links'][number], all: readonly PDFPage[]): void {
    const [l, t, r, b] = to.box;
    const { context } = this.doc;
    const [a, bb, c, d, e, f] = this.matrixOf(on, page);
    const place = (x: number, y: number) => [a * x * UNITS + c * y * UNITS + e, bb * x * UNITS + d * y * UNITS + f];
    const [[x0, y0], [x1, y1]] = [place(l, t), place(r, b)];
    const it = context.register(context.obj({ Type: 'Annot', Subtype: 'Link', Rect: [Math.min(x0, x1), Math.min(y0, y1), Math.max(x0, x1), Math.max(y0, y1)], Border: [0, 0, 0], ...('url' in to ? { A: { Type: 'Action', S: 'URI', URI: hexOf(asUri(to.url)) } } : { Dest: [all[to.sheet].ref, 'Fit'] }) }));
    on.node.addAnnot(it);
  }

  /** Headings as outline (ISO 32000-1, 12.3.3). */
  outline(pages: readonly PDFPage[]): void {
    const { context } = this.doc;
    interface Item {
      readonly ref: PDFRef;
      readonly dict: PDFDict;
      readonly level: number;
      readonly inner: Item[];
    }
    const root: Item = { ref: context.nextRef(), dict: context.obj({ Type: 'Outlines' }), level: 0, inner: [] };
    const open: Item[] = [root];
    for (const { title, level, sheet, y } of this.book.outline) {
      const { page } = this.book.sheets[sheet];
      const [, , c, d, e, f] = this.matrixOf(pages[sheet], page);
      const dict = context.obj({ Title: PDFHexString.fromText(title), Dest: [pages[sheet].ref, PDFName.of('XYZ'), c * y * UNITS + e, d * y * UNITS + f, PDFNumber.of(0)] });
      const item: Item = { ref: context.nextRef(), dict, level, inner: [] };
      while (open[open.length - 1].level >= level) open.pop();
      open[open.length - 1].inner.push(item);
      open.push(item);
    }
    const tie = (parent: Item): number => {
      const { inner, dict } = parent;
      let count = inner.length;
      inner.forEach((it, i) => {
        it.dict.set(PDFName.of('Parent'), parent.ref);
        if (i > 0) it.dict.set(PDFName.of('Prev'), inner[i - 1].ref);
        if (i < inner.length - 1) it.dict.set(PDFName.of('Next'), inner[i + 1].ref);
        count += tie(it);
      });
      if (inner.length) {
        dict.set(PDFName.of('First'), inner[0].ref);
        dict.set(PDFName.of('Last'), inner[inner.length - 1].ref);
        dict.set(PDFName.of('Count'), PDFNumber.of(count));
      }
      context.assign(parent.ref, dict);
      return count;
    };
    tie(root);
    this.doc.catalog.set(PDFName.of('Outlines'), root.ref);
    this.doc.catalog.set(PDFName.of('PageMode'), PDFName.of('UseOutlines'));
  }
}

