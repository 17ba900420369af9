/** What thunks are made of: the state, what lives beside it, and the store that has both. */
import type { Store as PlainStore, ThunkDispatch, UnknownAction } from '@reduxjs/toolkit';
import type { Level } from '../core/audio/level';
import type { Box } from '../core/ink/stroke';
import type { Edit } from '../core/note/edit';
import type { Stamp } from '../core/time/timeline';
import type { Player } from '../platform/player';
import type { Recorder } from '../platform/recorder';
import type { HistoryFile } from '../storage/historyFile';
import type { NoteFile } from '../storage/noteFile';
import type { SoundFile } from '../storage/soundFile';
import type { Live } from '../platform/live';
import type { RootState } from './state';

export interface View {
  /** The page in the middle, and where on it, mm. */
  middle(): { readonly page: string; readonly x: number; readonly y: number } | null;
  /** The page at a place of the window (px), and where on it, mm; null where these pages are not. */
  at(x: number, y: number): ReturnType<View['middle']>;
  /** `box`: mm of the page. */
  show(page: string, box: Box): void;
  /** Puts words in where the caret stands; false when there is none. */
  type(words: string): boolean;
  /** The caret has the keys again. */
  toCaret(): void;
  /** Letters of typed lines that are marked, else the word at the caret. */
  letters(): readonly { readonly line: string; readonly from: number; readonly to: number }[];
  /** A page from its top. */
  turnTo(page: string): void;
}

export interface Alive {
  /** The name of this device in versions; empty until storage has been asked. */
  device: string;
  /** The level of the microphone, ten times a second while recording. */
  readonly level: Live<Level>;
  /** The reading of the library that began last. */
  libraryReading: Promise<void> | null;
  /** The file of the open note, what can be taken back in it, and the hold on it against other tabs. */
  file: NoteFile | null;
  history: HistoryFile | null;
  historyTimer: ReturnType<typeof setTimeout> | null;
  held: { readonly note: string; readonly release: () => Promise<void> } | null;
  /** The opening of a note that is under way. */
  opening: { readonly id: string; readonly done: Promise<void> } | null;
  recorder: Recorder | null;
  sound: SoundFile | null;
  /** Sound of earlier takes that is not all on disk. */
  earlierSound: readonly SoundFile[];
  /** Is under way: the open note is being put away. */
  closing: Promise<void> | null;
  /** Of every note that is open in this tab, on either side: puts it away, and gives word when others can have it. */
  readonly holders: Map<string, () => Promise<void>>;
  /** The other side of the screen, while a source stands beside the note. */
  other: Store | null;
  /** Notes that were left before they were on disk. */
  readonly unsaved: Map<string, { readonly file: NoteFile; readonly note: string; readonly release: () => Promise<void> }>;
  letSleep: (() => void) | null;
  player: Player | null;
  /** What is in sight of the open note, and the way to show another place of it; null while no page is shown. */
  view: View | null;
  /** What is to be shown as soon as its note is. */
  toShow: { readonly note: string; readonly page: string; readonly box?: Box; /** What is marked there. */ readonly found?: readonly Box[] } | null;
  /** What was done last to a note that is not open: takes it back, and `here`, what it did in the open note, which is its newest step. */
  there: { readonly note: string; readonly inverse: Edit; readonly here: Edit | null } | null;
  /** Where one was before a link was followed. */
  cameFrom: { readonly note?: string; readonly page: string; readonly box: Box; /** What is said of it once the note it led to is there. */ readonly told?: { readonly in: string; readonly text: string } } | null;
  /** What is to be heard as soon as the note that has its sound is open. */
  toHear: { readonly note: string; readonly stamp: Stamp } | null;
  /** Which ink without sound was shown last. */
  unheardAt: number;
  /** Files that wait in the sheet for bringing in. */
  offered: readonly File[];
  /** The ways to stop jobs, by their ids, and the last job of each lane. */
  readonly stops: Map<string, AbortController>;
  readonly lanes: Map<string, Promise<void>>;
}

export type Dispatch = ThunkDispatch<RootState, Alive, UnknownAction>;

export type Store = PlainStore<RootState, UnknownAction> & { dispatch: Dispatch };

/** Screens dispatch these; nothing else touches storage, microphone or loudspeaker. */
export type Thunk<R = void> = (dispatch: Dispatch, getState: () => RootState, alive: Alive) => R;
