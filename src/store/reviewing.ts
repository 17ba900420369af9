/** What is done while listening back: marks, gaps that are settled, tags of moments, the lock against change. */
import { areaOf, extentOf, sizeFor } from '../core/note/board';
import { writingLines } from '../core/note/paper';
import type { Span } from '../core/audio/speech';
import { newId } from '../core/id';
import { drop, put, type Edit, type RowPut } from '../core/note/edit';
import type { Placed } from '../core/note/kinds/kinds';
import { orderAt } from '../core/note/order';
import { MARK_KINDS, type Mark, type MarkKind } from '../core/note/schema';
import { MARK_WORDS } from '../core/review/markWords';
import { entriesOf, inTheirOrder, tagId } from '../core/note/tables';
import { clockText } from '../core/time/format';
import { spansOfTakes } from '../core/time/onTimeline';
import { fromTimeline, toTimeline, type Stamp, type Timeline } from '../core/time/timeline';
import type { Box } from '../core/ink/stroke';
import { selectReplay, selectReview, USUAL_LAG_MS } from './listening';
import { canChange, change } from './change';
import { say } from './messages';
import { setMode } from './mode';
import { heardAtEvent, pausePlaying, play, position, seek } from './playing';
import { stampAt } from './recording';
import { playbackSlice, settingsSlice, toolsSlice } from './slices';
import type { Thunk } from './thunk';
import { settledNew } from './slips';
import { makeRoomAt } from './tools';
import { playAt, playPlaced } from './touching';

export const MARKS: readonly { readonly kind: MarkKind; readonly name: string }[] = MARK_KINDS.map((kind) => ({ kind, name: MARK_WORDS[kind] }));
export const markName = (kind: MarkKind): string => MARK_WORDS[kind];

/** Who listens and presses a key is late by a reaction, not by the time it takes to write. ms. */
const REACTION_MS = 800;
/** Written lines that fit into the room opened at a gap. */
/** Air before what was written last, on a board, mm. */
const BESIDE = 10;
const ROOM_LINES = 2;

const edit = (...rows: readonly RowPut[]): Thunk<boolean> => change({ rows });
const markRow = ({ id, ...mark }: Mark): RowPut => put('marks', id, mark);

/** Flags the moment that is being recorded or heard; a mark pressed late is put back by what the writer is late by. */
export const addMark =
  (kind: MarkKind, timeStamp: number): Thunk =>
  (dispatch, getState) => {
    const state = getState();
    const header = state.note.note?.header;
    if (!header || state.note.following) return;
    const running = state.recording.state === 'recording';
    const stamp: Stamp | null = dispatch(running ? stampAt(timeStamp) : heardAtEvent(timeStamp));
    if (!stamp) return void dispatch(say('mark', 'info', 'There is no sound here that a mark could stand at. Record, or listen, and press it then.'));
    const lag = selectReview(state)?.lag?.ms ?? USUAL_LAG_MS;
    const late = running ? lag : state.playback.playing ? Math.min(lag, REACTION_MS) : 0;
    const mark: Mark = { id: newId(), kind, take: stamp.take, at: Math.max(0, Math.round(stamp.at - late)), wall: Date.now() };
    dispatch(edit(markRow(mark)));
  };

export const changeMark =
  (id: string, patch: Partial<Pick<Mark, 'kind' | 'text'>>): Thunk =>
  (dispatch, getState) => {
    const mark = getState().note.note?.header.marks?.find((m) => m.id === id);
    if (mark) dispatch(edit(markRow({ ...mark, ...patch })));
  };

/** Moves a mark along the timeline by some ms; it stays on the timeline. */
export const moveMark =
  (id: string, by: number): Thunk =>
  (dispatch, getState) => {
    const header = getState().note.note?.header;
    const mark = header?.marks?.find((m) => m.id === id);
    if (!header || !mark) return;
    const at = toTimeline(header.timeline, mark);
    const to = at === null ? null : fromTimeline(header.timeline, Math.max(0, at + by));
    if (to) dispatch(edit(markRow({ ...mark, take: to.take, at: Math.round(to.at) })));
  };

export const removeMark =
  (id: string): Thunk =>
  (dispatch, getState) => {
    const marks = getState().note.note?.header.marks ?? [];
    const gone = marks.find((m) => m.id === id);
    if (!gone || !dispatch(edit(drop('marks', id)))) return;
    dispatch(say('mark', 'info', `The mark “${markName(gone.kind)}” was removed.`, 'undo'));
  };

/** Opens room after the line that was being written before a gap, with the pen in hand and the sound at the gap, playing where that is wanted. Gives the place, or null when the note cannot be changed. */
export const writeAtGap =
  (gap: Span): Thunk<{ page: string; box: Box } | null> =>
  (dispatch, getState) => {
    const state = getState();
    const { note, words } = state.note;
    if (!note || !canChange(state)) return null;
    const late = selectReview(state)?.lag?.ms ?? USUAL_LAG_MS;
    const stroke = selectReplay(state).lastBy(gap.from + late);
    const page = note.header.pages.find((p) => p.id === stroke?.page) ?? note.header.pages[0];
    const grouping = words[page.id]?.grouping;
    const line = stroke && grouping?.lines.find((l) => l.words.some((w) => grouping.words[w].strokes.includes(stroke.id)));
    const { spacing, top } = writingLines(page.paper);
    const foot = line ? line.box[3] : stroke ? stroke.box[3] : top - spacing;
    // Two lines of room, less what is free already.
    const wanted = ROOM_LINES * spacing;
    const next = Math.min(...(note.ink[page.id] ?? []).map((s) => s.box[1]).filter((y) => y > foot), areaOf(page)[3]);
    const room = next < foot + wanted + 1;
    if (room) dispatch(makeRoomAt(page.id, foot + 0.5, spacing * Math.ceil((foot + wanted + 1 - next) / spacing)));
    dispatch(writeWhileListening(true));
    dispatch(pausePlaying());
    dispatch(seek(gap.from));
    const [left, , right] = page.board && stroke ? [stroke.box[0] - BESIDE, 0, stroke.box[0] + sizeFor(page).w - BESIDE] : extentOf(page);
    const place = { page: page.id, box: [left, foot, right, foot + wanted] as Box };
    dispatch(playbackSlice.actions.set({ answering: { gap, ...place } }));
    dispatch(say('gap', 'info', room ? 'Room was made for what was missed: write it where the page is marked.' : 'Write what was missed where the page is marked.', room ? 'undo' : undefined));
    if (state.settings.gapPlays) dispatch(play());
    return place;
  };

/** What is done to the page with the pen. The first ink at a gap that is written at settles it, whatever was playing or paused just then: one step, taken back as one. */
export const changeByPen =
  (given: Edit): Thunk =>
  (dispatch, getState) => {
    const { playback, note } = getState();
    const of = given.put ? { ...given, put: dispatch(settledNew(given.put)) } : given;
    const links = dispatch(linksFor(of));
    // Where sound is to be found is no part of the step that undo takes back.
    if (links.length) dispatch(change({ rows: links }, false));
    const at = playback.answering;
    const answers = at !== null && of.put?.some((p) => p.kind === 'stroke' && p.second === true && p.page === at.page);
    if (!answers || !note.note) return void dispatch(change(of));
    dispatch(change({ ...of, rows: [...(of.rows ?? []), ...settledBy(note.note.header.timeline, at.gap)] }));
    dispatch(playbackSlice.actions.set({ answering: null }));
  };

/** Ink that is stamped with sound of the other side of the screen: where that is. */
const linksFor =
  ({ put: placed = [] }: Edit): Thunk<RowPut[]> =>
  (_, getState, { other }) => {
    const here = getState().note.note?.header;
    const there = other?.getState().note.note?.header;
    if (!here || !there) return [];
    const known = new Set([...here.takes.map((t) => t.id), ...(here.links ?? []).map((l) => l.take)]);
    const takes = new Set(placed.flatMap((p) => p.stamp?.take ?? []).filter((t) => !known.has(t)));
    return there.takes.filter((t) => takes.has(t.id)).map((t) => put('links', t.id, { note: there.id }));
  };

const settledBy = (timeline: Timeline, gap: Span): RowPut[] => spansOfTakes(timeline, gap).map((s) => put('settled', newId(), { ...s, from: Math.round(s.from), to: Math.round(s.to) }));

/** The pen writes while one listens, or lets the page be again. */
export const writeWhileListening =
  (on: boolean): Thunk =>
  (dispatch, getState) => {
    if (on && !canChange(getState())) return;
    dispatch(playbackSlice.actions.set({ second: on, answering: null }));
    if (on) {
      dispatch(toolsSlice.actions.toolChosen('pen'));
      if (!getState().settings.secondShown) dispatch(settingsSlice.actions.patched({ secondShown: true }));
    }
  };

/** Plays the word after (1) or before (-1) the one that was touched last, in order of the timeline. */
export const playNextWord =
  (by: 1 | -1): Thunk =>
  (dispatch, getState) => {
    const state = getState();
    const { words } = state.note;
    const { lit } = state.playback;
    const wordOf = new Map(Object.values(words).flatMap(({ grouping }) => [...grouping.words, ...grouping.drawings].flatMap((w) => w.strokes.map((id) => [id, w] as const))));
    // Each word once, at its first stroke that is heard.
    const seen = new Set<unknown>();
    const firsts = selectReplay(state).timed.filter(({ placed }) => {
      const word = wordOf.get(placed.id) ?? placed.id;
      return !seen.has(word) && seen.add(word);
    });
    const here = dispatch(position());
    const at = lit ? firsts.findIndex(({ placed }) => (wordOf.get(placed.id) ?? placed.id) === (wordOf.get(lit.stroke) ?? lit.stroke)) : -1;
    const next = at < 0 ? (by > 0 ? firsts.find((f) => f.from > here) : firsts.findLast((f) => f.from < here - 500)) : firsts[at + by];
    if (next) dispatch(playPlaced(next.placed));
  };

/** Plays the gap after or before the position. */
export const playNextGap =
  (by: 1 | -1): Thunk =>
  (dispatch, getState) => {
    const review = selectReview(getState());
    const gaps = review?.coverage.gaps ?? [];
    const at = dispatch(position());
    const gap = by > 0 ? gaps.find((g) => g.from > at + 600) : gaps.findLast((g) => g.from < at - 1500);
    if (gap) dispatch(playAt(Math.max(0, gap.from - 500)));
    else dispatch(say('gap', 'info', review ? `There is no gap ${by > 0 ? 'after' : 'before'} this place.` : 'The sound is still being looked at; gaps are not known yet.'));
  };

/** Lights the next ink that has no sound, page by page. */
export const nextUnheard = (): Thunk => (dispatch, getState, alive) => {
  const { note, words } = getState().note;
  if (!note) return;
  const without: Placed[] = [];
  for (const page of note.header.pages) {
    const byId = new Map((note.ink[page.id] ?? []).map((s) => [s.id, s]));
    const grouping = words[page.id]?.grouping;
    for (const w of [...(grouping?.words ?? []), ...(grouping?.drawings ?? [])].sort((a, b) => a.box[1] - b.box[1])) {
      const strokes = w.strokes.flatMap((id) => byId.get(id) ?? []);
      if (strokes.length && strokes.every((s) => toTimeline(note.header.timeline, s.stamp) === null)) without.push(strokes[0]);
    }
  }
  if (!without.length) return dispatch(say('listen', 'info', 'All ink of this note has sound.'));
  alive.unheardAt = (alive.unheardAt + 1) % without.length;
  dispatch(playPlaced(without[alive.unheardAt]));
};

/** Says that nothing is needed for a gap. */
export const settleGap =
  (gap: Span): Thunk =>
  (dispatch, getState) => {
    const header = getState().note.note?.header;
    if (!header) return;
    if (!dispatch(edit(...settledBy(header.timeline, gap)))) return;
    dispatch(say('gap', 'info', `The gap at ${clockText(gap.from)} is settled: nothing is needed there.`, 'undo'));
  };

/** Sets the tags of a moment, whose first ink carries them; none takes them away, wherever in it they were set. */
export const setTags =
  (moment: readonly Placed[], names: readonly string[]): Thunk =>
  (dispatch, getState) => {
    const { note } = getState().note;
    if (!note) return;
    const clean = [...new Set(names.map((n) => n.trim().slice(0, 40)).filter(Boolean))].slice(0, 20);
    const all = inTheirOrder(note.rows, 'tags');
    const within = new Set(moment.map((s) => s.id));
    const mine = entriesOf(note.rows, 'tags').filter(([, t]) => within.has(t.placed));
    const fresh = clean.filter((name) => !mine.some(([, t]) => t.name === name));
    const keys = orderAt(all, all.length, fresh.length);
    dispatch(edit(...mine.filter(([, t]) => !clean.includes(t.name)).map(([id]) => drop('tags', id)), ...fresh.map((name, i) => put('tags', tagId(moment[0].id, name), { placed: moment[0].id, name, order: keys[i] }))));
  };

export const renameTake =
  (id: string, name: string): Thunk =>
  (dispatch, getState) => {
    const take = getState().note.note && entriesOf(getState().note.note!.rows, 'takes').find(([t]) => t === id)?.[1];
    if (take && take.name !== name) dispatch(edit(put('takes', id, { ...take, name: name.slice(0, 100) })));
  };

/** Locks a note against change, or unlocks it. */
export const setReadOnly =
  (readOnly: boolean): Thunk =>
  (dispatch) => {
    if (readOnly) dispatch(setMode('listen'));
    if (!dispatch(change({ rows: [put('note', 'readOnly', { value: readOnly })] }, false))) return;
    dispatch(say('read-only', 'info', readOnly ? 'This note is read only. It can be listened to; the same entry lets it be changed again.' : 'This note can be changed again.'));
  };
