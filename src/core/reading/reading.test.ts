/** Reading: what the network says becomes words; what is looked for is found. The network itself runs in programs of their own (`tests/helpers/readerInNode.ts`). */
import { createHash } from 'node:crypto';
import { readFileSync } from 'node:fs';
import path from 'node:path';
import * as fc from 'fast-check';
import { cer, mistakes, wer } from '../../../tests/helpers/textMetrics';
import { ALPHABET, CLASSES, classOf, folded } from './alphabet';
import { classesOf, greedy, logOf, type Logs } from './ctc';
import { readings } from './decoding';
import { HEIGHT, pictureOf, type Trace } from './drawing';
import { Lexicon, LISTED_WORD, readWordList, wordsOf } from './lexicon';
import { mistakesWithin } from './mistakes';
import { MODEL } from './model';
import { readingOrder, readPageText, shownWord, textLines, wordKey, writePageText, writtenByKey } from './pageText';
import { packLogs, unpackLogs } from './posteriors';
import { likelihood, queryOf, searchable, searchWords, type SearchWord } from './search';
import { textOf } from '../note/binaryText';

const root = path.resolve(__dirname, '../../..');
const { abs, exp, log } = Math;

/** Steps with these classes and their shares; the rest is shared by all others. */
function logsOf(rows: readonly Readonly<Record<string, number>>[]): Logs {
  const out = new Float32Array(rows.length * CLASSES);
  rows.forEach((row, t) => {
    const left = 1 - Object.values(row).reduce((a, b) => a + b, 0);
    out.fill(log(Math.max(left, 1e-9) / CLASSES), t * CLASSES, (t + 1) * CLASSES);
    for (const [sign, p] of Object.entries(row)) out[t * CLASSES + (sign === '' ? 0 : classOf(sign)!)] = log(p);
  });
  return { steps: rows.length, log: out };
}
const said = (text: string, sure = 0.9): Logs => logsOf([...text].flatMap((c) => [{ [c]: sure }, { '': sure }]));

test('the alphabet is that of the training, and the model is the one that is named', () => {
  const trained = JSON.parse(readFileSync(path.join(root, 'tests/data/handwriting.json'), 'utf8')) as { alphabet: string };
  expect(ALPHABET.join('')).toBe(trained.alphabet);
  expect(new Set(ALPHABET).size).toBe(ALPHABET.length);
  expect(createHash('sha256').update(readFileSync(path.join(root, 'public/reading/reader.onnx'))).digest('hex')).toBe(MODEL);
});

test('a word is drawn as the training draws it, pixel by pixel', () => {
  const { pictures } = JSON.parse(readFileSync(path.join(root, 'tests/data/handwriting.json'), 'utf8')) as { pictures: { strokes: Trace[]; w: number; px: number[] }[] };
  expect(pictures.length).toBeGreaterThan(5);
  for (const { strokes, w, px } of pictures) {
    const made = pictureOf(strokes);
    expect([made.w, made.px.length]).toEqual([w, w * HEIGHT]);
    // Written down in 255ths.
    expect(Math.max(...made.px.map((v, i) => abs(v * 255 - px[i])))).toBeLessThan(0.51);
  }
});

test('the probability of a text is the sum over all ways to say it, and the best class of each step is taken together', () => {
  // By the definition (A. Graves and others, ICML 2006, equations 3 and 4): every row of classes that comes down to the text, by trying all of them.
  const rows = [{ a: 0.5, b: 0.2, '': 0.3 }, { a: 0.1, b: 0.6, '': 0.3 }, { a: 0.4, b: 0.1, '': 0.5 }, { a: 0.2, b: 0.5, '': 0.3 }];
  const signs = ['', 'a', 'b'];
  const by = new Map<string, number>();
  for (let n = 0; n < 81; n++) {
    const way = [0, 1, 2, 3].map((t) => signs[Math.floor(n / 3 ** t) % 3]);
    const text = way.filter((c, i) => c !== way[i - 1]).join('');
    by.set(text, (by.get(text) ?? 0) + way.reduce((p, c, t) => p * (rows[t] as Record<string, number>)[c], 1));
  }
  const logs = logsOf(rows);
  for (const [text, p] of by) expect(exp(logOf(logs, classesOf(text)!))).toBeCloseTo(p, 6);
  expect(greedy(logsOf([{ t: 0.9 }, { o: 0.9 }, { o: 0.9 }, { '': 0.9 }, { o: 0.9 }]))).toBe('too');
  // What is packed says the same, to half a step of its scale for each of the fourteen steps.
  expect(abs(logOf(unpackLogs(packLogs(said('harbour'))), classesOf('harbour')!) - logOf(said('harbour'), classesOf('harbour')!))).toBeLessThan((14 * 8) / 255 / 2);
});

describe('words', () => {
  const lexicon = new Lexicon(wordsOf('#10\nthe\ntide\nto\nten\n#35\nneap\nHarbour\ncafé\ndon\'t\n#50\ntithe'));
  const first = (logs: Logs, from: Lexicon | null = lexicon) => readings(logs, from)[0]?.text;

  test('a cross by itself is a plus and two strokes are an equals sign, where a letter is not much likelier; within a word and in a line they are letters', () => {
    const alone = new Lexicon(wordsOf('#10\nthe\nto\na\n#50\nt\nz\nh'));
    const cross = { t: 0.7, '+': 0.15 };
    expect(first(logsOf([{ '': 0.9 }, cross, { '': 0.9 }]), alone)).toBe('+');
    expect(first(logsOf([{ '': 0.9 }, { z: 0.6, '=': 0.3 }, { '': 0.9 }]), alone)).toBe('=');
    expect(first(logsOf([{ '': 0.9 }, { t: 0.98, '+': 0.001 }, { '': 0.9 }]), alone)).toBe('t');
    expect(first(said('h', 0.9), alone)).toBe('h');
    expect(first(said('a', 0.6), alone)).toBe('a');
    expect(first(logsOf([cross, { '': 0.9 }, { o: 0.9 }]), alone)).toBe('to');
  });

  test('a word of the list is read where a sign is doubtful; without the list, and against good evidence, it is what it looks like', () => {
    const doubtful = logsOf([{ t: 0.9 }, { '': 0.9 }, { l: 0.5, i: 0.3 }, { '': 0.9 }, { d: 0.9 }, { e: 0.9 }]);
    expect([first(doubtful), first(doubtful, null)]).toEqual(['tide', 'tlde']);
    expect(readings(doubtful, lexicon).map((r) => r.text)).toContain('tlde');
    expect(first(said('xqzv', 0.99))).toBe('xqzv');
    expect(readings(doubtful, lexicon).reduce((sum, r) => sum + r.confidence, 0)).toBeCloseTo(1, 6);
  });

  test('capitals, accents, signs at words, numbers, joined words and genitives', () => {
    for (const text of ['Tide', 'TIDE', 'Harbour', 'café', "don't", 'tide,', '(the', '"neap"', '12.5', '10:30', '50%', 'neap-tide', "harbour's", 'the tide', '10 the']) expect([text, first(said(text))]).toEqual([text, text]);
  });

  test('the words of the list are found by their letters', () => {
    expect(['tide', 'Tide', 'cafe', 'ti', 'tides', ''].map((w) => lexicon.has(w))).toEqual([true, true, true, false, false, false]);
    fc.assert(
      fc.property(fc.array(fc.string({ minLength: 1, maxLength: 7, unit: fc.constantFrom(...'abcde') })), fc.string({ minLength: 1, maxLength: 4, unit: fc.constantFrom(...'abcde') }), (words, other) => {
        const some = new Lexicon(words.map((text) => ({ text, weight: 0 })));
        expect(words.every((w) => some.has(w))).toBe(true);
        expect(some.has(other)).toBe(words.includes(other));
      }),
    );
  });
});

test('error rates: worked examples', () => {
  // common practice, no source: the classical examples of edit distance (kitten and sitting 3; Saturday and Sunday 3), from memory.
  expect([mistakes([...'kitten'], [...'sitting']), mistakes([...'Saturday'], [...'Sunday'])]).toEqual([3, 3]);
  expect([cer('kitten', 'sitting'), wer('the tide runs out', 'the tide ran out now')]).toEqual([0.5, 0.5]);
  fc.assert(fc.property(fc.string({ maxLength: 8 }), fc.string({ maxLength: 8 }), fc.nat(3), (a, b, most) => expect(mistakesWithin(a, b, most)).toBe(mistakes(a.split(''), b.split('')) <= most)));
});

describe('the text of a page', () => {
  const line = (x: number, y: number, w = 60, words: number[] = []) => ({ box: [x, y, x + w, y + 4] as const, body: 2, words });

  test('is read from the top down, and columns one after the other', () => {
    const title = line(10, 5, 150);
    const [l1, l2, l3] = [line(10, 20), line(10, 30), line(10, 40)];
    const [r1, r2, r3] = [line(100, 19), line(100, 29), line(100, 39)];
    const end = line(10, 60, 150);
    expect(readingOrder([r1, l2, r2, l1, r3, l3], 2)).toEqual([l1, l2, l3, r1, r2, r3]);
    expect(readingOrder([r1, l2, title, r2, end, l1, r3, l3], 2)).toEqual([title, l1, l2, l3, r1, r2, r3, end]);
    expect(readingOrder([l3, l1, l2], 2)).toEqual([l1, l2, l3]);
  });

  test('paragraphs begin where more air stands above', () => {
    const lines = [line(10, 10, 60, [0]), line(10, 20, 60, [1]), line(10, 30, 60, [2]), line(10, 50, 60, [3])];
    expect(textLines({ lines, words: [], drawings: [] }).map((l) => l.begins)).toEqual([true, false, false, true]);
  });

  test('what was read is kept and read again; what the writer says comes first, for just these strokes', () => {
    const word = { strokes: ['b', 'a'], box: [0, 0, 1, 1] as const, line: 0 };
    const key = wordKey(['a', 'b']);
    const text = { model: 'm', words: { [key]: { readings: [{ text: 'tide', confidence: 0.75 }, { text: 'fide', confidence: 0.25 }], logs: textOf(packLogs(said('tide'))) } } };
    expect(readPageText(writePageText(text))).toEqual(text);
    expect(() => readPageText('{"v":1,"model":3}')).toThrow(/record/);
    expect(shownWord(word, text, new Map())).toMatchObject({ text: 'tide', corrected: false, others: ['fide'] });
    expect(shownWord(word, text, writtenByKey([{ strokes: ['a', 'b'], text: 'Tideway' }]))).toMatchObject({ text: 'Tideway', corrected: true, others: ['tide', 'fide'] });
    expect(shownWord({ ...word, strokes: ['a', 'c'] }, text, new Map())).toBeNull();
  });

  test('names of words differ as their strokes do', () => {
    const ids = Array.from({ length: 3000 }, (_, i) => [`s${i}`, `s${i + 1}`]);
    expect(new Set(ids.map(wordKey)).size).toBe(3000);
  });
});

describe('search', () => {
  const word = (text: string, more: Partial<SearchWord> = {}): SearchWord => searchable({ text: folded(text), others: [], sure: [1], ...more });
  const words = ['the', 'spring', 'tide', 'follows', 'the', 'full', 'moon'].map((w) => word(w));
  const found = (query: string, list = words) => searchWords(list, queryOf(query)).map((h) => h.words);

  test('words, phrases, what is left out; case and accents do not matter, the end of a word may be missing, small mistakes are forgiven', () => {
    expect(found('tide')).toEqual([[2]]);
    expect(found('TIDE moon')).toEqual([[2], [6]]);
    expect(found('"spring tide"')).toEqual([[1, 2]]);
    expect(found('"tide spring"')).toEqual([]);
    expect(found('tide -moon')).toEqual([]);
    expect(found('tide -neap')).toEqual([[2]]);
    expect(found('spr')).toEqual([[1]]);
    expect(found('folows')).toEqual([[3]]);
    expect(found('cafe', [word('Café')])).toEqual([[0]]);
    expect([found(''), found('-tide'), found('"')]).toEqual([[], [], []]);
  });

  test('a word that was read wrongly is found by what the network held possible, behind those that say it', () => {
    const doubtful = logsOf([{ t: 0.9 }, { '': 0.9 }, { l: 0.6, i: 0.3 }, { '': 0.9 }, { d: 0.9 }, { e: 0.9 }]);
    const read = word('tlde', { logs: textOf(packLogs(doubtful)), sure: [0.9] });
    expect(found('tide', [word('moon', { logs: textOf(packLogs(said('moon'))) }), read, word('tide')])).toEqual([[2], [1]]);
    const as = (text: string) => likelihood(textOf(packLogs(doubtful)), classesOf(text)!);
    expect(as('tlde')).toBeGreaterThan(as('tide'));
    expect(as('tide')).toBeGreaterThan(-3);
    expect(as('moon')).toBe(-Infinity);
  });
});

test('a word list is a file of lines, in UTF-8 or as Windows wrote; what is none is said', () => {
  const bytes = (text: string) => new TextEncoder().encode(text);
  expect(readWordList(bytes('\ufeffspring\r\nmarée\r\n\r\ntwo words\n'))).toEqual([{ text: 'spring', weight: LISTED_WORD }, { text: 'marée', weight: LISTED_WORD }]);
  // windows-1252: é is 0xe9.
  expect(readWordList(Uint8Array.from([...bytes('mar'), 0xe9, 0x65, 10])).map((w) => w.text)).toEqual(['marée']);
  expect(() => readWordList(Uint8Array.from([80, 75, 3, 4, 0, 0]))).toThrow('no plain text');
  expect(() => readWordList(bytes('only lines of more words\n'))).toThrow('single word');
  expect(() => readWordList(new Uint8Array(8_000_001).fill(97))).toThrow('8 MB');
});
