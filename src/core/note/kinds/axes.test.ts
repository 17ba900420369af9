import * as fc from 'fast-check';
import { execFileSync } from 'node:child_process';
import { makeStroke } from '../../ink/stroke';
import { decimalOf, isScale, makeAxes, placeOf, readOff, ticksOf, unitsAt, type Axes } from './axes';
import { KINDS, readPlaced } from './kinds';

const look = { face: 'sans', size: 9, color: '#16324f' } as const;
const scale = (from: string, to: string, step: string) => ({ from, to, step });
const axes = (more: Partial<Axes> = {}): Axes => makeAxes({ id: 'a', page: 'p', stamp: null, wall: 1, m: [1, 0, 0, 1, 30, 40], w: 120, h: 60, x: scale('0', '12', '1'), y: scale('-1', '5', '0.5'), look, ...more });
const drawn = (places: readonly (readonly [number, number])[]) =>
  makeStroke({ n: places.length, xy: Int32Array.from(places.flatMap(([x, y]) => [Math.round(100 * x), Math.round(100 * y)])), p: new Uint8Array(places.length).fill(128), t: Int32Array.from(places, (_, i) => i) }, { id: 's', page: 'p', pen: { kind: 'ball', color: '#16324f', width: 0.5 }, stamp: null, wall: 1 });

test('numbers are the exact multiples of the step, as Python’s decimal counts them', () => {
  const cases = fc.sample(fc.tuple(fc.integer({ min: -400, max: 400 }), fc.integer({ min: 1, max: 900 }), fc.integer({ min: 1, max: 60 }), fc.integer({ min: 0, max: 3 })), { numRuns: 120, seed: 7 }).map(([from, length, step, places]) => {
    const text = (v: number) => (v / 10 ** places).toFixed(places);
    return scale(text(from), text(from + length), text(step));
  });
  const python = JSON.parse(
    execFileSync('python3', ['-c', `
import json, sys
from decimal import Decimal, ROUND_CEILING
out = []
for c in json.load(sys.stdin):
    a, b, s = Decimal(c["from"]), Decimal(c["to"]), Decimal(c["step"])
    v = (a / s).to_integral_value(ROUND_CEILING) * s
    row = []
    while v <= b:
        row.append(str(v.quantize(s) + Decimal(0)))
        v += s
    out.append(row)
print(json.dumps(out))`], { input: JSON.stringify(cases) }).toString(),
  ) as string[][];
  cases.forEach((c, i) => {
    if (!isScale(c)) return;
    expect(ticksOf(c).map(({ text }) => text.replace('−', '-').replace(/^-(0(\.0+)?)$/, '$1'))).toEqual(python[i].map((v) => v.replace(/^-(0(\.0+)?)$/, '$1')));
  });
  // No errors of binary fractions: three tenths are three tenths.
  expect(ticksOf(scale('0', '0.5', '0.1')).map((t) => t.text)).toEqual(['0.0', '0.1', '0.2', '0.3', '0.4', '0.5']);
});

test('a scale that does not go up, stands still or would have thousands of numbers is none; a comma and any minus are read', () => {
  expect([scale('0', '10', '1'), scale('5', '5', '1'), scale('0', '10', '0'), scale('0', '10', '-1'), scale('0', '1000', '1')].map(isScale)).toEqual([true, false, false, false, false]);
  expect([decimalOf('−2,5'), decimalOf(' 10 '), decimalOf('1e3'), decimalOf(''), decimalOf('1.2.3')]).toEqual(['-2.5', '10', null, null, null]);
});

test('units go to the page and back, however the axes were moved, turned and scaled', () => {
  fc.assert(
    fc.property(fc.double({ min: -3, max: 3, noNaN: true }), fc.double({ min: 0.3, max: 3, noNaN: true }), fc.double({ min: -20, max: 20, noNaN: true }), fc.double({ min: -20, max: 20, noNaN: true }), (turn, k, vx, vy) => {
      const [c, s] = [k * Math.cos(turn), k * Math.sin(turn)];
      const it = KINDS.axes.map(axes(), { a: c, b: s, c: -s, d: c, e: 12, f: -7 });
      const back = unitsAt(it, ...placeOf(it, vx, vy));
      expect(back.x).toBeCloseTo(vx, 6);
      expect(back.y).toBeCloseTo(vy, 6);
    }),
  );
  const it = axes();
  expect(placeOf(it, 0, -1)).toEqual([30, 100]);
  expect(placeOf(it, 12, 5)).toEqual([150, 40]);
});

test('a drawn curve is read off at every number, within a twentieth of a step', () => {
  const it = axes();
  // A tide as the rule of twelfths draws it is near to a cosine (common practice, no source): 2 + 2 cos(pi t / 6).
  const tide = (t: number) => 2 + 2 * Math.cos((Math.PI * t) / 6);
  const line = drawn(Array.from({ length: 240 }, (_, i) => placeOf(it, (12.2 * i) / 239 - 0.1, tide((12.2 * i) / 239 - 0.1))));
  const read = readOff(it, line);
  expect(read.map((r) => r.x)).toEqual(Array.from({ length: 13 }, (_, i) => String(i)));
  read.forEach((r, t) => expect(Math.abs(Number(r.y.replace('−', '-')) - tide(t))).toBeLessThan(0.5 / 20));
  // What ends before a number says nothing about it; a number line has nothing to read.
  expect(readOff(it, drawn([placeOf(it, 1.5, 2), placeOf(it, 3.5, 4)])).map((r) => [r.x, r.y])).toEqual([['2', '2.500'], ['3', '3.500']]);
  expect(readOff(axes({ y: null, h: 0 }), line)).toEqual([]);
});

test('numbers stand apart from each other, and zero once; all of it lies within its box; it comes back from its record', () => {
  for (const it of [axes(), axes({ x: scale('-6', '6', '1') }), axes({ x: scale('0', '100', '1'), y: scale('0', '2000', '20') }), axes({ y: null, h: 0, x: scale('-10', '10', '1') })]) {
    const blocks = KINDS.axes.blocks!(it).map(({ m, lines: [line], pitch }) => ({ text: line.pieces.map((p) => p.text).join(''), l: m[4] + line.x, r: m[4] + line.x + line.w, t: m[5], b: m[5] + pitch }));
    blocks.forEach((p, i) => blocks.slice(i + 1).forEach((q) => expect(p.r <= q.l + 0.01 || q.r <= p.l + 0.01 || p.b <= q.t + 0.01 || q.b <= p.t + 0.01).toBe(true)));
    for (const { l, r, t, b } of blocks) expect([l >= it.box[0] - 0.01, r <= it.box[2] + 0.01, t >= it.box[1] - 0.01, b <= it.box[3] + pitchSlack]).toEqual([true, true, true, true]);
    expect(blocks.filter(({ text }) => Number(text.replace('−', '-')) === 0).length).toBeLessThanOrEqual(1);
    const { kind, pts: _, box: __, ms: ___, id, page, stamp, wall, ...fields } = it;
    expect(readPlaced(kind, { id, page, stamp, wall }, JSON.parse(JSON.stringify(fields)) as Record<string, unknown>)).toEqual(it);
  }
});
/** Letters go a little below their foot line. */
const pitchSlack = 1;
