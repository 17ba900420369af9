/**
 * Word finding against text set in Hershey's single-stroke fonts, and in handwriting faces that it was not made by, whose words and lines are known
 * (tests/helpers/hershey.ts, tests/helpers/faces.ts). The English of the samples is our own.
 */
import { KEPT_APART, LAYOUTS, someHand, somePage } from '../../../../tests/helpers/faces';
import { FONTS, random, writeText, type Hand, type WrittenWord } from '../../../../tests/helpers/hershey';
import type { Grouping, PlainStroke } from './grouping';
import { groupWords } from './words';

const TEXT = `the tide rises by twelfths in six hours one then two then three then three then two then one
buoys to port are red when you come from the sea and green to starboard with a cone on top
in fog the pilot listens for the bell at the harbour mouth and counts the seconds to the cliff
a spring tide follows the full moon by a day or two and the neap comes seven days later
chart datum is the lowest astronomical tide so the depth is at least what the chart shows
write down the height at high water 4.8 m and the range 3.6 m before you work out the rest
the old pilot said that a good skipper looks over the side before he looks at the chart
open day needs a tent, two boats, a rota for the gate and somebody to talk to the press`.split(/\s+/);

interface Score {
  tp: number;
  fp: number;
  fn: number;
  touched: number;
  found: number;
}

function score(written: readonly WrittenWord[], grouping: Grouping): Score {
  const of = new Map<string, number>();
  grouping.words.forEach((w, i) => w.strokes.forEach((id) => of.set(id, i)));
  grouping.drawings.forEach((d, i) => d.strokes.forEach((id) => of.set(id, -1 - i)));
  const truth = new Map<string, number>();
  written.forEach((w, i) => w.strokes.forEach((s) => truth.set(s.id, i)));
  const members = (group: number) => (group >= 0 ? grouping.words[group].strokes : grouping.drawings[-1 - group].strokes);
  const s: Score = { tp: 0, fp: 0, fn: 0, touched: 0, found: 0 };
  written.forEach((w, i) => {
    const groups = new Set(w.strokes.map((k) => of.get(k.id)!));
    s.fp += groups.size - 1;
    const next = written[i + 1];
    if (next) {
      const merged = next.strokes.some((k) => groups.has(of.get(k.id)!));
      if (merged) s.fn++;
      else s.tp++;
    }
    for (const k of w.strokes) {
      const group = members(of.get(k.id)!);
      const mine = group.filter((id) => truth.get(id) === i).length;
      s.touched++;
      if (mine * 2 > group.length && mine * 2 > w.strokes.length) s.found++;
    }
  });
  return s;
}

const f1 = (s: Score) => (2 * s.tp) / (2 * s.tp + s.fp + s.fn);

const HANDS: Omit<Hand, 'font'>[] = [
  { size: 5, slant: 0, jitter: 0.02, late: 0, tracking: 1, spacing: 1 },
  { size: 3.2, slant: 0.2, jitter: 0.06, late: 0.5, tracking: 0.95, spacing: 1 },
  { size: 7.5, slant: 0.35, jitter: 0.08, late: 1, tracking: 1, spacing: 1.1 },
  { size: 4.5, slant: -0.15, jitter: 0.1, late: 0.7, tracking: 1.05, spacing: 1.2 },
];

test('finds the words of several fonts, sizes, slants and jitters, with dots and bars set late', () => {
  const sum: Score = { tp: 0, fp: 0, fn: 0, touched: 0, found: 0 };
  let words = 0;
  FONTS.forEach((font, f) =>
    HANDS.forEach((hand, h) => {
      const page = { x: 15, y: 25, width: 180, pitch: hand.size * 2.1, wall: 1e6, seed: 100 * f + h + 1, drift: h % 2 ? 0.01 : 0 };
      const { words: written } = writeText(TEXT.slice(0, 70), { ...hand, font }, page);
      const s = score(written, groupWords(written.flatMap((w) => w.strokes)));
      words += written.length;
      for (const k of Object.keys(sum) as (keyof Score)[]) sum[k] += s[k];
      if (f1(s) < 0.97 && process.env.SHOW) console.log(font, h, f1(s).toFixed(3), s);
    }),
  );
  console.log(`${words} words: F1 ${f1(sum).toFixed(4)}, touch finds the word ${((100 * sum.found) / sum.touched).toFixed(2)} %`);
  expect(words).toBeGreaterThanOrEqual(1000);
  expect(f1(sum)).toBeGreaterThanOrEqual(0.97);
  expect(sum.found / sum.touched).toBeGreaterThanOrEqual(0.99);
});

test('of hands it was not made by it finds the words exactly, and the lines: prose, columns, lists, sums, sizes, words put in later', () => {
  const all = { exact: 0, found: 0, written: 0, lines: 0, linesFound: 0, touched: 0, right: 0 };
  const key = (ids: readonly string[]) => [...ids].sort().join();
  KEPT_APART.forEach((face, f) =>
    LAYOUTS.forEach((layout, l) => {
      for (let n = 0; n < 3; n++) {
        const seed = 500_001 + 1000 * f + 100 * l + 10 * n;
        const words = somePage(layout, someHand(face, random(seed)), seed);
        const ids = words.map((w) => w.strokes.map((s) => s.id));
        const found = groupWords(words.flatMap((w) => w.strokes));
        const groups = [...found.words, ...found.drawings].map((g) => g.strokes);
        const truth = new Set(ids.map(key));
        all.exact += groups.filter((g) => truth.has(key(g))).length;
        all.found += groups.length;
        all.written += words.length;
        const lines = new Set(found.lines.map((line) => key(line.words.flatMap((w) => found.words[w].strokes))));
        const writtenLines = [...new Set(words.map((w) => w.line))].map((line) => key(words.flatMap((w, i) => (w.line === line ? ids[i] : []))));
        all.lines += writtenLines.length;
        all.linesFound += writtenLines.filter((line) => lines.has(line)).length;
        // A touch means the word most of whose strokes are in what is found, and most of that its own.
        const groupOf = new Map(groups.flatMap((g) => g.map((id) => [id, g] as const)));
        for (const own of ids) {
          for (const id of own) {
            const group = groupOf.get(id)!;
            const mine = group.filter((other) => own.includes(other)).length;
            all.touched++;
            if (2 * mine > group.length && 2 * mine > own.length) all.right++;
          }
        }
      }
    }),
  );
  const exact = (2 * all.exact) / (all.found + all.written);
  console.log(`${all.written} words of hands kept apart: exact words F1 ${exact.toFixed(4)}, lines ${((100 * all.linesFound) / all.lines).toFixed(1)} %, touch finds the word ${((100 * all.right) / all.touched).toFixed(2)} %`);
  expect(all.written).toBeGreaterThan(3000);
  expect(exact).toBeGreaterThanOrEqual(0.96);
  expect(all.linesFound / all.lines).toBeGreaterThanOrEqual(0.99);
  expect(all.right / all.touched).toBeGreaterThanOrEqual(0.995);
});

test('also where little is written yet', () => {
  let [exact, found, written] = [0, 0, 0];
  KEPT_APART.forEach((face, f) => {
    for (let n = 0; n < 30; n++) {
      const seed = 700_001 + 1000 * f + 10 * n;
      const words = somePage('prose', someHand(face, random(seed)), seed).slice(0, 1 + (n % 5));
      const groups = groupWords(words.flatMap((w) => w.strokes)).words.map((w) => [...w.strokes].sort().join());
      const truth = new Set(words.map((w) => w.strokes.map((s) => s.id).sort().join()));
      exact += groups.filter((g) => truth.has(g)).length;
      found += groups.length;
      written += words.length;
    }
  });
  const f1 = (2 * exact) / (found + written);
  console.log(`${written} words on pages of one to five: exact words F1 ${f1.toFixed(4)}`);
  expect(f1).toBeGreaterThanOrEqual(0.96);
});

const plain: Hand = { font: 'futural', size: 5, slant: 0.1, jitter: 0.04, late: 0.3, tracking: 1, spacing: 1 };

test('keeps two columns apart', () => {
  const left = writeText(TEXT.slice(0, 30), plain, { x: 12, y: 30, width: 80, pitch: 10, wall: 1e6, seed: 3 });
  const right = writeText(TEXT.slice(30, 60), plain, { x: 115, y: 32, width: 80, pitch: 10, wall: left.wall + 60_000, seed: 4 });
  const written = [...left.words, ...right.words];
  const grouping = groupWords(written.flatMap((w) => w.strokes));
  expect(f1(score(written, grouping))).toBeGreaterThanOrEqual(0.97);
  for (const line of grouping.lines) expect(line.box[2] < 105 || line.box[0] > 105).toBe(true);
});

test('two hands of different size on one page', () => {
  const large = writeText(TEXT.slice(0, 25), { ...plain, size: 9 }, { x: 12, y: 30, width: 180, pitch: 18, wall: 1e6, seed: 5 });
  const small = writeText(TEXT.slice(25, 80), { ...plain, size: 3 }, { x: 12, y: large.y + 16, width: 180, pitch: 7, wall: large.wall + 5000, seed: 6 });
  const written = [...large.words, ...small.words];
  expect(f1(score(written, groupWords(written.flatMap((w) => w.strokes))))).toBeGreaterThanOrEqual(0.97);
});

test('a word put in between later is a word of its own', () => {
  const line = writeText(['buoys', 'are', 'red'], { ...plain, spacing: 4 }, { x: 12, y: 30, width: 180, pitch: 10, wall: 1e6, seed: 7 });
  const [, are] = line.words;
  const end = Math.max(...are.strokes.flatMap((s) => s.points.map((p) => p.x)));
  const later = writeText(['to'], { ...plain, size: 4 }, { x: end + 3.2, y: 30, width: 180, pitch: 10, wall: line.wall + 120_000, seed: 8 });
  const written = [...line.words, ...later.words];
  const grouping = groupWords(written.flatMap((w) => w.strokes));
  expect(grouping.words.map((w) => w.strokes.length).sort()).toEqual(written.map((w) => w.strokes.length).sort());
  expect(grouping.lines).toHaveLength(1);
});

test('leaves a drawing as a drawing and its label as a word', () => {
  const stroke = (id: string, points: [number, number][], wall: number): PlainStroke => ({ id, points: points.map(([x, y], i) => ({ x, y, t: wall + 10 * i })) });
  const text = writeText(TEXT.slice(0, 24), plain, { x: 12, y: 30, width: 180, pitch: 10, wall: 1e6, seed: 9 });
  const curve: [number, number][] = Array.from({ length: 60 }, (_, i) => [30 + 2 * i, 130 + 20 * Math.sin(i / 8)]);
  const drawn = [stroke('axis', [[28, 100], [28, 160]], text.wall + 1000), stroke('base', [[28, 160], [160, 160]], text.wall + 2500), stroke('curve', curve, text.wall + 4000)];
  const label = writeText(['hours'], plain, { x: 80, y: 172, width: 90, pitch: 10, wall: text.wall + 9000, seed: 10 });
  const grouping = groupWords([...text.words, ...label.words].flatMap((w) => w.strokes).concat(drawn));
  expect(grouping.drawings).toHaveLength(1);
  expect([...grouping.drawings[0].strokes].sort()).toEqual(['axis', 'base', 'curve']);
  const hours = grouping.words.find((w) => w.strokes.includes(label.words[0].strokes[0].id));
  expect(hours?.strokes).toHaveLength(label.words[0].strokes.length);
});

test('says the same whatever order the strokes are given in', () => {
  const { words } = writeText(TEXT.slice(0, 40), plain, { x: 12, y: 30, width: 180, pitch: 10, wall: 1e6, seed: 11 });
  const strokes = words.flatMap((w) => w.strokes);
  const rnd = random(12);
  const shuffled = strokes.map((s) => ({ s, r: rnd() })).sort((a, b) => a.r - b.r).map((e) => e.s);
  expect(groupWords(shuffled)).toEqual(groupWords(strokes));
});

test('nothing in, nothing out; one dot is one word', () => {
  expect(groupWords([])).toEqual({ words: [], lines: [], drawings: [] });
  expect(groupWords([{ id: 'dot', points: [{ x: 5, y: 5, t: 1 }] }]).words).toHaveLength(1);
});
