/** What the open note says, as far as it was read: by page, and in the order of time. */
import { createSelector } from '@reduxjs/toolkit';
import type { Placed } from '../core/note/kinds/kinds';
import { foundWords, type FoundWord } from '../core/reading/noteWords';
import { wordsInTime, type WordInTime } from '../core/reading/inTime';
import { writtenByKey, type Written } from '../core/reading/pageText';
import { saidBy, saidOn, titleOf, type Said } from '../core/reading/said';
import { isByTime } from './library';
import { selectOutline } from './pages';
import type { RootState } from './state';

const ink = (s: RootState) => s.note.note?.ink;
const pages = (s: RootState) => s.note.note?.header.pages;
const timeline = (s: RootState) => s.note.note?.header.timeline;
const written = (s: RootState) => s.note.note?.header.written;
const words = (s: RootState) => s.note.words;
const texts = (s: RootState) => s.note.texts;

/** A function of what a page is made of that is worked out anew only when one of these is another: a change of one page costs that page. It is forgotten with the first of them. */
function byPage<O extends readonly [object, ...unknown[]], R>(work: (...of: O) => R): (...of: O) => R {
  const known = new WeakMap<object, { readonly of: O; readonly is: R }>();
  return (...of) => {
    const had = known.get(of[0]);
    if (had && of.every((v, i) => v === had.of[i])) return had.is;
    const is = work(...of);
    known.set(of[0], { of, is });
    return is;
  };
}

const NOTHING: readonly Placed[] = [];
type Words = RootState['note']['words'][string];
type Text = RootState['note']['texts'][string] | undefined;
type Own = readonly Written[] | undefined;
const saidOf = byPage((w: Words, text: Text, own: Own): Said => saidOn(w.grouping, text, writtenByKey(own)));
const foundOf = byPage((placed: readonly Placed[], w: Words | undefined, text: Text, own: Own): readonly FoundWord[] => foundWords(placed, w?.grouping, text, writtenByKey(own)));

/** By page id; pages whose words have not been found are not in it. It does not change with every stroke. */
export const selectSaid = createSelector([pages, words, texts, written], (p, w, t, own): Readonly<Record<string, Said>> => Object.fromEntries((p ?? []).flatMap(({ id }) => (w[id] ? [[id, saidOf(w[id], t[id], own)] as const] : []))));

/** The words of each page that can be looked for, page by page. */
export const selectFound = createSelector([pages, ink, words, texts, written], (p, i, w, t, own): readonly (readonly FoundWord[])[] => (p ?? []).map(({ id }) => foundOf(i?.[id] ?? NOTHING, w[id], t[id], own)));

export const selectWordsInTime = createSelector([selectFound, timeline], (found, t): WordInTime[] => wordsInTime(found, t ?? []));

/** What the open note may be called by its first heading or line; null while it has a name of its own. */
export const selectTitleOffer = (s: RootState): string | null => {
  const { note: open } = s.note;
  if (!open || !isByTime(open.header.title)) return null;
  const said = selectSaid(s);
  const headings = selectOutline(s).map((e) => e.text ?? saidBy(said[e.page] ?? [], new Set(e.placed.map((it) => it.id))));
  return titleOf(headings, open.header.pages.map((p) => said[p.id] ?? []));
};
