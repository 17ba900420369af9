/** Selected ink becomes typed text in its place, or goes to the clipboard as text; typed text that was ink becomes that ink again. */
import { newId } from '../core/id';
import { drop, put } from '../core/note/edit';
import { isStroke, strokesOf, type Placed } from '../core/note/kinds/kinds';
import type { Typed } from '../core/note/kinds/typed';
import { readInk, writeInk } from '../core/note/records/inkChunk';
import { entriesOf } from '../core/note/tables';
import { linesToConvert, typedOf, type LineToConvert } from '../core/reading/converting';
import { shownWord, writtenByKey } from '../core/reading/pageText';
import type { ReadWord } from '../core/reading/pageText';
import { readInWorker } from '../platform/reading';
import { groupInWorker } from '../platform/wordsWorker';
import { change } from './change';
import { say } from './messages';
import { toolsSlice } from './slices';
import type { RootState } from './state';
import { tracesOf } from './textReading';
import type { Thunk } from './thunk';
import { hold, selected } from './tools';

interface ReadLines {
  readonly page: string;
  readonly lines: readonly LineToConvert[];
  readonly texts: readonly (readonly string[])[];
}

/** What of the selection is written, line by line, with what it says; null, and said, where there is nothing. */
const readSelection = (): Thunk<Promise<ReadLines | null>> => async (dispatch, getState) => {
  const state = getState();
  const { note } = state.note;
  const page = state.tools.selection?.page;
  if (!note || !page) return null;
  const known = state.note.words[page];
  const grouping = known?.of === note.ink[page] ? known.grouping : await groupInWorker(strokesOf(note.ink[page] ?? []));
  const lines = linesToConvert(grouping, selected(state).filter(isStroke));
  if (!lines.length) {
    dispatch(say('reading', 'info', 'There is no whole word in the selection. Take hold of words, a line or all of a page.'));
    return null;
  }
  const own = writtenByKey(note.header.written);
  const words = lines.flatMap((l) => l.words.map((w) => w.word));
  const unread = words.filter((w) => !shownWord(w, state.note.texts[page], own));
  try {
    const read = unread.length ? await readInWorker(tracesOf(note.ink[page] ?? [], unread)) : [];
    const fresh = new Map<unknown, ReadWord>(unread.map((w, i) => [w, read[i]]));
    const texts = lines.map((l) => l.words.map(({ word }) => shownWord(word, state.note.texts[page], own)?.text ?? fresh.get(word)?.readings[0]?.text ?? '?'));
    return { page, lines, texts };
  } catch {
    dispatch(say('reading', 'problem', 'The handwriting could not be read: a part of the program could not be loaded. The page is unchanged; connect to the network and try again.'));
    return null;
  }
};

/** Lines of ink become typed lines in their place, in one step; those that were changed meanwhile stay. Gives what was made. */
export const becomeText =
  (page: string, lines: readonly LineToConvert[], texts: readonly (readonly string[])[]): Thunk<readonly Typed[]> =>
  (dispatch, getState) => {
    const { note } = getState().note;
    const of = note?.header.pages.find((p) => p.id === page);
    if (!note || !of) return [];
    const here = new Set(note.ink[page]);
    const made = lines.flatMap((line, i) => (line.strokes.every((s) => here.has(s)) ? [{ typed: typedOf(line, texts[i], of, getState().tools.typing.look.face, newId), ink: line.strokes }] : []));
    if (!made.length) return [];
    const done = dispatch(
      change({
        put: made.map((m) => m.typed),
        cut: made.flatMap((m) => m.ink.map(({ id }) => ({ id, page }))),
        rows: made.map(({ typed, ink }) => put('originals', typed.id, { ink: btoa(writeInk(ink)) })),
      }),
    );
    return done ? made.map((m) => m.typed) : [];
  };

export const convertSelected = (): Thunk<Promise<void>> => async (dispatch, getState) => {
  const read = await dispatch(readSelection());
  const { note } = getState().note;
  const page = note?.header.pages.find((p) => p.id === read?.page);
  if (!read || !note || !page) return;
  const made = dispatch(becomeText(page.id, read.lines, read.texts));
  if (!made.length) return;
  dispatch(hold(page.id, made));
  dispatch(say('reading', 'info', 'Look it over: what was read can be wrong. The ink is kept and can come back.', 'undo'));
};

export const copySelectedAsText = (): Thunk<Promise<void>> => async (dispatch) => {
  const read = await dispatch(readSelection());
  if (!read) return;
  try {
    await navigator.clipboard.writeText(read.texts.map((t) => t.join(' ')).join('\n'));
    dispatch(say('reading', 'info', 'The text is copied.'));
  } catch {
    dispatch(say('reading', 'problem', 'The browser did not let the text be copied. Allow the clipboard for this page and try again.'));
  }
};

/** Selected typed lines that were ink once, with the rows that keep it. */
const originalsOf = (state: RootState): { readonly placed: Placed; readonly ink: string }[] => {
  const { note } = state.note;
  if (!note?.rows.originals?.size) return [];
  const rows = new Map(entriesOf(note.rows, 'originals'));
  return selected(state).flatMap((it) => (rows.has(it.id) ? [{ placed: it, ink: rows.get(it.id)!.ink }] : []));
};
export const hasOriginals = (state: RootState): boolean => originalsOf(state).length > 0;

export const backToInk = (): Thunk => (dispatch, getState) => {
  const all = originalsOf(getState());
  const { note } = getState().note;
  if (!all.length || !note) return;
  const taken = new Set(Object.values(note.ink).flatMap((list) => list.map((it) => it.id)));
  const back: Placed[] = [];
  const cut: { id: string; page: string }[] = [];
  for (const { placed, ink } of all) {
    try {
      const { placed: strokes } = readInk(atob(ink));
      if (!strokes.length) continue;
      // A copy of the text may have brought its ink back before.
      back.push(...strokes.map((s): Placed => Object.freeze({ ...s, page: placed.page, ...(taken.has(s.id) ? { id: newId() } : {}) })));
      cut.push({ id: placed.id, page: placed.page });
    } catch {
      dispatch(say('reading', 'problem', 'The ink of this text is damaged and cannot come back. The text is unchanged.'));
    }
  }
  if (!back.length || !dispatch(change({ put: back, cut, rows: cut.map(({ id }) => drop('originals', id)) }))) return;
  dispatch(toolsSlice.actions.toolChosen('lasso'));
  dispatch(hold(back[0].page, back.filter((s) => s.page === back[0].page)));
};
