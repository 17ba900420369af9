/** Links from words and things of the open note: made, followed, and what leads here. */
import { newId } from '../core/id';
import { drop, put } from '../core/note/edit';
import type { Placed } from '../core/note/kinds/kinds';
import type { Typed } from '../core/note/kinds/typed';
import { linked, unlinked } from '../core/note/links';
import type { NoteHeader, Ref, RefTarget } from '../core/note/schema';
import { clockText } from '../core/time/format';
import { toTimeline } from '../core/time/timeline';
import { canChange, change } from './change';
import { say } from './messages';
import { setMode } from './mode';
import { webAddress } from './printed';
import { toolsSlice } from './slices';
import type { RootState } from './state';
import { cameByLink, middleInSight, rememberPlace, showWhenOpen } from './takingOver';
import { selected } from './tools';
import { hearIn, playAt } from './touching';
import type { Thunk } from './thunk';

const namesIn = (it: Placed | undefined, from: number, to: number): string[] => {
  let at = 0;
  return it?.kind === 'typed' ? it.looks.flatMap(([n, look]) => ((at += n) > from && at - n < to && look.link ? [look.link] : [])) : [];
};

/** The link of what is selected, or of the letters that were marked for it; the first where there are several. */
export const refOfSelected = (state: RootState): Ref | null => {
  const refs = state.note.note?.header.refs;
  const { linking } = state.tools;
  if (linking) {
    const lines = new Map(Object.values(state.note.note?.ink ?? {}).flatMap((list) => list.map((it) => [it.id, it])));
    const names = new Set(linking.flatMap(({ line, from, to }) => namesIn(lines.get(line), from, to)));
    return refs?.find((r) => r.letters !== undefined && names.has(r.letters)) ?? null;
  }
  const ids = new Set(selected(state).map((it) => it.id));
  return refs?.find((r) => r.letters === undefined && r.placed.some((id) => ids.has(id))) ?? null;
};

/** What is said of a note that a link leads to. */
type Known = Pick<NoteHeader, 'title' | 'takes' | 'timeline'>;

const cutOut = ({ takes }: Pick<NoteHeader, 'takes'>, take: string, where: string): string => (takes.some((t) => t.id === take) ? `The moment this link led to was cut out of the sound${where}.` : `The take this link led to is not in ${where ? 'that' : 'this'} note any more.`);

/** Where it leads in words, and why it leads nowhere; `known`: a note, null when it is not here. */
export function refText({ to }: Ref, header: Pick<NoteHeader, 'pages' | 'takes' | 'timeline'>, known: (note: string) => Known | null): { readonly text: string; readonly broken: string | null } {
  if (to.is === 'web') return { text: to.url, broken: null };
  if (to.is === 'page') {
    const n = header.pages.findIndex((p) => p.id === to.page) + 1;
    return n ? { text: `page ${n}`, broken: null } : { text: 'a page', broken: 'The page this link led to was deleted.' };
  }
  if (to.is === 'moment') {
    const ms = toTimeline(header.timeline, to);
    if (ms !== null) return { text: `${clockText(ms)} of the sound`, broken: null };
    return { text: 'a moment', broken: cutOut(header, to.take, '') };
  }
  const note = known(to.note);
  if (!note) return { text: 'a note', broken: 'The note this link led to is not on this device, was deleted, or is locked.' };
  const name = `“${note.title || 'Note'}”`;
  if (to.take === undefined) return { text: name, broken: null };
  const ms = toTimeline(note.timeline, { take: to.take, at: to.at ?? 0 });
  return ms === null ? { text: `a moment of ${name}`, broken: cutOut(note, to.take, ` of ${name}`) } : { text: `${clockText(ms)} of ${name}`, broken: null };
}

export const notesOf =
  ({ library }: { readonly library: Pick<RootState['library'], 'headers'> }) =>
  (note: string): Known | null =>
    library.headers.find((h) => h.id === note) ?? null;

/** The letters that were marked lead there from now on, instead of where they led before. */
const linkLetters =
  (to: RefTarget): Thunk<boolean> =>
  (dispatch, getState) => {
    const state = getState();
    const { linking } = state.tools;
    const ink = state.note.note?.ink;
    if (!linking || !ink || !canChange(state)) return false;
    const name = newId();
    const lines = new Map(Object.values(ink).flatMap((list) => list.flatMap((it) => (it.kind === 'typed' ? [[it.id, it] as const] : []))));
    const old = refOfSelected(state);
    const changed = new Map<string, Typed>();
    if (old?.letters !== undefined) for (const it of unlinked(old.letters, [...lines.values()])) changed.set(it.id, it);
    for (const { line, from, to: end } of linking) {
      const it = changed.get(line) ?? lines.get(line);
      if (it) changed.set(line, linked(it, from, Math.min(end, it.text.length), name));
    }
    if (!changed.size) return false;
    return dispatch(change({ put: [...changed.values()], rows: [...(old ? [drop('refs', old.id)] : []), put('refs', newId(), { placed: [...new Set(linking.map((l) => l.line))], letters: name, to })] }));
  };

/** What is selected leads there from now on, instead of where it led before. */
export const linkSelected =
  (to: RefTarget): Thunk<boolean> =>
  (dispatch, getState) => {
    const state = getState();
    if (state.tools.linking) return dispatch(linkLetters(to));
    const placed = selected(state).map((it) => it.id);
    if (!placed.length || !canChange(state)) return false;
    const old = refOfSelected(state);
    return dispatch(change({ rows: [...(old ? [drop('refs', old.id)] : []), put('refs', newId(), { placed, to })] }));
  };

/** The sheet is gone; where one types, one types on. */
export const backToText = (): Thunk => (_, getState, { view }) => {
  if (getState().tools.tool === 'type') view?.toCaret();
};

export const unlink =
  ({ id, letters }: Ref): Thunk =>
  (dispatch, getState) =>
    void dispatch(change({ put: letters === undefined ? [] : unlinked(letters, Object.values(getState().note.note?.ink ?? {}).flat()), rows: [drop('refs', id)] }));

/** `1:02:07` or `4:07` on a timeline, as a moment of a take; null when there is no such moment. */
export function momentAt(text: string, timeline: NoteHeader['timeline']): { take: string; at: number } | null {
  const parts = text.trim().split(':').map(Number);
  if (parts.length < 2 || parts.length > 3 || parts.some((n) => !Number.isInteger(n) || n < 0)) return null;
  const ms = 1000 * parts.reduce((sum, n) => sum * 60 + n, 0);
  let at = 0;
  for (const { take, from, to } of timeline) {
    if (ms < at + to - from) return { take, at: from + ms - at };
    at += to - from;
  }
  return null;
}

/** `go` opens a note, `onWeb` offers an address. There is a way back from wherever it leads within Scrivo. */
export const followRef =
  (ref: Ref, go: (note: string) => void, onWeb: (url: string) => void): Thunk =>
  (dispatch, getState) => {
    const state = getState();
    const header = state.note.note?.header;
    if (!header) return;
    const { broken, text } = refText(ref, header, notesOf(state));
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
    if (to.take !== undefined) dispatch(hearIn(to.note, { take: to.take, at: to.at ?? 0 }));
    go(to.note);
  };

/** Notes that lead to the open one, with how many of their links do. */
export const leadingHere = ({ note, library }: RootState): { readonly id: string; readonly title: string; readonly count: number }[] =>
  library.headers.flatMap(({ id, title, leadsTo }) => {
    const count = id === note.id ? 0 : (leadsTo ?? []).filter((to) => to === note.id).length;
    return count ? [{ id, title, count }] : [];
  });

/** Of letters that are marked, or the word at the caret; else of what is selected; where nothing is, the lasso comes first. */
export const askForLink = (): Thunk => (dispatch, getState, { view }) => {
  const letters = getState().tools.tool === 'type' ? (view?.letters() ?? []) : [];
  dispatch(toolsSlice.actions.set({ linking: letters.length ? letters : null }));
  if (letters.length) return void dispatch(toolsSlice.actions.set({ sheet: 'link' }));
  if (selected(getState()).length) return void dispatch(toolsSlice.actions.set({ sheet: 'link' }));
  dispatch(toolsSlice.actions.toolChosen('lasso'));
  dispatch(say('tool', 'info', 'Take hold of a word or a thing, then press Link. Where one types, the word at the caret is meant.'));
};
