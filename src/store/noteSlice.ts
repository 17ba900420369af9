/** The open note: what it holds, its history, and where it stands. */
import { createSlice, type PayloadAction, type UnknownAction } from '@reduxjs/toolkit';
import type { Grouping } from '../core/ink/words/grouping';
import { applyEdit, type Edit, type Note } from '../core/note/edit';
import type { PageText } from '../core/reading/pageText';
import type { Placed } from '../core/note/kinds/kinds';
import type { SaveState } from '../storage/noteFile';

/** Steps that can be taken back, and the things and rows that all of them together may hold: 2,000 strokes moved fifty times. */
const HISTORY = 1000;
const HISTORY_THINGS = 100_000;

const weightOf = ({ put, cut, rows }: Edit): number => 1 + (put?.length ?? 0) + (cut?.length ?? 0) + (rows?.length ?? 0);

/** The newest steps within those limits; the last one always. */
export function lately(steps: readonly Edit[]): readonly Edit[] {
  let room = HISTORY_THINGS;
  let from = steps.length;
  while (from > 0 && steps.length - from < HISTORY) {
    room -= weightOf(steps[from - 1]);
    if (room < 0 && from < steps.length) break;
    from--;
  }
  return from === 0 ? steps : steps.slice(from);
}

export type Mode = 'write' | 'listen';

export interface PageWords {
  readonly grouping: Grouping;
  /** What it was made from: another array means it is out of date. */
  readonly of: readonly Placed[];
}

export interface NoteState {
  readonly id: string | null;
  readonly status: 'none' | 'opening' | 'open' | 'failed';
  readonly failure: string | null;
  /** It could not be opened because it is locked. */
  readonly locked: boolean;
  readonly note: Note | null;
  readonly mode: Mode;
  /** Another tab writes; this one shows. */
  readonly following: boolean;
  /** Why it can only be read: a newer program wrote it. Null for any other note. */
  readonly newer: string | null;
  readonly save: SaveState;
  readonly undo: readonly Edit[];
  readonly redo: readonly Edit[];
  /** The edit that led to the present note, for the middleware that saves. */
  readonly last: Edit | null;
  readonly words: Readonly<Record<string, PageWords>>;
  /** What was read of each page, as far as it is known. */
  readonly texts: Readonly<Record<string, PageText>>;
}

const initialState: NoteState = {
  id: null,
  status: 'none',
  failure: null,
  locked: false,
  note: null,
  mode: 'write',
  following: false,
  newer: null,
  save: 'saved',
  undo: [],
  redo: [],
  last: null,
  words: {},
  texts: {},
};

/** A change that was made: the note after it, the edit, and the one that takes it back. */
interface Made {
  readonly note: Note;
  readonly edit: Edit;
  readonly inverse: Edit;
}

const reducers = {
  opening: (_: NoteState, a: PayloadAction<string>) => ({ ...initialState, id: a.payload, status: 'opening' as const }),
  opened: (state: NoteState, a: PayloadAction<{ note: Note; following: boolean; newer?: string | null; mode: Mode; undo?: readonly Edit[]; redo?: readonly Edit[] }>) => ({
    ...initialState,
    id: state.id,
    status: 'open' as const,
    ...a.payload,
  }),
  openFailed: (state: NoteState, a: PayloadAction<{ reason: string; locked: boolean }>) => ({ ...initialState, id: state.id, status: 'failed' as const, failure: a.payload.reason, locked: a.payload.locked }),
  closed: () => initialState,
  /** The user's own change, which can be taken back, or (`history: false`) one that comes with recording. */
  changed: (state: NoteState, { payload: { note, edit, inverse, history } }: PayloadAction<Made & { history: boolean }>) => {
    const next = { ...state, note, last: edit };
    return history ? { ...next, undo: lately([...state.undo, inverse]), redo: [] } : next;
  },
  undone: (state: NoteState, { payload: { note, edit, inverse } }: PayloadAction<Made>) => ({ ...state, note, last: edit, undo: state.undo.slice(0, -1), redo: lately([...state.redo, inverse]) }),
  redone: (state: NoteState, { payload: { note, edit, inverse } }: PayloadAction<Made>) => ({ ...state, note, last: edit, redo: state.redo.slice(0, -1), undo: lately([...state.undo, inverse]) }),
  /** What another tab wrote. */
  followed: (state: NoteState, a: PayloadAction<Edit>) => (state.note ? { ...state, note: applyEdit(state.note, a.payload).note, last: null } : state),
  followingSet: (state: NoteState, a: PayloadAction<boolean>) => ({ ...state, following: a.payload, undo: [], redo: [] }),
  modeSet: (state: NoteState, a: PayloadAction<Mode>) => ({ ...state, mode: a.payload }),
  saveSet: (state: NoteState, a: PayloadAction<SaveState>) => ({ ...state, save: a.payload }),
  wordsFound: (state: NoteState, a: PayloadAction<{ note: string; page: string; words: PageWords }>) =>
    state.id === a.payload.note ? { ...state, words: { ...state.words, [a.payload.page]: a.payload.words } } : state,
  textRead: (state: NoteState, a: PayloadAction<{ note: string; page: string; text: PageText }>) =>
    state.id === a.payload.note ? { ...state, texts: { ...state.texts, [a.payload.page]: a.payload.text } } : state,
};

const slice = createSlice({ name: 'note', initialState, reducers });

/**
 * The note is large and never changed in place, so its reducers give new state back and work without drafts: looking for drafts in
 * what they give back would go through every stroke of the note, at every dispatch.
 */
const reducer = (state: NoteState = initialState, action: UnknownAction): NoteState => {
  const [name, what] = action.type.split('/');
  const make = name === 'note' ? (reducers as Record<string, (state: NoteState, action: never) => NoteState>)[what] : undefined;
  return make ? make(state, action as never) : state;
};

export const noteSlice = { actions: slice.actions, reducer };
