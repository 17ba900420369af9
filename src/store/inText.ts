/** What is in the text of the open note that something can be done with; and doing it. */
import { compareNames } from '../core/collation';
import { createSelector } from '@reduxjs/toolkit';
import { plainName } from '../core/formats/exporter';
import { drop, put } from '../core/note/edit';
import type { InText } from '../core/reading/inText';
import { wordsAt } from '../core/reading/inTime';
import { runsOf, type TextRun } from '../core/reading/runs';
import { toTimeline, type Stamp } from '../core/time/timeline';
import { saveFile } from '../platform/files';
import { change } from './change';
import { reasonOf, say } from './messages';
import { selectSaid, selectWordsInTime } from './noteText';
import type { RootState } from './state';
import type { Thunk } from './thunk';

const note = (s: RootState) => s.note.note;

/** The lines of the open note as text, page by page. */
export const selectRuns = createSelector([note, selectSaid], (n, said): TextRun[] => (n ? n.header.pages.flatMap((p) => runsOf(p.id, n.ink[p.id] ?? [], said[p.id] ?? [])) : []));

/** What is to be done by a mark. */
export interface MarkedToDo {
  readonly id: string;
  readonly text: string;
  readonly stamp: Stamp;
  readonly ms: number | null;
}

/** The marks Do, each with its own words or those it was set at. */
export const selectMarkedToDo = createSelector([note, selectWordsInTime], (n, words): MarkedToDo[] =>
  (n?.header.marks ?? []).flatMap((m) => {
    if (m.kind !== 'do') return [];
    const ms = toTimeline(n!.header.timeline, m);
    return [{ id: m.id, text: m.text || (ms === null ? '' : wordsAt(words, ms)) || 'To do', stamp: m, ms }];
  }),
);

/** Of the language that the browser is set to. */
const browserCountry = (): string => /-([A-Z]{2})\b/.exec(navigator.language)?.[1] ?? 'GB';

/** Where numbers without a country and dates of figures are at home, ISO 3166-1. */
export const selectCountry = (s: RootState): string => s.settings.country ?? browserCountry();

export const countryName = (code: string): string => new Intl.DisplayNames(['en'], { type: 'region' }).of(code) ?? code;

/** Those that can be chosen, by their names. @throws what loading throws */
export async function countriesByName(): Promise<{ readonly code: string; readonly name: string }[]> {
  const { countries } = await import('../core/reading/inText');
  return countries()
    .map((code) => ({ code, name: countryName(code) }))
    .sort((a, b) => compareNames(a.name, b.name));
}

/** Looks through the text: the packages for it are loaded when they are first needed. @throws what loading throws */
export async function lookThroughText(runs: readonly TextRun[], day: number, country: string): Promise<InText[]> {
  const { findInText } = await import('../core/reading/inText');
  return findInText(runs, { day, region: country });
}

/** Something to do is done, or is not. A typed box is ticked itself. */
export const tick =
  (id: string, done: boolean): Thunk<boolean> =>
  (dispatch, getState) => {
    const ink = getState().note.note?.ink ?? {};
    const typed = Object.values(ink).flatMap((list) => list.filter((it) => it.id === id))[0];
    if (typed?.kind === 'typed' && (typed.list === 'open' || typed.list === 'done')) return dispatch(change({ put: [{ ...typed, list: done ? 'done' : 'open' }] }));
    return dispatch(change({ rows: [done ? put('ticked', id, {}) : drop('ticked', id)] }));
  };

/** Dates of the note as a calendar file. */
export const saveDates =
  (dates: readonly Extract<InText, { is: 'date' }>[]): Thunk<Promise<void>> =>
  async (dispatch, getState) => {
    const header = getState().note.note?.header;
    if (!header || !dates.length) return;
    try {
      const { writeCalendar } = await import('../core/formats/calendar');
      const text = writeCalendar(dates.map((d) => ({ uid: `${header.id}-${d.id.replace(/[^\w-]/g, '-')}@scrivo`, title: d.line || d.text, description: header.title, from: d.from, to: d.to })));
      const title = plainName(header.title);
      saveFile(`${title}.ics`, new Blob([text], { type: 'text/calendar' }), 'text/calendar');
      dispatch(say('reading', 'info', dates.length === 1 ? 'The date is in a calendar file: open it with your calendar.' : `${dates.length} dates are in a calendar file: open it with your calendar.`));
    } catch (e) {
      dispatch(say('reading', 'problem', `The calendar file could not be made (${reasonOf(e)}). The note is unchanged.`));
    }
  };

