/** What is heard when something on the page is touched: from its moment, lead-in first, at the beginning of the sentence where one is near. */
import { sentenceStart } from '../core/audio/speech';
import type { Placed } from '../core/note/kinds/kinds';
import { playFrom, timelineLength, toTimeline, type Stamp } from '../core/time/timeline';
import { leadInOf, selectSpeech } from './listening';
import { say } from './messages';
import { setMode } from './mode';
import { letGo, pausePlaying, play, repeatRun, seek } from './playing';
import { messagesSlice, playbackSlice } from './slices';
import type { RootState } from './state';
import type { Thunk } from './thunk';

/** Where listening to a moment begins: the lead-in before it, or the beginning of the sentence where one is near; null when it is not on the timeline. */
const startOf = (state: RootState, stamp: Stamp): number | null => {
  const leadIn = leadInOf(state);
  const from = playFrom(state.note.note?.header.timeline ?? [], stamp, leadIn);
  return from === null || leadIn === 0 ? from : sentenceStart(selectSpeech(state) ?? [], from);
};

/** Sound is heard in Listen: what is asked for while one writes leads there, unless a recording runs, which is said. */
const goToListen = (): Thunk => (dispatch, getState) => {
  const { note, recording } = getState();
  if (note.mode === 'write' && recording.state !== 'recording' && recording.state !== 'starting') dispatch(setMode('listen'));
};

/** Plays from a moment of the timeline, ms. */
export const playAt =
  (ms: number): Thunk =>
  (dispatch, getState) => {
    dispatch(goToListen());
    if (getState().playback.repeat) dispatch(letGo());
    dispatch(seek(ms));
    dispatch(play());
  };

/** The note plays this moment as soon as it is open. */
export const hearIn =
  (note: string, stamp: Stamp): Thunk =>
  (dispatch, getState, alive) => {
    alive.toHear = { note, stamp };
    if (getState().note.id === note && getState().note.status === 'open') dispatch(hearWaiting());
  };

/** Plays what waits to be heard in the note that is open now. */
export const hearWaiting = (): Thunk => (dispatch, getState, alive) => {
  const { note } = getState();
  const waiting = alive.toHear;
  if (!waiting || waiting.note !== note.id || !note.note) return;
  alive.toHear = null;
  const from = startOf(getState(), waiting.stamp);
  if (from === null) return dispatch(say('listen', 'info', 'The sound of this moment is not on the timeline any more.'));
  dispatch(setMode('listen'));
  dispatch(seek(from));
  dispatch(play());
};

/** Begins to read the sound of what is about to be touched. */
export const makeReady =
  (it: Placed): Thunk =>
  (_, getState, { player }) => {
    const from = it.stamp ? startOf(getState(), it.stamp) : null;
    if (from !== null) player?.makeReady(from);
  };

/** What another note is called, as far as that may be known: a locked one can hide its title. */
export const titleOf = ({ library }: Pick<RootState, 'library'>, note: string): string => {
  const cover = library.covers[note];
  if (cover) return cover.title === null ? 'a locked note' : `“${cover.title}”`;
  const title = library.headers.find((h) => h.id === note)?.title;
  return title === undefined ? 'a note that is not on this device' : `“${title}”`;
};

/** Plays from the moment of something on the page; says so when it has no sound. */
export const playPlaced =
  (it: Placed, line = false): Thunk =>
  (dispatch, getState, alive) => {
    const { note, playback } = getState();
    const from = it.stamp ? startOf(getState(), it.stamp) : null;
    if (from !== null) dispatch(goToListen());
    if (playback.repeat) dispatch(letGo());
    // The sound is asked for before anything is drawn, so that storage works meanwhile.
    if (from !== null) dispatch(seek(from));
    dispatch(playbackSlice.actions.set({ lit: { page: it.page, stroke: it.id, ...(line ? { line } : {}) } }));
    if (from === null) {
      dispatch(pausePlaying());
      const link = note.note?.header.links?.find((l) => l.take === it.stamp?.take);
      const { other } = alive;
      const there = other?.getState().note;
      // What stands beside this note plays there.
      if (other && link && it.stamp && there?.id === link.note && there.status === 'open') return other.dispatch(hearIn(link.note, it.stamp));
      if (link && it.stamp) {
        alive.toHear = { note: link.note, stamp: it.stamp };
        dispatch(say('listen', 'info', `This was written in ${titleOf(getState(), link.note)}, where its sound is.`, 'hear-there', link.note));
        return;
      }
      const origin = note.note?.header.origins?.find((o) => o.placed.includes(it.id));
      if (origin) return dispatch(say('listen', 'info', origin.url === undefined ? `This was taken over from ${titleOf(getState(), origin.note ?? '')}.` : `This was taken over from ${origin.url}.`, 'show-there', it.id));
      const when = new Date(it.wall).toLocaleString('en-GB', { day: 'numeric', month: 'long', hour: '2-digit', minute: '2-digit' });
      dispatch(say('listen', 'info', it.stamp ? 'The sound of this moment is not on the timeline.' : `This was written on ${when} while nothing was being recorded, so there is no sound to it.`));
      return;
    }
    if (getState().messages.some((m) => m.key === 'listen')) dispatch(messagesSlice.actions.dismissed('listen'));
    dispatch(play());
  };

/** A run shorter than this is none to repeat, ms. */
const LEAST_REPEAT_MS = 1500;
/** After the last stroke of a word a little more is heard, ms. */
const AFTER_MS = 600;

/** Repeats what was said about the word or line that was touched last; without one, the sentence at the position. */
export const repeatHere = (): Thunk => (dispatch, getState, { player }) => {
  const state = getState();
  const { lit } = state.playback;
  const { note, words } = state.note;
  const length = note ? timelineLength(note.header.timeline) : 0;
  if (!note || !player || length === 0) return;
  const grouping = lit && words[lit.page]?.grouping;
  const word = grouping ? [...grouping.words, ...grouping.drawings].find((w) => w.strokes.includes(lit.stroke)) : undefined;
  const line = lit?.line && grouping ? grouping.lines.find((l) => l.words.some((w) => grouping.words[w] === word)) : undefined;
  const ids = new Set(line ? line.words.flatMap((w) => grouping!.words[w].strokes) : (word?.strokes ?? (lit ? [lit.stroke] : [])));
  const placed = lit ? (note.ink[lit.page] ?? []).filter((s) => ids.has(s.id) && toTimeline(note.header.timeline, s.stamp) !== null) : [];
  const times = placed.map((s) => ({ from: startOf(state, s.stamp!)!, to: toTimeline(note.header.timeline, s.stamp)! + s.ms }));
  if (times.length) {
    const from = Math.min(...times.map((t) => t.from));
    return dispatch(repeatRun({ from, to: Math.min(length, Math.max(from + LEAST_REPEAT_MS, Math.max(...times.map((t) => t.to)) + AFTER_MS)) }));
  }
  const at = player.position;
  const sentence = (selectSpeech(state) ?? []).find((s) => s.from <= at + 300 && s.to > at);
  dispatch(repeatRun(sentence && sentence.to - sentence.from >= LEAST_REPEAT_MS ? sentence : { from: Math.max(0, at - 3000), to: Math.min(length, at + 3000) }));
};
