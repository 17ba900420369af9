/** Folders, finding, suggesting. */
import * as fc from 'fast-check';
import { newPage, summaryOf, type NoteSummary } from '../note/schema';
import { NewerError } from '../record';
import { BIN_DAYS, canMoveInto, daysLeft, dueOn, foldersIn, folderRecord, isBackupOld, isDue, pathTo, placeRecord, unfiled, within, type DueDays, type Folder } from './folder';
import { placesToPut } from './merge';
import { NO_FILTER, passes, search, searchTexts, sorted } from './find';
import { suggestFolder } from './suggest';

const folder = (id: string, parent: string | null, name = id): Folder => ({ v: 1, id, name, parent, color: 'navy', emblem: 'wave', made: 1, changed: 1 });
const map = (...list: Folder[]) => new Map(list.map((f) => [f.id, f]));
const header = (id: string, title: string, made = 1, changed = made): NoteSummary => summaryOf({ v: 2, id, title, made, changed, pages: [newPage(`${id}-p`)], takes: [], timeline: [] });
const DAY = 86_400_000;

test('folders lie in folders to any depth; one can go anywhere but into itself', () => {
  const folders = map(folder('school', null), folder('term', 'school'), folder('tides', 'term'), folder('other', null));
  expect(pathTo(folders, 'tides').map((f) => f.id)).toEqual(['school', 'term', 'tides']);
  expect([...within(folders, 'school')].sort()).toEqual(['school', 'term', 'tides']);
  expect(canMoveInto(folders, 'school', 'tides')).toBe(false);
  expect(canMoveInto(folders, 'term', 'term')).toBe(false);
  expect(canMoveInto(folders, 'term', 'other')).toBe(true);
  expect(canMoveInto(folders, 'term', null)).toBe(true);
});

test('however folders point to each other, each is listed exactly once', () => {
  fc.assert(
    fc.property(fc.array(fc.option(fc.integer({ min: 0, max: 11 }), { nil: null }), { minLength: 1, maxLength: 10 }), (parents) => {
      const folders = map(...parents.map((p, i) => folder(String(i), p === null ? null : String(p))));
      const seen: string[] = [];
      const walk = (at: string | null) => foldersIn(folders, at).forEach((f) => (seen.push(f.id), walk(f.id)));
      walk(null);
      expect(seen.sort()).toEqual([...folders.keys()].sort());
    }),
  );
});

test('the bin keeps a note for 30 days', () => {
  const place = { ...unfiled('n'), binned: 1000 };
  expect(BIN_DAYS).toBe(30);
  expect(isDue(place, 1000 + 30 * DAY - 1)).toBe(false);
  expect(isDue(place, 1000 + 30 * DAY)).toBe(true);
  expect(daysLeft(place, 1000 + 29.5 * DAY)).toBe(1);
  expect(isDue(unfiled('n'), 1e15)).toBe(false);
  // What was never filed is older than anything that was.
  expect(unfiled('n').changed).toBe(0);
});

test('a clock that jumps empties no bin: a note goes on the third day that finds it due, and counts afresh when it was not', () => {
  let seen: DueDays = {};
  const day = (name: string, due: string[]) => {
    const counted = dueOn(name, due, seen);
    seen = counted.seen;
    return counted.gone;
  };
  expect(day('2026-12-27', ['a', 'b'])).toEqual([]);
  // The same day again, and a day on which the clock was right.
  expect([day('2026-12-27', ['a', 'b']), day('2026-11-27', []), seen]).toEqual([[], [], {}]);
  // A clock that jumps by months, time and again.
  expect(['2027-02-27', '2027-05-01', '2028-06-01', '2028-08-01'].map((d) => day(d, ['a']))).toEqual([[], [], [], []]);
  // Thirty days apart is within a month, and one more is not.
  seen = {};
  expect(['2027-03-01', '2027-03-15', '2027-03-31'].map((d) => day(d, ['a']))).toEqual([[], [], ['a']]);
  seen = {};
  expect(['2027-03-01', '2027-03-15', '2027-04-01'].map((d) => day(d, ['a']))).toEqual([[], [], []]);
  seen = {};
  expect(['2027-01-01', '2027-01-02', '2027-01-03'].map((d) => day(d, d === '2027-01-02' ? ['a', 'b'] : ['a']))).toEqual([[], [], ['a']]);
});

test('what an archive says of the bin and of times outranks nothing unasked', () => {
  const here = { n: { ...unfiled('n'), changed: 5 } };
  const long = { ...unfiled('n'), binned: 1000, changed: 9 };
  expect(placesToPut(here, [long], new Set(['n']), 7777)).toEqual([{ ...long, binned: 7777 }]);
  // One that lay in the bin here since then keeps its time.
  expect(placesToPut({ n: { ...here.n, binned: 1000 } }, [long], new Set(['n']), 7777)).toEqual([long]);
});

test('records that are no folder and no place are refused', () => {
  expect(folderRecord.read(JSON.stringify(folder('a', null)))).toEqual(folder('a', null));
  expect(placeRecord.read(JSON.stringify(unfiled('n')))).toEqual(unfiled('n'));
  for (const bad of ['', '{', 'null', '{"v":1}', JSON.stringify({ ...folder('a', null), color: 'pink' })]) expect(() => folderRecord.read(bad)).toThrow(/folder/);
  expect(() => placeRecord.read(JSON.stringify({ ...unfiled('n'), tags: [''] }))).toThrow(/lies/);
  // What a newer program added stays, and what it wrote as a newer version is not taken for damaged.
  expect(folderRecord.read(JSON.stringify({ ...folder('a', null), shared: ['b'] }))).toMatchObject({ shared: ['b'] });
  expect(() => folderRecord.read(JSON.stringify({ ...folder('a', null), v: 2 }))).toThrow(NewerError);
  expect(folderRecord.peek(JSON.stringify({ ...folder('a', null), v: 2 }))).toMatchObject({ newer: true, value: { name: 'a' } });
});

test('search finds every word in title, folder names and tags, whatever their case and accents', () => {
  const folders = map(folder('f', null, 'Navigation'), folder('g', 'f', 'Tides'));
  const texts = searchTexts([header('a', 'Café am Hafen'), header('b', 'Springs and neaps'), header('c', 'Lights')], folders, { b: { ...unfiled('b'), folder: 'g', tags: ['exam'] } });
  const found = (q: string) => [...(search(texts, q) ?? ['all'])];
  expect(found('CAFE')).toEqual(['a']);
  expect(found('tides exam')).toEqual(['b']);
  expect(found('navigation')).toEqual(['b']);
  expect(found('exam lights')).toEqual([]);
  expect(found('  ')).toEqual(['all']);
  // Narrowed: a folder holds what lies in those within it, a tag is one of the note's, days count back from now.
  const at = { ...unfiled('b'), folder: 'g', tags: ['exam'] };
  const noted = { id: 'b', made: 1000 * 86_400_000, timeline: [] };
  const ask = (filter: Partial<typeof NO_FILTER>, now = 1003 * 86_400_000) => passes(noted, { ...NO_FILTER, ...filter }, folders, { b: at }, now);
  expect([ask({}), ask({ folder: 'g' }), ask({ folder: 'no' }), ask({ tag: 'exam' }), ask({ tag: 'other' }), ask({ days: 7 }), ask({ days: 2 }), ask({ sound: 'with' }), ask({ sound: 'without' })]).toEqual([true, true, false, true, false, true, false, false, true]);
});

test('notes are in order by name with numbers by size, by when they were made, by when they were changed', () => {
  const list = [header('a', 'Lesson 10', 1, 9), header('b', 'lesson 9', 2, 5), header('c', 'Ärger', 3, 7)];
  expect(sorted(list, 'name').map((h) => h.id)).toEqual(['c', 'b', 'a']);
  expect(sorted(list, 'made').map((h) => h.id)).toEqual(['c', 'b', 'a']);
  expect(sorted(list, 'changed').map((h) => h.id)).toEqual(['a', 'c', 'b']);
});

describe('the folder of a new note', () => {
  const utc = () => 0;
  const monday9 = Date.UTC(2026, 10, 2, 9, 0);
  const week = 7 * DAY;
  test('is that of the same weekday and hour', () => {
    const notes = [{ made: monday9, folder: 'tides' }, { made: monday9 + week, folder: 'tides' }, { made: monday9 + week + DAY, folder: 'lights' }];
    expect(suggestFolder(notes, monday9 + 2 * week + 5 * 60_000, utc)).toBe('tides');
    expect(suggestFolder(notes, monday9 + week + DAY + week, utc)).toBe('lights');
  });
  test('holds over the change of the clocks and over the end of the week', () => {
    // 9:00 local is 8:00 UTC in winter (offset -60) and 7:00 UTC in summer (offset -120).
    const summer = Date.UTC(2026, 9, 19, 7, 0);
    const winter = Date.UTC(2026, 9, 26, 8, 0);
    expect(suggestFolder([{ made: summer, folder: 'tides' }], winter, (w) => (w < Date.UTC(2026, 9, 25, 1) ? -120 : -60))).toBe('tides');
    const lateSunday = Date.UTC(2026, 10, 1, 23, 50);
    expect(suggestFolder([{ made: lateSunday, folder: 'watch' }], lateSunday + week + 20 * 60_000, utc)).toBe('watch');
  });
  test('of a lesson up to 50 minutes away, of the last 16 weeks; the later one where two tie', () => {
    const at = (ms: number, folder: string) => [{ made: monday9 - ms, folder }];
    const MIN = 60_000;
    for (const near of [50, -50]) expect([suggestFolder(at(week + near * MIN, 'tides'), monday9, utc), suggestFolder(at(week + near * 1.02 * MIN, 'tides'), monday9, utc)]).toEqual(['tides', null]);
    // What is to come does not count.
    expect([suggestFolder(at(-1, 'tides'), monday9, utc), suggestFolder(at(0, 'tides'), monday9, utc)]).toEqual([null, 'tides']);
    expect([suggestFolder(at(16 * week, 'tides'), monday9, utc), suggestFolder(at(16 * week + 1, 'tides'), monday9, utc), suggestFolder(at(17 * week, 'tides'), monday9, utc)]).toEqual(['tides', null, null]);
    expect(suggestFolder([...at(week, 'tides'), ...at(2 * week, 'lights')], monday9, utc)).toBe('tides');
    expect(suggestFolder([...at(2 * week, 'lights'), ...at(week, 'tides')], monday9, utc)).toBe('tides');
    expect(suggestFolder([...at(week, 'tides'), ...at(2 * week, 'lights'), ...at(3 * week, 'lights')], monday9, utc)).toBe('lights');
    // Else the last of three hours, whichever order they come in.
    const hours = [...at(3 * 3_600_000, 'watch'), ...at(2 * 3_600_000, 'lights'), ...at(2.5 * 3_600_000, 'tides')];
    expect([suggestFolder(hours, monday9, utc), suggestFolder(hours.slice(0, 1), monday9, utc), suggestFolder(at(3 * 3_600_000 + 1, 'watch'), monday9, utc)]).toEqual(['lights', 'watch', null]);
  });
  test('is the one used last when that was a moment ago, and none at all otherwise', () => {
    const notes = [{ made: monday9, folder: 'tides' }];
    expect(suggestFolder(notes, monday9 + 2 * 3_600_000, utc)).toBe('tides');
    expect(suggestFolder(notes, monday9 + 2 * DAY, utc)).toBeNull();
    expect(suggestFolder([{ made: monday9, folder: null }], monday9 + week, utc)).toBeNull();
  });
});

test('a backup is old after 14 days, and one that a clock ahead of time dated is none', () => {
  const now = 100 * DAY;
  const old = (last: number | null, first = now - 30 * DAY) => isBackupOld(last, 3, first, now);
  expect([old(now - 13 * DAY), old(now - 15 * DAY), old(null), old(null, now - 2 * DAY)]).toEqual([false, true, true, false]);
  expect([old(now + 300 * DAY), old(now + 300 * DAY, now - 2 * DAY), isBackupOld(null, 0, Infinity, now)]).toEqual([true, false, false]);
});
