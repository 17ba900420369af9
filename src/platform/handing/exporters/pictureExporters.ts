/** Pages, a selection, or all pages as one strip, as PNG, JPEG and SVG. */
import { z } from 'zod';
import { plainName, type Exporter, type Field, type Handed, type Leaving, type Work } from '../../../core/formats/exporter';
import { pageMark, writeSvg } from '../../../core/formats/svg';
import { blobOfCanvas, LARGEST_PX, paintPart, pictureOfPart } from '../../drawing/partPicture';
import { describe, saidHere } from '../../../core/reading/said';
import { boards, boardsOf, dataUrl, linksOf, numbered, pictureType, shownOf, type Shown } from './shared';

/** Between pages of a strip, mm. */
const GAP = 4;
/** Of JPEG, 0..1. */
const QUALITY = 0.9;
/** A canvas larger than this no browser draws, px. */
const MOST_PX = 120e6;

const LAYOUT: Field = { key: 'as', is: 'choice', label: 'Pages', when: 'pages', choices: [{ value: 'pages', label: 'One picture each' }, { value: 'strip', label: 'One long strip' }] };
const PAPER: Field = { key: 'paper', is: 'switch', label: 'With the paper' };
const FINENESS: Field = { key: 'dpi', is: 'choice', label: 'Fineness', choices: [{ value: '100', label: 'Screen, 100 dpi' }, { value: '200', label: '200 dpi' }, { value: '300', label: 'Print, 300 dpi' }] };

const raster = z.object({ as: z.enum(['pages', 'strip']).default('pages'), boards, dpi: z.enum(['100', '200', '300']).default('200'), paper: z.boolean().default(true) });
type Raster = z.infer<typeof raster>;

async function write(what: Leaving, { as, boards: sheets, dpi, paper }: Raster, { signal, progress }: Work, type: 'image/png' | 'image/jpeg', extension: string): Promise<Handed[]> {
  const shown = shownOf(what, { boards: sheets });
  const name = what.chosen.length ? 'selection' : plainName(what.note.header.title);
  const fine = Number(dpi) / 25.4;
  const sheet = paper || type === 'image/jpeg';
  const drawn = async (some: readonly Shown[], file: string): Promise<Handed> => {
    const w = Math.max(...some.map(({ part }) => part[2] - part[0]));
    const h = some.reduce((sum, { part }) => sum + part[3] - part[1], 0) + GAP * (some.length - 1);
    const k = Math.min(fine, some.length === 1 ? LARGEST_PX / Math.max(w, h) : Math.sqrt(MOST_PX / (w * h)), 32_000 / h);
    const canvas = document.createElement('canvas');
    [canvas.width, canvas.height] = [Math.max(1, Math.ceil(w * k)), Math.max(1, Math.ceil(h * k))];
    const ctx = canvas.getContext('2d')!;
    if (type === 'image/jpeg') {
      ctx.fillStyle = '#ffffff';
      ctx.fillRect(0, 0, canvas.width, canvas.height);
    }
    let y = 0;
    for (const it of some) {
      signal.throwIfAborted();
      await paintPart(ctx, { ...it, paper: sheet, contents: () => what.contents() }, k, ((w - it.part[2] + it.part[0]) / 2) * k, y * k);
      y += it.part[3] - it.part[1] + GAP;
    }
    return { name: `${file}.${extension}`, type, blob: await blobOfCanvas(canvas, type, QUALITY) };
  };
  if (as === 'strip' || shown.length === 1) return [await drawn(shown, name)];
  const out: Handed[] = [];
  for (const [i, it] of shown.entries()) {
    signal.throwIfAborted();
    out.push(await drawn([it], numbered(name, i, shown.length)));
    progress((i + 1) / shown.length);
  }
  return out;
}

export const pngExporter: Exporter<Raster> = {
  name: 'PNG',
  use: 'pictures, without loss',
  extension: 'png',
  type: 'image/png',
  preview: 'picture',
  paged: true,
  parts: true,
  options: raster,
  fields: (note) => [LAYOUT, ...boardsOf(note), FINENESS, PAPER],
  write: (what, options, work) => write(what, options, work, 'image/png', 'png'),
};

export const jpegExporter: Exporter<Raster> = {
  name: 'JPEG',
  use: 'pictures to send',
  extension: 'jpg',
  type: 'image/jpeg',
  preview: 'picture',
  paged: true,
  parts: true,
  options: raster,
  fields: (note) => [LAYOUT, ...boardsOf(note), FINENESS],
  write: (what, options, work) => write(what, options, work, 'image/jpeg', 'jpg'),
};

const vector = z.object({ as: z.enum(['pages', 'strip']).default('pages'), boards, paper: z.boolean().default(true) });
type Vector = z.infer<typeof vector>;

export const svgExporter: Exporter<Vector> = {
  name: 'SVG',
  use: 'strokes for a drawing program',
  extension: 'svg',
  type: 'image/svg+xml',
  preview: 'picture',
  paged: true,
  parts: true,
  options: vector,
  fields: (note) => [LAYOUT, ...boardsOf(note), PAPER],
  async write(what, { as, boards: sheets, paper }, { signal }) {
    const shown = shownOf(what, { boards: sheets });
    const name = what.chosen.length ? 'selection' : plainName(what.note.header.title);
    const { contents } = await what.contents();
    const pictures = new Map<string, string>();
    for (const it of shown.flatMap(({ placed }) => placed)) {
      const bytes = it.kind === 'picture' && !pictures.has(it.content) ? contents.get(it.content) : undefined;
      if (it.kind === 'picture' && bytes) pictures.set(it.content, await dataUrl(bytes, pictureType(bytes)));
    }
    const pages = [];
    for (const it of shown) {
      signal.throwIfAborted();
      // What lies behind a page is a picture in it, however it came.
      const behind = paper && it.page.backdrop ? await pictureOfPart({ page: { ...it.page, paper: { ...it.page.paper, kind: 'plain' } }, placed: [], part: [0, 0, it.page.w, it.page.h], paper: true, contents: () => what.contents() }, 200 / 25.4) : null;
      const links = linksOf(what.note.header, it.placed, shown, { page: (i) => (as === 'strip' ? `#${pageMark(i)}` : `${encodeURIComponent(numbered(name, i, shown.length))}.svg`) });
      pages.push({ ...it, says: describe(saidHere(await what.said(it.of), it.placed)), behind: behind && (await dataUrl(behind, 'image/png')), links });
    }
    const { title } = what.note.header;
    const file = (text: string, as: string): Handed => ({ name: `${as}.svg`, type: 'image/svg+xml', blob: new Blob([text], { type: 'image/svg+xml' }) });
    if (what.chosen.length) return [file(writeSvg(pages, { paper, title, pictures, part: shown[0].part }), name)];
    if (as === 'strip') return [file(writeSvg(pages, { paper, title, pictures }), name)];
    return pages.map((page, i) => file(writeSvg([page], { paper, title: numbered(title, i, pages.length), pictures }), numbered(name, i, pages.length)));
  },
};
