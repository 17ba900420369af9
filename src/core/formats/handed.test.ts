/** What is handed on, against other programs that read it. */
import { execFileSync } from 'node:child_process';
import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { degrees, PDFDocument, PDFName } from '@cantoo/pdf-lib';
import { parse as parseCsv } from 'papaparse';
import { someHand, somePage } from '../../../tests/helpers/faces';
import { random } from '../../../tests/helpers/hershey';
import { BALL, strokesOf, strokeThrough } from '../../../tests/helpers/ink';
import { spellTime, timeAtStart, wavOf } from '../../../tests/helpers/dtmf';
import { runsOf } from '../ink/curves';
import { PEN_KINDS, type Pen } from '../ink/pen';
import { sampleStroke, tracePen, type PathSink } from '../ink/outline';
import { makeStroke, pointsOf, type Stroke } from '../ink/stroke';
import { PointBuffer } from '../ink/points';
import { noteOf } from '../note/edit';
import { writtenByKey } from '../reading/pageText';
import { namesOf } from './named';
import { describe as describeSaid, saidOn } from '../reading/said';
import { groupWords } from '../ink/words/words';
import { A4, newPage, type Page } from '../note/schema';
import { asMarkdown, asPlainText, asRtf, type Document } from './blocks';
import { chaptersAsCsv, chaptersAsVtt, type Chapter } from './chapters';
import { contentsPage } from './contentsPage';
import { ownNames, plainName } from './exporter';
import { readInkml } from './inkml/read';
import { writeInkml } from './inkml/write';
import { writePdf, type PdfBook, type PdfSheet } from './pdf/document';
import { PageContent } from './pdf/content';
import { asCharacters } from './replay';
import { passedOn, timelinePortions } from './sound';
import { writeSvg } from './svg';
import { opusHead, packetsOfWebm } from './webmFile';

let folder = '';
beforeAll(() => {
  folder = mkdtempSync(path.join(tmpdir(), 'scrivo-handed-'));
});
afterAll(() => rmSync(folder, { recursive: true, force: true }));
const inFolder = (name: string) => path.join(folder, name);

/** A page of handwriting of a natural hand, with pressure. */
function handwritten(seed: number, pen: Pen = BALL): Stroke[] {
  const words = somePage('prose', someHand('kalam', random(seed)), seed);
  return strokesOf(words.flatMap((w) => w.strokes)).map((stroke) => ({ ...stroke, pen }));
}

const page = (id = 'p', form: Partial<Page> = {}): Page => ({ ...newPage(id), ...form });
const sheet = (p: Page, placed: PdfSheet['placed'], more: Partial<PdfSheet> = {}): PdfSheet => ({ page: p, placed, texts: [], links: [], ...more });
const book = (sheets: readonly PdfSheet[], more: Partial<PdfBook> = {}): PdfBook => ({ title: 'Ebb and flood', keywords: ['tides', 'week 3'], made: 1e12, changed: 1e12, sheets, outline: [], pictures: new Map(), files: new Map(), paper: false, fonts: [], ...more });

async function written(name: string, what: PdfBook): Promise<string> {
  const file = inFolder(name);
  writeFileSync(file, await writePdf(what));
  // qpdf: 0 is without a finding.
  execFileSync('qpdf', ['--check', file]);
  return file;
}

/** Grey of page `n` at a fineness, by poppler. */
function drawn(file: string, n: number, dpi: number): { w: number; h: number; grey: Uint8Array } {
  const bytes = execFileSync('pdftoppm', ['-r', String(dpi), '-cropbox', '-gray', '-f', String(n), '-l', String(n), file], { maxBuffer: 1 << 28 });
  const head = /^P5\s+(\d+)\s+(\d+)\s+255\s/.exec(bytes.subarray(0, 40).toString('latin1'))!;
  return { w: Number(head[1]), h: Number(head[2]), grey: new Uint8Array(bytes.subarray(head[0].length)) };
}

describe('curves of steady width', () => {
  test('a circle and a corner are met within the fineness asked for, by geometry', () => {
    const samples = Float32Array.from(Array.from({ length: 200 }, (_, i) => [50 + 20 * Math.cos(i / 31.9), 50 + 20 * Math.sin(i / 31.9), 0.2]).flat());
    const [run, ...more] = runsOf(samples, { off: 0.02, thick: 0.02 });
    expect(more).toEqual([]);
    expect(run.width).toBeCloseTo(0.4, 5);
    // Not one for each sample, nor for each ten.
    expect((run.xy.length - 2) / 6).toBeLessThanOrEqual(12);
    for (let i = 0; i + 8 <= run.xy.length; i += 6) {
      for (let t = 0; t <= 1; t += 0.05) {
        const at = (c: number) => (1 - t) ** 3 * run.xy[i + c] + 3 * t * (1 - t) ** 2 * run.xy[i + 2 + c] + 3 * t * t * (1 - t) * run.xy[i + 4 + c] + t ** 3 * run.xy[i + 6 + c];
        expect(Math.abs(Math.hypot(at(0) - 50, at(1) - 50) - 20)).toBeLessThan(0.025);
      }
    }
    const corner = runsOf(Float32Array.from([...Array.from({ length: 20 }, (_, i) => [i, 0, 0.2]), ...Array.from({ length: 20 }, (_, i) => [19, i, 0.2])].flat()), { off: 0.02, thick: 0.02 })[0];
    expect(corner.xy.length).toBe(2 + 12);
    expect(corner.xy.slice(6, 8).map((v) => Math.round(1000 * v) / 1000)).toEqual([19, 0]);
  });

  test('widths stay within what was asked for, and a dot is one place', () => {
    const samples = Float32Array.from(Array.from({ length: 100 }, (_, i) => [i / 4, 0, 0.1 + 0.3 * Math.sin(i / 31.8)]).flat());
    for (const { width, xy } of runsOf(samples, { off: 0.02, thick: 0.03 })) {
      const [from, to] = [Math.round(4 * xy[0]), Math.round(4 * xy[xy.length - 2])];
      for (let i = from; i <= to; i++) expect(Math.abs(samples[3 * i + 2] - width / 2)).toBeLessThan(0.0301);
    }
    expect(runsOf(Float32Array.of(5, 6, 0.25), { off: 0.02, thick: 0.02 })).toEqual([{ width: 0.5, xy: [5, 6] }]);
  });
});

describe('PDF (ISO 32000-1)', () => {
  test('ink as curves looks like its filled outlines at 300 dpi, in a tenth of their room', async () => {
    for (const pen of [BALL, { kind: 'fountain', color: '#16324f', width: 0.5 }] as const) {
      const strokes = handwritten(7, pen);
      const file = await written(`ink-${pen.kind}.pdf`, book([sheet(page(), strokes)]));
      // Every stroke as the area that its outline encloses, drawn by the same program.
      const reference = await PDFDocument.create();
      const on = reference.addPage([(A4.w * 72) / 25.4, (A4.h * 72) / 25.4]);
      const ops: string[] = [];
      const sink: PathSink = {
        moveTo: (x, y) => void ops.push(`${x.toFixed(4)} ${y.toFixed(4)} m`),
        lineTo: (x, y) => void ops.push(`${x.toFixed(4)} ${y.toFixed(4)} l`),
        arc: (x, y, r) => {
          for (let i = 0; i <= 40; i++) ops.push(`${(x + r * Math.cos((i * Math.PI) / 20)).toFixed(4)} ${(y + r * Math.sin((i * Math.PI) / 20)).toFixed(4)} ${i ? 'l' : 'm'}`);
        },
      };
      for (const stroke of strokes) {
        tracePen(stroke.pen, sampleStroke(pointsOf(stroke), stroke.pen), sink);
        ops.push('f');
      }
      on.node.set(PDFName.of('Contents'), reference.context.register(reference.context.flateStream(`q 0.086 0.196 0.31 rg ${72 / 25.4} 0 0 ${-72 / 25.4} 0 ${on.getHeight()} cm\n${ops.join('\n')}\nQ`)));
      const outlines = await reference.save();
      writeFileSync(inFolder('outlines.pdf'), outlines);
      const [ours, theirs] = [drawn(file, 1, 300), drawn(inFolder('outlines.pdf'), 1, 300)];
      expect([ours.w, ours.h]).toEqual([theirs.w, theirs.h]);
      let off = 0;
      let dark = 0;
      for (let i = 0; i < ours.grey.length; i++) {
        // A quarter of black and white apart.
        if (Math.abs(ours.grey[i] - theirs.grey[i]) > 64) off++;
        if (theirs.grey[i] < 128) dark++;
      }
      const bytes = readFileSync(file).length;
      console.log(`${pen.kind}: ${strokes.length} strokes, ${(100 * off) / ours.grey.length} % of pixels differ, ${((100 * dark) / ours.grey.length).toFixed(1)} % are ink, ${(bytes / strokes.length).toFixed(0)} bytes a stroke against ${(outlines.length / strokes.length).toFixed(0)} of outlines`);
      expect(dark).toBeGreaterThan(1000);
      expect(off / ours.grey.length).toBeLessThan(0.003);
      expect(bytes).toBeLessThan(outlines.length / 3);
    }
  });

  test('every kind of pen, its size, title, keywords and outline, by poppler and qpdf', async () => {
    const strokes = PEN_KINDS.map((kind, k) => strokeThrough([[20, 30 + 20 * k], [100, 34 + 20 * k], [160, 26 + 20 * k]], { id: `line${k}`, pen: { kind, color: '#b5382a', width: 2, ...(k % 2 ? { opacity: 0.5 } : {}), ...(k === 2 ? { line: 'dashed' } : {}) } }));
    const file = await written('pens.pdf', book([sheet(page(), strokes), sheet(page('q', { w: 105, h: 148 }), [])], { paper: true, outline: [{ title: 'Łódź & ebb', level: 1, sheet: 0, y: 20 }, { title: 'Inner', level: 2, sheet: 0, y: 90 }, { title: 'Second', level: 1, sheet: 1, y: 5 }] }));
    const info = execFileSync('pdfinfo', ['-f', '1', '-l', '2', file]).toString();
    expect(info).toMatch(/Title: +Ebb and flood/);
    expect(info).toMatch(/Keywords: +tides week 3/);
    expect(info).toMatch(/Page +1 size: +595\.276 x 841\.89 pts \(A4\)/);
    expect(info).toMatch(/Page +2 size: +297\.638 x 419\.528 pts/);
    const { outlines } = JSON.parse(execFileSync('qpdf', ['--json', '--json-key=outlines', file]).toString()) as { outlines: { title: string; destpageposfrom1: number; kids: { title: string }[] }[] };
    expect(outlines.map((o) => [o.title, o.destpageposfrom1, o.kids.map((k) => k.title)])).toEqual([['Łódź & ebb', 1, ['Inner']], ['Second', 2, []]]);
    // All seven lines are there: something dark on each.
    const { w, grey } = drawn(file, 1, 72);
    for (let k = 0; k < strokes.length; k++) {
      const y = Math.round(((32 + 20 * k) * 72) / 25.4);
      let least = 255;
      for (let row = y - 8; row <= y + 8; row++) for (let x = 60; x < 440; x++) least = Math.min(least, grey[row * w + x]);
      expect([PEN_KINDS[k], least < 200]).toEqual([PEN_KINDS[k], true]);
    }
  });

  test('each line has its own colour, width, opacity and dashes, whatever came before it, told by the pixels of poppler', async () => {
    const looks: [Pen, readonly [number, number, number]][] = [
      [{ kind: 'ball', color: '#ff0000', width: 2 }, [255, 0, 0]],
      [{ kind: 'ball', color: '#00ff00', width: 1 }, [0, 255, 0]],
      [{ kind: 'ball', color: '#ff0000', width: 2 }, [255, 0, 0]],
      [{ kind: 'felt', color: '#0000ff', width: 2, opacity: 0.5 }, [127, 127, 255]],
      [{ kind: 'ball', color: '#0000ff', width: 2 }, [0, 0, 255]],
      [{ kind: 'chisel', color: '#ff0000', width: 3, angle: 90 }, [255, 0, 0]],
      [{ kind: 'ball', color: '#000000', width: 2, line: 'dashed' }, [0, 0, 0]],
      [{ kind: 'ball', color: '#00ff00', width: 2 }, [0, 255, 0]],
    ];
    const strokes = looks.map(([pen], k) => strokeThrough(Array.from({ length: 80 }, (_, i) => [20 + i, 20 + 10 * k] as const), { id: `look${k}`, pen }));
    const file = await written('looks.pdf', book([sheet(page(), strokes)]));
    const bytes = execFileSync('pdftoppm', ['-r', '254', '-f', '1', '-l', '1', file], { maxBuffer: 1 << 28 });
    const head = /^P6\s+(\d+)\s+(\d+)\s+255\s/.exec(bytes.subarray(0, 40).toString('latin1'))!;
    const rgb = bytes.subarray(head[0].length);
    // Ten pixels to the mm.
    const at = (x: number, y: number) => [0, 1, 2].map((c) => rgb[3 * (Math.round(10 * y) * Number(head[1]) + Math.round(10 * x)) + c]);
    const near = (a: readonly number[], b: readonly number[]) => a.every((v, c) => Math.abs(v - b[c]) <= 3);
    looks.forEach(([pen, color], k) => {
      const y = 20 + 10 * k;
      const along = Array.from({ length: 700 }, (_, i) => at(25 + i / 10, y));
      const inked = along.filter((p) => near(p, color)).length / along.length;
      const bare = along.filter((p) => near(p, [255, 255, 255])).length / along.length;
      if (pen.line) expect([k, inked > 0.3, inked < 0.9, bare > 0.1]).toEqual([k, true, true, true]);
      else expect([k, inked]).toEqual([k, 1]);
      // How wide it is half way, mm: each as its pen says at middle pressure, of the chisel its edge, which stands upright.
      let wide = 0;
      for (let d = -40; d <= 40; d++) if (!near(at(60, y + d / 10), [255, 255, 255])) wide += 0.1;
      if (!pen.line) expect([k, Math.abs(wide - pen.width) <= 0.35]).toEqual([k, true]);
    });
  });

  test('text that is set is found and copied, seen or not, with letters beyond Latin 1; links lead on', async () => {
    const font = (name: string) => new Uint8Array(readFileSync(require.resolve(`@fontsource/atkinson-hyperlegible/files/atkinson-hyperlegible-${name}-400-normal.woff`)));
    const texts = [{ text: 'High water Świnoujście', x: 20, y: 40, size: 4 }, { text: 'Naïve café', x: 20, y: 60, size: 4, color: '#16324f' }];
    // What stands in an address ends no string of the file, and arms nothing.
    const hostile = ['https://a.example/)/S/JavaScript/JS(app.alert(1))/X(', 'https://a.example/Ebb_(sea', 'https://a.example/\\', 'https://a.example/<>'];
    const armed = await written('links.pdf', book([sheet(page(), [], { links: hostile.map((url, i) => ({ box: [20, 20 + 10 * i, 60, 28 + 10 * i] as const, url })) })]));
    expect(execFileSync('qpdf', ['--check', armed]).toString()).toContain('No syntax or stream encoding errors');
    const read = JSON.parse(execFileSync('qpdf', ['--json', armed], { maxBuffer: 1 << 26 }).toString()) as object;
    const actions = [...JSON.stringify(read).matchAll(/"\/S":"\/(\w+)","\/Type":"\/Action","\/URI":"u:([^"]*)"/g)];
    expect(actions.map((m) => [m[1], m[2].replaceAll('\\\\', '\\')])).toEqual(hostile.map((url) => ['URI', encodeURI(url)]));
    expect(JSON.stringify(read)).not.toContain('"/JavaScript"');
    const file = await written('text.pdf', book([sheet(page(), [], { texts, links: [{ box: [20, 20, 60, 30], url: 'Ebb and flood.html#t=12.5' }, { box: [20, 30, 60, 40], url: 'https://example.org/100%' }, { box: [20, 50, 60, 60], sheet: 1 }] }), sheet(page(), [])], { fonts: [font('latin'), font('latin-ext')] }));
    const text = execFileSync('pdftotext', [file, '-']).toString();
    expect(text).toContain('High water Świnoujście');
    expect(text).toContain('Naïve café');
    const plain = execFileSync('qpdf', ['--qdf', '--object-streams=disable', file, '-']).toString('latin1');
    expect(plain).toContain('(Ebb%20and%20flood.html#t=12.5)');
    // One of them to the second page.
    const second = /%% Page 2[\s\S]*?\n(\d+) 0 obj/.exec(plain)![1];
    expect(plain.replace(/\s+/g, ' ')).toContain(`/Dest [ ${second} 0 R /Fit ]`);
    // What is not to be seen leaves no mark.
    const { w, grey } = drawn(file, 1, 72);
    const dark = (y: number) => grey.subarray(Math.round((y * 72) / 25.4) * w - 12 * w, Math.round((y * 72) / 25.4) * w).some((v) => v < 200);
    expect([dark(40), dark(60)]).toEqual([false, true]);
  });

  test('ink on a PDF that was brought in: its bytes stay as they are, its pages get the ink where it was written, however they are turned and cut', async () => {
    const source = await PDFDocument.create();
    const turns = [0, 90, 180, 270];
    for (const turn of turns) {
      const p = source.addPage([400, 600]);
      p.setCropBox(30, 50, 300, 400);
      p.setRotation(degrees(turn));
      p.drawText(`turned by ${turn}`, { x: 100, y: 200, size: 20 });
    }
    const bytes = await source.save();
    const mm = (pt: number) => Math.round((pt * 2540) / 72) / 100;
    const pages = turns.map((turn, leaf) => page(`p${leaf}`, { w: mm(turn % 180 ? 400 : 300), h: mm(turn % 180 ? 300 : 400), backdrop: { content: 'f'.repeat(64), leaf } }));
    // A thick line near the upper left corner as the page is shown, and nothing else.
    const mark = (p: Page) => strokeThrough([[10, 8], [30, 8]], { id: p.id, page: p.id, pen: { kind: 'felt', color: '#000000', width: 4 } });
    const files = new Map([['f'.repeat(64), { bytes, password: null }]]);
    const whole = await written('over.pdf', book(pages.map((p, i) => sheet(p, i === 2 ? [] : [mark(p)])), { files }));
    const after = readFileSync(whole);
    expect(after.subarray(0, bytes.length).equals(Buffer.from(bytes))).toBe(true);
    for (const [i, p] of pages.entries()) {
      const { w, h, grey } = drawn(whole, i + 1, 72);
      const dark = [...grey.keys()].filter((k) => grey[k] < 100 && Math.floor(k / w) < 40);
      const [xs, ys] = [dark.map((k) => k % w), dark.map((k) => Math.floor(k / w))];
      const k = w / p.w;
      if (i === 2) expect(dark).toEqual([]);
      else for (const [got, wanted] of [[Math.min(...xs), 8 * k], [Math.max(...xs), 32 * k], [Math.min(...ys), 6 * k], [Math.max(...ys), 10 * k]]) expect(Math.abs(got - wanted)).toBeLessThan(2.5);
      expect([w, h].map((v) => Math.abs(v - 300) < 2 || Math.abs(v - 400) < 2)).toEqual([true, true]);
    }
    // Nothing of the file is written anew but the three pages, the title, and what was added.
    const objects = (file: string) => (JSON.parse(execFileSync('qpdf', ['--json', '--json-key=qpdf', file], { maxBuffer: 1 << 28 }).toString()) as { qpdf: [object, Record<string, { value?: Record<string, unknown> }>] }).qpdf[1];
    writeFileSync(inFolder('before.pdf'), bytes);
    const [before, now] = [objects(inFolder('before.pdf')), objects(whole)];
    const changed = Object.keys(before).filter((key) => key !== 'trailer' && JSON.stringify(before[key]) !== JSON.stringify(now[key]));
    for (const key of changed) expect(String(before[key].value?.['/Type'] ?? before[key].value?.['/Creator'] ?? '')).toMatch(/\/Page$|\/Catalog$|u:/);
    expect(changed.filter((key) => before[key].value?.['/Type'] === '/Page')).toHaveLength(3);
    // Two of its pages alone, the other way round.
    const part = await written('part.pdf', book([sheet(pages[1], [mark(pages[1])]), sheet(pages[0], [])], { files }));
    expect(execFileSync('pdftotext', [part, '-']).toString().replace(/\s+/g, ' ')).toMatch(/turned by 90.*turned by 0/);
  });

  test('a page on which nothing was drawn has no content of its own', () => {
    expect(new PageContent().result().text).toBe('');
  });
});

test('SVG is XML with a group a stroke, its times beside it, and the size of its paper', () => {
  const strokes = handwritten(3).map((s, i) => ({ ...s, stamp: i % 2 ? { take: 't', at: 100 * i } : null }));
  const file = inFolder('page.svg');
  writeFileSync(file, writeSvg([{ page: page(), placed: strokes, behind: null }, { page: page('q', { w: 105, h: 148 }), placed: [], behind: null }], { paper: true, title: 'Ebb & flood <1>', pictures: new Map() }));
  const told = execFileSync('python3', ['-c', `
import xml.etree.ElementTree as E,sys,json
r=E.parse(sys.argv[1]).getroot(); n='{http://www.w3.org/2000/svg}'
g=[e for e in r.iter(n+'g') if e.get('data-id')]
print(json.dumps([r.get('width'),r.get('height'),r.find(n+'title').text,len(g),[[e.get('data-take'),e.get('data-at')] for e in g][:4]]))`, file]).toString();
  const sorted = [...strokes].sort((a, b) => a.wall - b.wall);
  expect(JSON.parse(told)).toEqual(['210mm', `${297 + 4 + 148}mm`, 'Ebb & flood <1>', strokes.length, sorted.slice(0, 4).map((s) => (s.stamp ? ['t', String(s.stamp.at)] : [null, null]))]);
});

test('highlighter that crosses itself is one see-through group in SVG, no darker where it crosses', () => {
  const across = (id: string, from: readonly [number, number], to: readonly [number, number]) => {
    const buffer = new PointBuffer();
    for (let i = 0; i <= 20; i++) buffer.add(from[0] + ((to[0] - from[0]) * i) / 20, from[1] + ((to[1] - from[1]) * i) / 20, 0.5, 10 * i);
    return makeStroke(buffer.points(), { id, page: 'p', pen: { kind: 'highlighter', color: '#f6d860', width: 6, opacity: 0.5 }, stamp: null, wall: 1 });
  };
  const svg = writeSvg([{ page: page(), placed: [across('a', [20, 50], [80, 50]), across('b', [50, 20], [50, 80])], behind: null }], { paper: false, title: 'x', pictures: new Map() });
  expect(svg.match(/data-id="/g)).toHaveLength(2);
  // One group is see-through, and no stroke in it by itself: what is drawn twice inside is composed once (SVG 2, 3.8).
  expect(svg.match(/ opacity="/g)).toHaveLength(1);
  expect(svg).toMatch(/<g data-layer="highlighter" opacity="0.5"><g data-id="a"/);
});

test('InkML with a group for each line and word gives back the same ink, and says when takes began', () => {
  const strokes = handwritten(5).map((s, i) => ({ ...s, stamp: { take: 't', at: 40 * i } }));
  const grouping = groupWords(strokes);
  const text = writeInkml(strokes, new Map([['p', grouping]]), [{ id: 't', name: 'Take 1', wall: 1_700_000_000_000 }]);
  const back = readInkml(text, { page: 'x', pen: BALL, id: () => 'new', wall: 0 });
  const byId = (list: readonly { id: string }[]) => [...list].sort((a, b) => (a.id < b.id ? -1 : 1));
  expect(byId(back)).toEqual(byId(strokes));
  expect(text.match(/<annotation type="unit">word<\/annotation>/g)).toHaveLength(grouping.words.length);
  expect(text.match(/<annotation type="unit">line<\/annotation>/g)).toHaveLength(grouping.lines.length);
  expect(text).toMatch(/<timestamp xml:id="began-t" time="1700000000000"\/>/);
  expect(text).toMatch(/contextRef="#take-t" timeOffset="40"/);
  // What was read stands in the group of its word, and is no part of the ink that comes back.
  const said = saidOn(grouping, undefined, writtenByKey([{ strokes: grouping.words[0].strokes, text: 'Ebb & flood' }]));
  const read = writeInkml(strokes, new Map([['p', grouping]]), [], new Map([['p', said]]));
  expect(read.match(/<annotation type="text">([^<]*)</)?.[1]).toBe('Ebb &amp; flood');
  expect(byId(readInkml(read, { page: 'x', pen: BALL, id: () => 'new', wall: 0 }))).toEqual(byId(strokes));
});

test('headings of ink are called by what they say, where it was read; a page says it in SVG to who does not see it', () => {
  const strokes = handwritten(5);
  const grouping = groupWords(strokes);
  const said = saidOn(grouping, undefined, writtenByKey([{ strokes: grouping.words[0].strokes, text: 'Ebb & flood' }]));
  const note = noteOf({ v: 2, id: 'n', title: 'x', made: 1, changed: 2, pages: [page()], takes: [], timeline: [], headings: [{ id: 'h', page: 'p', strokes: grouping.words[0].strokes, level: 1 }] } as never, { p: strokes });
  expect(namesOf(note, note.header.pages, new Map([['p', said]])).map((h) => h.title)).toEqual(['Ebb & flood']);
  expect(namesOf(note, note.header.pages).map((h) => h.title)).toEqual(['Heading 1, page 1']);
  const svg = writeSvg([{ page: page(), placed: strokes, behind: null, says: describeSaid(said) }], { paper: false, title: 'x', pictures: new Map() });
  // SVG 2, 5.8: `desc` is a child of what it describes.
  expect(svg).toMatch(/<g data-page="p"[^>]*><desc>Ebb &amp; flood<\/desc>/);
});

const CHAPTERS: Chapter[] = [
  { at: 4000, kind: 'mark', title: 'Ask: why "slack", & when --> then?' },
  { at: 0, kind: 'heading', title: 'Ebb,\nand flood' },
  { at: 7250.4, kind: 'moment', title: 'Łódź <b>' },
];

describe('chapters', () => {
  test('WebVTT by its own parser (the W3C community’s), CSV by another (RFC 4180)', async () => {
    // Neither this package nor the next has types of its own.
    // eslint-disable-next-line @typescript-eslint/no-require-imports
    const { WebVTTParser } = require('webvtt-parser') as { WebVTTParser: new () => { parse(text: string, mode: string): { errors: unknown[]; cues: { startTime: number; endTime: number; text: string }[] } } };
    const { errors, cues } = new WebVTTParser().parse(chaptersAsVtt(CHAPTERS, 9000), 'chapters');
    expect(errors).toEqual([]);
    expect(cues.map((c) => [c.startTime, c.endTime])).toEqual([[0, 4], [4, 7.25], [7.25, 9]]);
    const rows = parseCsv<string[]>(chaptersAsCsv(CHAPTERS), { skipEmptyLines: true });
    expect(rows.errors).toEqual([]);
    expect(rows.data).toEqual([['seconds', 'time', 'kind', 'title'], ['0.000', '00:00:00.000', 'heading', 'Ebb,\nand flood'], ['4.000', '00:00:04.000', 'mark', CHAPTERS[0].title], ['7.250', '00:00:07.250', 'moment', 'Łódź <b>']]);
  });

  test('sound of the edited timeline without being encoded anew: its tones, length and chapters by ffmpeg', async () => {
    const wav = inFolder('spelled.wav');
    writeFileSync(wav, wavOf(spellTime(30, 48_000), 48_000));
    execFileSync('ffmpeg', ['-v', 'error', '-y', '-i', wav, '-c:a', 'libopus', '-b:a', '64k', inFolder('spelled.webm')]);
    const packets = await packetsOfWebm(new Uint8Array(readFileSync(inFolder('spelled.webm'))));
    const open = async () => {
      let k = 0;
      // In portions as they come from disk.
      return async () => (k >= packets.length ? null : packets.slice(k, (k += 100)));
    };
    const stretches = [{ take: 't', from: 10_000, to: 15_000 }, { take: 't', from: 2000, to: 6000 }];
    for (const format of ['webm', 'ogg', 'mp4'] as const) {
      const blob = await passedOn(format, timelinePortions(stretches, open), opusHead(1), { title: 'Ebb and flood', date: 1e12, chapters: CHAPTERS });
      const file = inFolder(`cut.${format}`);
      writeFileSync(file, Buffer.from(await blob!.arrayBuffer()));
      const probe = JSON.parse(execFileSync('ffprobe', ['-v', 'error', '-show_format', '-show_streams', '-show_chapters', '-of', 'json', file]).toString()) as { format: { duration: string; tags?: Record<string, string> }; streams: { codec_name: string }[]; chapters: { start_time: string; tags: { title: string } }[] };
      expect(probe.streams.map((s) => s.codec_name)).toEqual(['opus']);
      expect(Math.abs(Number(probe.format.duration) - 9)).toBeLessThan(0.05);
      if (format !== 'webm') expect(probe.chapters.map((c) => [Number(c.start_time), c.tags.title])).toEqual([[0, 'Ebb, and flood'], [4, CHAPTERS[0].title], [7.25, 'Łódź <b>']]);
      const raw = execFileSync('ffmpeg', ['-v', 'error', '-i', file, '-ac', '1', '-ar', '48000', '-f', 'f32le', '-'], { maxBuffer: 1 << 28 });
      const samples = new Float32Array(raw.buffer.slice(raw.byteOffset, raw.byteOffset + raw.length));
      const heard = (ms: number) => timeAtStart(samples.subarray(Math.round(48 * ms), Math.round(48 * (ms + 900))), 48_000);
      // A cut falls between packets: 10 ms, and the codec's own delay of 6.5 ms.
      for (const [at, wanted] of [[1000, 11_000], [3000, 13_000], [6000, 3000], [8000, 5000]]) expect(Math.abs(heard(at)! - wanted)).toBeLessThan(17);
    }
  });
});

const DOCUMENT: Document = {
  title: 'Ebb & flood — Łódź',
  made: 'November 23, 2026',
  tags: ['tides'],
  blocks: [
    { is: 'heading', level: 1, text: 'Rule of *twelfths*', time: '0:04' },
    { is: 'text', text: '1. not a list\n{braces} \\ and 水 😀' },
    { is: 'mark', text: 'Ask: why?', time: '1:20' },
    { is: 'picture', name: 'Ebb 001.png', png: new Uint8Array(Buffer.from('iVBORw0KGgoAAAANSUhEUgAAAAEAAAABCAQAAAC1HAwCAAAAC0lEQVR42mNk+A8AAQUBAScY42YAAAAASUVORK5CYII=', 'base64')), w: 40, h: 20, alt: 'Handwriting on page 1' },
  ],
};

describe('text', () => {
  test('RTF is read by another program, every letter of it', async () => {
    // eslint-disable-next-line @typescript-eslint/no-require-imports
    const rtfToHtml = require('@iarna/rtf-to-html') as { fromString(rtf: string, done: (e: Error | null, html: string) => void): void };
    const html = await new Promise<string>((resolve, reject) => rtfToHtml.fromString(asRtf(DOCUMENT), (e, out) => (e ? reject(e) : resolve(out))));
    const text = html.replace(/<style[\s\S]*?<\/style>/g, '').replace(/<[^>]+>/g, '').replace(/&lt;/g, '<').replace(/&gt;/g, '>').replace(/&amp;/g, '&').replace(/&#(\d+);/g, (_, n: string) => String.fromCharCode(Number(n)));
    for (const part of ['Ebb & flood — Łódź', '[0:04] Rule of *twelfths*', '1. not a list', '{braces} \\ and 水', '[1:20] Ask: why?']) expect(text).toContain(part);
    expect(asRtf(DOCUMENT)).toMatch(/^[\x0a\x20-\x7e]*$/);
  });

  test('a table has its header bold, and only that, in RTF, as a row of its own in Markdown, and cells apart in plain text', () => {
    const rows = [['Hour', 'Rise'], ['1', '1/12'], ['2', '2|12\nof it']];
    for (const head of [true, false]) {
      const table: Document = { title: 'T', made: 'now', tags: [], blocks: [{ is: 'table', rows, head, time: '0:09' }] };
      const rtf = asRtf(table);
      // RTF 1.9.1: a row is \\trowd … \\row, a cell ends in \\cell, its right edge is \\cellx in twips.
      const cells = [...rtf.matchAll(/\\pard\\intbl\\f0\\fs20(\\b)? (.*?)\\cell/gs)];
      expect(cells.map((m) => [m[2], m[1] !== undefined])).toEqual(rows.flatMap((row, r) => row.map((text) => [text.replace('\n', '\\line '), head && r === 0])));
      expect([...rtf.matchAll(/\\cellx(\d+)/g)].slice(0, 2).map((m) => Math.round((Number(m[1]) / 1440) * 25.4 * 2) / 2)).toEqual([82.5, 165]);
      expect(rtf).toContain('0:09');
      const lines = asMarkdown(table, 'x').trim().split('\n').filter((l) => l.startsWith('|'));
      expect(lines).toEqual([...(head ? ['| Hour | Rise |', '| --- | --- |'] : ['|  |  |', '| --- | --- |', '| Hour | Rise |']), '| 1 | 1/12 |', '| 2 | 2\\|12<br>of it |']);
      expect(asPlainText(table)).toContain('[0:09] \nHour\tRise\n1\t1/12\n2\t2|12 of it\n');
    }
  });

  test('Markdown and plain text say what stands there, and nothing becomes markup by chance', () => {
    const markdown = asMarkdown(DOCUMENT, 'Ebb pictures');
    expect(markdown).toContain('## [0:04] Rule of \\*twelfths\\*');
    expect(markdown).toMatch(/^\\1\. not a list/m);
    expect(markdown).toContain('![Handwriting on page 1](Ebb%20pictures/Ebb%20001.png)');
    expect(asPlainText(DOCUMENT)).toContain('(Handwriting on page 1)');
  });
});

test('names that every system takes, each its own', () => {
  expect(['Week 3: ebb/flood?', '  ', 'con', 'Łódź', '../../etc', 'a'.repeat(300)].map((t) => plainName(t).length <= 85 && /^[^\\/:*?"<>|.]+$/.test(plainName(t)) && !/^con$/i.test(plainName(t)))).toEqual(Array(6).fill(true));
  expect(ownNames(['a.pdf', 'A.pdf', 'a.pdf', 'b'])).toEqual(['a.pdf', 'A 2.pdf', 'a 3.pdf', 'b']);
});

test('the page that lists what was handed on says names as they are and leads to the files', () => {
  const html = contentsPage([{ title: '<script>alert(1)</script>', made: 0, files: ['a b/c&d.pdf'] }, { title: 'None', made: 0, files: [] }]);
  expect(html).not.toMatch(/<script/);
  expect(html).toContain('href="a%20b/c%26d.pdf"');
  expect(html).toContain('Nothing of this kind');
});

test('bytes that stand in a page as characters come back as they were, by the decoder of the Encoding Standard', () => {
  const bytes = Uint8Array.from({ length: 4096 }, (_, i) => (i < 512 ? i & 255 : (i * 197 + (i >> 3)) & 255));
  const text = new TextDecoder('windows-1252').decode(asCharacters(bytes));
  // What HTML would change or take for markup is not among them.
  expect(text).not.toMatch(/[\0\r<]/);
  const back = new Map(Array.from({ length: 256 }, (_, b) => [new TextDecoder('windows-1252').decode(Uint8Array.of(b)), b]));
  const out: number[] = [];
  for (let i = 0; i < text.length; i++) out.push(text[i] === '=' ? (back.get(text[++i])! - 64) & 255 : back.get(text[i])!);
  expect(Uint8Array.from(out)).toEqual(bytes);
});
