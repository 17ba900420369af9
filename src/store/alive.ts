/**
 * What lives beside the state: player, recorder, files, locks of tabs, jobs. Made once for a store and handed to its thunks, so that two stores
 * can live side by side.
 */
import type { Level } from '../core/audio/level';
import type { By } from '../core/note/version';
import type { Stamp } from '../core/time/timeline';
import { Live } from '../platform/live';
import type { Player } from '../platform/player';
import type { Recorder } from '../platform/recorder';
import type { HistoryFile } from '../storage/historyFile';
import type { NoteFile } from '../storage/noteFile';
import type { SoundFile } from '../storage/soundFile';

export interface Alive {
  /** The name of this device in versions; empty until storage has been asked. */
  device: string;
  /** The level of the microphone, ten times a second while recording. */
  readonly level: Live<Level>;
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
  /** Notes that were left before they were on disk. */
  readonly unsaved: Map<string, { readonly file: NoteFile; readonly release: () => Promise<void> }>;
  letSleep: (() => void) | null;
  player: Player | null;
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

export const makeAlive = (): Alive => ({
  device: '',
  level: new Live<Level>({ peak: 0, rms: -Infinity }),
  file: null,
  history: null,
  historyTimer: null,
  held: null,
  opening: null,
  recorder: null,
  sound: null,
  earlierSound: [],
  unsaved: new Map(),
  letSleep: null,
  player: null,
  toHear: null,
  unheardAt: -1,
  offered: [],
  stops: new Map(),
  lanes: new Map(),
});

/** Who changes notes from here, now. */
export const byOf = ({ device }: Pick<Alive, 'device'>): By => ({ device, now: Date.now() });
