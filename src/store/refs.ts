/** Links from words and things of the open note: made, followed, and what leads here. */
import { newId } from '../core/id';
import { drop, put } from '../core/note/edit';
import type { NoteHeader, Ref, RefTarget } from '../core/note/schema';
import { clockText } from '../core/time/format';
import { timelineLength, toTimeline } from '../core/time/timeline';
import { canChange, change } from './change';
import { say } from './messages';
import { setMode } from './mode';
import { playAt } from './playing';
import { webAddress } from './printed';
import { toolsSlice } from './slices';
import type { RootState } from './state';
import { cameByLink, middleInSight, rememberPlace, showWhenOpen } from './takingOver';
import { selected } from './tools';
import type { Thunk } from './thunk';

/** The link of what is selected; the first where there are several. */
export const refOfSelected = (state: RootState): Ref | null => {
  const ids = new Set(selected(state).map((it) => it.id));
  return state.note.note?.header.refs?.find((r) => r.placed.some((id) => ids.has(id))) ?? null;
};

/** Where it leads in words, and why it leads nowhere; `titleOf`: of a note, null when it is not here. */
export function refText({ to }: Ref, header: Pick<NoteHeader, 'pages' | 'takes' | 'timeline'>, titleOf: (note: string) => string | null): { readonly text: string; readonly broken: string | null } {
  if (to.is === 'web') return { text: to.url, broken: null };
  if (to.is === 'page') {
    const n = header.pages.findIndex((p) => p.id === to.page) + 1;
    return n ? { text: `page ${n}`, broken: null } : { text: 'a page', broken: 'The page this link led to was deleted.' };
  }
  if (to.is === 'moment') {
    const ms = toTimeline(header.timeline, to);
    if (ms !== null) return { text: `${clockText(ms)} of the sound`, broken: null };
    return { text: 'a moment', broken: header.takes.some((t) => t.id === to.take) ? 'The moment this link led to was cut out of the sound.' : 'The take this link led to is not in this note any more.' };
  }
  const title = titleOf(to.note);
  return title === null ? { text: 'a note', broken: 'The note this link led to is not on this device, was deleted, or is locked.' } : { text: `“${title || 'Note'}”`, broken: null };
}

export const titlesOf =
  ({ library }: { readonly library: Pick<RootState['library'], 'headers'> }) =>
  (note: string): string | null => {
    const header = library.headers.find((h) => h.id === note);
    return header ? header.title : null;
  };

/** What is selected leads there from now on, instead of where it led before. */
export const linkSelected =
  (to: RefTarget): Thunk<boolean> =>
  (dispatch, getState) => {
    const state = getState();
    const placed = selected(state).map((it) => it.id);
    if (!placed.length || !canChange(state)) return false;
    const old = refOfSelected(state);
    return dispatch(change({ rows: [...(old ? [drop('refs', old.id)] : []), put('refs', newId(), { placed, to })] }));
  };

export const unlink = (ref: string): Thunk => (dispatch) => void dispatch(change({ rows: [drop('refs', ref)] }));

/** `1:02:07` or `4:07` on the timeline, as a moment of a take; null when there is no such moment. */
export const momentAt =
  (text: string): Thunk<RefTarget | null> =>
  (_, getState) => {
    const parts = text.trim().split(':').map(Number);
    const header = getState().note.note?.header;
    if (!header || parts.length < 2 || parts.length > 3 || parts.some((n) => !Number.isInteger(n) || n < 0)) return null;
    const ms = 1000 * parts.reduce((sum, n) => sum * 60 + n, 0);
    if (ms >= timelineLength(header.timeline)) return null;
    let at = 0;
    for (const { take, from, to } of header.timeline) {
      if (ms < at + to - from) return { is: 'moment', take, at: from + ms - at };
      at += to - from;
    }
    return null;
  };

/** `go` opens a note, `onWeb` offers an address. There is a way back from wherever it leads within Scrivo. */
export const followRef =
  (ref: Ref, go: (note: string) => void, onWeb: (url: string) => void): Thunk =>
  (dispatch, getState) => {
    const state = getState();
    const header = state.note.note?.header;
    if (!header) return;
    const { broken, text } = refText(ref, header, titlesOf(state));
    if (broken) return dispatch(say('place', 'problem', `${broken} Take hold of it with the lasso to lead it elsewhere.`));
    const { to } = ref;
    const from = dispatch(middleInSight());
    if (to.is === 'web') {
      const address = webAddress(to.url);
      return address ? onWeb(address) : dispatch(say('place', 'info', 'This address is none that Scrivo opens (https, http or mailto).'));
    }
    dispatch(toolsSlice.actions.set({ sheet: 'none' }));
    if (to.is === 'page') {
      dispatch(showWhenOpen(header.id, to.page));
      const page = header.pages.find((p) => p.id === to.page)!;
      return dispatch(cameByLink(from, page));
    }
    if (to.is === 'moment') {
      if (from) dispatch(rememberPlace(header.id, from));
      dispatch(setMode('listen'));
      dispatch(playAt(toTimeline(header.timeline, to)!));
      return dispatch(say('place', 'info', `The link led to ${text}.`, 'go-back'));
    }
    if (from) dispatch(rememberPlace(header.id, from, { in: to.note, text: `A link of “${header.title || 'Note'}” led here.` }));
    if (to.page) dispatch(showWhenOpen(to.note, to.page));
    go(to.note);
  };

/** Notes that lead to the open one, with how many of their links do. */
export const leadingHere = ({ note, library }: RootState): { readonly id: string; readonly title: string; readonly count: number }[] =>
  library.headers.flatMap(({ id, title, leadsTo }) => {
    const count = id === note.id ? 0 : (leadsTo ?? []).filter((to) => to === note.id).length;
    return count ? [{ id, title, count }] : [];
  });

/** Of what is selected; where nothing is, the lasso comes first. */
export const askForLink = (): Thunk => (dispatch, getState) => {
  if (selected(getState()).length) return void dispatch(toolsSlice.actions.set({ sheet: 'link' }));
  dispatch(toolsSlice.actions.toolChosen('lasso'));
  dispatch(say('tool', 'info', 'Take hold of a word or a thing, then press Link.'));
};
