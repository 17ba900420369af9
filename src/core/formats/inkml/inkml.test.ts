/** InkML against the Recommendation's own examples, and against what other programs may write by it. */
import { execFileSync } from 'node:child_process';
import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import * as fc from 'fast-check';
import { PEN_KINDS, penOf } from '../../ink/pen';
import { PointBuffer } from '../../ink/points';
import { makeStroke, pointsOf, type Stroke } from '../../ink/stroke';
import { applyEdit, noteOf } from '../../note/edit';
import { NEW_FORM } from '../../note/schema';
import { addInk, inkPages } from './pages';
import { readInkml, readTraces } from './read';
import { InkmlError, traceValues } from './traceText';
import { writeInkml } from './write';

let folder = '';
beforeAll(() => {
  folder = mkdtempSync(path.join(tmpdir(), 'scrivo-inkml-'));
});
afterAll(() => rmSync(folder, { recursive: true, force: true }));

const strokes: Stroke[] = Array.from({ length: 12 }, (_, k) => {
  const buffer = new PointBuffer();
  for (let i = 0; i < 25; i++) buffer.add(20 + k * 6 + i * 0.13, 40 + 2 * Math.sin(i / 3), 0.2 + 0.02 * i, i * 8);
  return makeStroke(buffer.points(), { id: `s${k}`, page: 'p1', pen: k % 2 ? { kind: 'fountain', color: '#14665b', width: 0.5 } : { kind: 'felt', color: '#b5382a', width: 0.7 }, stamp: k % 3 ? { take: 'take1', at: 1000.5 * k } : null, wall: 1_700_000_000_000 + 900 * k });
});
const fallback = { page: 'p', pen: { kind: 'ball' as const, color: '#16324f', width: 0.4 }, id: () => 'new', wall: 5 };

describe('InkML (W3C Recommendation, 20 September 2011)', () => {
  test('the difference-encoded trace of section 3.2.1 gives the values its table lists', () => {
    // The Recommendation's own example with X and Y. The values of its table are from memory; the rows before the last two follow from adding up alone,
    // those two show the wildcard: the speed along X stays as it was.
    const values = traceValues(`1125 18432,'23'43,"7"-8,3-5,7 -3,6 2,6 8,3 6,2 4,*5,3 6`, 2);
    expect(values).toEqual([
      [1125, 18432],
      [1148, 18475],
      [1178, 18510],
      [1211, 18540],
      [1251, 18567],
      [1297, 18596],
      [1349, 18633],
      [1404, 18676],
      [1461, 18723],
      [1518, 18775],
      [1578, 18833],
    ]);
  });

  test('a plain trace as in the first example of the Recommendation', () => {
    // Section 1: the opening example writes "hello" as traces of X and Y alone; its first points.
    const text = '<ink xmlns="http://www.w3.org/2003/InkML"><trace>10 0, 9 14, 8 28, 7 42, 6 56, 6 70, 8 84</trace><trace>130 155, 144 159, 158 160</trace></ink>';
    const read = readInkml(text, fallback);
    expect(read).toHaveLength(2);
    expect([...pointsOf(read[0]).xy.slice(0, 6)]).toEqual([10, 0, 9, 14, 8, 28]);
    expect(read[1].page).toBe('p');
  });

  test('strokes come back with points, pressure, times, pens and stamps', () => {
    expect(readInkml(writeInkml(strokes), fallback)).toEqual(strokes);
  });

  test('pens of every kind, shapes, areas and groups come back', () => {
    const shape = { name: 'curve' as const, at: [[10, 10], [20.25, 5], [30, 25], [40.5, 10]] as const, heads: 'end' as const, from: { to: 's0', u: 0.5 } };
    const dressed = PEN_KINDS.map((kind, k) => ({
      ...strokes[k],
      pen: penOf({ kind, color: '#2456a6', width: 0.35, opacity: k % 2 ? 0.4 : 1, line: k % 3 ? 'dotted' : undefined, angle: 25 }),
      ...(k === 1 ? { shape } : {}),
      ...(k === 2 ? { fill: '#f6e3a8' } : {}),
      ...(k > 3 ? { group: 'g' } : {}),
    }));
    expect(readInkml(writeInkml(dressed), fallback)).toEqual(dressed);
  });

  test('characters by their numbers are what they stand for (XML 1.0, 4.1), as older bundles have them', () => {
    const fill = '{&#34;fill&#34;:&#x22;#f6e3a8&quot;}';
    const [read] = readInkml(`<ink xmlns="http://www.w3.org/2003/InkML"><traceGroup><annotation type="extras">${fill}</annotation><trace>10 0, 9 14</trace></traceGroup></ink>`, fallback);
    expect((read as Stroke).fill).toBe('#f6e3a8');
  });

  test('what is written is well-formed XML with one trace a stroke', () => {
    const file = path.join(folder, 'ink.inkml');
    writeFileSync(file, writeInkml(strokes));
    const counted = execFileSync('python3', ['-c', `import xml.etree.ElementTree as E,sys;print(len(E.parse(sys.argv[1]).getroot().findall('.//{http://www.w3.org/2003/InkML}trace')))`, file]);
    expect(Number(counted)).toBe(strokes.length);
  });

  test('what is no ink is refused with a sentence', () => {
    for (const bad of ['', 'hello', '<svg/>', '<ink><trace>1</trace></ink>']) expect(() => readInkml(bad, fallback)).toThrow(InkmlError);
  });
});

const ink = (body: string): string => `<ink xmlns="http://www.w3.org/2003/InkML">${body}</ink>`;
const BALL = { kind: 'ball' as const, color: '#16324f', width: 0.4 };

describe('ink of other makers', () => {
  test('the opening example of the Recommendation comes onto a page, whole and upright (its values from memory)', () => {
    const text = ink(`<trace>10 0, 9 14, 8 28, 7 42, 6 56, 6 70, 8 84, 8 98, 8 112, 9 126, 10 140, 13 154, 14 168, 17 182, 18 188, 23 174, 30 160, 38 147, 49 135, 58 124, 72 121, 77 135, 80 149, 82 163, 84 177, 87 191, 93 205</trace>
      <trace>130 155, 144 159, 158 160, 170 154, 179 143, 179 129, 166 125, 152 128, 140 136, 131 149, 126 163, 124 177, 128 190, 137 200, 150 208, 163 210, 178 208, 192 201, 205 192, 214 180</trace>`);
    const { pages, strokes: count, trueSize } = inkPages(text, { w: 210, h: 297 }, BALL, 1000);
    expect([pages.length, count, trueSize]).toEqual([1, 2, false]);
    const [{ placed }] = pages;
    const all = placed.map((s) => s.box);
    // It fills most of the width and keeps its shape: 208 by 210 units.
    expect(Math.max(...all.map((b) => b[2])) - Math.min(...all.map((b) => b[0]))).toBeCloseTo(0.8 * 210, 0);
    expect((all[0][3] - all[0][1]) / (all[0][2] - all[0][0])).toBeCloseTo(205 / 87, 1);
    expect(placed[1].wall).toBeGreaterThan(placed[0].wall);
  });

  test('a device says its own size: values a length, a length a value, or units of the channel', () => {
    const format = (x: string, y: string, properties = '') => ink(`<definitions><context xml:id="c"><inkSource xml:id="s"><traceFormat><channel name="X" type="integer"${x}/><channel name="Y" type="integer"${y}/></traceFormat>${properties}</inkSource></context></definitions><trace contextRef="#c">100 200, 300 200</trace>`);
    const resolution = (value: number, units: string) => `<channelProperties><channelProperty channel="X" name="resolution" value="${value}" units="${units}"/><channelProperty channel="Y" name="resolution" value="${value}" units="${units}"/></channelProperties>`;
    const x = (text: string) => readTraces(text)[0];
    expect(x(format('', '', resolution(1000, '1/in'))).x).toEqual([2.54, expect.closeTo(7.62, 9)]);
    expect(x(format('', '', resolution(5000, '1/cm'))).x).toEqual([0.2, expect.closeTo(0.6, 9)]);
    expect(x(format('', '', resolution(0.05, 'mm'))).y).toEqual([10, 10]);
    expect(x(format(' units="himetric"', ' units="himetric"')).x).toEqual([1, 3]);
    expect(x(format(' units="mm"', ' units="cm" orientation="-ve"')).y).toEqual([-2000, -2000]);
    expect(x(format('', '')).isMm).toBe(false);
    // Across and down need not be alike.
    expect(x(format(' units="mm"', '', resolution(1000, '1/in'))).y[0]).toBeCloseTo(5.08, 9);
  });

  test('several contexts: by reference, and as they come between traces; one builds on another', () => {
    const text = ink(`<definitions>
        <brush xml:id="red"><brushProperty name="color" value="#F00"/><brushProperty name="width" value="0.1" units="cm"/></brush>
        <brush xml:id="wide" brushRef="#red"><brushProperty name="width" value="2" units="mm"/></brush>
        <traceFormat xml:id="xy"><channel name="X" units="mm"/><channel name="Y" units="mm"/></traceFormat>
        <traceFormat xml:id="fyx"><channel name="F" max="1023"/><channel name="Y" units="cm"/><channel name="X" units="cm"/></traceFormat>
        <context xml:id="first" traceFormatRef="#xy" brushRef="#red"/>
        <context xml:id="second" contextRef="#first" traceFormatRef="#fyx"/>
      </definitions>
      <trace contextRef="#first">1 2, 3 4</trace>
      <traceGroup contextRef="#second" brushRef="#wide"><trace>1023 4 3, 0 5 6</trace><trace contextRef="#first">7 8</trace></traceGroup>
      <context traceFormatRef="#fyx"/>
      <trace>512 1 2</trace>`);
    const traces = readTraces(text);
    expect(traces.map((t) => [t.x, t.y])).toEqual([[[1, 3], [2, 4]], [[30, 60], [40, 50]], [[7], [8]], [[20], [10]]]);
    expect(traces.map((t) => t.brush)).toEqual([{ color: '#ff0000', width: 1 }, { color: '#ff0000', width: 2 }, { color: '#ff0000', width: 2 }, {}]);
    expect(traces[1].force).toEqual([1, 0]);
    expect(traces[0].force).toBeNull();
    expect(traces[3].force![0]).toBeCloseTo(512 / 1023, 9);
  });

  test('intermittent channels may be left out from the right; hexadecimal numbers, truth values and wildcards', () => {
    expect(traceValues("#FF -#10,'#1'1", 2)).toEqual([[255, -16], [256, -15]]);
    expect(traceValues('1 2 T, 3 4 F, 5 6', 3, 2)).toEqual([[1, 2, 1], [3, 4, 0], [5, 6, NaN]]);
    const text = ink('<definitions><traceFormat><channel name="X" units="mm"/><channel name="Y" units="mm"/><intermittentChannels><channel name="F" max="100" default="50"/></intermittentChannels></traceFormat></definitions><trace>1 1 100, 2 2, 3 3 0</trace>');
    expect(readTraces(text)[0].force).toEqual([1, 0.5, 0]);
  });

  test('moments: of a time stamp with an offset, of a channel that counts from one; times that are missing come from the rate of the device or the length of the trace', () => {
    const at = Date.UTC(2026, 10, 2, 9, 0, 0);
    const text = ink(`<definitions>
        <timestamp xml:id="began" timeString="2026-11-02T09:00:00Z"/>
        <timestamp xml:id="later" timestampRef="#began" timeOffset="60000"/>
        <context xml:id="rate" timestampRef="#later"><inkSource><sampleRate value="100"/><traceFormat><channel name="X" units="mm"/><channel name="Y" units="mm"/></traceFormat></inkSource></context>
        <context xml:id="times"><traceFormat><channel name="X" units="mm"/><channel name="Y" units="mm"/><channel name="T" units="s" respectTo="#began"/></traceFormat></context>
        <context xml:id="none"><traceFormat><channel name="X" units="mm"/><channel name="Y" units="mm"/></traceFormat></context>
      </definitions>
      <trace contextRef="#rate" timeOffset="500">1 1, 2 2, 3 3</trace>
      <trace contextRef="#times">1 1 2.5, 2 2 2.75, 3 3 2.7</trace>
      <trace contextRef="#none" duration="90">1 1, 2 2, 3 3, 4 4</trace>`);
    const [rate, times, none] = readTraces(text);
    expect([rate.t, rate.wall]).toEqual([[0, 10, 20], at + 60_500]);
    // Times never fall, whatever the file says.
    expect([times.t, times.wall]).toEqual([[0, 250, 250], at + 2500]);
    expect([none.t, none.wall]).toEqual([[0, 30, 60, 90], null]);
  });

  test('a trace that goes on in another is one stroke; a pen that is up draws nothing; views show what they point to; a canvas is turned as it says', () => {
    const text = ink(`<definitions><traceFormat><channel name="X" units="mm"/><channel name="Y" units="mm"/></traceFormat><trace xml:id="kept">5 5, 6 6, 7 7, 8 8</trace><trace xml:id="unseen">9 9</trace></definitions>
      <trace xml:id="a" type="penDown" continuation="begin">1 1, 2 2</trace><trace type="penUp">50 50, 60 60</trace><trace continuation="end" priorRef="#a">3 3</trace>
      <traceView traceDataRef="#kept" from="2" to="3"/>`);
    expect(readTraces(text).map((t) => t.x)).toEqual([[1, 2, 3], [6, 7]]);
    const turned = ink('<definitions><context xml:id="c"><traceFormat><channel name="X" units="mm"/><channel name="Y" units="mm"/></traceFormat><canvasTransform><mapping type="affine"><affine>0 -1 100, 1 0 5</affine></mapping></canvasTransform></context></definitions><trace contextRef="#c">10 20</trace>');
    const [trace] = readTraces(turned);
    expect([trace.x, trace.y]).toEqual([[80], [15]]);
  });

  test('whatever units and order of channels, the same ink lies at the same place (fast-check)', () => {
    const mm: Record<string, number> = { mm: 1, cm: 10, in: 25.4, pt: 25.4 / 72, m: 1000 };
    const point = fc.tuple(fc.integer({ min: 0, max: 20_000 }), fc.integer({ min: 0, max: 29_000 }), fc.integer({ min: 0, max: 127 }));
    fc.assert(
      fc.property(fc.array(point, { minLength: 1, maxLength: 20 }), fc.constantFrom(...Object.keys(mm)), fc.shuffledSubarray(['X', 'Y', 'F'], { minLength: 3 }), fc.boolean(), (points, units, order, prefixed) => {
        const channels = order.map((name) => `<channel name="${name}" type="decimal" ${name === 'F' ? 'max="127"' : `units="${units}"`}/>`).join('');
        const values = points.map(([x, y, f]) => order.map((name) => (name === 'F' ? f : (name === 'X' ? x : y) / 100 / mm[units])));
        const rows = values.map((row) => row.map((v) => v.toFixed(9)).join(' '));
        const text = `<q:ink xmlns:q="http://www.w3.org/2003/InkML"><q:definitions><q:traceFormat>${channels}</q:traceFormat></q:definitions><q:trace>${rows.join(',')}</q:trace></q:ink>`;
        const [{ placed }] = inkPages(prefixed ? text : text.replaceAll('q:', '').replace('xmlns:q', 'xmlns'), { w: 210, h: 297 }, BALL, 0).pages;
        const got = pointsOf(placed[0]);
        expect([...got.xy]).toEqual(points.flatMap(([x, y]) => [x, y]));
        expect([...got.p]).toEqual(points.map(([, , f]) => f));
      }),
    );
  });

  test('our own file comes back as pages, and keeps its link to a take that the note has', () => {
    const note = noteOf({ v: 2, id: 'n', title: 'Tides', made: 1, changed: 1, pages: [], takes: [{ id: 'take1', name: 'Take 1', wall: 1, ms: 90_000, state: 'done', parts: [{ at: 0, wall: 1 }] }], timeline: [] });
    const two = strokes.map((s, i) => ({ ...s, page: i < 5 ? 'p1' : 'p2', ...(i === 1 ? { group: 'g' } : {}) }));
    let n = 0;
    const brought = inkPages(writeInkml(two), NEW_FORM, BALL, 0);
    expect([brought.pages.length, brought.trueSize]).toEqual([2, true]);
    const after = applyEdit(note, addInk(note, 0, brought, NEW_FORM, () => `new${n++}`)).note;
    expect(after.header.pages).toHaveLength(2);
    const back = after.header.pages.flatMap((p) => after.ink[p.id]);
    const kept = ({ stamp, wall, pts, pen }: Stroke) => [stamp, wall, [...pts], pen];
    expect(back.map((it) => kept(it as Stroke))).toEqual(two.map(kept));
    const strange = noteOf({ v: 2, id: 'm', title: '', made: 1, changed: 1, pages: [], takes: [], timeline: [] });
    const there = applyEdit(strange, addInk(strange, 0, brought, NEW_FORM, () => `new${n++}`)).note;
    expect(Object.values(there.ink).flat().every((s) => s.stamp === null)).toBe(true);
  });

  test('traces that are called the same, or nothing, are each a stroke of its own', () => {
    const brought = inkPages(ink('<trace xml:id="a">1 1, 2 2</trace><trace xml:id="a">3 3, 4 4</trace><trace>5 5, 6 6</trace><trace>7 7, 8 8</trace>'), NEW_FORM, BALL, 0);
    const empty = noteOf({ v: 2, id: 'm', title: '', made: 1, changed: 1, pages: [], takes: [], timeline: [] });
    let n = 0;
    const { note } = applyEdit(empty, addInk(empty, 0, brought, NEW_FORM, () => `new${n++}`));
    expect(Object.values(note.ink).flat()).toHaveLength(4);
  });

  test('ink beside the page is moved onto it, and a page grows for what is larger', () => {
    const mm = (body: string) => ink(`<definitions><traceFormat><channel name="X" units="mm"/><channel name="Y" units="mm"/></traceFormat></definitions>${body}`);
    const [page] = inkPages(mm('<trace>-50 -20, 300 10</trace>'), { w: 210, h: 297 }, BALL, 0).pages;
    expect(page.placed[0].box.map(Math.round)).toEqual([10, 10, 360, 40]);
    expect([page.w, page.h]).toEqual([370, 297]);
    expect(() => inkPages(mm('<trace>0 0, 9000000 10</trace>'), { w: 210, h: 297 }, BALL, 0)).toThrow(/no page does/);
  });

  test('hostile files are refused in a sentence: entities of their own, contexts and brushes that build on themselves, depth without end', () => {
    expect(() => readTraces('<!DOCTYPE ink [<!ENTITY a "1 1">]><ink><trace>&a;</trace></ink>')).toThrow(/entities of its own/);
    const circles = ink('<definitions><brush xml:id="b" brushRef="#b"/><context xml:id="c" contextRef="#c" brushRef="#b"/><timestamp xml:id="t" timestampRef="#t"/></definitions><traceView xml:id="v" traceDataRef="#v"/><trace contextRef="#c">1 1</trace>');
    expect(() => readTraces(circles)).toThrow(InkmlError);
    // Twice in itself, it would be looked at 2 to the 50th times.
    expect(() => readTraces(ink('<definitions><traceGroup xml:id="g"><traceView traceDataRef="#g"/><traceView traceDataRef="#g"/></traceGroup></definitions><traceView traceDataRef="#g"/>'))).toThrow(InkmlError);
    expect(() => readTraces(ink('<traceGroup>'.repeat(5000) + '</traceGroup>'.repeat(5000)))).toThrow(InkmlError);
    expect(() => readTraces(ink('<traceGroup>'.repeat(80) + '<trace>1 1</trace>' + '</traceGroup>'.repeat(80)))).toThrow(InkmlError);
    expect(() => inkPages(ink('<definitions><traceFormat><channel name="X" units="in"/><channel name="Y" units="in"/></traceFormat></definitions><trace>1e308 1, 2 2</trace>'), { w: 210, h: 297 }, BALL, 0)).toThrow(InkmlError);
    expect(() => inkPages(ink(''), { w: 210, h: 297 }, BALL, 0)).toThrow(/no ink/);
  });
});
