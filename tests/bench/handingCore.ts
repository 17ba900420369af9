/** What is handed on: how large it is and how long it takes, in Node. */
import { readdirSync, readFileSync } from 'node:fs';
import path from 'node:path';
import { PDFDocument, PDFName } from '@cantoo/pdf-lib';
import { readBundle, writeBundle } from '../../src/core/formats/bundle';
import { bytesOf } from '../../src/core/formats/blobFile';
import { writeInkml } from '../../src/core/formats/inkml/write';
import { writePdf, type PdfBook } from '../../src/core/formats/pdf/document';
import { writeReplay } from '../../src/core/formats/replay';
import { sampleStroke, tracePen } from '../../src/core/ink/outline';
import { pointsOf, type Stroke } from '../../src/core/ink/stroke';
import { groupWords } from '../../src/core/ink/words/words';
import { newPage } from '../../src/core/note/schema';
import { someHand, somePage } from '../helpers/faces';
import { random } from '../helpers/hershey';
import { BALL, strokesOf } from '../helpers/ink';
import { atMost, ms, row } from './kit';

const ROOT = path.resolve(__dirname, '../..');
const kB = (n: number) => `${(n / 1000).toFixed(0)} kB`;
const book = (sheets: PdfBook['sheets'], files: PdfBook['files'] = new Map()): PdfBook => ({ title: 'Bench', keywords: [], made: 1e12, changed: 1e12, sheets, outline: [], pictures: new Map(), files, paper: true, fonts: [] });

/** Pages of handwriting of many hands, 1,500 strokes each: as many as ten pages of small writing have. */
function dense(pages: number): Stroke[][] {
  return Array.from({ length: pages }, (_, n) => {
    const out: Stroke[] = [];
    for (let seed = 100 * n; out.length < 1500; seed++) out.push(...strokesOf(somePage('prose', someHand('kalam', random(seed)), seed).flatMap((w) => w.strokes)).map((s, i) => ({ ...s, id: `s${n}-${out.length + i}`, page: `p${n}`, pen: BALL })));
    return out.slice(0, 1500);
  });
}

async function took<T>(work: () => Promise<T>): Promise<{ value: T; ms: number }> {
  const start = performance.now();
  const value = await work();
  return { value, ms: performance.now() - start };
}

export async function handing(): Promise<void> {
  console.log('-- handing on, in Node');
  const pages = dense(10);
  const count = pages.flat().length;
  const sheets = pages.map((placed, n) => ({ page: newPage(`p${n}`), placed, texts: [], links: [] }));
  await writePdf(book(sheets.slice(0, 1)));
  const pdf = await took(() => writePdf(book(sheets)));
  const plain = await took(async () => {
    const doc = await PDFDocument.create();
    for (const strokes of pages) {
      const ops: string[] = [];
      const put = (op: string) => (x: number, y: number) => void ops.push(`${x.toFixed(2)} ${y.toFixed(2)} ${op}`);
      const sink = { moveTo: put('m'), lineTo: put('l'), arc: (x: number, y: number, r: number) => void ops.push(`${(x - r).toFixed(2)} ${(y - r).toFixed(2)} ${(2 * r).toFixed(2)} ${(2 * r).toFixed(2)} re`) };
      for (const stroke of strokes) {
        tracePen(stroke.pen, sampleStroke(pointsOf(stroke), stroke.pen), sink);
        ops.push('f');
      }
      doc.addPage([595, 842]).node.set(PDFName.of('Contents'), doc.context.register(doc.context.flateStream(ops.join('\n'))));
    }
    return doc.save();
  });
  row(`PDF of 10 pages, ${count} strokes`, `${kB(pdf.value.length)}, ${(pdf.value.length / count).toFixed(0)} bytes a stroke`, `filled outlines ${kB(plain.value.length)}`, atMost(pdf.value.length, 1e6, 'under 1 MB'));
  row('the same, time', ms(pdf.ms), `filled outlines ${ms(plain.ms)}`, atMost(pdf.ms, 2000, 'under 2 s'));

  let all = 0;
  for (const name of readdirSync(path.join(ROOT, 'demo/notes')).filter((n) => n.endsWith('.scrivo'))) {
    const { note } = await readBundle(new Uint8Array(readFileSync(path.join(ROOT, 'demo/notes', name))));
    all += (await writePdf(book(note.header.pages.map((page) => ({ page, placed: note.ink[page.id] ?? [], texts: [], links: [] }))))).length;
    if (!name.includes('tides')) continue;
    const strokes = Object.values(note.ink).flat().flatMap((s) => (s.kind === 'stroke' ? [s] : []));
    const points = strokes.reduce((n, s) => n + pointsOf(s).n, 0);
    const ink = writeInkml(strokes);
    const words = new Map(note.header.pages.map((p) => [p.id, groupWords(strokes.filter((s) => s.page === p.id))]));
    const bundle = await bytesOf(await writeBundle({ note, takes: new Map() }));
    const json = JSON.stringify(strokes.map((s) => ({ ...s, pts: [...pointsOf(s).xy] })));
    row('InkML, bytes a stroke (with lines and words)', `${(ink.length / strokes.length).toFixed(0)} (${(writeInkml(strokes, words, note.header.takes).length / strokes.length).toFixed(0)})`, `JSON of points ${(json.length / strokes.length).toFixed(0)}; ${(points / strokes.length).toFixed(0)} points a stroke`);
    row('bundle without sound, bytes a stroke', (bundle.length / strokes.length).toFixed(0));
    const page = await writeReplay({ title: 'Bench', made: '', pages: note.header.pages.map((p) => ({ page: p, placed: [], behind: null })), pictures: new Map(), strokes: strokes.map((stroke) => ({ stroke, page: 0, at: 0, word: null })), words: [], places: [], still: new Set<string>(), heard: () => null, pauses: [], length: 1000, sound: new Blob([new Uint8Array(1 << 24).map((_, i) => (i * 197 + (i >> 7)) & 255)]) }, { script: readFileSync(path.join(ROOT, 'public/replay/player.js'), 'utf8'), style: readFileSync(path.join(ROOT, 'public/replay/player.css'), 'utf8') });
    row('replay page of 621 strokes and 16.8 MB of sound', `${((page.size - (1 << 24)) / 1000).toFixed(0)} kB beyond its sound`, `as base64 ${((1 << 24) / 3000).toFixed(0)} kB`, atMost(page.size - (1 << 24), 1e6, 'under 1 MB'));
  }
  row('PDF of the three demo notes together', kB(all), '', atMost(all, 150e3, 'under 150 kB'));

  const source = await PDFDocument.create();
  for (let i = 0; i < 200; i++) source.addPage([595, 842]).drawText(`Page ${i + 1} of a hand-out. `.repeat(20), { x: 40, y: 700, size: 11, maxWidth: 500 });
  const bytes = await source.save();
  const hash = 'f'.repeat(64);
  const over = pages[0].slice(0, 10);
  const onto = await took(() => writePdf(book(Array.from({ length: 200 }, (_, leaf) => ({ page: { ...newPage(`q${leaf}`, { w: 209.9, h: 297.04, paper: newPage('x').paper }), backdrop: { content: hash, leaf } }, placed: over, texts: [], links: [] })), new Map([[hash, { bytes, password: null }]]))));
  row('ink onto a PDF of 200 pages, 10 strokes on each', ms(onto.ms), `${kB(onto.value.length - bytes.length)} more than the file`, atMost(onto.ms, 3000, 'under 3 s'));
}
