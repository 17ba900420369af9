/** Generated lectures in which it is known which phrases were written down, and how late. */
import { seeded } from '../../../tests/helpers/speech';
import type { Span } from '../audio/speech';
import { packPoints } from '../ink/points';
import { boxOf, pointsOf, type Stroke } from '../ink/stroke';
import type { Grouping } from '../ink/words/grouping';
import { coverageOf, gapLength } from './gaps';
import { momentsOf } from './moments';

interface Lecture {
  speech: Span[];
  writing: Span[];
  unwritten: Span[];
}

/** Phrases of 3 to 9 s. What is written begins `lag` after its phrase, in strokes of a third of a second, for 50 to 110 % of its length. */
function lecture(lag: number, seed: number, phrases = 150): Lecture {
  const random = seeded(seed);
  const [speech, writing, unwritten]: Span[][] = [[], [], []];
  let t = 1000;
  let silent = 0;
  for (let i = 0; i < phrases; i++) {
    const phrase = { from: t, to: t + 3000 + 6000 * random() };
    speech.push(phrase);
    // Now and then the writer loses the thread, for one to four phrases.
    if (silent === 0 && random() < 0.15) silent = 1 + Math.floor(4 * random());
    if (silent > 0) {
      silent--;
      unwritten.push(phrase);
    } else {
      const from = phrase.from + lag + 800 * (random() - 0.5);
      const to = from + (phrase.to - phrase.from) * (0.5 + 0.6 * random());
      for (let s = from; s < to; s += 300 + 300 * random()) writing.push({ from: s, to: s + 250 });
    }
    t = phrase.to + 400 + 2500 * random();
  }
  return { speech, writing: writing.sort((a, b) => a.from - b.from), unwritten };
}

const meet = (a: Span, b: Span) => Math.max(0, Math.min(a.to, b.to) - Math.max(a.from, b.from));

test('unwritten phrases are found: recall at least 0.95, precision at least 0.9', () => {
  let [hit, wanted, right, given] = [0, 0, 0, 0];
  for (const [lag, seed] of [[1000, 1], [2500, 2], [4000, 3], [3000, 4], [500, 5], [6000, 6]]) {
    const { speech, writing, unwritten } = lecture(lag, seed);
    const { gaps } = coverageOf(speech, writing, lag);
    wanted += unwritten.length;
    hit += unwritten.filter((u) => gaps.reduce((s, g) => s + meet(g, u), 0) >= 0.5 * (u.to - u.from)).length;
    for (const g of gaps) {
      given += g.speech;
      right += unwritten.reduce((s, u) => s + meet(g, u), 0);
    }
  }
  console.log(`recall ${(hit / wanted).toFixed(3)}, precision ${(right / given).toFixed(3)} of ${wanted} phrases`);
  expect(hit / wanted).toBeGreaterThanOrEqual(0.95);
  expect(right / given).toBeGreaterThanOrEqual(0.9);
});

test('the share of speech that was written along with; settled gaps are not asked about again', () => {
  const speech = [{ from: 0, to: 6000 }, { from: 20_000, to: 26_000 }];
  const writing = [{ from: 2000, to: 8000 }];
  const { gaps, share } = coverageOf(speech, writing, 2000);
  expect(share).toBeCloseTo(0.5, 6);
  expect(gaps).toEqual([{ from: 20_000, to: 26_000, speech: 6000 }]);
  expect(coverageOf(speech, writing, 2000, 2500, [{ from: 20_000, to: 26_000 }]).gaps).toEqual([]);
  // Writing that is heard at the gap closes it: second-pass ink is stamped with the moment itself, so it seems early by the lag.
  expect(coverageOf(speech, [...writing, { from: 21_000, to: 27_500 }], 2000).gaps).toEqual([]);
  expect(coverageOf([], [], 2000)).toEqual({ gaps: [], share: 1 });
});

test('a pen that rests is one gap however the speaker pauses, what is written between parts it, and nothing under five seconds is one', () => {
  // 45 s without the pen, in which the speaker pauses for 6, 7 and 5.5 s: one gap, as long as the pen was silent while somebody spoke.
  const speech = [{ from: 0, to: 8000 }, { from: 10_000, to: 18_000 }, { from: 24_000, to: 32_000 }, { from: 39_000, to: 45_000 }, { from: 50_500, to: 55_000 }, { from: 60_000, to: 68_000 }];
  const writing = [{ from: 2000, to: 9500 }, { from: 62_000, to: 70_000 }];
  const [gap, ...more] = coverageOf(speech, writing, 2000).gaps;
  expect(more).toEqual([]);
  expect(gap).toEqual({ from: 10_000, to: 55_000, speech: 8000 + 8000 + 6000 + 4500 });
  expect(gapLength(gap)).toBe(45_000);
  // A word written in the middle makes two of it.
  const [early, late, ...none] = coverageOf(speech, [...writing, { from: 41_000, to: 46_500 }].sort((a, b) => a.from - b.from), 2000).gaps;
  expect([early.to, late?.from, none]).toEqual([32_000, undefined, []]);
  expect(coverageOf([{ from: 0, to: 4900 }], [], 2000).gaps).toEqual([]);
  expect(coverageOf([{ from: 0, to: 5000 }], [], 2000).gaps).toHaveLength(1);
});

test('moments begin and end between words, and rather between lines than within one', () => {
  const stroke = (id: string, wall: number, x: number, y = 50): Stroke => {
    const points = { n: 2, xy: Int32Array.from([x * 100, y * 100, x * 100 + 300, y * 100]), p: Uint8Array.from([60, 60]), t: Int32Array.from([0, 200]) };
    const pts = packPoints(points);
    return { kind: 'stroke', id, page: 'p', pen: { kind: 'ball', color: '#16324f', width: 0.4 }, pts, box: boxOf(pointsOf({ pts })), stamp: { take: 't', at: wall }, wall, ms: 200 };
  };
  // Two words on a line and one on the next. The hand rests for 6 s in the middle of the first word and for 3.5 s before the second line.
  const ink = [stroke('a1', 0, 10), stroke('a2', 6200, 13), stroke('b', 11_500, 30), stroke('c', 15_200, 10, 58), stroke('a-dot', 13_000, 12, 48)];
  const word = (...strokes: string[]) => ({ strokes, box: [0, 0, 1, 1] as const });
  const grouping = { words: [word('a1', 'a2', 'a-dot'), word('b'), word('c')], lines: [{ words: [0, 1], box: [0, 0, 1, 1] as const }, { words: [2], box: [0, 0, 1, 1] as const }], drawings: [] } as unknown as Grouping;
  expect(momentsOf([ink], [grouping]).map((m) => m.placed.map((s) => s.id))).toEqual([['a1', 'a2', 'a-dot', 'b', 'c']]);
  const later = [...ink.slice(0, 3), stroke('c', 17_000, 10, 58), ink[4]];
  expect(momentsOf([later], [grouping]).map((m) => m.placed.map((s) => s.id))).toEqual([['a1', 'a2', 'a-dot', 'b'], ['c']]);
  // Words that are not known yet: a rest is a rest.
  expect(momentsOf([ink])[0].placed).toHaveLength(1);
  // A long rest within a line parts it too, between its words.
  const rested = [stroke('a1', 0, 10), stroke('a2', 500, 13), stroke('b', 9000, 30)];
  expect(momentsOf([rested], [grouping]).map((m) => m.placed.map((s) => s.id))).toEqual([['a1', 'a2'], ['b']]);
});

test('moments are bursts of writing: a rest, another page or another take begins a new one', () => {
  const stroke = (id: string, wall: number, page = 'p', take = 't', y = 50): Stroke => {
    const points = { n: 2, xy: Int32Array.from([1000, y * 100, 1500, y * 100]), p: Uint8Array.from([60, 60]), t: Int32Array.from([0, 200]) };
    const pts = packPoints(points);
    return { kind: 'stroke', id, page, pen: { kind: 'ball', color: '#16324f', width: 0.4 }, pts, box: boxOf(pointsOf({ pts })), stamp: { take, at: wall }, wall, ms: 200 };
  };
  const ink = [[stroke('a', 0), stroke('b', 1000), stroke('c', 9000), stroke('e', 11_000, 'p', 'u')], [stroke('d', 9800, 'q')]];
  expect(momentsOf(ink).map((m) => m.placed.map((s) => s.id))).toEqual([['a', 'b'], ['c'], ['d'], ['e']]);
  expect(momentsOf([[stroke('a', 0), stroke('b', 500, 'p', 't', 200)]])).toHaveLength(2);
  expect(momentsOf([])).toEqual([]);
});
