/** What listening back shows of the open note, worked out from its ink and from what is known of its sound. */
import { createSelector } from '@reduxjs/toolkit';
import { skipsOf, sumOf, type Span } from '../core/audio/speech';
import { Replay, type Timed } from '../core/ink/replay';
import type { Ink } from '../core/note/edit';
import type { NoteHeader } from '../core/note/schema';
import { burstsOf, coverageOf, type Coverage } from '../core/review/gaps';
import { momentsOf, type Moment } from '../core/review/moments';
import { estimateLag, onsetsOf, type Lag } from '../core/time/lag';
import { spansOnTimeline } from '../core/time/onTimeline';
import { timelineLength, type Timeline } from '../core/time/timeline';
import type { RootState } from './state';

/** Taken where a note is too short to tell: within what people are measured to need. ms. */
export const USUAL_LAG_MS = 2500;
/** The lead-in while nothing is known of the writer, ms. */
export const USUAL_LEAD_IN_MS = 2000;
/** A pen that rests longer than this begins something new, ms. */
const BURST_REST_MS = 1500;
/** Writing and speech that begin after rests shorter than this are not beginnings. ms. */
const SPEECH_REST_MS = 350;

export interface Review {
  readonly lag: Lag | null;
  readonly coverage: Coverage;
}

/** What is placed as a run of the timeline, `later` ms after its moment; a dot takes a millisecond. */
const runOf = ({ from, to }: Timed, later = 0): Span => ({ from: from + later, to: Math.max(to, from + 1) + later });

/** Lag, gaps and coverage of a note of which all sound is known. */
export function reviewOf(replay: Replay, speech: readonly Span[], timeline: Timeline, settled: NoteHeader['settled']): Review {
  // What was added later says nothing about how fast somebody writes along.
  const first = replay.timed.filter(({ placed }) => !placed.second).map((s) => runOf(s));
  const lag = estimateLag(onsetsOf(speech, SPEECH_REST_MS), burstsOf(first, BURST_REST_MS).map((b) => b.from));
  const late = lag?.ms ?? USUAL_LAG_MS;
  // Second-pass ink carries the moment it answers to, so it is as late as nothing: it is moved to where it would have been written.
  const writing = replay.timed.map((s) => runOf(s, s.placed.second ? late : 0)).sort((a, b) => a.from - b.from);
  const known = spansOnTimeline(timeline, (take) => (settled ?? []).filter((s) => s.take === take));
  return { lag, coverage: coverageOf(speech, writing, late, undefined, known) };
}

const ink = (s: RootState): Ink | undefined => s.note.note?.ink;
const timeline = (s: RootState): Timeline | undefined => s.note.note?.header.timeline;
const settled = (s: RootState) => s.note.note?.header.settled;
const takes = (s: RootState) => s.hearing.takes;
const words = (s: RootState) => s.note.words;

export const selectReplay = createSelector([ink, timeline], (i, t) => new Replay(i ?? {}, t ?? []));

/** Speech on the timeline, or null while some of its sound has not been looked at. */
export const selectSpeech = createSelector([timeline, takes], (t, known): Span[] | null => {
  if (!t?.length || t.some((s) => !known[s.take])) return null;
  return spansOnTimeline(t, (take) => known[take].speech);
});

export const selectReview = createSelector([selectReplay, selectSpeech, timeline, settled], (replay, speech, t, s): Review | null => (speech && t ? reviewOf(replay, speech, t, s) : null));

export const selectMoments = createSelector([ink, words], (i, w): Moment[] => momentsOf(Object.values(i ?? {}), Object.values(w).map(({ grouping }) => grouping)));

export const selectWriting = createSelector([selectReplay], (replay) => replay.timed.map((s) => runOf(s)));

const longerThan = (s: RootState) => s.settings.pauseMs;
/** What is jumped over when pauses are skipped. */
export const selectSkips = createSelector([selectSpeech, timeline, longerThan], (speech, t, longer): Span[] => (speech && t ? skipsOf(speech, timelineLength(t), longer) : []));
export const savedBySkips = (skips: readonly Span[]): number => sumOf(skips);

/** How much is heard before a stroke, ms: as chosen, or by what is known of the writer. */
export function leadInOf(s: RootState): number {
  const { leadIn } = s.settings;
  if (leadIn !== 'auto') return leadIn * 1000;
  return selectReview(s)?.lag?.ms ?? USUAL_LEAD_IN_MS;
}
