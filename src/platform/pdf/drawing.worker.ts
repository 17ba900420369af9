/**
 * Reads and draws PDF, away from the thread that answers the hand. It is served as a module of its own beside the package it uses
 * (scripts/lay.mjs), so it imports nothing else but types.
 */
import { expose, transfer } from 'comlink';
import { AnnotationMode, getDocument, PDFDataRangeTransport, PDFWorker, type PDFDocumentLoadingTask, type PDFDocumentProxy, type PDFPageProxy } from 'pdfjs-dist';
import type { LeafLink, LeafText, OutlineItem, PdfWork, ReadRange } from './pdfWork';

const MM_PER_POINT = 25.4 / 72;
/** As large as the parts in which files are kept, so that each is read once. */
const RANGE = 1 << 20;
const here = (name: string): string => new URL(name, import.meta.url).href;

/** Filters by which a mask is made of what was drawn; the names mean something to `filtered` alone. */
const masks = new Map<string, { readonly luminous: boolean; readonly map: readonly number[] | null }>();
const maskFilter = (luminous: boolean, map: readonly number[] | null): string => {
  const name = `mask-${luminous}-${map?.join() ?? ''}`;
  masks.set(name, { luminous, map });
  return name;
};

/** Without a document there are no SVG filters: what they do to a mask is done to its pixels (ISO 32000-1, 11.5.2 and 11.5.3). */
function filtered(context: OffscreenCanvasRenderingContext2D): OffscreenCanvasRenderingContext2D {
  let filter = 'none';
  const draw = context.drawImage.bind(context) as (...args: unknown[]) => void;
  Object.defineProperty(context, 'filter', { get: () => filter, set: (v: string) => (filter = v) });
  context.drawImage = ((...args: unknown[]) => {
    draw(...args);
    const mask = masks.get(filter);
    if (!mask) return;
    const { width, height } = context.canvas;
    const pixels = context.getImageData(0, 0, width, height);
    const { data } = pixels;
    for (let i = 0; i < data.length; i += 4) {
      const v = mask.luminous ? Math.round(0.3 * data[i] + 0.59 * data[i + 1] + 0.11 * data[i + 2]) : data[i + 3];
      data[i + 3] = mask.map?.length === 256 ? mask.map[v] : v;
    }
    context.putImageData(pixels, 0, 0);
  }) as typeof context.drawImage;
  return context;
}

interface Made {
  canvas: OffscreenCanvas | null;
  context: OffscreenCanvasRenderingContext2D | null;
}

class Canvases {
  create(width: number, height: number): Made {
    const canvas = new OffscreenCanvas(width, height);
    const context = canvas.getContext('2d', { willReadFrequently: true })!;
    context.textRendering = 'geometricPrecision';
    return { canvas, context: filtered(context) };
  }

  reset({ canvas }: Made, width: number, height: number): void {
    [canvas!.width, canvas!.height] = [width, height];
  }

  destroy(made: Made): void {
    [made.canvas!.width, made.canvas!.height] = [0, 0];
    [made.canvas, made.context] = [null, null];
  }
}

class Filters {
  addFilter = () => 'none';
  addHCMFilter = () => 'none';
  addHighlightHCMFilter = () => 'none';
  addAlphaFilter = (map: number[] | null) => maskFilter(false, map);
  addLuminosityFilter = (map: number[] | null) => maskFilter(true, map);
  destroy(): void {
    masks.clear();
  }
}

class Ranges extends PDFDataRangeTransport {
  constructor(
    length: number,
    private readonly read: ReadRange,
    private readonly failed: (e: unknown) => void,
  ) {
    super(length, null);
  }

  override requestDataRange(begin: number, end: number): void {
    this.read(begin, end).then((bytes) => this.onDataRange(begin, bytes), this.failed);
  }
}

interface Open {
  readonly task: PDFDocumentLoadingTask;
  readonly pdf: PDFDocumentProxy;
}

/** After so many drawings what pages share is let go of, but for fonts. */
const SHARED_EVERY = 12;
let drawn = 0;

const parser = PDFWorker.create({ port: new Worker(here('parser.mjs'), { type: 'module' }) });
const docs = new Map<number, Open>();

async function page(doc: number, leaf: number): Promise<PDFPageProxy> {
  const open = docs.get(doc);
  if (!open) throw new DOMException('Stopped.', 'AbortError');
  return open.pdf.getPage(leaf + 1);
}

/** A place of a page in points as mm of the page as it is shown. */
type Place = (x: number, y: number) => readonly [number, number];
function placeOn(p: PDFPageProxy): Place {
  const viewport = p.getViewport({ scale: MM_PER_POINT });
  return (x, y) => viewport.convertToViewportPoint(x, y) as [number, number];
}

const boxBetween = (p: readonly [number, number], q: readonly [number, number]) => [Math.min(p[0], q[0]), Math.min(p[1], q[1]), Math.max(p[0], q[0]), Math.max(p[1], q[1])] as const;

/** Where a destination leads; null when it leads nowhere in this document. */
async function destination(pdf: PDFDocumentProxy, dest: unknown): Promise<{ leaf: number; y: number } | null> {
  try {
    const found: unknown = typeof dest === 'string' ? await pdf.getDestination(dest) : dest;
    if (!Array.isArray(found) || !found.length) return null;
    const [ref, kind] = found as [unknown, { name?: string } | undefined];
    const leaf = typeof ref === 'number' ? ref : await pdf.getPageIndex(ref as Parameters<PDFDocumentProxy['getPageIndex']>[0]);
    if (!(leaf >= 0 && leaf < pdf.numPages)) return null;
    // ISO 32000-1, table 151: where on the page.
    const top: unknown = kind?.name === 'XYZ' || kind?.name === 'FitR' ? found[kind.name === 'XYZ' ? 3 : 5] : kind?.name === 'FitH' || kind?.name === 'FitBH' ? found[2] : null;
    if (typeof top !== 'number') return { leaf, y: 0 };
    const p = await pdf.getPage(leaf + 1);
    return { leaf, y: Math.max(0, placeOn(p)(0, top)[1]) };
  } catch {
    // One that cannot be followed costs the link, not the document.
    return null;
  }
}

const work: PdfWork = {
  async open(doc, length, read, password) {
    let fail: (e: unknown) => void = () => undefined;
    const failing = new Promise<never>((_, reject) => (fail = reject));
    failing.catch(() => undefined);
    const task = getDocument({
      range: new Ranges(length, read, (e) => fail(e)),
      rangeChunkSize: RANGE,
      disableAutoFetch: true,
      disableStream: true,
      worker: parser,
      ...(password === null ? {} : { password }),
      cMapUrl: here('cmaps/'),
      cMapPacked: true,
      standardFontDataUrl: here('standard_fonts/'),
      wasmUrl: here('wasm/'),
      iccUrl: here('iccs/'),
      useWorkerFetch: true,
      useSystemFonts: false,
      isOffscreenCanvasSupported: true,
      enableXfa: false,
      // A picture that claims more pixels than this is left out.
      maxImageSize: 100e6,
      ownerDocument: { fonts: (self as unknown as { fonts: FontFaceSet }).fonts } as unknown as HTMLDocument,
      CanvasFactory: Canvases,
      FilterFactory: Filters,
      verbosity: 0,
    });
    try {
      const pdf = await Promise.race([task.promise, failing]);
      docs.set(doc, { task, pdf });
      return pdf.numPages;
    } catch (e) {
      await task.destroy().catch(() => undefined);
      throw e;
    }
  },

  async sizes(doc, from, to) {
    const out: { w: number; h: number }[] = [];
    for (let i = from; i < to; i++) {
      const p = await page(doc, i);
      const { width, height } = p.getViewport({ scale: 1 });
      out.push({ w: width, h: height });
      p.cleanup();
    }
    return out;
  },

  async draw(doc, leaf, k, [l, t, r, b]) {
    const p = await page(doc, leaf);
    const canvas = new OffscreenCanvas(Math.max(1, Math.round((r - l) * k)), Math.max(1, Math.round((b - t) * k)));
    const context = canvas.getContext('2d', { alpha: false })!;
    // Letters stand where the file says, and not on the nearest pixel.
    context.textRendering = 'geometricPrecision';
    const viewport = p.getViewport({ scale: k * MM_PER_POINT, offsetX: -l * k, offsetY: -t * k });
    try {
      await p.render({ canvas: canvas as unknown as HTMLCanvasElement, canvasContext: context as unknown as CanvasRenderingContext2D, viewport, annotationMode: AnnotationMode.ENABLE }).promise;
      const bitmap = canvas.transferToImageBitmap();
      return transfer(bitmap, [bitmap]);
    } finally {
      canvas.width = canvas.height = 0;
      // Scanned pages are large: what was decoded for one goes with it, and now and then what pages share.
      p.cleanup();
      if (++drawn % SHARED_EVERY === 0) await docs.get(doc)?.pdf.cleanup(true).catch(() => undefined);
    }
  },

  async text(doc, leaf) {
    const p = await page(doc, leaf);
    const place = placeOn(p);
    const { items } = await p.getTextContent();
    const out: LeafText[] = [];
    for (const it of items) {
      if (!('str' in it)) continue;
      if (!it.str) {
        if (it.hasEOL && out.length) out[out.length - 1] = { ...out[out.length - 1], ends: true };
        continue;
      }
      const [a, b, c, d, x, y] = it.transform as number[];
      const [along, up] = [Math.hypot(a, b) || 1, Math.hypot(c, d) || 1];
      // Corners of the line of text: its baseline, and as far up as its letters are high.
      const [ux, uy, vx, vy] = [(a / along) * it.width, (b / along) * it.width, (c / up) * it.height, (d / up) * it.height];
      const corners = [place(x, y), place(x + ux, y + uy), place(x + vx, y + vy), place(x + ux + vx, y + uy + vy)];
      const [xs, ys] = [corners.map((q) => q[0]), corners.map((q) => q[1])];
      const turn = (Math.atan2(corners[1][1] - corners[0][1], corners[1][0] - corners[0][0]) * 180) / Math.PI;
      out.push({ text: it.str, box: [Math.min(...xs), Math.min(...ys), Math.max(...xs), Math.max(...ys)], turn: Math.round(turn), ends: it.hasEOL });
    }
    // What was filled into a form is no part of the page's own text.
    for (const a of (await p.getAnnotations({ intent: 'display' })) as { subtype: string; fieldType?: string; fieldValue?: unknown; rect: number[] }[]) {
      const values = a.subtype === 'Widget' && (a.fieldType === 'Tx' || a.fieldType === 'Ch') ? [a.fieldValue].flat() : [];
      const text = values.filter((v) => typeof v === 'string' && v).join(', ');
      if (!text) continue;
      if (out.length) out[out.length - 1] = { ...out[out.length - 1], ends: true };
      out.push({ text, box: boxBetween(place(a.rect[0], a.rect[1]), place(a.rect[2], a.rect[3])), turn: 0, ends: true });
    }
    p.cleanup();
    return out;
  },

  async links(doc, leaf) {
    const p = await page(doc, leaf);
    const { pdf } = docs.get(doc)!;
    const place = placeOn(p);
    const out: LeafLink[] = [];
    for (const a of (await p.getAnnotations({ intent: 'display' })) as { subtype: string; rect: number[]; url?: string; dest?: unknown }[]) {
      if (a.subtype !== 'Link' || !Array.isArray(a.rect)) continue;
      const box = boxBetween(place(a.rect[0], a.rect[1]), place(a.rect[2], a.rect[3]));
      if (a.url) out.push({ box, url: a.url });
      else if (a.dest) {
        const to = await destination(pdf, a.dest);
        if (to) out.push({ box, leaf: to.leaf });
      }
    }
    return out;
  },

  async outline(doc) {
    const open = docs.get(doc);
    if (!open) throw new DOMException('Stopped.', 'AbortError');
    type Item = { title: string; dest: unknown; items: Item[] };
    const out: OutlineItem[] = [];
    const walk = async (items: Item[], depth: number): Promise<void> => {
      for (const { title, dest, items: inner } of items) {
        const to = await destination(open.pdf, dest);
        if (to && title.trim()) out.push({ title: title.trim().slice(0, 300), depth, ...to });
        if (out.length > 2000) return;
        await walk(inner, depth + 1);
      }
    };
    await walk(((await open.pdf.getOutline()) ?? []) as Item[], 1);
    return out;
  },

  async close(doc) {
    const open = docs.get(doc);
    docs.delete(doc);
    await open?.task.destroy();
  },
};

expose(work);
