/** The small slices: the library, settings, messages, and what recording and playing are doing. */
import { createSlice, type PayloadAction } from '@reduxjs/toolkit';
import type { MicrophoneState } from '../core/audio/level';
import type { NoteHeader } from '../core/note/schema';
import { DEFAULT_SETTINGS, type Settings } from '../storage/settingsFile';

export interface LibraryState {
  readonly status: 'loading' | 'ready' | 'failed';
  readonly headers: readonly NoteHeader[];
  /** Bringing the demo notes in, and how far. */
  readonly demo: 'none' | 'loading';
}

/** What was worked on last comes first. */
const inOrder = (headers: NoteHeader[]): NoteHeader[] => headers.sort((a, b) => b.changed - a.changed);

export const librarySlice = createSlice({
  name: 'library',
  initialState: { status: 'loading', headers: [], demo: 'none' } as LibraryState,
  reducers: {
    loaded: (s, a: PayloadAction<readonly NoteHeader[]>) => ({ ...s, status: 'ready' as const, headers: inOrder([...a.payload]) }),
    failed: (s) => ({ ...s, status: 'failed' as const }),
    upserted: (s, a: PayloadAction<NoteHeader>) => ({ ...s, headers: inOrder([a.payload, ...(s.headers as NoteHeader[]).filter((h) => h.id !== a.payload.id)]) }),
    removed: (s, a: PayloadAction<readonly string[]>) => ({ ...s, headers: s.headers.filter((h) => !a.payload.includes(h.id)) }),
    demoSet: (s, a: PayloadAction<LibraryState['demo']>) => ({ ...s, demo: a.payload }),
  },
});

export const settingsSlice = createSlice({
  name: 'settings',
  initialState: DEFAULT_SETTINGS as Settings,
  reducers: {
    loaded: (_, a: PayloadAction<Settings>) => a.payload,
    patched: (s, a: PayloadAction<Partial<Settings>>) => ({ ...s, ...a.payload }),
  },
});

export interface Message {
  /** Messages about the same thing share a key; a new one takes the place of the old. */
  readonly key: string;
  readonly tone: 'info' | 'problem';
  readonly text: string;
  readonly action?: 'save-copy' | 'write-here';
}

export const messagesSlice = createSlice({
  name: 'messages',
  initialState: [] as readonly Message[],
  reducers: {
    said: (list, a: PayloadAction<Message>) => [...list.filter((m) => m.key !== a.payload.key), a.payload],
    dismissed: (list, a: PayloadAction<string>) => list.filter((m) => m.key !== a.payload),
  },
});

export interface RecordingState {
  readonly state: 'idle' | 'starting' | 'recording' | 'paused' | 'stopping';
  readonly note: string | null;
  readonly take: string | null;
  readonly microphone: MicrophoneState;
}

export const recordingSlice = createSlice({
  name: 'recording',
  initialState: { state: 'idle', note: null, take: null, microphone: 'good' } as RecordingState,
  reducers: {
    set: (s, a: PayloadAction<Partial<RecordingState>>) => ({ ...s, ...a.payload }),
  },
});

export interface PlaybackState {
  readonly playing: boolean;
  readonly waiting: boolean;
  /** The word or drawing that was touched last: page and its first stroke. */
  readonly lit: { readonly page: string; readonly stroke: string } | null;
}

export const playbackSlice = createSlice({
  name: 'playback',
  initialState: { playing: false, waiting: false, lit: null } as PlaybackState,
  reducers: {
    set: (s, a: PayloadAction<Partial<PlaybackState>>) => ({ ...s, ...a.payload }),
  },
});
