/** Pages as PDF. */
import { z } from 'zod';
import { fileName, plainName, type Exporter, type Leaving } from '../../../core/formats/exporter';
import type { PdfBook, PdfPicture, PdfSheet, SetText } from '../../../core/formats/pdf/document';
import { namesOf, tagsOf } from '../../../core/formats/named';
import { inkColor } from '../../../core/ink/inks';
import { faceName, fontFiles as filesOfFace } from '../../../core/text/faces';
import { boxesMeet, type Box } from '../../../core/ink/stroke';
import { placesOf } from '../../../core/note/links';
import { lettersIn, type Placed } from '../../../core/note/kinds/kinds';
import { PRINT } from '../../../core/note/paper';
import { timedLines } from '../../../core/review/timedLines';
import { MARK_WORDS } from '../../../core/review/markWords';
import { toTimeline } from '../../../core/time/timeline';
import { blobOfCanvas } from '../../drawing/partPicture';
import { pdfOf } from '../handing';
import { median } from '../../../core/ink/words/items';
import { saidHere } from '../../../core/reading/said';
import { boards, boardsOf, ownFile, pictureType, saidOfPages, shownOf, WEB, type Shown } from './shared';

const options = z.object({ boards, paper: z.boolean().default(true), times: z.boolean().default(false), marks: z.boolean().default(false), second: z.boolean().default(true), links: z.boolean().default(false) });
type Options = z.infer<typeof options>;

/** Height of the letters of times and marks, and how far from the edge they stand, mm. */
const SMALL_MM = 2.6;
const EDGE_MM = 3;
const FONTS = ['/fonts/atkinson-hyperlegible-latin-400-normal.woff', '/fonts/atkinson-hyperlegible-latin-ext-400-normal.woff'];

/** A picture as a PDF takes it: JPEG as it came, PNG as it came, all others drawn anew. */
async function forPdf(bytes: Uint8Array): Promise<PdfPicture> {
  const type = pictureType(bytes);
  if (type === 'image/jpeg' || type === 'image/png') return { bytes, type: type === 'image/png' ? 'png' : 'jpeg' };
  const bitmap = await createImageBitmap(new Blob([bytes as Uint8Array<ArrayBuffer>], { type }));
  const canvas = document.createElement('canvas');
  [canvas.width, canvas.height] = [bitmap.width, bitmap.height];
  const ctx = canvas.getContext('2d', { willReadFrequently: true })!;
  ctx.drawImage(bitmap, 0, 0);
  bitmap.close();
  const { data } = ctx.getImageData(0, 0, canvas.width, canvas.height);
  let opaque = true;
  for (let i = 3; opaque && i < data.length; i += 4) opaque = data[i] === 255;
  const blob = await blobOfCanvas(canvas, opaque ? 'image/jpeg' : 'image/png', 0.92);
  return { bytes: new Uint8Array(await blob.arrayBuffer()), type: opaque ? 'jpeg' : 'png' };
}

/** Of the typed text that is written. */
async function facesUsed(shown: readonly { readonly placed: readonly Placed[] }[]): Promise<Map<string, Uint8Array[]>> {
  const looks = new Map(shown.flatMap(({ placed }) => placed.flatMap((it) => lettersIn(it).map(({ look }) => [faceName(look), look] as const))));
  const faces = new Map<string, Uint8Array[]>();
  for (const [name, look] of looks) faces.set(name, await Promise.all(filesOfFace(look).map(async (f) => new Uint8Array(await (await ownFile(`/fonts/${f}.woff`)).arrayBuffer()))));
  return faces;
}

const fontFiles = async (): Promise<Uint8Array[]> => Promise.all(FONTS.map(async (f) => new Uint8Array(await (await ownFile(f)).arrayBuffer())));

/** What is set on a page besides its ink: times and marks at its edge, and the words of texts that were pasted. */
async function setOn(what: Leaving, { page, placed, of, at }: Shown, shown: readonly Shown[], chosen: Options): Promise<Pick<PdfSheet, 'texts' | 'links'>> {
  const texts: SetText[] = [];
  const links: PdfSheet['links'][number][] = [];
  for (const it of placed) {
    if (it.kind !== 'picture' || !it.text) continue;
    const lines = it.text.split('\n');
    const high = (it.box[3] - it.box[1]) / lines.length;
    lines.forEach((text, i) => texts.push({ text, x: it.box[0] + 1, y: it.box[1] + high * (i + 0.8), size: Math.min(4.2, high) }));
  }
  const { header } = what.note;
  // Handwriting is found and copied by what was read of it.
  const [left, top] = of.board ? [at[0], at[1]] : [0, 0];
  const read = saidHere(await what.said(of), placed);
  for (const line of new Set(read.map((w) => w.line))) {
    const words = read.filter((w) => w.line === line);
    // On one foot line, so that other programs take it for one.
    const high = median(words.map(({ box }) => box[3] - box[1]));
    const foot = median(words.map(({ box }) => box[3])) - 0.2 * high;
    for (const { box, text } of words) texts.push({ text: `${text} `, x: box[0] - left, y: foot - top, size: Math.max(1, Math.min(high, (2 * (box[2] - box[0])) / [...text].length)) });
  }
  for (const { placed: ids, url } of header.origins ?? []) for (const it of placed) if (url && ids.includes(it.id)) links.push({ box: it.box, url });
  for (const ref of header.refs ?? []) {
    const { to } = ref;
    const sheet = to.is === 'page' ? shown.findIndex((s) => s.of.id === to.page) : -1;
    for (const box of placesOf(ref, placed)) {
      // Notes and moments lie beside the file, and have no address there.
      if (to.is === 'web' && WEB.test(to.url)) links.push({ box, url: to.url });
      if (sheet >= 0) links.push({ box, sheet });
    }
  }
  if (!chosen.times && !chosen.marks && !chosen.links) return { texts, links };
  const [dx, dy] = of.board ? [at[0], at[1]] : [0, 0];
  // Of a board in sheets those that stand on this one.
  const lines = timedLines(what.note, of, await what.words(of))
    .filter(({ box }) => !of.board || boxesMeet(box, at))
    .map((line) => ({ ...line, box: [line.box[0] - dx, line.box[1] - dy, line.box[2] - dx, line.box[3] - dy] as Box }));
  if (chosen.times) for (const { box, heard } of lines) if (heard) texts.push({ text: heard.text, x: EDGE_MM, y: (box[1] + box[3]) / 2 + SMALL_MM / 2, size: SMALL_MM, color: PRINT });
  // The replay page lies beside it, under the name it is handed on by.
  if (chosen.links) for (const { box, heard } of lines) if (heard) links.push({ box, url: `${encodeURIComponent(plainName(header.title))}.html#t=${(heard.ms / 1000).toFixed(1)}` });
  if (chosen.marks) {
    for (const mark of header.marks ?? []) {
      const ms = toTimeline(header.timeline, mark);
      const line = ms === null ? undefined : lines.filter(({ heard }) => heard && heard.ms <= ms + 3000).sort((a, b) => b.heard!.ms - a.heard!.ms)[0];
      if (!line || !isHere(what, of, ms!)) continue;
      const text = `${MARK_WORDS[mark.kind]}${mark.text ? `: ${mark.text}` : ''}`;
      texts.push({ text, x: Math.max(EDGE_MM, page.w - EDGE_MM - 0.5 * SMALL_MM * text.length), y: line.box[1] + SMALL_MM, size: SMALL_MM, color: inkColor('Red') });
    }
  }
  return { texts, links };
}

/** The last ink before a moment stands on this page. */
function isHere({ note }: Leaving, page: Leaving['pages'][number], ms: number): boolean {
  let best: { page: string; at: number } | null = null;
  for (const list of Object.values(note.ink)) {
    for (const it of list) {
      const at = toTimeline(note.header.timeline, it.stamp);
      if (at !== null && at <= ms + 3000 && (!best || at > best.at)) best = { page: it.page, at };
    }
  }
  return best?.page === page.id;
}

export const pdfExporter: Exporter<Options> = {
  name: 'PDF',
  use: 'to read and to print',
  extension: 'pdf',
  type: 'application/pdf',
  preview: 'pdf',
  paged: true,
  options,
  fields: ({ header }) => [
    ...boardsOf({ header }),
    { key: 'paper', is: 'switch', label: 'With the paper' },
    ...(header.takes.length ? ([{ key: 'times', is: 'switch', label: 'Times beside the lines' }] as const) : []),
    ...(header.marks?.length ? ([{ key: 'marks', is: 'switch', label: 'Marks' }] as const) : []),
    ...(header.takes.length ? ([{ key: 'second', is: 'switch', label: 'What the second pass added' }, { key: 'links', is: 'switch', label: 'Lines lead to the replay page beside it' }] as const) : []),
  ],
  async write(what, chosen, work) {
    const { header } = what.note;
    const shown = shownOf({ ...what, chosen: [] }, chosen);
    const { contents } = await what.contents();
    const pictures = new Map<string, PdfPicture>();
    const files = new Map<string, { bytes: Uint8Array; password: string | null }>();
    for (const { page, placed } of shown) {
      const { content, leaf, password } = page.backdrop ?? {};
      const behind = content === undefined ? undefined : contents.get(content);
      if (content !== undefined && behind && leaf !== undefined) files.set(content, { bytes: behind, password: password ?? null });
      if (content !== undefined && behind && leaf === undefined && !pictures.has(content)) pictures.set(content, await forPdf(behind));
      for (const it of placed) {
        const bytes = it.kind === 'picture' && !pictures.has(it.content) ? contents.get(it.content) : undefined;
        if (it.kind === 'picture' && bytes) pictures.set(it.content, await forPdf(bytes));
      }
    }
    const sheets: PdfSheet[] = [];
    for (const it of shown) {
      work.signal.throwIfAborted();
      sheets.push({ page: it.page, placed: it.placed, ...(await setOn(what, it, shown, chosen)) });
    }
    const book: PdfBook = {
      title: header.title || 'Note',
      keywords: tagsOf(header),
      made: header.made,
      changed: header.changed,
      sheets,
      outline: namesOf(what.note, what.pages, await saidOfPages(what)).map(({ title, level, page, y }) => {
        const { id } = what.pages[page];
        const sheet = shown.findIndex(({ of, at }) => of.id === id && (!of.board || (y >= at[1] && y < at[3])));
        return { title, level, sheet: Math.max(0, sheet), y: y - (shown[sheet]?.of.board ? shown[sheet].at[1] : 0) };
      }),
      pictures,
      files,
      paper: chosen.paper,
      fonts: await fontFiles(),
      faces: await facesUsed(shown),
    };
    const bytes = await pdfOf(book, { signal: work.signal, progress: (share) => work.progress(share) });
    return [{ name: fileName(header.title, { extension: 'pdf' }), type: 'application/pdf', blob: new Blob([bytes as Uint8Array<ArrayBuffer>], { type: 'application/pdf' }) }];
  },
};
