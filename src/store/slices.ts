/** The small slices: the library, settings, messages, and what recording and playing are doing. */
import { createAction, createSlice, type PayloadAction, type UnknownAction } from '@reduxjs/toolkit';
import type { Folder, Place } from '../core/library/folder';
import type { RestoreReport } from '../core/library/merge';
import type { MicrophoneState } from '../core/audio/level';
import type { NoteSummary, Take } from '../core/note/schema';
import type { Template } from '../core/note/template';
import type { Box } from '../core/ink/stroke';
import type { Placed } from '../core/note/kinds/kinds';
import type { Slip } from '../core/note/kinds/slip';
import type { CellPlace } from '../core/note/tableEdits';
import type { Typed } from '../core/note/kinds/typed';
import type { Look } from '../core/text/faces';
import type { Heard } from '../core/audio/heard';
import type { Span } from '../core/audio/speech';
import type { ReviewRecord } from '../core/review/record';
import type { Cover } from '../core/vault/vault';
import { inkColor } from '../core/ink/inks';
import { DEFAULT_SETTINGS, type Settings } from '../storage/settingsFile';
import { noteSlice } from './noteSlice';

export interface LibraryState {
  readonly status: 'loading' | 'ready' | 'failed';
  /** All notes, in the bin and the archive too; what was worked on last comes first. */
  readonly headers: readonly NoteSummary[];
  /** While it is being read: what Today showed last. */
  readonly peek: readonly NoteSummary[];
  readonly folders: ReadonlyMap<string, Folder>;
  /** By note id; a note that was never filed has none. */
  readonly places: Readonly<Record<string, Place>>;
  /** Of locked notes, by note id; while the lock is open they are among the headers too. */
  readonly covers: Readonly<Record<string, Cover>>;
  /** Bringing the demo notes in, and how far. */
  readonly demo: 'none' | 'loading';
  /** Changes made here so far, and at which of them a note, a folder or a place (`place/<note>`) was made, changed or removed: what is being read meanwhile may not show them yet. */
  readonly changes: number;
  readonly changedAt: Readonly<Record<string, number>>;
}

/** What was worked on last comes first. */
const inOrder = (headers: NoteSummary[]): NoteSummary[] => headers.sort((a, b) => b.changed - a.changed);

const NOTHING: LibraryState = { status: 'loading', headers: [], peek: [], folders: new Map(), places: {}, covers: {}, demo: 'none', changes: 0, changedAt: {} };
/** `since`: the `changes` there were when reading began. */
type Loaded = { readonly since: number; readonly headers: readonly NoteSummary[]; readonly folders: readonly Folder[]; readonly places: readonly Place[]; readonly covers: readonly Cover[] };

/** Plain functions and no drafts: a library has thousands of headers, which the draft library would walk through at every change. */
const libraryActions = {
  loaded: createAction<Loaded>('library/loaded'),
  failed: createAction('library/failed'),
  peeked: createAction<readonly NoteSummary[]>('library/peeked'),
  upserted: createAction<NoteSummary>('library/upserted'),
  removed: createAction<readonly string[]>('library/removed'),
  foldersSet: createAction<{ readonly put?: readonly Folder[]; readonly cut?: readonly string[] }>('library/foldersSet'),
  filed: createAction<readonly Place[]>('library/filed'),
  covered: createAction<readonly Cover[]>('library/covered'),
  /** The lock was closed: nothing that was read stays. */
  forgotten: createAction('library/forgotten'),
  demoSet: createAction<LibraryState['demo']>('library/demoSet'),
};

const without = <T,>(record: Readonly<Record<string, T>>, gone: ReadonlySet<string>) => Object.fromEntries(Object.entries(record).filter(([id]) => !gone.has(id)));
const placeKey = (note: string): string => `place/${note}`;
const noting = (s: LibraryState, keys: readonly string[]): Pick<LibraryState, 'changes' | 'changedAt'> => ({ changes: s.changes + 1, changedAt: { ...s.changedAt, ...Object.fromEntries(keys.map((k) => [k, s.changes + 1])) } });
/** What was read, with what was changed here while it was being read. */
function withOwn<T>(read: readonly (readonly [string, T])[], own: Iterable<readonly [string, T]>, isOwn: (id: string) => boolean): [string, T][] {
  return [...read.filter(([id]) => !isOwn(id)), ...[...own].filter(([id]) => isOwn(id))].map(([id, v]) => [id, v]);
}
const byId = (covers: readonly Cover[]) => Object.fromEntries(covers.map((c) => [c.id, c]));

function libraryReducer(s: LibraryState = NOTHING, a: UnknownAction): LibraryState {
  const { loaded, failed, peeked, upserted, removed, foldersSet, filed, covered, forgotten, demoSet } = libraryActions;
  if (loaded.match(a)) {
    const { since, headers, folders, places, covers } = a.payload;
    const own = (key: string) => (s.changedAt[key] ?? 0) > since;
    return {
      ...s,
      status: 'ready',
      headers: inOrder(withOwn(headers.map((h) => [h.id, h]), s.headers.map((h) => [h.id, h]), own).map(([, h]) => h)),
      peek: [],
      folders: new Map(withOwn(folders.map((f) => [f.id, f]), s.folders, own)),
      places: Object.fromEntries(withOwn(places.map((p) => [p.note, p]), Object.entries(s.places), (note) => own(placeKey(note)))),
      covers: byId(covers),
    };
  }
  if (peeked.match(a)) return s.status === 'loading' ? { ...s, peek: a.payload } : s;
  if (failed.match(a)) return { ...s, status: 'failed' };
  if (upserted.match(a)) return { ...s, ...noting(s, [a.payload.id]), headers: inOrder([a.payload, ...s.headers.filter((h) => h.id !== a.payload.id)]) };
  if (removed.match(a)) {
    const gone = new Set(a.payload);
    return { ...s, ...noting(s, a.payload.flatMap((id) => [id, placeKey(id)])), headers: s.headers.filter((h) => !gone.has(h.id)), places: without(s.places, gone), covers: without(s.covers, gone) };
  }
  if (foldersSet.match(a)) {
    const folders = new Map(s.folders);
    for (const id of a.payload.cut ?? []) folders.delete(id);
    for (const f of a.payload.put ?? []) folders.set(f.id, f);
    return { ...s, ...noting(s, [...(a.payload.cut ?? []), ...(a.payload.put ?? []).map((f) => f.id)]), folders };
  }
  if (filed.match(a)) return { ...s, ...noting(s, a.payload.map((p) => placeKey(p.note))), places: { ...s.places, ...Object.fromEntries(a.payload.map((p) => [p.note, p])) } };
  if (covered.match(a)) return { ...s, covers: byId(a.payload) };
  if (forgotten.match(a)) return { ...NOTHING, changes: s.changes, changedAt: {} };
  if (demoSet.match(a)) return { ...s, demo: a.payload };
  return s;
}

export const librarySlice = { actions: libraryActions, reducer: libraryReducer };

export const settingsSlice = createSlice({
  name: 'settings',
  initialState: DEFAULT_SETTINGS as Settings,
  reducers: {
    loaded: (_, a: PayloadAction<Settings>) => a.payload,
    /** Changed in another tab: what is in hand here stays in hand. */
    followed: ({ cup, pen }, { payload }: PayloadAction<Settings>) => ({ ...payload, pen: Math.max(0, payload.cup.findIndex((p) => p.id === cup[pen]?.id)) }),
    patched: (s, a: PayloadAction<Partial<Settings>>) => ({ ...s, ...a.payload }),
  },
});

export interface Message {
  /** Messages about the same thing share a key; a new one takes the place of the old. */
  readonly key: string;
  readonly tone: 'info' | 'problem';
  readonly text: string;
  /** For `hear-there`: the note that has the sound; for `save-copy`: one that is not open; for `show-there`: what was taken over. */
  readonly note?: string;
  readonly action?: 'save-copy' | 'write-here' | 'hear-there' | 'undo' | 'undo-there' | 'undo-filing' | 'show-there' | 'go-back' | 'put-there' | 'unlock' | 'write' | 'listen' | 'pdf-password';
}

/** A step of the user's in a note, or another note. What comes with recording is no step. */
const isStep = (a: UnknownAction): boolean => ['note/undone', 'note/redone', 'note/opening', 'note/closed'].includes(a.type) || (a.type === 'note/changed' && (a as { payload?: { history?: boolean } }).payload?.history === true);

/** What is said of the open note alone, or of the tool in hand, by its key: it goes with the note. */
const OF_NOTE: ReadonlySet<string> = new Set(['tool', 'first-tool', 'backdrop', 'mark', 'gap']);
const isAnotherNote = (a: UnknownAction): boolean => a.type === 'note/opening' || a.type === 'note/closed';

const takesBack = ({ action }: Message): boolean => action === 'undo' || action === 'undo-there';

export const messagesSlice = createSlice({
  name: 'messages',
  initialState: [] as readonly Message[],
  reducers: {
    said: (list, a: PayloadAction<Message>) => [...list.filter((m) => m.key !== a.payload.key), a.payload],
    dismissed: (list, a: PayloadAction<string>) => (list.some((m) => m.key === a.payload) ? list.filter((m) => m.key !== a.payload) : list),
    forgotten: () => [],
  },
  // An Undo that is offered takes back the step it stands beside, and no other: it goes with the next step, and with the note.
  extraReducers: (builder) =>
    // The same list while there is none: with every stroke a new one would draw the screen anew.
    builder
      .addMatcher(isStep, (list) => (list.some(takesBack) ? list.filter((m) => !takesBack(m)) : list))
      .addMatcher(isAnotherNote, (list) => (list.some((m) => OF_NOTE.has(m.key)) ? list.filter((m) => !OF_NOTE.has(m.key)) : list)),
});

export interface RecordingState {
  readonly state: 'idle' | 'starting' | 'recording' | 'paused' | 'stopping';
  readonly note: string | null;
  readonly take: string | null;
  readonly microphone: MicrophoneState;
  /** Something of the sound could not be stored yet. */
  readonly soundFailed: boolean;
}

export const recordingSlice = createSlice({
  name: 'recording',
  initialState: { state: 'idle', note: null, take: null, microphone: 'good', soundFailed: false } as RecordingState,
  reducers: {
    set: (s, a: PayloadAction<Partial<RecordingState>>) => ({ ...s, ...a.payload }),
  },
});

export interface HearingState {
  /** What is known of the sound of each take. */
  readonly takes: Readonly<Record<string, Heard>>;
  /** Stopped by hand; goes on when asked. */
  readonly stopped: boolean;
  /** `take by` of what could not be done, and why the last could not. */
  readonly failed: readonly string[];
  readonly reason: string | null;
}

export const hearingSlice = createSlice({
  name: 'hearing',
  initialState: { takes: {}, stopped: false, failed: [], reason: null } as HearingState,
  reducers: {
    found: (s, a: PayloadAction<{ take: string; heard: Heard }>) => ({ ...(s as HearingState), takes: { ...(s as HearingState).takes, [a.payload.take]: a.payload.heard } }),
    stopped: (s, a: PayloadAction<boolean>) => ({ ...(s as HearingState), stopped: a.payload, ...(a.payload ? {} : { failed: [], reason: null }) }),
    /** What is locked from now on. */
    forgotten: (s, a: PayloadAction<readonly string[]>) => ({ ...(s as HearingState), takes: Object.fromEntries(Object.entries((s as HearingState).takes).filter(([take]) => !a.payload.includes(take))) }),
    failed: (s, a: PayloadAction<{ what: string; reason: string }>) => ({ ...(s as HearingState), failed: [...s.failed, a.payload.what], reason: a.payload.reason }),
  },
  extraReducers: (b) =>
    // Only the open note's is needed; the rest is on disk.
    b.addCase(noteSlice.actions.opened, (s, { payload }) => {
      const mine = payload.note.header.takes.flatMap(({ id }) => (s.takes[id] ? [[id, (s as HearingState).takes[id]] as const] : []));
      return { ...(s as HearingState), takes: Object.fromEntries(mine) };
    }),
});

export interface ReviewState {
  readonly records: Readonly<Record<string, ReviewRecord>>;
  /** Notes whose sound was never looked at. */
  readonly wanted: readonly string[];
}

export const reviewSlice = createSlice({
  name: 'review',
  initialState: { records: {}, wanted: [] } as ReviewState,
  reducers: {
    entered: (s, a: PayloadAction<{ note: string; record: ReviewRecord }>) => ({ ...s, records: { ...s.records, [a.payload.note]: a.payload.record }, wanted: s.wanted.filter((id) => id !== a.payload.note) }),
    enteredAll: (s, a: PayloadAction<readonly (readonly [string, ReviewRecord])[]>) => ({ ...(s as ReviewState), records: { ...(s as ReviewState).records, ...Object.fromEntries(a.payload) } }),
    wanted: (s, a: PayloadAction<string>) => (s.wanted.includes(a.payload) ? s : { ...s, wanted: [...s.wanted, a.payload] }),
    forgotten: (): ReviewState => ({ records: {}, wanted: [] }),
  },
});

/** To unlock; the passphrase of an archive; to set the passphrase (and lock these notes then); to lock notes; another passphrase; no passphrase. */
export type LockQuestion = { readonly kind: 'change' | 'remove' } | { readonly kind: 'unlock'; /** To be locked as soon as it is open. */ readonly toLock?: readonly string[] } | { readonly kind: 'archive'; readonly hint: string } | { readonly kind: 'set'; readonly notes: readonly string[] } | { readonly kind: 'lock'; readonly notes: readonly string[] };

export interface LockState {
  /** `unknown`: its record was not read yet. */
  readonly status: 'unknown' | 'none' | 'locked' | 'open' | 'broken';
  readonly hint: string;
  readonly whole: boolean;
  readonly idle: number;
  /** Wall clock before which no passphrase is tried, ms. */
  readonly notBefore: number;
  readonly trying: boolean;
  /** Why the last try did not open it. */
  readonly failure: string | null;
  /** What is asked over what is on the screen. */
  readonly asking: LockQuestion | null;
}

export const lockSlice = createSlice({
  name: 'lock',
  initialState: { status: 'unknown', hint: '', whole: false, idle: 5, notBefore: 0, trying: false, failure: null, asking: null } as LockState,
  reducers: { set: (s, a: PayloadAction<Partial<LockState>>) => ({ ...s, ...a.payload }) },
});

/** What the sheet for bringing in is open for; null while it is shut. The files themselves are in `alive`: they are no data. */
export interface Bringing {
  /** The open note that takes it; null for a new one. */
  readonly into: string | null;
  /** What is in sight of that note: its page, and the place on it, mm. */
  readonly at: { readonly page: string; readonly x: number; readonly y: number } | null;
  /** Where a new note is to lie. */
  readonly folder: string | null;
  /** The address that it was copied from. */
  readonly url?: string;
  /** Counts what was handed over: dropped, pasted or chosen. */
  readonly turn: number;
}
export const bringingSlice = createSlice({
  name: 'bringing',
  initialState: null as Bringing | null,
  reducers: { asked: (_, a: PayloadAction<Omit<Bringing, 'turn'>>) => ({ ...a.payload, turn: 0 }), handed: (s) => s && { ...s, turn: s.turn + 1 }, shut: () => null },
});

export interface BesideState {
  /** The note that stands beside the one being written. */
  readonly note: string | null;
  /** The share of the room it has. */
  readonly share: number;
  /** Which of the two the deck and the keys belong to: the one that was touched last. */
  readonly hand: 'note' | 'source';
  /** Printed text that was copied last, and where it stands: mm of the page. */
  readonly copied: { readonly text: string; readonly note: string; readonly page: string; readonly box: Box } | null;
}
export const besideSlice = createSlice({
  name: 'beside',
  initialState: { note: null, share: 0.5, hand: 'note', copied: null } as BesideState,
  reducers: { set: (s, a: PayloadAction<Partial<BesideState>>) => ({ ...s, ...a.payload }) },
});

/** Notes that were opened in this tab, in the order they came, for the row above the page; so many at most. */
const TABS = 8;
export const tabsSlice = createSlice({
  name: 'tabs',
  initialState: [] as readonly string[],
  reducers: { shut: (list, a: PayloadAction<string>) => list.filter((id) => id !== a.payload) },
  extraReducers: (b) =>
    b.addCase(noteSlice.actions.opened, (list, { payload }) => {
      const { id } = payload.note.header;
      return list.includes(id) ? list : [...list, id].slice(-TABS);
    }),
});

/** What was copied or cut: the things, the takes their stamps point to, and where they come from. */
export interface Copied {
  readonly placed: readonly Placed[];
  readonly takes: readonly Take[];
  readonly note: string;
  readonly title: string;
  /** What the browser's clipboard says while this is what was copied last; null where it could not be told. */
  readonly mark: string | null;
  /** The browser is being told: until then nothing can have been copied after it. */
  readonly marking: boolean;
}
export const clipboardSlice = createSlice({
  name: 'clipboard',
  initialState: null as Copied | null,
  reducers: { copied: (_, a: PayloadAction<Copied>) => a.payload as never, marked: (s, a: PayloadAction<{ mark: string; done: boolean }>) => (s?.mark === a.payload.mark ? ({ ...s, mark: a.payload.done ? s.mark : null, marking: false } as never) : s), forgotten: () => null },
});

/** The writer's own templates; null until they were read. */
export const templatesSlice = createSlice({
  name: 'templates',
  initialState: null as readonly Template[] | null,
  reducers: { loaded: (_, a: PayloadAction<readonly Template[]>) => [...a.payload] as never, forgotten: () => null },
});

export type JobKind = 'backup' | 'restore' | 'sealing' | 'looking' | 'hearing' | 'copy' | 'picture' | 'delete' | 'bring' | 'reading';

export interface Job {
  readonly id: string;
  readonly kind: JobKind;
  readonly title: string;
  /** What it is at just now, such as the title of a note; may be empty. */
  readonly at: string;
  /** Share done, 0..1; null while it waits for others. */
  readonly share: number | null;
}

export const jobsSlice = createSlice({
  name: 'jobs',
  initialState: [] as readonly Job[],
  reducers: {
    added: (list, a: PayloadAction<Job>) => [...list, a.payload],
    told: (list, a: PayloadAction<Pick<Job, 'id'> & Partial<Job>>) => list.map((j) => (j.id === a.payload.id ? { ...j, ...a.payload } : j)),
    ended: (list, a: PayloadAction<string>) => list.filter((j) => j.id !== a.payload),
  },
});
export interface BackupState {
  /** What the last restore did, until it is put away. */
  readonly report: RestoreReport | null;
}

export const backupSlice = createSlice({
  name: 'backup',
  initialState: { report: null } as BackupState,
  reducers: { reported: (_, a: PayloadAction<BackupState['report']>) => ({ report: a.payload }) as never },
});

/** What was touched: the first stroke of a word or drawing, or (`line`) of a written line in the time margin. */
export interface Lit {
  readonly page: string;
  readonly stroke: string;
  readonly line?: boolean;
}

export interface PlaybackState {
  readonly playing: boolean;
  readonly waiting: boolean;
  /** The word or drawing that was touched last: page and its first stroke. */
  readonly lit: Lit | null;
  /** Stretch of the timeline that plays again and again, ms. */
  readonly repeat: Span | null;
  /** The pen writes while one listens. */
  readonly second: boolean;
  /** The gap that is being written at, and where on the page its ink goes, mm. */
  readonly answering: { readonly gap: Span; readonly page: string; readonly box: Box } | null;
}

export const playbackSlice = createSlice({
  name: 'playback',
  initialState: { playing: false, waiting: false, lit: null, repeat: null, second: false, answering: null } as PlaybackState,
  reducers: {
    set: (s, a: PayloadAction<Partial<PlaybackState>>) => ({ ...s, ...a.payload }),
  },
});

export type ToolName = 'pen' | 'eraser' | 'lasso' | 'room' | 'shapes' | 'fill' | 'pan' | 'type';

/** What can stand above the deck, one at a time: the pens in a row, what the deck's row has no place for, the note's menu; the cup, one pen, the look of a selection, its picture, what pasting asks, the zoom; lists, keys, paper, pages. */
/** The text of the note: as it is, or to look for something in it. */
export const isTextSheet = (sheet: SheetName | 'none'): boolean => sheet === 'text' || sheet === 'find';
export type SheetName = 'add' | 'axes' | 'arrange' | 'table' | 'sticker' | 'link' | 'find' | 'pens' | 'more' | 'menu' | 'cup' | 'pen' | 'look' | 'picture' | 'paste' | 'password' | 'zoom' | 'lists' | 'keys' | 'paper' | 'pages' | 'text';

export interface ToolsState {
  readonly tool: ToolName;
  readonly ruler: boolean;
  readonly strip: boolean;
  /** Printed text is taken hold of, instead of writing over it. */
  readonly text: boolean;
  /** The next loop of the lasso says what of the selected picture is shown, or what is cut out of the page for the other side of the screen. */
  readonly cropping: 'rectangle' | 'loop' | 'out' | null;
  /** Letters of typed lines that a link is made for. */
  readonly linking: readonly { readonly line: string; readonly from: number; readonly to: number }[] | null;
  /** The window of the film stands over the page. */
  readonly film: boolean;
  /** Places that were looked for on a page, mm. */
  readonly found: { readonly page: string; readonly boxes: readonly Box[] } | null;
  /** What was read stands over the ink. */
  readonly overInk: boolean;
  /** What the sheet above the deck shows. */
  readonly sheet: SheetName | 'none';
  /** Ids of what is taken hold of, all on one page. */
  readonly selection: { readonly page: string; readonly ids: readonly string[] } | null;
  /** Colour that the fill tool sets. */
  readonly fill: string;
  /** How what is typed next looks. */
  readonly typing: { readonly look: Look; readonly list: Typed['list'] | null; readonly align: Typed['align'] | null };
  /** How the next sticky note looks. */
  readonly slip: Pick<Slip, 'tint' | 'shape' | 'paper'>;
  /** The cells of a table that are typed into or held. */
  readonly cells: { readonly page: string; readonly table: string; readonly from: CellPlace; readonly to: CellPlace } | null;
  /** The thing whose look was copied. */
  readonly copiedLook: Placed | null;
}

export const toolsSlice = createSlice({
  name: 'tools',
  initialState: { tool: 'pen', ruler: false, strip: false, text: false, cropping: null, linking: null, film: true, found: null, overInk: false, sheet: 'none', selection: null, fill: inkColor('Straw'), typing: { look: { face: 'sans', size: 12, color: inkColor('Navy') }, list: null, align: null }, slip: { tint: inkColor('Straw'), shape: 'rounded', paper: 'ruled' }, cells: null, copiedLook: null } as ToolsState,
  reducers: {
    set: (s, a: PayloadAction<Partial<ToolsState>>) => ({ ...s, ...a.payload }),
    /** Taking up another tool lets go of what was selected. */
    toolChosen: (s, a: PayloadAction<ToolName>) => ({ ...s, tool: a.payload, text: false, cropping: null, linking: null, sheet: 'none', cells: null, selection: a.payload === 'lasso' || a.payload === 'shapes' ? s.selection : null }),
    /** The strip takes the pen or the eraser; another tool would have nothing to do there. */
    stripTurned: (s) => ({ ...s, strip: !s.strip, sheet: 'none', ...(!s.strip && s.tool !== 'eraser' ? { tool: 'pen', selection: null } : {}) }),
    forgotten: (s) => ({ ...(s as ToolsState), selection: null, cells: null, copiedLook: null }),
    /** Another note was opened. */
    cleared: (s) => ({ ...s, tool: s.tool === 'pan' ? 'pan' : 'pen', ruler: false, strip: false, text: false, cropping: null, linking: null, film: true, found: null, overInk: false, sheet: 'none', selection: null, cells: null }),
  },
});
