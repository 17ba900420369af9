/**
 * Drawings that were looked at when they were made (`tests/data/drawn`, to be opened in any browser), and what is known of each thing in them: where it lies, what touches it, what the
 * eraser takes of it. They change only when somebody means it: `SCRIVO_DRAW=1 npx jest src/core/formats/drawn` makes them anew, and then they are looked at once more.
 */
import { readFileSync, writeFileSync } from 'node:fs';
import path from 'node:path';
import { PointBuffer, type Points } from '../ink/points';
import { PEN_KINDS, type Pen } from '../ink/pen';
import { SHAPE_NAMES, endsOf, handlesOf, headsOf, isOpen, isStraight, nearestOn, pointAt, pointsAlong, sizeText, snapShape, type Shape, type Vec } from '../ink/shapes/shape';
import { makeStroke, type Stroke } from '../ink/stroke';
import { around } from '../ink/transform';
import { coveredBy, distanceTo, isCrossed, kindOf, layerOf, mapPlaced, rubbed, textIn, type Placed } from '../note/kinds/kinds';
import { makeAxes } from '../note/kinds/axes';
import { makePicture } from '../note/kinds/picture';
import { makeSlip, SLIP_PAPERS, SLIP_SHAPES, textPlace } from '../note/kinds/slip';
import { makeSolid, SOLIDS } from '../note/kinds/solid';
import { makeTable, type Cell } from '../note/kinds/table';
import { caretOn, linesOf, LISTS, makeTyped, markOf, momentOf } from '../note/kinds/typed';
import { FIRST_SPACING, FIRST_TOP, linesToWriteOn, rulingOf } from '../note/paper';
import { newPage, PAPER_KINDS, type Page } from '../note/schema';
import { writeSvg } from './svg';

const FOLDER = path.resolve(__dirname, '../../../tests/data/drawn');
const LOOK = { face: 'sans', size: 11, color: '#16324f' } as const;

/** A wave with a pressure that swells and a pace that varies, as a hand has them. */
function wave(x: number, y: number, w: number, h: number): Points {
  const b = new PointBuffer();
  for (let i = 0; i <= 40; i++) b.add(x + (w * i) / 40, y + (h / 2) * Math.sin(i / 4), 0.15 + 0.8 * Math.sin((Math.PI * i) / 40), 8 * i + (i % 7));
  return b.points();
}
const base = (id: string) => ({ id, page: 'p', stamp: { take: 't', at: 100 }, wall: 1000 + id.length });
const inked = (id: string, pen: Pen, points: Points, more: Partial<Stroke> = {}): Stroke => makeStroke(points, { ...base(id), pen, ...more });

function pens(): Placed[] {
  return PEN_KINDS.flatMap((kind, i) => [
    inked(`${kind}-fine`, { kind, color: '#16324f', width: 0.5, ...(kind === 'chisel' ? { angle: 40 } : {}) }, wave(15, 20 + 26 * i, 80, 12)),
    inked(`${kind}-wide`, { kind, color: '#9a1b7c', width: 2.5, opacity: 0.5, ...(kind === 'chisel' ? { angle: 75 } : {}) }, wave(110, 20 + 26 * i, 80, 12)),
    inked(`${kind}-broken`, { kind, color: '#1c6e3d', width: 0.8, line: i % 2 ? 'dotted' : 'dashed', ...(kind === 'chisel' ? { angle: 10 } : {}) }, wave(15, 33 + 26 * i, 80, 6)),
    inked(`${kind}-dot`, { kind, color: '#b5382a', width: 1.2 }, (() => {
      const b = new PointBuffer();
      b.add(196, 20 + 26 * i, 0.6, 0);
      return b.points();
    })()),
  ]);
}

const AT: Readonly<Record<(typeof SHAPE_NAMES)[number], readonly Vec[]>> = {
  line: [[0, 20], [40, 4]], arrow: [[0, 4], [40, 20]], curve: [[0, 20], [10, -6], [30, 34], [40, 4]], elbow: [[0, 4], [22, 4], [22, 20], [40, 20]],
  circle: [[20, 12], [32, 12], [20, 24]], ellipse: [[20, 12], [38, 17], [18, 20]], square: [[8, 0], [32, 0], [32, 24], [8, 24]], rectangle: [[2, 2], [38, 6], [36, 22], [0, 18]],
  triangle: [[20, 0], [38, 24], [2, 22]], diamond: [[20, 0], [36, 12], [20, 24], [4, 12]], polygon: [[6, 0], [30, 2], [40, 14], [22, 25], [1, 16]],
};
const shapeAt = (name: (typeof SHAPE_NAMES)[number], x: number, y: number, heads?: Shape['heads']): Shape => ({ name, at: AT[name].map(([u, v]): Vec => [x + u, y + v]), ...(heads ? { heads } : {}) });

function shapes(): Placed[] {
  const pen: Pen = { kind: 'ball', color: '#16324f', width: 0.6 };
  return SHAPE_NAMES.flatMap((name, i) => {
    const [plain, other] = [shapeAt(name, 15, 12 + 26 * i - 2 * (i > 8 ? i - 8 : 0)), shapeAt(name, 110, 12 + 26 * i - 2 * (i > 8 ? i - 8 : 0), name === 'arrow' ? 'end' : isOpen(shapeAt(name, 0, 0)) ? 'both' : undefined)];
    return [
      inked(`${name}`, pen, pointsAlong(plain, wave(15, 12, 40, 10)), { shape: plain }),
      inked(`${name}-more`, { ...pen, width: 1.4, ...(i % 2 ? { line: 'dashed' } : {}) }, pointsAlong(other, wave(15, 12, 40, 10)), { shape: other, ...(isOpen(other) ? {} : { fill: '#f6e3a8' }) }),
    ];
  });
}

function bodies(): Placed[] {
  return SOLIDS.flatMap((solid, i) => [
    makeSolid({ ...base(`${solid}`), solid, m: [1, 0, 0, 1, 15, 15 + 44 * i], w: 40, h: 26, d: 9, color: '#16324f', width: 0.5 }),
    makeSolid({ ...base(`${solid}-turned`), solid, m: [0.9, 0.3, -0.3, 0.9, 120, 12 + 44 * i], w: 30, h: 30, d: 12, color: '#9a1b7c', width: 0.9, fill: '#cfe6f5' }),
  ]);
}

function axes(): Placed[] {
  return [
    makeAxes({ ...base('first'), m: [1, 0, 0, 1, 30, 20], w: 120, h: 60, x: { from: '0', to: '12', step: '2' }, y: { from: '0', to: '5', step: '1' }, look: LOOK, grid: true }),
    makeAxes({ ...base('crossed'), m: [1, 0, 0, 1, 30, 110], w: 120, h: 70, x: { from: '-3', to: '3', step: '0.5' }, y: { from: '-1.5', to: '2.5', step: '0.25' }, look: { ...LOOK, size: 8 } }),
    makeAxes({ ...base('line'), m: [1, 0, 0, 1, 20, 215], w: 160, h: 0, x: { from: '-100', to: '1000', step: '50' }, y: null, look: LOOK }),
    makeAxes({ ...base('turned'), m: [0.8, 0.2, -0.2, 0.8, 40, 230], w: 60, h: 40, x: { from: '10', to: '20', step: '5' }, y: { from: '100', to: '900', step: '400' }, look: { ...LOOK, size: 9 }, grid: true }),
  ];
}

function slips(): Placed[] {
  return [
    ...SLIP_SHAPES.flatMap((shape, i) => SLIP_PAPERS.map((paper, k) => makeSlip({ ...base(`${shape}-${paper}`), m: [1, 0, 0, 1, 8 + 66 * k, 8 + 54 * i], w: 60 - 6 * i, h: 46, tint: ['#f6e3a8', '#cfe6f5', '#d9ecc8'][k], shape, paper }))),
    makeSlip({ ...base('folded'), m: [1, 0, 0, 1, 20, 240], w: 60, h: 46, tint: '#f6e3a8', shape: 'square', paper: 'plain', folded: true }),
    makeSlip({ ...base('turned-tag'), m: [0.8, 0.5, -0.5, 0.8, 120, 232], w: 50, h: 40, tint: '#f3cfe0', shape: 'tag', paper: 'squared' }),
  ];
}

function tables(): Placed[] {
  const cell = (text: string, more: Partial<Cell> = {}): Cell => ({ text, stamp: { take: 't', at: 5 * text.length }, wall: 7, ...more });
  const cells = [
    [cell('Ship'), cell('Draught, m'), cell('Pilot')], [cell('Tern'), cell('4.10'), cell('Ida')], [cell('Alk and a name so long that it wraps'), cell('5.25'), cell('Jon')],
    [cell('All'), cell('', { sum: 'above' }), null], [cell('1'), cell('2.5'), cell('', { sum: 'left' })],
  ];
  return [
    makeTable({ ...base('ships'), m: [1, 0, 0, 1, 20, 20], cols: [40, 30, 25], rows: [8, 8, 8, 8, 8], cells, look: LOOK, head: true }),
    makeTable({ ...base('merged'), m: [0.9, 0.15, -0.15, 0.9, 60, 110], cols: [30, 20, 40], rows: [9, 7, 12, 8, 8], cells, look: { ...LOOK, face: 'serif', size: 9 }, spans: [[0, 1, 2, 2], [3, 0, 1, 2]] }),
  ];
}

function typed(): Placed[] {
  const line = (id: string, y: number, text: string, more: object = {}) =>
    makeTyped({ ...base(id), flow: id, n: 0, m: [1, 0, 0, 1, 20, y], width: 120, pitch: 7, text, looks: [[text.length, LOOK]], times: [{ stamp: { take: 't', at: 1000 }, wall: 5, t: Array.from(text, (_, i) => 40 * i) }], ...more });
  const mixed = 'Ebb and flood, and the slack between';
  return [
    line('plain', 20, 'High water at noon, low water six hours and a bit later; the range is the difference of both, and the rule of twelfths says how fast it comes.'),
    line('middle', 55, 'In the middle of the lines', { align: 'middle' }),
    line('right', 65, 'At their right end, where dates stand', { align: 'right' }),
    ...LISTS.map((list, i) => line(list, 80 + 10 * i, `${list} of a list that is so long that it goes on in another line of its own`.slice(0, i % 2 ? 30 : 90), { list, ...(list === 'number' ? { nth: 12 } : {}) })),
    line('mixed', 130, mixed, { looks: [[4, { ...LOOK, bold: true }], [9, { ...LOOK, face: 'hand', size: 16, slant: true }], [mixed.length - 13, { ...LOOK, face: 'typewriter', marked: '#f6d860', color: '#9a1b7c' }]] }),
    line('turned', 160, 'Along a line that leans', { m: [0.95, 0.3, -0.3, 0.95, 30, 150] }),
  ];
}

const picture = makePicture({ ...base('cut-out'), content: 'c'.repeat(64), px: [400, 300], m: [80, 10, -8, 60, 30, 30], crop: [0.1, 0.1, 0.9, 0.2, 0.8, 0.9, 0.2, 0.7], over: true });
const SCENES: Readonly<Record<string, readonly Placed[]>> = { pens: pens(), shapes: shapes(), solids: bodies(), axes: axes(), 'sticky notes': slips(), tables: tables(), 'typed text': typed(), pictures: [picture] };

const SHEETS: Readonly<Record<string, Page>> = Object.fromEntries(
  PAPER_KINDS.flatMap((kind) => {
    const paper = { kind, spacing: FIRST_SPACING[kind], top: FIRST_TOP[kind] };
    return [[kind, newPage('p', { w: 148, h: 210, paper })], [`${kind}, lying`, newPage('p', { w: 297, h: 210, paper: { ...paper, spacing: FIRST_SPACING[kind] * 1.5, margin: 25, line: '#a33a2a', sheet: kind === 'cover' ? '#1c6e3d' : '#f4f7ea' } })]];
  }),
);

/** Compares with what stands on disk, or writes it there where that was asked for. */
function sameAs(file: string, now: string): void {
  const at = path.join(FOLDER, file);
  if (process.env.SCRIVO_DRAW) writeFileSync(at, now);
  // Line by line: a difference is told in the line in which it is.
  expect(now.split('\n')).toEqual(readFileSync(at, 'utf8').split('\n'));
}
const inLines = (svg: string): string => svg.replaceAll('><', '>\n<');
const rounded = (value: unknown): string => JSON.stringify(value, (_, v: unknown) => (typeof v === 'number' ? Math.round(v * 1000) / 1000 : v instanceof Uint8Array ? v.length : v));

test.each(Object.entries(SCENES))('%s are drawn as they were when somebody looked at them', (name, placed) => {
  sameAs(`${name}.svg`, inLines(writeSvg([{ page: newPage('p', { w: 210, h: 297, paper: { kind: 'plain', spacing: 8, top: 20 } }), placed, behind: null }], { paper: true, title: name, pictures: new Map([['c'.repeat(64), 'data:image/gif;base64,R0lGODlhAQABAIAAAJqamgAAACwAAAAAAQABAAACAkQBADs=']]), heard: (it, letter) => it.wall + 10 * (letter ?? 0) })));
});

test.each(Object.entries(SHEETS))('paper: %s is ruled as it was when somebody looked at it', (name, page) => {
  sameAs(`paper ${name}.svg`, inLines(writeSvg([{ page, placed: [], behind: null }], { paper: true, title: name, pictures: new Map() })));
});

test.each(Object.entries(SCENES))('what is known of %s: where they lie, what meets them, what an eraser takes, where they come when they are turned', (name, placed) => {
  const facts = placed.map((it) => {
    const [l, t, r, b] = it.box;
    const [x, y] = [(l + r) / 2, (t + b) / 2];
    let n = 0;
    const rub = (dx: number, dy: number) => ({ x0: x - dx, y0: y - dy, x1: x + dx, y1: y + dy, radius: 3 });
    const parts = [rub(0, 0), rub(4, 12), rub(30, 2)].map((r1) => rubbed(it, r1, () => `new${n++}`)?.map((p) => [p.id, p.box, p.pts]) ?? null);
    const turned = mapPlaced(it, around(100, 100, 1.5, 0.75, 0.4));
    return rounded([
      it.id, layerOf(it), it.box, coveredBy(it), [[l, t], [x, y], [r + 5, b], [x, b + 2], [l - 30, t - 40]].map(([u, v]) => distanceTo(it, u, v)), [rub(0, 0), rub(1, 20), rub(80, 0)].map((r1) => isCrossed(it, r1)), parts,
      kindOf(it).shareIn(it, (u, v) => u < x && v < y + 3), turned.box, distanceTo(turned, 100, 100), kindOf(it).isDecoration(it), textIn(it).length,
    ]);
  });
  sameAs(`${name}.facts`, facts.join('\n'));
});

test('what is known of shapes: handles, heads, sizes in words, places along them', () => {
  sameAs('shapes.more', SHAPE_NAMES.map((name) => {
    const shape = shapeAt(name, 20, 30, isOpen(shapeAt(name, 0, 0)) ? 'both' : undefined);
    return rounded([name, handlesOf(shape), headsOf(shape, 0.8), sizeText(shape), [0, 0.2, 0.5, 0.77, 1].map((u) => pointAt(shape, u)), [[20, 30], [44, 41], [10, 60]].map(([x, y]) => nearestOn(shape, x, y)), snapShape(shape).at, isOpen(shape) ? endsOf(shape) : null, isStraight(shape)]);
  }).join('\n'));
});

test('what is known of typed lines and of paper: lines, signs of lists, carets, moments, where one writes', () => {
  const lines = (SCENES['typed text'] as ReturnType<typeof makeTyped>[]).map((it) => rounded([it.id, linesOf(it), markOf(it), [[21, 22], [60, 60], [100, 135], [-4, 300]].map(([x, y]) => caretOn(it, x, y)), [0, 3, it.text.length - 1].map((i) => momentOf(it, i))]));
  const papers = Object.entries(SHEETS).map(([name, page]) => rounded([name, linesToWriteOn(page, 40), linesToWriteOn(page, 120), rulingOf(page)]));
  const slip = SCENES['sticky notes'].map((it) => rounded([it.id, it.kind === 'slip' ? [textPlace(it, it.box[0] + 9, it.box[1] + 12, 6), textPlace(it, it.box[2], it.box[3], 20)] : null]));
  sameAs('lines.more', [...lines, ...papers, ...slip].join('\n'));
});
