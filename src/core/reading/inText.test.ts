/** What is in a text: numbers, addresses and dates against the published examples of the packages that find them, things to do, and the calendar file against RFC 5545. */
import { webcrypto } from 'node:crypto';
import ICAL from 'ical.js';
import { strokesOf, strokeThrough } from '../../../tests/helpers/ink';
import { writeCalendar } from '../formats/calendar';
import { groupWords } from '../ink/words/words';
import type { Stroke } from '../ink/stroke';
import { writeText, type Hand } from '../../../tests/helpers/hershey';
import { gapQuestion, markQuestion, wordsAfter, wordsBefore, wordsInTime } from './inTime';
import { findInText, type Asked, type InText } from './inText';
import { writtenByKey } from './pageText';
import { runsOf, type TextRun } from './runs';
import { describe as told, saidBy, saidHere, saidOn, titleOf, type SaidWord } from './said';

Object.defineProperty(globalThis, 'crypto', { value: webcrypto, configurable: true });

const run = (text: string, begins: TextRun['begins'] = null): TextRun => ({ page: 'p', id: 'r', text, box: [0, 0, 100, 8], stamp: null, begins, boxOf: (from, to) => [from, 0, to, 8] });
/** Friday, 27 November 2026. */
const DAY = new Date(2026, 10, 27, 10).getTime();
const find = (text: string, asked: Partial<Asked> = {}): InText[] => findInText([run(text)], { day: DAY, region: 'GB', ...asked });
const dates = (text: string, day = DAY, region = 'GB') => find(text, { day, region }).flatMap((f) => (f.is === 'date' ? [[f.text, f.from.year, f.from.month, f.from.day, f.from.minute, f.to?.day ?? null]] : []));

describe('numbers and addresses', () => {
  test('telephone numbers: the example of libphonenumber-js (README, “Find phone numbers in text”)', () => {
    const text = 'For tech support call +7 (800) 555-35-35 internationally or reach a local US branch at (213) 373-4253 ext. 1234.';
    expect(find(text, { region: 'US' }).map((f) => (f.is === 'phone' ? f.number : f.is))).toEqual(['+78005553535', '+12133734253']);
  });
  test('web addresses: the example of linkify-it (README, “Usage examples”)', () => {
    expect(find('Site github.com!')).toMatchObject([{ is: 'web', text: 'github.com', url: 'http://github.com' }]);
  });
  test('an address without its scheme is one of the web, and leads to no other page of this address', () => {
    expect(find('see //example.org/tides')).toMatchObject([{ is: 'web', url: 'https://example.org/tides' }]);
  });
  test('as handwriting is read: with spaces at points, at signs and colons; the place is that of the words', () => {
    const [mail] = find('write aldous . fenwick@ example . org soon');
    expect(mail).toMatchObject({ is: 'mail', url: 'mailto:aldous.fenwick@example.org' });
    // In the letters of the line itself.
    expect(mail.box).toEqual([6, 0, 37, 8]);
    expect(find('www. example.org /tides').map((f) => f.text)).toEqual(['www.example.org/tides']);
    expect(find('a walk. then home @ 5')).toEqual([]);
    // Numbers kept free for plays (Ofcom, “Telephone numbers for use in TV and radio drama programmes”).
    expect(find('office 020 7946 0123').map((f) => (f.is === 'phone' ? f.number : f.is))).toEqual(['+442079460123']);
  });
  test('a day of the week by its short name, where it names one', () => {
    for (const text of ['open day: Sun', 'Sat: two boats', 'on Wed all meet', 'Sun 14:00 jetty']) expect([text, find(text).map((f) => f.is)]).toEqual([text, ['date']]);
  });
  test('heights, shares and channels are no numbers to call, and no dates', () => {
    for (const text of ['range 3.6 m, 1/12 = 0.3 m', '2 1 3 3 2 1', 'draught 2.1 + 0.5 under keel', 'VHF 156.800', 'channel 16', 'the sun pulls too', 'moon pulls, Sun helps', 'march on', 'in 3 hours', 'two seconds later', '50 47.9 N 001 06.5 W']) expect([text, find(text)]).toEqual([text, []]);
  });
});

describe('dates', () => {
  test('count from the day of the note: the examples of chrono-node (README, “Reference Date”, “forwardDate”)', () => {
    expect(dates('Friday', new Date(2012, 8 - 1, 23).getTime())).toEqual([['Friday', 2012, 8, 24, null, null]]);
    expect(dates('Friday', new Date(2012, 8 - 1, 1).getTime())).toEqual([['Friday', 2012, 8, 3, null, null]]);
    expect(dates('Friday', new Date(2012, 7, 25).getTime())).toEqual([['Friday', 2012, 8, 31, null, null]]);
    // “Locales”: the day stands before the month.
    expect(dates('6/10/2018')).toEqual([['6/10/2018', 2018, 10, 6, null, null]]);
    // And after it in the United States (the same place: “6/10/2018” of `chrono.en`).
    expect(dates('6/10/2018', DAY, 'US')).toEqual([['6/10/2018', 2018, 6, 10, null, null]]);
  });
  test('with times, and a time alone on the day itself', () => {
    // By the calendar: 1 December 2026 is a Tuesday.
    expect(dates('bar next Tuesday 14:00 - 16:00')).toEqual([['next Tuesday 14:00 - 16:00', 2026, 12, 1, 840, 1]]);
    expect(dates('HW 06:00 4.8 m')).toEqual([['06:00', 2026, 11, 27, 360, null]]);
    expect(dates('09 :00 at the mole')).toEqual([['09:00', 2026, 11, 27, 540, null]]);
    expect(dates('tomorrow at 3pm')).toEqual([['tomorrow at 3pm', 2026, 11, 28, 900, null]]);
  });
  test('go into a calendar file that other programs read (RFC 5545; read by ical.js)', () => {
    const title = 'Bar; crossing, with a title so long that it has to be folded: springs, neaps – and “set”';
    const text = writeCalendar([
      { uid: 'note-a@scrivo', title, description: 'Tides', from: { year: 2026, month: 12, day: 1, minute: 840 }, to: { year: 2026, month: 12, day: 1, minute: 960 } },
      { uid: 'note-b@scrivo', title: 'Open day', from: { year: 2026, month: 12, day: 31, minute: null }, to: null },
    ]);
    // 3.1: lines end with CRLF and are of 75 octets at most.
    expect(text.endsWith('\r\n')).toBe(true);
    const lines = text.split('\r\n');
    expect(lines.every((l) => !l.includes('\n') && Buffer.byteLength(l) <= 75)).toBe(true);
    const events = new ICAL.Component(ICAL.parse(text) as ConstructorParameters<typeof ICAL.Component>[0]).getAllSubcomponents('vevent').map((v) => new ICAL.Event(v));
    expect(events.map((e) => [e.uid, e.summary, e.startDate.toString(), e.endDate.toString()])).toEqual([
      ['note-a@scrivo', title, '2026-12-01T14:00:00', '2026-12-01T16:00:00'],
      // 3.6.1: the end is the day after.
      ['note-b@scrivo', 'Open day', '2026-12-31', '2027-01-01'],
    ]);
    // As on a clock where it is read (3.3.5, form 1).
    expect(events[0].startDate.zone.tzid).toBe('floating');
  });
});

const HAND: Hand = { font: 'futural', size: 4, slant: 0.1, jitter: 0.05, late: 0, tracking: 1, spacing: 1 };

describe('lines as text', () => {
  const line = (text: string, y: number, seed: number) => writeText(text.split(' '), HAND, { x: 30, y, width: 170, pitch: 12, wall: 1000 * seed, seed }).words;
  const lines = [line('call the pilot boat', 30, 1), line('- buy the tide tables', 42, 2), line('moon and sun in line', 54, 3)];
  const ink = strokesOf(lines.flatMap((words) => words.flatMap((w) => w.strokes)));
  const side = (x: number, y: number, w: number) => [0, 1, 2, 3, 4].map((i) => [x + (i === 1 || i === 2 ? w : 0), y + (i === 2 || i === 3 ? w : 0)] as const);
  /** Along a line, a point every tenth of a side. */
  const along = (corners: readonly (readonly [number, number])[]) => corners.slice(1).flatMap(([x, y], i) => Array.from({ length: 10 }, (_, k) => [corners[i][0] + ((x - corners[i][0]) * k) / 10, corners[i][1] + ((y - corners[i][1]) * k) / 10] as const));
  /** As if every word of it had been read. */
  const said = (strokes: readonly Stroke[]) => {
    const own = writtenByKey(lines.flatMap((words) => words.map((w) => ({ strokes: w.strokes.map((s) => s.id), text: w.text }))));
    return saidOn(groupWords(strokes), undefined, own);
  };
  test('a dash before words begins something to do, and a drawn box too; a drawn box elsewhere does not', () => {
    const top = Math.min(...ink.slice(0, 5).map((s) => s.box[1]));
    const box = strokeThrough([...along(side(22, top, 4)), [22, top]]);
    const far = strokeThrough([...along(side(150, top, 4)), [150, top]]);
    const runs = (strokes: readonly Stroke[]) => runsOf('p', strokes, said(ink)).map((r) => [r.text, r.begins]);
    expect(runs(ink)).toEqual([['call the pilot boat', null], ['buy the tide tables', 'dash'], ['moon and sun in line', null]]);
    expect(runs([...ink, box])[0]).toEqual(['call the pilot boat', 'box']);
    expect(runs([...ink, far])[0]).toEqual(['call the pilot boat', null]);
    const found = findInText(runsOf('p', [...ink, box], said(ink)), { day: DAY, region: 'GB' });
    expect(found.map((f) => [f.is, f.text])).toEqual([['do', 'call the pilot boat'], ['do', 'buy the tide tables']]);
  });
  test('letters lead to the words they stand in', () => {
    const [run] = runsOf('p', ink, said(ink));
    const [, the] = said(ink);
    expect(run.boxOf(5, 8)).toEqual(the.box);
  });
});

const word = (text: string, line: number, strokes: string[] = [text], begins = line === 0): SaidWord => ({ strokes, text, box: [0, 10 * line, 20, 10 * line + 6], line, begins });

describe('what handwriting says', () => {
  const said = [word('Tides', 0, ['a', 'b']), word('moon', 1), word('pulls', 1), word('springs', 2)];
  test('of strokes: words with most of theirs among them', () => {
    expect(saidBy(said, new Set(['a', 'b', 'pulls']))).toBe('Tides pulls');
    expect(saidBy(said, new Set(['a']))).toBe('');
    expect(saidHere(said, [{ id: 'moon' }]).map((w) => w.text)).toEqual(['moon']);
  });
  test('a title is the first heading, else the first line of two words', () => {
    expect(titleOf(['', 'Set and drift'], [said])).toBe('Set and drift');
    expect(titleOf([], [said])).toBe('moon pulls');
    expect(titleOf([], [[word('Tides', 0)]])).toBeNull();
    expect(titleOf([`${'long '.repeat(30)}`], [])!.length).toBeLessThanOrEqual(60);
    expect(told(Array.from({ length: 200 }, (_, i) => word(`word${i}`, i))).length).toBeLessThan(420);
  });
});

describe('words in time', () => {
  const timeline = [{ take: 't', from: 0, to: 600_000 }];
  const at = (shown: string, ms: number, line: number) => ({ shown, stamp: { take: 't', at: ms }, line });
  const words = wordsInTime([[at('leading', 10_000, 0), at('lights', 11_000, 0), at('in', 12_000, 0), at('line', 13_000, 0), at('always', 14_000, 0), at('set', 60_000, 1), at('drift', 61_000, 1)], [at('later', 400_000, 0)]], timeline);
  test('a gap is asked about by the words on both its sides', () => {
    expect(gapQuestion(words, { from: 15_000, to: 55_000 })).toBe('What was said between “lights in line always” and “set drift”?');
    expect(gapQuestion(words, { from: 0, to: 9_000 })).toBe('What was said before “leading lights in line”?');
    expect(gapQuestion(words, { from: 401_000, to: 420_000 })).toBe('What was said after “later”?');
    // Nothing is near.
    expect(gapQuestion(words, { from: 200_000, to: 220_000 })).toBeNull();
    expect(gapQuestion([], { from: 0, to: 9_000 })).toBeNull();
  });
  test('a mark by the words it was set at, or those that follow it', () => {
    expect(markQuestion(words, 'missed', 61_500)).toBe('What was missed at “set drift”?');
    expect(markQuestion(words, 'ask', 395_000)).toBe('What is to be asked about “later”?');
    expect(wordsBefore(words, 9_000)).toBe('');
    expect(wordsAfter(words, 590_000)).toBe('');
  });
});
