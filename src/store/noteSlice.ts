/** The open note: what it holds, its history, and where it stands. */
import { createSlice, original, type PayloadAction } from '@reduxjs/toolkit';
import type { Grouping } from '../core/ink/words';
import { applyEdit, isEmptyEdit, type Edit, type Note } from '../core/note/edit';
import type { Stroke } from '../core/ink/stroke';
import type { SaveState } from '../storage/noteFile';

/** Steps that can be taken back. */
const HISTORY = 1000;

export type Mode = 'write' | 'listen';

export interface PageWords {
  readonly grouping: Grouping;
  /** The strokes it was made from: another array means it is out of date. */
  readonly of: readonly Stroke[];
}

export interface NoteState {
  readonly id: string | null;
  readonly status: 'none' | 'opening' | 'open' | 'failed';
  readonly failure: string | null;
  readonly note: Note | null;
  readonly mode: Mode;
  /** Another tab writes; this one shows. */
  readonly following: boolean;
  readonly save: SaveState;
  readonly undo: readonly Edit[];
  readonly redo: readonly Edit[];
  /** The edit that led to the present note, for the middleware that saves. */
  readonly last: Edit | null;
  readonly words: Readonly<Record<string, PageWords>>;
}

const initialState: NoteState = {
  id: null,
  status: 'none',
  failure: null,
  note: null,
  mode: 'write',
  following: false,
  save: 'saved',
  undo: [],
  redo: [],
  last: null,
  words: {},
};

/** The note is large and immutable; it is worked on as it is and not through a draft. */
const plain = (state: NoteState): NoteState => original(state as object) as NoteState;

function applied(state: NoteState, edit: Edit, now: number): { next: NoteState; inverse: Edit } {
  const { note, inverse } = applyEdit(state.note!, edit);
  return { next: { ...state, note: { ...note, header: { ...note.header, changed: Math.max(now, note.header.changed) } }, last: edit }, inverse };
}

export const noteSlice = createSlice({
  name: 'note',
  initialState: initialState as NoteState,
  reducers: {
    opening: (_, a: PayloadAction<string>) => ({ ...initialState, id: a.payload, status: 'opening' as const }),
    opened: (state, a: PayloadAction<{ note: Note; following: boolean; mode: Mode; undo?: readonly Edit[]; redo?: readonly Edit[] }>) => ({
      ...initialState,
      id: state.id,
      status: 'open' as const,
      ...a.payload,
    }),
    openFailed: (state, a: PayloadAction<string>) => ({ ...initialState, id: state.id, status: 'failed' as const, failure: a.payload }),
    closed: () => initialState,
    /** The user's own change, which can be taken back, or (`history: false`) one that comes with recording. */
    changed: (draft, a: PayloadAction<{ edit: Edit; history: boolean; now: number }>) => {
      const state = plain(draft as NoteState);
      if (!state.note || isEmptyEdit(a.payload.edit)) return state;
      const { next, inverse } = applied(state, a.payload.edit, a.payload.now);
      return a.payload.history ? { ...next, undo: [...state.undo.slice(-HISTORY + 1), inverse], redo: [] } : next;
    },
    undone: (draft, a: PayloadAction<{ now: number }>) => {
      const state = plain(draft as NoteState);
      const edit = state.undo.at(-1);
      if (!edit || !state.note) return state;
      const { next, inverse } = applied(state, edit, a.payload.now);
      return { ...next, undo: state.undo.slice(0, -1), redo: [...state.redo, inverse] };
    },
    redone: (draft, a: PayloadAction<{ now: number }>) => {
      const state = plain(draft as NoteState);
      const edit = state.redo.at(-1);
      if (!edit || !state.note) return state;
      const { next, inverse } = applied(state, edit, a.payload.now);
      return { ...next, redo: state.redo.slice(0, -1), undo: [...state.undo, inverse] };
    },
    /** What another tab wrote. */
    followed: (draft, a: PayloadAction<Edit>) => {
      const state = plain(draft as NoteState);
      return state.note ? { ...state, note: applyEdit(state.note, a.payload).note, last: null } : state;
    },
    followingSet: (draft, a: PayloadAction<boolean>) => ({ ...plain(draft as NoteState), following: a.payload, undo: [], redo: [] }),
    modeSet: (draft, a: PayloadAction<Mode>) => ({ ...plain(draft as NoteState), mode: a.payload }),
    saveSet: (draft, a: PayloadAction<SaveState>) => ({ ...plain(draft as NoteState), save: a.payload }),
    wordsFound: (draft, a: PayloadAction<{ note: string; page: string; words: PageWords }>) => {
      const state = plain(draft as NoteState);
      if (state.id !== a.payload.note) return state;
      return { ...state, words: { ...state.words, [a.payload.page]: a.payload.words } };
    },
  },
});
