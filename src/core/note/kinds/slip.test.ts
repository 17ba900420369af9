import * as fc from 'fast-check';
import { readBundle, writeBundle } from '../../formats/bundle';
import { writeSvg } from '../../formats/svg';
import { InkIndex } from '../../ink/inkIndex';
import { inLoop } from '../../ink/lasso';
import { makeRoom } from '../../ink/room';
import { groupWords } from '../../ink/words/words';
import { makeStroke, type Stroke } from '../../ink/stroke';
import { around, move } from '../../ink/transform';
import { aligned, reordered, spread, unitsOf } from '../arrange';
import { copiedPlaced } from '../copy';
import { applyEdit, noteOf } from '../edit';
import { readInk, writeInk } from '../records/inkChunk';
import { newPage } from '../schema';
import { drawingOrder, inSight, isTogether, laidOn, liftOf, mapPlaced, paintOrder, settled, slipAt, withGroups, type Placed } from './kinds';
import { makeSlip, textPlace, type Slip } from './slip';

const slip = (more: Partial<Slip> = {}): Slip => makeSlip({ id: 'slip', page: 'one', stamp: { take: 't', at: 900 }, wall: 1_700_000_000_000, m: [1, 0, 0, 1, 20, 30], w: 60, h: 40, tint: '#f6e3a8', shape: 'rounded', paper: 'ruled', lift: 1, ...more });
const ink = (id: string, x: number, y: number, more: Partial<Stroke> = {}): Stroke => ({
  ...makeStroke({ n: 4, xy: Int32Array.from([x, y, x + 4, y + 3, x + 8, y, x + 12, y + 2].map((v) => v * 100)), p: new Uint8Array(4).fill(90), t: Int32Array.from([0, 20, 40, 60]) }, { id, page: 'one', stamp: null, wall: 1_700_000_000_000 + Number(id.replace(/\D/g, '') || 0), pen: { kind: 'ball', color: '#16324f', width: 0.4 } }),
  ...more,
});

test('what is put on it goes with it: taken hold of, copied, and left by what it does not carry', () => {
  const it = slip();
  const [on, off] = [ink('s1', 30, 40), ink('s2', 100, 100)];
  const all: Placed[] = [it, ...settled([on, off], [it])];
  expect(all.map((p) => p.on)).toEqual([undefined, 'slip', undefined]);
  expect(all.map(liftOf)).toEqual([1, 1, 0]);
  expect(withGroups([it], all).map((p) => p.id)).toEqual(['slip', 's1']);
  // A copy of the ink lies on the copy of the paper, and a copy of the ink alone on none.
  let n = 0;
  const { copies } = copiedPlaced(withGroups([it], all), () => 'two', () => `new${n++}`);
  expect(copies.find((p) => p.kind === 'stroke')!.on).toBe(copies.find((p) => p.kind === 'slip')!.id);
  expect(copiedPlaced([all[1]], () => 'two', () => 'x').copies[0].on).toBeUndefined();
  // Carried off it, the ink is an ordinary part of the page again.
  const away = settled([mapPlaced(all[1], move(90, 0))], all)[0];
  expect([away.on, away.lift]).toEqual([undefined, undefined]);
});

test('folded it hides what is on it from the page and from every hand, and only its tab is touched', () => {
  const open = slip();
  const on = laidOn(ink('s1', 30, 40), open);
  const under = ink('s2', 32, 42);
  const index = new InkIndex([open, on, under]);
  // The paper hides what it covers: neither touch nor eraser goes through it.
  expect(index.at(36, 42, 3).map((p) => p.id)).not.toContain('s2');
  expect(index.along(30, 40, 40, 44, 2).map((p) => p.id)).toEqual(['s1']);
  expect(inLoop([open, on, under], [[25, 35], [60, 35], [60, 60], [25, 60]]).map((p) => p.id)).toEqual(['s1']);
  const folded = slip({ folded: true });
  const all = [folded, on, under];
  expect(inSight(all).map((p) => p.id)).toEqual(['slip', 's2']);
  expect(inSight([open, on, under])).toHaveLength(3);
  expect(slipAt(all, 22, 33)?.id).toBe('slip');
  expect(slipAt(all, 60, 60)).toBeNull();
  expect(folded.box[2] - folded.box[0]).toBeLessThan(20);
  expect(writeSvg([{ page: newPage('one'), placed: all, behind: null }], { paper: false, title: 'x', pictures: new Map() })).not.toContain('data-id="s1"');
});

test('a page is drawn slip by slip: each paper, then what is on it, above all that lies under it', () => {
  const [a, b] = [slip({ id: 'a', lift: 1 }), slip({ id: 'b', lift: 2, m: [1, 0, 0, 1, 40, 40] })];
  const light = ink('s3', 50, 50, { pen: { kind: 'highlighter', color: '#f2c94c', width: 5 } });
  const all: Placed[] = [laidOn(ink('s1', 30, 40), a), b, laidOn(light, b), laidOn(ink('s4', 50, 52), b), a, ink('s9', 25, 35), ink('s10', 25, 35, { pen: light.pen })];
  const order = drawingOrder(all).map((it) => (isTogether(it) ? it.map((s) => s.id).join('+') : it.id));
  expect(order).toEqual(['s10', 's9', 'a', 's1', 'b', 's3', 's4']);
});

test('words on it are no part of the words that lie under it', () => {
  const line = (from: number, on?: string) => Array.from({ length: 4 }, (_, i) => ink(`s${from + i}`, 30 + 14 * i, 50, on ? { on } : {}));
  const both = groupWords([...line(1), ...line(11, 'slip')]);
  expect(both.lines).toHaveLength(2 * groupWords(line(1)).lines.length);
  for (const w of both.words) expect(new Set(w.strokes.map((id) => Number(id.slice(1)) > 10)).size).toBe(1);
  both.words.forEach((w, i) => expect(both.lines[w.line].words).toContain(i));
});

test('it keeps its place and size however it is moved, turned and scaled, and text on it keeps to its lines', () => {
  fc.assert(
    fc.property(fc.double({ min: -3, max: 3, noNaN: true }), fc.double({ min: 0.3, max: 3, noNaN: true }), fc.double({ min: 2, max: 58, noNaN: true }), fc.double({ min: 2, max: 38, noNaN: true }), (angle, k, u, v) => {
      const it = slip();
      const m = around(50, 50, k, k, angle);
      const moved = mapPlaced(it, m);
      // Whoever writes at a place of the paper writes at the same place of it afterwards.
      const at = (x: number, y: number): [number, number] => [m.a * x + m.c * y + m.e, m.b * x + m.d * y + m.f];
      expect(slipAt([moved], ...at(20 + u, 30 + v))).toBe(moved);
      const [a, b] = [textPlace(it, 20 + u, 30 + v, 5), textPlace(moved, ...at(20 + u, 30 + v), 5)];
      expect(b.width).toBeCloseTo(a.width, 6);
      expect([b.m[4], b.m[5]].map((x) => x.toFixed(6))).toEqual(at(a.m[4], a.m[5]).map((x) => x.toFixed(6)));
      expect(a.width).toBeLessThan(60);
    }),
    { numRuns: 60 },
  );
});

test('it comes back from a record and a bundle with what is on it, and one of a strange look goes back as it came', async () => {
  const it = slip({ folded: true, locked: true });
  const on = laidOn(ink('s1', 30, 40), it);
  const back = readInk(writeInk([it, on]));
  expect(back).toMatchObject({ lost: 0 });
  expect(back.placed).toEqual([on, it]);
  const empty = noteOf({ v: 2, id: 'n', title: 'Tides', made: 1, changed: 1, pages: [newPage('one')], takes: [], timeline: [] });
  const { note } = applyEdit(empty, { put: [it, on] }, { device: 'd', now: 5 });
  const read = await readBundle(await writeBundle({ note, takes: new Map() }));
  expect([...read.note.ink.one].sort(paintOrder)).toEqual([...note.ink.one].sort(paintOrder));
  const odd = { ...it, shape: 'star' } as unknown as Slip;
  expect(readInk(writeInk([odd])).placed[0]).toMatchObject({ kind: 'unknown', of: 'slip', fields: { shape: 'star', folded: true } });
  // What says of itself what nothing on a page can be is kept beside, not guessed at.
  expect(readInk(writeInk([{ ...it, lift: 0.5 }])).placed[0].kind).toBe('unknown');
});

test('room that is made moves it with all that lies on it, also over the end of the page', () => {
  const it = slip();
  const [over, under] = [laidOn(ink('s1', 30, 34), it), laidOn(ink('s2', 30, 64), it)];
  const loose = ink('s3', 100, 60);
  const page = (id: string, strokes: Placed[]) => ({ id, h: 297, spacing: 8, top: 24, strokes, grouping: groupWords(strokes.filter((p): p is Stroke => p.kind === 'stroke')) });
  for (const dy of [20, 250]) {
    const { moved } = makeRoom([page('one', [it, over, under, loose])], 0, 45, dy, (k) => `new${k}`);
    const by = new Map(moved.map((p) => [p.id, p]));
    const went = (p: Placed) => [by.get(p.id)?.page, by.get(p.id) && (by.get(p.id)!.box[1] - p.box[1]).toFixed(2)];
    expect(went(over)).toEqual(went(it));
    expect(went(under)).toEqual(went(it));
    expect(by.size).toBe(4);
  }
});

describe('several at once', () => {
  const three = (): Placed[] => [ink('s1', 10, 10), ink('s2', 12, 11), ink('s3', 14, 10)];

  test('order: to the front and back, and one step over what they touch', () => {
    const after = (all: Placed[], changed: readonly Placed[]) => {
      const by = new Map(changed.map((it) => [it.id, it]));
      return all.map((it) => by.get(it.id) ?? it).sort(paintOrder).map((it) => it.id).join(' ');
    };
    const all = three();
    expect(after(all, reordered(all, [all[0]], 'front'))).toBe('s2 s3 s1');
    expect(after(all, reordered(all, [all[2]], 'back'))).toBe('s3 s1 s2');
    expect(reordered(all, [all[2]], 'forward')).toEqual([]);
    expect(reordered(all, [], 'front')).toEqual([]);
    // Step by step one comes from behind all to before all, and back again.
    let now = reordered(all, [all[2]], 'back').reduce((list, it) => list.map((o) => (o.id === it.id ? it : o)), all);
    for (const way of ['forward', 'backward'] as const) {
      for (let i = 0; i < 3; i++) {
        const by = new Map(reordered(now, now.filter((it) => it.id === 's3'), way).map((it) => [it.id, it]));
        now = now.map((it) => by.get(it.id) ?? it);
      }
      expect([...now].sort(paintOrder).findIndex((it) => it.id === 's3')).toBe(way === 'forward' ? 2 : 0);
    }
  });

  test('however things were brought forward and back, the order is one, and no other two change places', () => {
    fc.assert(
      fc.property(fc.array(fc.tuple(fc.integer({ min: 0, max: 5 }), fc.constantFrom('front' as const, 'back' as const, 'forward' as const, 'backward' as const)), { maxLength: 12 }), (steps) => {
        let all: Placed[] = Array.from({ length: 6 }, (_, i) => ink(`s${i}`, 10 + i, 10));
        for (const [which, way] of steps) {
          const id = `s${which}`;
          const rest = (list: Placed[]) => [...list].sort(paintOrder).filter((it) => it.id !== id).map((it) => it.id).join(' ');
          const by = new Map(reordered(all, all.filter((it) => it.id === id), way).map((it) => [it.id, it]));
          const next = all.map((it) => by.get(it.id) ?? it);
          expect(rest(next)).toBe(rest(all));
          all = next;
        }
      }),
      { numRuns: 200 },
    );
  });

  test('they stand flush, and evenly apart, as whole words and whole slips', () => {
    const boxes = [[0, 0, 10, 10], [30, 5, 34, 25], [14, 40, 20, 50]] as const;
    expect(aligned(boxes, 'right').map(([dx]) => dx)).toEqual([24, 0, 14]);
    expect(aligned(boxes, 'centre').map(([, dy]) => dy)).toEqual([20, 10, -20]);
    // 34 mm of room less 20 mm of things: 7 mm of air on both sides.
    expect(spread(boxes, 0).map(([dx]) => dx)).toEqual([0, 0, 3]);
    const it = slip();
    const on = laidOn(ink('s7', 30, 40), it);
    const grouping = { words: [{ strokes: ['s1', 's2'], box: [0, 0, 1, 1] as const, line: 0 }], lines: [], drawings: [] };
    expect(unitsOf([...three(), it, on], grouping).map((u) => u.map((p) => p.id).join('+'))).toEqual(['s1+s2', 's3', 'slip+s7']);
  });
});

test('points are kept as they were written, whatever paper they lie on', () => {
  const stroke = ink('s1', 30, 40);
  expect(laidOn(stroke, slip()).pts).toBe(stroke.pts);
  expect(laidOn(laidOn(stroke, slip()), null)).toEqual(stroke);
});
