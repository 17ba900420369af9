/** Ink that becomes text: place, size, colour and the moment of every word. */
import { PointBuffer } from '../ink/points';
import { makeStroke, type Stroke } from '../ink/stroke';
import { groupWords } from '../ink/words/words';
import { newPage } from '../note/schema';
import { momentOf, linesOf } from '../note/kinds/typed';
import { writeHand } from '../../../tests/helpers/faces';
import { letterX } from '../text/layout';
import { linesToConvert, typedOf } from './converting';
import { foundIn, foundWords, listed } from './noteWords';
import { textOf } from '../note/binaryText';
import { packLogs } from './posteriors';
import { CLASSES } from './alphabet';
import { wordKey, writtenByKey, type PageText } from './pageText';

const TAKE = 'take';
const hand = { face: 'patrick-hand' as const, height: 2.4, space: 1, varied: 0.1, tracking: 1, drift: 0.02, slope: 0, late: 0.3, joined: 0.5, within: 90, between: 300 };
const written = writeHand(['ebb', 'and', 'flood', null, 'six', 'hours'], hand, { x: 20, y: 40, width: 160, pitch: 10, wall: 10_000, seed: 3 });

/** What was written as strokes of a note: the take began at 8 s of the clock. */
const strokes: Stroke[] = written.words.flatMap((w) =>
  w.strokes.map((s) => {
    const points = new PointBuffer();
    const [first] = s.points;
    for (const p of s.points) points.add(p.x, p.y, 0.5, p.t - first.t);
    return makeStroke(points.points(), { id: s.id, page: 'p', stamp: { take: TAKE, at: first.t - 8000 }, wall: first.t, pen: { kind: 'ball', color: w.line ? '#b5382a' : '#16324f', width: 0.5 } });
  }),
);
const grouping = groupWords(strokes);
const page = newPage('p');
let n = 0;
const lines = linesToConvert(grouping, strokes).map((line) => typedOf(line, written.words.filter((w) => line.strokes.some((s) => w.strokes.some((x) => x.id === s.id))).map((w) => w.text), page, 'sans', () => `n${n++}`));

test('every line is one of text, with the colour of its ink, where it stood and as high', () => {
  expect(lines.map((l) => l.text)).toEqual(['ebb and flood', 'six hours']);
  expect(lines.map((l) => l.looks.map(([, look]) => look.color))).toEqual([['#16324f'], ['#b5382a']]);
  lines.forEach((l, i) => {
    expect(Math.abs(l.m[4] - 20)).toBeLessThan(1);
    // The foot line is that of the writing, to half a millimetre and the drift of the hand.
    expect(Math.abs(l.m[5] + l.pitch - (40 + 10 * i))).toBeLessThan(0.8);
  });
  // common practice, no source: small letters of the face are about half its size high.
  const size = lines[0].looks[0][1].size;
  expect(Math.abs((size * 25.4) / 72 / 2 - 2.4)).toBeLessThan(0.6);
  expect(new Set(lines.map((l) => l.looks[0][1].size)).size).toBe(1);
});

test('each word plays the moment at which its pen came down, and letters follow each other', () => {
  for (const line of lines) {
    for (const m of line.text.matchAll(/\S+/g)) {
      const word = written.words.find((w) => w.text === m[0])!;
      expect(momentOf(line, m.index)).toEqual({ stamp: { take: TAKE, at: word.strokes[0].points[0].t - 8000 }, wall: word.strokes[0].points[0].t });
      const times = Array.from(m[0], (_, i) => momentOf(line, m.index + i).wall);
      expect([...times].sort((a, b) => a - b)).toEqual(times);
    }
    expect(line.times.reduce((k, b) => k + b.t.length, 0)).toBe(line.text.length);
  }
});

test('the moment of a word is that of its first stroke by the clock, in whatever order its strokes lie on the page', () => {
  const turned = linesToConvert(grouping, strokes).map((line) => {
    const texts = written.words.filter((w) => line.strokes.some((s) => w.strokes.some((x) => x.id === s.id))).map((w) => w.text);
    return typedOf({ ...line, strokes: [...line.strokes].reverse(), words: line.words.map((w) => ({ ...w, strokes: [...w.strokes].reverse() })) }, texts, page, 'sans', () => 'turned');
  });
  expect(turned.map((l) => [l.stamp, l.wall])).toEqual(lines.map((l) => [l.stamp, l.wall]));
  expect(turned.map((l) => l.times)).toEqual(lines.map((l) => l.times));
});

test('a word is converted only as a whole', () => {
  const [first] = written.words;
  const some = linesToConvert(grouping, strokes.filter((s) => s.id !== first.strokes[0].id));
  expect(some.flatMap((l) => l.words.map((w) => w.word.strokes)).flat()).not.toContain(first.strokes[first.strokes.length - 1].id);
  expect(linesToConvert(grouping, [])).toEqual([]);
});

test('what can be looked for is kept with the text of a page and comes back: written, put right and typed words', () => {
  const logs = textOf(packLogs({ steps: 2, log: new Float32Array(2 * CLASSES).fill(-3) }));
  const text: PageText = { model: 'm', words: Object.fromEntries(grouping.words.map((w, i) => [wordKey(w.strokes), { readings: [{ text: `word${i},`, confidence: 0.9 }, { text: 'other', confidence: 0.1 }], logs }])) };
  const own = writtenByKey([{ strokes: grouping.words[1].strokes, text: 'Lymm' }]);
  const words = foundWords([...strokes, { ...lines[1], page: 'p' }], grouping, text, own);
  expect(words.map((w) => w.shown)).toEqual(['word0,', 'Lymm', 'word2,', 'word3,', 'word4,', 'six', 'hours']);
  expect(words[0]).toMatchObject({ text: 'word0', others: ['other'], stamp: { take: TAKE, at: 2000 } });
  expect([words[1].logs, words[5].logs]).toEqual([undefined, undefined]);
  // A typed word has the place of its letters.
  expect(words[6].box[0]).toBeCloseTo(lines[1].m[4] + letterX(linesOf(lines[1])[0], 4), 6);
  const back = foundIn({ ...text, list: listed(words) });
  expect(back.map((w) => [w.text, w.shown, w.stamp, w.line])).toEqual(words.map((w) => [w.text, w.shown, w.stamp, w.line]));
  expect(back[0].logs).toBe(logs);
});
