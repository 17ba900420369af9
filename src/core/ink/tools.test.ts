/** Lasso, moving, making room, tidying, scratching out, areas, ruler and writing strip. */
import * as fc from 'fast-check';
import { drawnShape } from '../../../tests/helpers/drawnShapes';
import { FONTS, random, writeText, type Hand } from '../../../tests/helpers/hershey';
import { pointsThrough, strokesOf, strokeThrough, timesOf } from '../../../tests/helpers/ink';
import { inLoop } from './lasso';
import { insidePolygon, polygonArea } from './polygon';
import { mapPlaced, withGroups } from '../note/kinds/kinds';
import { Steadier, respond } from './pen';
import { areaBetween, loopAround, polygonOf } from './region';
import { blocksOf, makeRoom, type RoomPage } from './room';
import { alongEdge, edgeAt, offRuler, onRuler, PX_PER_MM, settledAngle, type Ruler } from './ruler';
import { scratched } from './scratch';
import { advance, frameOn, lineOf, nextLine, type Frame, type StripSetting } from './strip';
import { boxAround, pointsOf, type Stroke } from './stroke';
import { tidy } from './tidy';
import { apply, around, keptIn, move } from './transform';
import { groupWords } from './words/words';
import type { Vec } from './shapes/shape';

const HAND: Hand = { font: 'futural', size: 4, slant: 0.1, jitter: 0.05, late: 0.3, tracking: 1, spacing: 1 };
const TEXT = 'the tide rises by twelfths in six hours one then two then three then three then two then one'.split(' ');
const page = (strokes: readonly Stroke[], id = 'p'): RoomPage => ({ id, h: 297, spacing: 8, top: 24, strokes, grouping: groupWords(strokes) });
const written = (lines: number, y = 24, id = 'p', seed = 3) => strokesOf(writeText(TEXT.slice(0, lines * 5), HAND, { x: 15, y, width: 75, pitch: 8, wall: 1e6, seed }).words.flatMap((w) => w.strokes), id);

describe('lasso', () => {
  test('takes what lies inside for the larger part, and with it the group', () => {
    const [inside, half, out] = [strokeThrough([[10, 10], [20, 10]]), strokeThrough([[25, 10], [60, 10]], { group: 'g' }), strokeThrough([[80, 10], [90, 10]], { group: 'g' })];
    const loop: Vec[] = [[5, 5], [30, 5], [30, 20], [5, 20]];
    expect(inLoop([inside, half, out], loop)).toEqual([inside]);
    expect(withGroups([out], [inside, half, out])).toEqual([half, out]);
  });

  test('the shoelace formula on polygons of known area', () => {
    expect(polygonArea([[0, 0], [4, 0], [4, 3]])).toBe(6);
    expect(polygonArea([[0, 0], [0, 5], [7, 5], [7, 0]])).toBe(35);
    // A regular hexagon of side 2 has 6 sqrt 3 (Euclid, by six triangles).
    expect(polygonArea(Array.from({ length: 6 }, (_, i): Vec => [2 * Math.cos((i * Math.PI) / 3), 2 * Math.sin((i * Math.PI) / 3)]))).toBeCloseTo(6 * Math.sqrt(3), 9);
  });
});

describe('moving', () => {
  test('any move, scale or turn keeps stamps, times and pressures, and the turn back restores the place', () => {
    const stroke = strokeThrough([[20, 20], [30, 25], [44, 31]]);
    fc.assert(
      fc.property(fc.double({ min: 0.3, max: 3, noNaN: true }), fc.double({ min: -3, max: 3, noNaN: true }), (scale, angle) => {
        const there = mapPlaced(stroke, around(30, 30, scale, scale, angle));
        expect(timesOf(there)).toEqual(timesOf(stroke));
        const back = mapPlaced(there, around(30, 30, 1 / scale, 1 / scale, -angle));
        pointsOf(back).xy.forEach((v, i) => expect(Math.abs(v - pointsOf(stroke).xy[i])).toBeLessThanOrEqual(Math.ceil(1 / scale) + 1));
      }),
    );
    expect(apply(around(0, 0, 1, 1, Math.PI / 2), 1, 0).map((v) => Math.round(v))).toEqual([0, 1]);
    expect(keptIn([10, 10, 20, 20], -50, 500, [0, 0, 210, 297])).toEqual([-10, 277]);
  });
});

describe('making room', () => {
  test('everything below the line goes down by what was asked, everything above stays', () => {
    const strokes = written(3);
    const lines = blocksOf(page(strokes));
    expect(lines.length).toBeGreaterThanOrEqual(3);
    const at = (lines[0].box[3] + lines[1].box[1]) / 2;
    const { moved, added } = makeRoom([page(strokes)], 0, at, 16, (k) => `new${k}`);
    expect(added).toBe(0);
    expect(new Set(moved.map((s) => s.id))).toEqual(new Set(lines.slice(1).flatMap((l) => l.strokes.map((s) => s.id))));
    for (const s of moved) {
      const was = strokes.find((o) => o.id === s.id)!;
      expect(s.box[1] - was.box[1]).toBeCloseTo(16, 2);
      expect(timesOf(s as Stroke)).toEqual(timesOf(was));
    }
    // And back up by the same.
    const now = strokes.map((s) => (moved.find((m) => m.id === s.id) as Stroke | undefined) ?? s);
    const back = makeRoom([page(now)], 0, at, -16, () => 'x').moved;
    for (const s of back) expect(s.box).toEqual(strokes.find((o) => o.id === s.id)!.box);
  });

  test('over the end of a page whole lines go on to the next, and what stands there gives way', () => {
    const [first, second] = [[...written(1), ...written(2, 272, 'p', 4).map((s) => ({ ...s, id: `b${s.id}` }))], written(2, 24, 'q', 5).map((s) => ({ ...s, id: `q${s.id}` }))];
    const { moved, added } = makeRoom([page(first), page(second, 'q')], 0, 100, 16, (k) => `new${k}`);
    expect(added).toBe(0);
    const all = [...first, ...second].map((s) => (moved.find((m) => m.id === s.id) as Stroke | undefined) ?? s);
    for (const s of all) expect(s.box[3]).toBeLessThan(297 - 5);
    expect(all.filter((s) => s.id.startsWith('b')).some((s) => s.page === 'q')).toBe(true);
    // No line of the next page is written over.
    const there = blocksOf(page(all.filter((s) => s.page === 'q'), 'q'));
    for (let i = 1; i < there.length; i++) expect(there[i].box[1]).toBeGreaterThan(there[i - 1].box[3] - 1.5);
    for (const s of moved) expect(timesOf(s as Stroke)).toEqual(timesOf([...first, ...second].find((o) => o.id === s.id)!));
  });

  test('a page is added when the last one is full, and pulling up brings lines back from the next page', () => {
    const last = written(2, 272);
    const pushed = makeRoom([page(last)], 0, 100, 40, (k) => `new${k}`);
    expect(pushed.added).toBe(1);
    expect(new Set(pushed.moved.map((s) => s.page))).toEqual(new Set(['new0']));
    const [first, second] = [written(1), written(2, 24, 'q', 5).map((s) => ({ ...s, id: `q${s.id}` }))];
    const pulled = makeRoom([page(first), page(second, 'q')], 0, 60, -100, () => 'x');
    expect(pulled.moved.filter((s) => s.page === 'p')).toHaveLength(second.length);
  });
});

describe('tidying', () => {
  test('crooked lines come to stand on the ruling, letters keep their shape', () => {
    const lines = [0, 1, 2].flatMap((k) => writeText(TEXT.slice(5 * k, 5 * k + 5), HAND, { x: 15, y: 26.5 + k * 9.3, width: 150, pitch: 9, wall: 1e6 + 1e5 * k, seed: 40 + k, drift: 0.04 }).words.flatMap((w) => w.strokes));
    const strokes = strokesOf(lines);
    const out = tidy(strokes, { top: 24, spacing: 8 });
    expect(out).toHaveLength(strokes.length);
    const grouping = groupWords(out);
    expect(grouping.lines).toHaveLength(3);
    const feet = grouping.lines.map((l) => {
      const ids = new Set(l.words.flatMap((w) => grouping.words[w].strokes));
      const bottoms = out.filter((s) => ids.has(s.id) && s.box[3] - s.box[1] > 1.5).map((s) => s.box[3]).sort((a, b) => a - b);
      return bottoms[Math.floor(bottoms.length / 2)];
    });
    feet.forEach((f) => expect(Math.abs((f - 24) / 8 - Math.round((f - 24) / 8)) * 8).toBeLessThan(0.7));
    expect(new Set(feet.map((f) => Math.round((f - 24) / 8))).size).toBe(3);
    for (const s of out) {
      const was = strokes.find((o) => o.id === s.id)!;
      expect(timesOf(s as Stroke)).toEqual(timesOf(was));
      const size = (o: Stroke) => Math.hypot(o.box[2] - o.box[0], o.box[3] - o.box[1]);
      expect(Math.abs(size(s) - size(was))).toBeLessThan(0.15 * size(was) + 0.3);
    }
  });
});

describe('scratching out', () => {
  const scribble = (x0: number, x1: number, y0: number, y1: number, turns: number): Vec[] => {
    const at: Vec[] = [];
    for (let i = 0; i <= turns; i++) for (let k = 0; k < 8; k++) at.push([i % 2 ? x1 - ((x1 - x0) * k) / 8 : x0 + ((x1 - x0) * k) / 8, y0 + ((y1 - y0) * (i + k / 8)) / (turns + 1)]);
    return at;
  };
  const line = writeText(['tide', 'height'], HAND, { x: 20, y: 40, width: 100, pitch: 8, wall: 1e6, seed: 8 }).words;
  const strokes = strokesOf(line.flatMap((w) => w.strokes));
  const words = groupWords(strokes).words.map((w) => w.strokes);

  test('a dense to-and-fro over a word takes that word and no other', () => {
    const [l, t, r, b] = boxAround(strokes.filter((s) => line[0].strokes.some((w) => w.id === s.id)))!;
    const gone = scratched(pointsThrough(scribble(l - 1, r + 1, t, b, 10)), strokes, words);
    expect(new Set(gone.map((s) => s.id))).toEqual(new Set(line[0].strokes.map((s) => s.id)));
    expect(scratched(pointsThrough(scribble(l - 1, r + 1, t, b, 3)), strokes, words)).toEqual([]);
    expect(scratched(pointsThrough(scribble(l - 1, (l + r) / 2, t, b, 10)), strokes, words)).toEqual([]);
  });

  test('reaches seven tenths of a millimetre beyond its turns, on every side, and no further', () => {
    // A drawing of two upright lines, and a scratch between them: by how much it may fall short of both.
    for (const [short, takes] of [[0.55, true], [0.9, false]] as const) {
      const pair = [40, 60].map((x) => strokeThrough(Array.from({ length: 40 }, (_, i) => [x, 30 + i / 20] as const)));
      const gone = scratched(pointsThrough(scribble(40 + short, 60 - short, 29.5, 32.5, 12)), pair, [pair.map((s) => s.id)]);
      expect([short, gone.length]).toEqual([short, takes ? 2 : 0]);
      const flat = [40, 60].map((y) => strokeThrough(Array.from({ length: 40 }, (_, i) => [30 + i / 20, y] as const)));
      const down = scribble(40 + short, 60 - short, 29.5, 32.5, 12).map(([x, y]) => [y, x] as const);
      expect([short, scratched(pointsThrough(down), flat, [flat.map((s) => s.id)]).length]).toEqual([short, takes ? 2 : 0]);
    }
  });

  test('never fires on handwriting: over 1,000 words in seven fonts, each stroke held against all before it, and written over again', () => {
    let count = 0;
    const letters = 'mm mw www zz minimum zoom wimm mum wzm aaa eee uuu'.split(' ');
    for (const font of FONTS) {
      for (const seed of [1, 2, 3]) {
        const set = [...TEXT, ...letters, ...TEXT.slice(0, 17), ...letters];
        const { words: made } = writeText(set, { ...HAND, font, jitter: 0.08 }, { x: 15, y: 25, width: 180, pitch: 8, wall: 1e6, seed });
        const all = strokesOf(made.flatMap((w) => w.strokes));
        const groups = groupWords(all).words.map((w) => w.strokes);
        count += made.length;
        all.forEach((s, i) => {
          const before = [...all.slice(Math.max(0, i - 60), i), ...all.slice(i + 1, i + 60)];
          expect(scratched(pointsOf(s), before, groups)).toEqual([]);
          // The same letter written once more on top, as people do to make it darker.
          if (i % 9 === 0) expect(scratched(pointsOf(mapPlaced(s, move(0.1, 0.1))), all.slice(0, i + 60), groups)).toEqual([]);
        });
      }
    }
    expect(count).toBeGreaterThanOrEqual(1000);
  });

  test('hatching beside and inside drawings, and sums that are crossed out, are left alone', () => {
    const box = strokeThrough([[20, 60], [60, 60], [60, 90], [20, 90], [20, 60]]);
    const hatch = strokeThrough(scribble(22, 58, 62, 88, 14));
    expect(scratched(pointsOf(hatch), [box], groupWords([box]).words.map((w) => w.strokes))).toEqual([]);
    const across = pointsThrough(scribble(22, 58, 62, 88, 14).map(([x, y]): Vec => [40 + (y - 75) * 1.2, 75 + (x - 40) * 0.6]));
    expect(scratched(across, [box, hatch], groupWords([box, hatch]).words.map((w) => w.strokes))).toEqual([]);
    const sum = strokesOf(writeText(['4.8', '3.6', '1.2'], HAND, { x: 20, y: 120, width: 100, pitch: 8, wall: 1e6, seed: 9 }).words.flatMap((w) => w.strokes));
    const [l, t, r, b] = boxAround(sum)!;
    const groups = groupWords(sum).words.map((w) => w.strokes);
    for (const cross of [[[l, (t + b) / 2], [r, (t + b) / 2]], [[l, t], [r, b]], [[l, b], [r, t], [l, t], [r, b]], scribble(l, r, t, b, 2), scribble(l, r, t, b, 4)] as Vec[][]) expect(scratched(pointsThrough(cross), sum, groups)).toEqual([]);
  });
});

describe('areas', () => {
  test('a drawn loop is found by a touch inside it, the smallest first, and filled with its own area', () => {
    const [outer, inner] = [strokeThrough([[10, 10], [60, 10], [60, 60], [10, 60], [10, 10.5]]), strokeThrough([[20, 20], [30, 20], [30, 30], [20, 30], [20, 20.5]])];
    expect(loopAround([outer, inner], 25, 25)?.id).toBe(inner.id);
    expect(loopAround([outer, inner], 50, 50)?.id).toBe(outer.id);
    expect(loopAround([outer, inner], 5, 5)).toBeNull();
    expect(loopAround([strokeThrough([[10, 10], [60, 10], [60, 60]])], 50, 20)).toBeNull();
    expect(polygonArea(polygonOf(inner))).toBeCloseTo(100, 0);
  });

  test('an area between several lines has the area of the shoelace formula, and one that is open is none', () => {
    const sides: Vec[][] = [[[10, 10], [70, 10]], [[70, 9], [40, 61]], [[41, 61], [9, 9]]];
    const strokes = sides.map((s) => strokeThrough(s));
    const area = areaBetween(strokes, 40, 25, [0, 0, 210, 297])!;
    const truth = polygonArea([[10, 10], [70, 10], [40.5, 61]]);
    expect(Math.abs(polygonArea(area) - truth) / truth).toBeLessThan(0.06);
    expect(insidePolygon(area, 40, 25)).toBe(true);
    expect(areaBetween(strokes.slice(0, 2), 40, 25, [0, 0, 210, 297])).toBeNull();
  });
});

describe('ruler', () => {
  // CSS Values and Units: 1 in = 96 px = 25.4 mm.
  test('a millimetre at true size has 96 / 25.4 px', () => expect(25.4 * PX_PER_MM).toBeCloseTo(96, 9));

  test('the pen is led along the edge it was set down at, half a line off it', () => {
    const ruler: Ruler = { x: 100, y: 100, angle: 30 };
    const [x, y] = offRuler(ruler, 20, 11);
    expect(edgeAt(ruler, x, y)).toBe(1);
    expect(edgeAt(ruler, ...offRuler(ruler, 20, -11))).toBe(-1);
    expect(edgeAt(ruler, ...offRuler(ruler, 20, 40))).toBeNull();
    const led = onRuler(ruler, ...alongEdge(ruler, 1, x + 3, y - 1, 0.4));
    expect(led.across).toBeCloseTo(9.2, 9);
    expect([settledAngle(44), settledAngle(38.4), settledAngle(-1), settledAngle(181.4)]).toEqual([45, 38, 0, 0]);
  });
});

describe('writing strip', () => {
  const setting: StripSetting = { lines: 1.2, left: 15, right: 12, rightToLeft: false, rest: 800 };
  const sheet = { w: 210, h: 297, spacing: 8, top: 24 };

  /** Writes word after word into the strip until `pages` are full; returns where each landed. */
  function write(s: StripSetting, pages: number): Frame[] {
    let frame = frameOn(sheet, 0, 0, s, 4);
    let reach = s.rightToLeft ? frame.x + frame.w : frame.x;
    const seen: Frame[] = [frame];
    const rnd = random(6);
    for (let k = 0; k < 5000 && frame.page < pages; k++) {
      reach += (s.rightToLeft ? -1 : 1) * (2 + 5 * rnd());
      expect(s.rightToLeft ? reach > frame.x : reach < frame.x + frame.w).toBe(true);
      const next = advance(frame, sheet, s, reach);
      if (!next) continue;
      if (next.y !== frame.y || next.page !== frame.page) reach = s.rightToLeft ? next.x + next.w : next.x;
      frame = next;
      seen.push(frame);
    }
    return seen;
  }

  test.each([false, true])('a whole page is written line by line without a touch on anything else (right to left: %s)', (rightToLeft) => {
    const s = { ...setting, rightToLeft };
    const frames = write(s, 1);
    expect(frames.at(-1)!.page).toBe(1);
    expect(new Set(frames.filter((f) => f.page === 0).map((f) => lineOf(f, sheet))).size).toBe(34);
    for (const f of frames) {
      expect(f.x).toBeGreaterThanOrEqual(15 - 0.01);
      expect(f.x + f.w).toBeLessThanOrEqual(210 - 12 + 0.01);
    }
    // Within a line the frame only ever goes on.
    frames.forEach((f, i) => {
      const before = frames[i - 1];
      if (before && before.y === f.y) expect(rightToLeft ? f.x < before.x : f.x > before.x).toBe(true);
    });
  });

  test('after the last ruled line comes the first of the next page', () => {
    const frame = frameOn(sheet, 2, 33, setting, 4);
    expect(nextLine(frame, sheet, setting)).toMatchObject({ page: 3, x: 15 });
    expect(lineOf(nextLine(frame, sheet, setting), sheet)).toBe(0);
  });
});

describe('the hand', () => {
  test('a steady pen takes tremor out and an unsteady one changes nothing', () => {
    const [loose, firm] = [new Steadier(0), new Steadier(0.8)];
    let [a, b] = [0, 0];
    for (let i = 0; i < 200; i++) {
      const y = 0.3 * (i % 2 ? 1 : -1);
      a = Math.max(a, Math.abs(loose.next(i * 0.2, y, 8 * i).y));
      const led = firm.next(i * 0.2, y, 8 * i).y;
      if (i > 20) b = Math.max(b, Math.abs(led));
    }
    expect(a).toBe(0.3);
    expect(b).toBeLessThan(0.06);
  });

  test('the response bends pressure and keeps its ends', () => {
    expect([respond(0, 1), respond(1, -1), respond(0.5, 0)]).toEqual([0, 1, 0.5]);
    expect(respond(0.5, -1)).toBeGreaterThan(0.6);
    expect(respond(0.5, 1)).toBeLessThan(0.3);
  });
});

describe('words after the tools', () => {
  test('are found as before on a page that was pushed, tidied, moved, rubbed and shaped', () => {
    const { words: made } = writeText([...TEXT, ...TEXT], HAND, { x: 15, y: 24, width: 150, pitch: 8, wall: 1e6, seed: 77 });
    const strokes = strokesOf(made.flatMap((w) => w.strokes));
    const f1 = (list: readonly Stroke[]) => {
      const of = new Map<string, number>();
      groupWords(list).words.forEach((w, i) => w.strokes.forEach((id) => of.set(id, i)));
      let [tp, wrong] = [0, 0];
      made.forEach((w, i) => {
        const mine = new Set(w.strokes.flatMap((s) => of.get(s.id) ?? []));
        wrong += Math.max(0, mine.size - 1);
        const next = made[i + 1];
        if (!next) return;
        if (next.strokes.some((s) => mine.has(of.get(s.id) ?? -1))) wrong++;
        else tp++;
      });
      return (2 * tp) / (2 * tp + wrong);
    };
    const before = f1(strokes);
    expect(before).toBeGreaterThan(0.97);
    const room = makeRoom([page(strokes)], 0, 45, 24, () => 'x').moved;
    const pushed = strokes.map((s) => room.find((m) => m.id === s.id) ?? s);
    const shape = { name: 'circle' as const, at: [[100, 200], [120, 200], [100, 220]] as Vec[] };
    const marked = [...strokes, strokeThrough(polygonOf(strokeThrough([[14, 22], [120, 22]])), { pen: { kind: 'highlighter', color: '#f5d76e', width: 5 } }), strokeThrough([[100, 180], [120, 200], [100, 220], [80, 200], [100, 180]], { shape })];
    for (const list of [pushed, tidy(strokes, { top: 24, spacing: 8 }), strokes.map((s) => mapPlaced(s, around(100, 100, 1.3, 1.3, 0.03))), marked]) expect(f1(list as Stroke[])).toBeGreaterThanOrEqual(before - 0.011);
    // One loop of a letter rubbed away splits a stroke and leaves its word a word.
    expect(drawnShape('circle', 1).n).toBeGreaterThan(10);
  });
});
