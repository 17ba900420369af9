/**
 * PDF files of different making for tests: printed by the browser, put together object by object, and changed by qpdf. What is in them plays at a school for
 * harbour pilots.
 */
import { execFileSync } from 'node:child_process';
import { readFileSync, writeFileSync } from 'node:fs';
import path from 'node:path';
import fontkit from '@cantoo/fontkit';
import { chromium } from '@playwright/test';
import { BlendMode, degrees, PDFDocument, PDFName, PDFNumber, PDFString, rgb, StandardFonts } from '@cantoo/pdf-lib';

export interface Made {
  readonly name: string;
  readonly file: string;
  readonly pages: number;
}

const PROSE = 'The rule of twelfths: in the first hour the tide rises by one twelfth of its range, in the second by two, in the third and fourth by three each, in the fifth by two and in the sixth by one. ';

/** A chapter a page, with headings, links between them, a table, a drawing and a picture. */
const lecture = (chapters: number): string => `<!doctype html><html lang="en"><head><title>Tides for pilots</title><style>
body{font:15px/1.5 serif;margin:0} section{page-break-after:always} h1{font:700 26px sans-serif} .glass{background:rgba(31,122,109,.35);padding:12px;border-radius:8px} td{border:1px solid #16324f;padding:4px 10px}
</style></head><body>${Array.from({ length: chapters }, (_, i) => `<section id="c${i + 1}"><h1>Chapter ${i + 1}: ${['Tides', 'Buoyage', 'Lights', 'Charts'][i % 4]}</h1><p>${PROSE.repeat(3)}</p>
<h2>Example ${i + 1}</h2><p class="glass">Range ${3 + i} m, high water at 0${(i % 9) + 1}:20. See <a href="#c${((i + 1) % chapters) + 1}">the next chapter</a> or <a href="https://harbour.example/tables">the tables</a>.</p>
<table><tr><td>Hour</td><td>Rise</td></tr>${[1, 2, 3, 3, 2, 1].map((t, k) => `<tr><td>${k + 1}</td><td>${t}/12</td></tr>`).join('')}</table>
<svg width="420" height="160"><defs><linearGradient id="g${i}"><stop offset="0" stop-color="#16324f"/><stop offset="1" stop-color="#d98e04"/></linearGradient></defs>
<path d="M0 120 C 70 120, 100 20, 170 20 S 270 120, 340 120" fill="none" stroke="url(#g${i})" stroke-width="4"/><circle cx="380" cy="80" r="30" fill="#b5382a" fill-opacity=".5"/><circle cx="360" cy="60" r="30" fill="#1f7a6d" fill-opacity=".5"/></svg></section>`).join('')}</body></html>`;

/** A sheet from a scanner, as JPEG: made by ffmpeg, grain and all. */
function scan(folder: string, seed: number): Buffer {
  const file = path.join(folder, `scan${seed}.jpg`);
  execFileSync('ffmpeg', ['-v', 'error', '-y', '-f', 'lavfi', '-i', `testsrc2=size=1240x1754:rate=1:duration=1,noise=alls=12:all_seed=${seed},gblur=1`, '-frames:v', '1', '-q:v', '4', file]);
  return execFileSync('cat', [file]);
}

/** By the browser's own printing: text, tables, vectors, gradients, translucent areas, links and an outline. */
export async function printed(folder: string, chapters: number): Promise<Made> {
  const browser = await chromium.launch({ executablePath: '/usr/bin/chromium', args: ['--no-sandbox'] });
  try {
    const page = await browser.newPage();
    await page.setContent(lecture(chapters));
    const file = path.join(folder, `printed-${chapters}.pdf`);
    writeFileSync(file, await page.pdf({ format: 'A4', outline: true, tagged: true, printBackground: true }));
    return { name: 'printed by a browser', file, pages: chapters };
  } finally {
    await browser.close();
  }
}

const HARBOUR = rgb(0.09, 0.2, 0.31);

/** Put together piece by piece: fonts in the file and not in it, vectors, a scan, turned and cropped pages, blend modes, masks, forms. */
export async function assembled(folder: string): Promise<Made> {
  const pdf = await PDFDocument.create();
  pdf.registerFontkit(fontkit as unknown as Parameters<typeof pdf.registerFontkit>[0]);
  const own = ['literata/files/literata-latin-400-normal.woff', 'atkinson-hyperlegible/files/atkinson-hyperlegible-latin-400-normal.woff', 'atkinson-hyperlegible/files/atkinson-hyperlegible-latin-700-normal.woff'];
  const fonts = await Promise.all(own.map((f) => pdf.embedFont(readFileSync(path.join(__dirname, '../../node_modules/@fontsource', f)), { subset: true })));
  const write = (p: ReturnType<typeof pdf.addPage>, n: number) => {
    for (let i = 0; i < 18; i++) p.drawText(`Line ${i + 1} of leaf ${n}: set and drift, ${(i * 7) % 11} knots`, { x: 60, y: p.getHeight() - 80 - 24 * i, size: 12 + (i % 3), font: fonts[i % 3], color: HARBOUR });
  };
  let n = 0;
  for (const size of [[595.28, 841.89], [612, 792], [841.89, 595.28]] as const) write(pdf.addPage([...size]), ++n);
  for (const turn of [90, 180, 270]) {
    const p = pdf.addPage([595.28, 841.89]);
    write(p, ++n);
    p.setRotation(degrees(turn));
  }
  const cropped = pdf.addPage([595.28, 841.89]);
  write(cropped, ++n);
  cropped.setCropBox(40, 200, 400, 560);
  const both = pdf.addPage([612, 792]);
  write(both, ++n);
  both.setCropBox(50, 300, 450, 440);
  both.setRotation(degrees(90));
  const vectors = pdf.addPage([595.28, 841.89]);
  n++;
  for (let i = 0; i < 40; i++) vectors.drawLine({ start: { x: 60, y: 100 + 15 * i }, end: { x: 540, y: 700 - 14 * i }, thickness: 0.3 + i / 20, color: rgb(i / 40, 0.3, 1 - i / 40), dashArray: i % 3 ? [6, 3] : undefined });
  for (let i = 0; i < 12; i++) vectors.drawEllipse({ x: 100 + 36 * i, y: 400, xScale: 30, yScale: 60, borderColor: HARBOUR, borderWidth: 2, color: rgb(1, 0.9 - i / 20, 0.6) });
  const glass = pdf.addPage([595.28, 841.89]);
  n++;
  for (const [i, blendMode] of [BlendMode.Multiply, BlendMode.Screen, BlendMode.Overlay, BlendMode.Darken, BlendMode.Difference, BlendMode.Normal].entries()) {
    glass.drawRectangle({ x: 60 + 80 * i, y: 500, width: 100, height: 200, color: rgb(0.1 + i / 8, 0.5, 0.4), opacity: 0.6, blendMode });
    glass.drawRectangle({ x: 40, y: 450 + 20 * i, width: 520, height: 30, color: rgb(0.85, 0.55, 0.02), opacity: 0.3 });
  }
  for (const seed of [1, 2]) {
    const jpg = await pdf.embedJpg(scan(folder, seed));
    const p = pdf.addPage([595.28, 841.89]);
    n++;
    p.drawImage(jpg, { x: 0, y: 0, width: 595.28, height: 841.89 });
  }
  // ISO 32000-1, 11.6.5.3: a soft mask of luminosity, light on the left and dark on the right.
  const masked = pdf.addPage([595.28, 841.89]);
  n++;
  const shade = pdf.context.register(pdf.context.obj({ ShadingType: 2, ColorSpace: 'DeviceGray', Coords: [60, 0, 540, 0], Function: { FunctionType: 2, Domain: [0, 1], C0: [1], C1: [0], N: 1 }, Extend: [true, true] }));
  const group = pdf.context.register(pdf.context.stream('/S sh', { Type: 'XObject', Subtype: 'Form', BBox: [0, 0, 596, 842], Group: { S: 'Transparency', CS: 'DeviceGray' }, Resources: { Shading: { S: shade } } }));
  const state = pdf.context.register(pdf.context.obj({ Type: 'ExtGState', SMask: { Type: 'Mask', S: 'Luminosity', G: group } }));
  masked.node.addContentStream(pdf.context.register(pdf.context.stream(`${masked.node.newExtGState('GS', state).toString()} gs 0.12 0.48 0.43 rg 60 200 480 500 re f`)));
  const form = pdf.getForm();
  const asked = pdf.addPage([595.28, 841.89]);
  n++;
  write(asked, n);
  const field = form.createTextField('name');
  field.setText('Ines Marlow');
  field.addToPage(asked, { x: 60, y: 120, width: 240, height: 28 });
  const box = form.createCheckBox('pilot');
  box.addToPage(asked, { x: 330, y: 120, width: 24, height: 24 });
  box.check();
  // Its fonts are not in the file: every reader has its own for them.
  const bare = pdf.addPage([595.28, 841.89]);
  n++;
  for (const [i, name] of [StandardFonts.Helvetica, StandardFonts.TimesRoman, StandardFonts.Courier].entries()) bare.drawText(`Line ${i} in ${name}`, { x: 60, y: 700 - 30 * i, size: 16, font: await pdf.embedFont(name) });
  const file = path.join(folder, 'assembled.pdf');
  writeFileSync(file, await pdf.save());
  return { name: 'assembled', file, pages: n };
}

/** A link to a page and to a web address, and an outline of three levels, written object by object. */
export async function linked(folder: string): Promise<Made> {
  const pdf = await PDFDocument.create();
  const font = await pdf.embedFont(StandardFonts.Helvetica);
  const pages = [1, 2, 3, 4].map((n) => {
    const p = pdf.addPage([595.28, 841.89]);
    p.drawText(`Week ${n} of the planner`, { x: 72, y: 760, size: 20, font });
    p.drawText('to week 3', { x: 72, y: 700, size: 14, font });
    p.drawText('to the tide tables', { x: 72, y: 660, size: 14, font });
    return p;
  });
  const { context } = pdf;
  for (const p of pages) {
    const link = context.obj({ Type: 'Annot', Subtype: 'Link', Rect: [70, 695, 200, 720], Border: [0, 0, 0], Dest: [pages[2].ref, 'XYZ', null, 780, null] });
    const web = context.obj({ Type: 'Annot', Subtype: 'Link', Rect: [70, 655, 200, 680], Border: [0, 0, 0], A: { S: 'URI', URI: PDFString.of('https://harbour.example/tides') } });
    // What a file may ask for and nobody here does.
    const bad = context.obj({ Type: 'Annot', Subtype: 'Link', Rect: [70, 600, 200, 640], A: { S: 'JavaScript', JS: PDFString.of('app.launchURL("https://elsewhere.example/", true)') } });
    p.node.set(PDFName.of('Annots'), context.obj([context.register(link), context.register(web), context.register(bad)]));
  }
  const titles: [string, number, number][] = [['Spring', 1, 0], ['Neaps', 2, 1], ['Slack water', 3, 2], ['Autumn', 1, 3]];
  const refs = titles.map(() => context.nextRef());
  const root = context.nextRef();
  const top = (i: number, y: number) => [pages[i].ref, 'XYZ', null, y, null];
  const item = (i: number, parent: typeof root, more: Record<string, unknown>) => context.assign(refs[i], context.obj({ Title: PDFString.of(titles[i][0]), Parent: parent, Dest: top(titles[i][2], 780 - 20 * i), ...(more as Record<string, never>) }));
  item(0, root, { Next: refs[3], First: refs[1], Last: refs[1], Count: 2 });
  item(1, refs[0], { First: refs[2], Last: refs[2], Count: 1 });
  item(2, refs[1], {});
  item(3, root, { Prev: refs[0] });
  context.assign(root, context.obj({ Type: 'Outlines', First: refs[0], Last: refs[3], Count: PDFNumber.of(4) }));
  pdf.catalog.set(PDFName.of('Outlines'), root);
  pdf.catalog.set(PDFName.of('OpenAction'), context.obj({ S: 'JavaScript', JS: PDFString.of('app.alert("run")') }));
  const file = path.join(folder, 'linked.pdf');
  writeFileSync(file, await pdf.save());
  return { name: 'linked', file, pages: pages.length };
}

/** The same file, locked with a password by qpdf. */
export function lockedWith(made: Made, password: string): Made {
  const file = made.file.replace(/\.pdf$/, '-locked.pdf');
  execFileSync('qpdf', ['--encrypt', password, 'owner', '256', '--', made.file, file]);
  return { ...made, name: `${made.name}, locked`, file };
}
