/** Stamps against what is known of a take when its sound has come, and takes that ended with the program. */
import { PointBuffer } from '../ink/points';
import { makeStroke } from '../ink/stroke';
import { TakeClock } from '../time/clock';
import { applyEdit, noteOf } from './edit';
import type { Placed } from './kinds/kinds';
import { newPage, type NoteHeader } from './schema';
import { finishedTakes, restamped } from './takes';

/** Wall clock at which the page began to count its events, ms. */
const TIME_ORIGIN = 1_700_000_000_000;
const stroke = (id: string, event: number, at: number | null, take = 't') => {
  const b = new PointBuffer();
  b.add(1, 3, 0.5, 0);
  b.add(5, 4, 0.5, 9);
  return makeStroke(b.points(), { id, page: 'p', pen: { kind: 'ball', color: '#16324f', width: 0.4 }, stamp: at === null ? null : { take, at }, wall: TIME_ORIGIN + event });
};
const header = (take: Partial<NoteHeader['takes'][number]> = {}): NoteHeader => ({
  v: 2, id: 'n', title: 'Tides', made: 0, changed: 0, pages: [newPage('p')], timeline: [],
  takes: [{ id: 't', name: 'Take 1', wall: TIME_ORIGIN + 988, ms: 0, state: 'recording', parts: [{ at: 0, wall: TIME_ORIGIN + 988 }], ...take }],
});
const noteWith = (...ink: Placed[]) => noteOf(header(), { p: ink });
const stampsAfter = (note: ReturnType<typeof noteWith>, edit: Parameters<typeof applyEdit>[1]) => Object.fromEntries(applyEdit(note, edit).note.ink.p.map((s) => [s.id, s.stamp?.at ?? null]));

test('what was stamped while sound was late is put right when it has come; what is right is not touched', () => {
  const clock = new TakeClock(12);
  clock.begin(1000);
  for (let end = 1020; end < 60_000; end += 1020) clock.came(988 + end + 63.5, end, 60);
  clock.stopping(61_000);
  clock.end(60_000);
  const momentOf = (wall: number) => clock.momentOf(wall - TIME_ORIGIN);
  const note = noteWith(stroke('early', 30_988, 1000), stroke('right', 31_988, 31_001.4), stroke('other', 31_988, 5, 'another'), stroke('unstamped', 32_000, null), { ...stroke('second', 40_000, 7), second: true });
  const edit = restamped(note, 't', momentOf);
  expect(edit.put?.map((s) => s.id)).toEqual(['early']);
  expect(stampsAfter(note, edit)).toEqual({ early: 30_000, right: 31_001.4, other: 5, unstamped: null, second: 7 });
});

test('ink beyond the end of the sound has no stamp: the microphone had died; what came with the last packet keeps its own', () => {
  const clock = new TakeClock(12);
  clock.begin(1000);
  clock.stopping(30_000);
  clock.end(15_000);
  const note = noteWith(stroke('within', 10_988, 10_000), stroke('tail', 16_200, 15_212), stroke('beyond', 29_000, 28_012));
  expect(stampsAfter(note, restamped(note, 't', (wall) => clock.momentOf(wall - TIME_ORIGIN)))).toEqual({ within: 10_000, tail: 15_212, beyond: null });
});

test('the moments of typed letters and of cells are put right with those of their line', () => {
  const typed = { ...stroke('typed', 10_988, 9000), kind: 'typed', times: [{ stamp: { take: 't', at: 9000 }, wall: TIME_ORIGIN + 10_988, t: [0, 120] }, { stamp: null, wall: 5, t: [0] }] } as unknown as Placed;
  const note = noteWith(typed);
  const [mended] = restamped(note, 't', (wall) => wall - TIME_ORIGIN - 988).put as unknown as { stamp: object; times: { stamp: object; t: number[] }[] }[];
  expect([mended.stamp, mended.times]).toEqual([{ take: 't', at: 10_000 }, [{ stamp: { take: 't', at: 10_000 }, wall: TIME_ORIGIN + 10_988, t: [0, 120] }, { stamp: null, wall: 5, t: [0] }]]);
});

test('of a take that ended with the program it is worked out how much sound is lost, and stamps are held against the clock of its strokes', async () => {
  const note = noteWith(stroke('a', 3988, 3000), stroke('b', 20_988, 1000));
  const edit = (await finishedTakes(note, () => Promise.resolve({ ms: 4000, until: TIME_ORIGIN + 988 + 11_400 })))!;
  const after = applyEdit(note, edit).note;
  expect(after.header.takes[0]).toMatchObject({ ms: 4000, state: 'done', lost: 16_000 });
  expect(after.ink.p.map((s) => s.stamp?.at)).toEqual([3000, 20_000]);
  // By the beat alone, without ink; and where all is there.
  const of = async (ms: number, until: number | null) => applyEdit(noteWith(), (await finishedTakes(noteWith(), () => Promise.resolve({ ms, until })))!).note.header.takes[0].lost;
  expect([await of(4000, TIME_ORIGIN + 988 + 11_400), await of(4000, TIME_ORIGIN + 4500), await of(4000, null)]).toEqual([7400, undefined, undefined]);
});
