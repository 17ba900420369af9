import { PointBuffer } from '../core/ink/points';
import { makeStroke } from '../core/ink/stroke';
import { newPage } from '../core/note/schema';
import { noteSlice } from './noteSlice';

const { opening, opened, changed, undone, redone, followed, wordsFound, closed } = noteSlice.actions;
const reduce = noteSlice.reducer;
const stroke = (n: number) => {
  const buffer = new PointBuffer();
  buffer.add(n, n, 0.5, 0);
  return makeStroke(buffer.points(), { id: `s${n}`, page: 'p', pen: { kind: 'ball', color: '#16324f', width: 0.4 }, stamp: null, wall: n });
};
const note = { header: { v: 1 as const, id: 'n', title: 'a', made: 0, changed: 0, pages: [newPage('p')], takes: [], timeline: [] }, ink: {} };
const start = () => reduce(reduce(undefined, opening('n')), opened({ note, following: false, mode: 'write' }));

test('undo and redo walk the history; what comes with recording is not part of it', () => {
  let s = start();
  for (let n = 1; n <= 3; n++) s = reduce(s, changed({ edit: { put: [stroke(n)] }, history: true, now: n }));
  s = reduce(s, changed({ edit: { header: { title: 'b' } }, history: false, now: 4 }));
  expect(s.undo).toHaveLength(3);
  s = reduce(reduce(s, undone({ now: 5 })), undone({ now: 6 }));
  expect(s.note!.ink.p.map((x) => x.id)).toEqual(['s1']);
  expect(s.note!.header.title).toBe('b');
  s = reduce(s, redone({ now: 7 }));
  expect(s.note!.ink.p.map((x) => x.id)).toEqual(['s1', 's2']);
  // A new stroke ends what could be done again.
  s = reduce(s, changed({ edit: { put: [stroke(9)] }, history: true, now: 8 }));
  expect(s.redo).toHaveLength(0);
  expect(s.note!.header.changed).toBe(8);
  // With nothing to take back, nothing happens.
  for (let i = 0; i < 9; i++) s = reduce(s, undone({ now: 9 }));
  expect(s.note!.ink.p).toHaveLength(0);
});

test('what another tab wrote comes in without a history, and words only for the note that is open', () => {
  let s = reduce(start(), followed({ put: [stroke(1)] }));
  expect(s.note!.ink.p).toHaveLength(1);
  expect(s.undo).toHaveLength(0);
  const words = { grouping: { words: [], lines: [], drawings: [] }, of: s.note!.ink.p };
  s = reduce(s, wordsFound({ note: 'other', page: 'p', words }));
  expect(s.words).toEqual({});
  s = reduce(s, wordsFound({ note: 'n', page: 'p', words }));
  expect(s.words.p).toBe(words);
  expect(reduce(s, closed()).note).toBeNull();
});
