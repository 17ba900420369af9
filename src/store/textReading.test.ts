/** When words of the open note are read: newest first, what came meanwhile too, and not for ever when the reader fails. The reader is one that says which strokes it saw. */
import { writeText, type Hand } from '../../tests/helpers/hershey';
import { strokesOf } from '../../tests/helpers/ink';
import { groupWords } from '../core/ink/words/words';
import { strokesOf as onlyStrokes } from '../core/note/kinds/kinds';
import { noteOf } from '../core/note/edit';
import { newPage } from '../core/note/schema';
import type { Trace } from '../core/reading/drawing';
import { wordKey, type PageText, type ReadWord } from '../core/reading/pageText';
import { change } from './change';
import { noteSlice } from './noteSlice';
import { makeStore } from './store';
import { readText, UNREAD } from './textReading';

let mockReader: (words: readonly (readonly Trace[])[]) => Promise<ReadWord[]>;
let mockStoring: (page: string, text: PageText) => Promise<void>;
let mockStored: PageText | null = null;
jest.mock('../platform/reading', () => ({ readInWorker: (words: Trace[][]) => mockReader(words), knowInWorker: () => Promise.resolve(), forgetReader: () => undefined }));
jest.mock('../platform/idle', () => ({
  whenIdle: (work: () => void) => {
    const timer = setTimeout(work);
    return () => clearTimeout(timer);
  },
}));
jest.mock('../storage/learnedFile', () => ({ learnedWords: () => Promise.resolve([]), learnWord: () => Promise.resolve() }));
jest.mock('../storage/wordListFile', () => ({ storedWordList: () => Promise.resolve(null) }));
jest.mock('../storage/textFile', () => ({ readTextOf: () => Promise.resolve(mockStored), markRead: () => Promise.resolve(), writeTextOf: (_: string, page: string, text: PageText) => mockStoring(page, text) }));

const HAND: Hand = { font: 'futural', size: 4, slant: 0.1, jitter: 0.05, late: 0, tracking: 1, spacing: 1 };
const line = (words: string, y: number, wall: number) => strokesOf(writeText(words.split(' '), HAND, { x: 15, y, width: 180, pitch: 8, wall, seed: y }).words.flatMap((w) => w.strokes)).map((s) => ({ ...s, id: `${y}-${s.id}` }));
/** What is read of a word tells how many strokes it has. */
const seen = (words: readonly (readonly Trace[])[]): Promise<ReadWord[]> => Promise.resolve(words.map((w) => ({ readings: [{ text: `of ${w.length}`, confidence: 0.9 }], logs: '' })));

function open(...lines: ReturnType<typeof line>[]) {
  const store = makeStore();
  store.dispatch(noteSlice.actions.opening('n'));
  store.dispatch(noteSlice.actions.opened({ note: noteOf({ v: 2, id: 'n', title: 'Streams', made: 1, changed: 2, pages: [newPage('p')], takes: [], timeline: [] }, { p: lines.flat() }), following: false, mode: 'write' }));
  const end = readText(store);
  const found = () => {
    const of = store.getState().note.note!.ink.p;
    store.dispatch(noteSlice.actions.wordsFound({ note: 'n', page: 'p', words: { grouping: groupWords(onlyStrokes(of)), of } }));
  };
  found();
  const unread = () => store.getState().note.words.p.grouping.words.filter((w) => !store.getState().note.texts.p?.words[wordKey(w.strokes)]).length;
  return { store, end, found, unread };
}
/** So much time goes by, and everything that is due in it. */
const pass = (ms: number) => jest.advanceTimersByTimeAsync(ms);

beforeEach(() => {
  jest.useFakeTimers();
  [mockReader, mockStoring, mockStored] = [seen, () => Promise.resolve(), null];
});
afterEach(() => jest.useRealTimers());

test('nothing is read while the pen goes on; then the newest words are read first, twelve at a time', async () => {
  const asked: number[] = [];
  mockReader = (words) => {
    asked.push(words.length);
    return seen(words);
  };
  const { store, found, unread, end } = open(line('the ebb runs west until noon and then it turns', 30, 2e6), line('north cardinal to starboard', 60, 9e6));
  const all = unread();
  await pass(600);
  store.dispatch(change({ put: line('and so on', 90, 10e6) }));
  found();
  await pass(600);
  expect(asked).toEqual([]);
  let first: string[] = [];
  mockReader = (words) => {
    asked.push(words.length);
    first = first.length ? first : words.map((w) => w.map((t) => t[0][1]).sort((a, b) => a - b)[0]).map((y) => (y > 75 ? 'last' : y > 45 ? 'middle' : 'first'));
    return seen(words);
  };
  await pass(600);
  expect(unread()).toBe(0);
  expect(asked[0]).toBe(12);
  expect(asked.reduce((a, b) => a + b)).toBeGreaterThan(all);
  expect(first).toEqual([...first].sort((a, b) => ['last', 'middle', 'first'].indexOf(a) - ['last', 'middle', 'first'].indexOf(b)));
  expect([first[0], first.includes('middle')]).toEqual(['last', true]);
  end();
});

test('words that are found while the text is being kept are read after it', async () => {
  let kept: () => void = () => undefined;
  const texts: number[] = [];
  mockStoring = (_, text) => {
    texts.push(Object.keys(text.words).length);
    return new Promise((done) => (kept = done));
  };
  const { store, found, unread, end } = open(line('set and drift', 30, 1e6));
  await pass(1000);
  expect([unread(), texts]).toEqual([0, [3]]);
  store.dispatch(change({ put: line('by the chart', 60, 2e6) }));
  found();
  await pass(5000);
  expect(unread()).toBe(3);
  kept();
  await pass(1000);
  expect([unread(), texts]).toEqual([0, [3, 6]]);
  end();
});

test('a reader that was made to forget is asked again; one that fails twice is not, and it is said once', async () => {
  let calls = 0;
  mockReader = () => (calls++, Promise.reject(new DOMException('ended', 'AbortError')));
  const { store, unread, end, found } = open(line('set and drift', 30, 1e6));
  await pass(5000);
  expect(calls).toBeGreaterThan(3);
  expect(store.getState().messages).toEqual([]);
  [calls, mockReader] = [0, () => (calls++, Promise.reject(new Error('no model')))];
  await pass(10_000);
  expect([calls, store.getState().messages.map((m) => m.text)]).toEqual([2, [UNREAD]]);
  store.dispatch(change({ put: line('by', 60, 2e6) }));
  found();
  await pass(5000);
  expect([calls, unread()]).toEqual([2, 4]);
  end();
});

test('what was read on another day by the same reader is taken as it is; by another reader it is read anew', async () => {
  const { store, end, unread } = open(line('set and drift', 30, 1e6));
  const key = wordKey(store.getState().note.words.p.grouping.words[0].strokes);
  mockStored = { model: 'another', words: { [key]: { readings: [{ text: 'of another', confidence: 1 }], logs: '' } } };
  await pass(1000);
  const { model } = store.getState().note.texts.p;
  expect([unread(), store.getState().note.texts.p.words[key].readings[0].text]).toEqual([0, expect.stringMatching(/^of \d/)]);
  end();
  mockStored = { model, words: { [key]: { readings: [{ text: 'as it was', confidence: 1 }], logs: '' } } };
  const next = open(line('set and drift', 30, 1e6));
  await pass(1000);
  expect([next.unread(), next.store.getState().note.texts.p.words[key].readings[0].text]).toEqual([0, 'as it was']);
  next.end();
});

test('after the note was left nothing is read any more', async () => {
  const { end, unread } = open(line('set and drift', 30, 1e6));
  await pass(500);
  end();
  await pass(5000);
  expect(unread()).toBe(3);
});
