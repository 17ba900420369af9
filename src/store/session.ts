/**
 * What goes on behind the screens: the open note with its file and lock, the recorder, the player.
 * Screens dispatch these thunks; nothing else touches storage, microphone or loudspeaker.
 */
import type { Edit, Note } from '../core/note/edit';
import { countStrokes } from '../core/note/edit';
import { newId } from '../core/id';
import type { Level } from '../core/audio/level';
import type { Packet } from '../core/audio/opus';
import { pieceOf } from '../core/audio/pieces';
import type { Stroke } from '../core/ink/stroke';
import { newPage, wholeTimeline, type NoteHeader, type Take } from '../core/note/schema';
import { clockText, spokenTime } from '../core/time/format';
import { sentenceStart, type Span } from '../core/audio/speech';
import { fromTimeline, playFrom, timelineLength, toTimeline, type Stamp } from '../core/time/timeline';
import { Live } from '../platform/live';
import { MicrophoneError } from '../platform/microphoneErrors';
import { Player, playingObstacle } from '../platform/player';
import { Recorder } from '../platform/recorder';
import { heldNotes, holdNote, onTold, tell } from '../platform/tabs';
import { keepAwake } from '../platform/wakeLock';
import { isQuotaError } from '../storage/databases';
import { LockedError } from '../storage/sealing';
import { deleteNote as deleteFromDisk, finishBrokenTakes, readLibrary, readToday } from '../storage/libraryFile';
import { NoteFile, writeNewNote } from '../storage/noteFile';
import { readSettings } from '../storage/settingsFile';
import { readPieces, SoundFile, storedLength, storedPieces } from '../storage/soundFile';
import { noteSlice, type Mode } from './noteSlice';
import { sealTake } from '../storage/vaultFile';
import { HistoryFile } from '../storage/historyFile';
import { leadInOf, selectSkips, selectSpeech } from './listening';
import { isShut, loadLock } from './lockState';
import { flushHistory, openFile, openHistory } from './saving';
import { librarySlice, messagesSlice, playbackSlice, recordingSlice, settingsSlice, toolsSlice, type Message } from './slices';
import type { Dispatch, RootState } from './store';

export type Thunk<R = void> = (dispatch: Dispatch, getState: () => RootState) => R;

/** The level of the microphone, ten times a second while recording. */
export const liveLevel = new Live<Level>({ peak: 0, rms: -Infinity });

let held: { note: string; release: () => void } | null = null;
let recorder: Recorder | null = null;
let sound: SoundFile | null = null;
let letSleep: (() => void) | null = null;
let player: Player | null = null;
const NO_SKIPS: readonly Span[] = [];

export const say =
  (key: string, tone: Message['tone'], text: string, action?: Message['action'], note?: string): Thunk =>
  (dispatch) => {
    dispatch(messagesSlice.actions.said({ key, tone, text, ...(action ? { action } : {}), ...(note ? { note } : {}) }));
  };

export const reasonOf = (e: unknown): string => (e instanceof Error ? e.message : String(e));
const reason = reasonOf;

const FULL = 'This browser has no room left for Scrivo. What is not stored yet is kept in this tab: leave it open, free some room (delete notes in the Library), and storing goes on by itself. To be safe, save a copy now.';

/** Storing the note or its sound failed or works again; one sentence for both. */
const storing =
  (what: 'ink' | 'sound', error: unknown | null): Thunk =>
  (dispatch, getState) => {
    const key = `storing-${what}`;
    const failing = getState().messages.some((m) => m.key === key && m.tone === 'problem');
    if (error) {
      if (failing) return;
      const text = isQuotaError(error) ? FULL : `Storing ${what === 'ink' ? 'the ink' : 'the sound'} failed (${reason(error)}). It is kept in this tab and tried again every few seconds: leave the tab open. To be safe, save a copy now.`;
      dispatch(say(key, 'problem', text, 'save-copy'));
    } else if (failing) dispatch(say(key, 'info', 'Everything is stored again.'));
  };

// Library

export const loadLibrary =
  (): Thunk<Promise<void>> =>
  async (dispatch, getState) => {
    try {
      await dispatch(loadLock());
      if (isShut(getState())) return;
      dispatch(settingsSlice.actions.loaded(await readSettings()));
      if (getState().library.status === 'loading') dispatch(librarySlice.actions.peeked(await readToday()));
      const { headers, folders, places, covers, problems } = await readLibrary();
      for (const text of problems) dispatch(say('library', 'problem', text));
      const busy = await heldNotes();
      const whole: NoteHeader[] = [];
      for (const header of headers) {
        const broken = header.takes.some((t) => t.state === 'recording') && !busy.has(header.id) && held?.note !== header.id;
        const fixed = broken ? await finishBrokenTakes(header) : null;
        if (fixed) dispatch(recovered(header, fixed));
        whole.push(fixed ?? header);
      }
      dispatch(librarySlice.actions.loaded({ headers: whole, folders, places, covers }));
    } catch (e) {
      dispatch(librarySlice.actions.failed());
      dispatch(say('library', 'problem', `The notes on this device could not be read (${reason(e)}). Close other tabs of Scrivo and load this page again; nothing was changed.`));
    }
  };

const recovered = (before: NoteHeader, after: NoteHeader): Thunk => {
  const take = after.takes.find((t, i) => before.takes[i]?.state === 'recording' && t.state === 'done');
  const length = take ? spokenTime(take.ms) : '';
  return say(`recovered-${after.id}`, 'info', `Scrivo was closed while “${after.title}” was being recorded. ${length} of ${take?.name ?? 'the take'} and all ink up to then were recovered; at most the last 5 seconds are missing.`);
};

/** Notes begin with the paper chosen last for their kind; a spoken memo says in its title what it is. */
export type NoteKind = 'recorded' | 'written' | 'sound';

export const createNote =
  (kind: NoteKind): Thunk<Promise<string | null>> =>
  async (dispatch, getState) => {
    const now = Date.now();
    const { papers } = getState().settings;
    const when = new Date(now).toLocaleString('en-GB', { weekday: 'short', day: 'numeric', month: 'long', year: 'numeric', hour: '2-digit', minute: '2-digit' });
    const title = kind === 'sound' ? `Memo, ${when}` : when;
    const header: NoteHeader = { v: 1, id: newId(), title, made: now, changed: now, pages: [newPage(newId(), papers[kind === 'written' ? 'written' : 'recorded'])], takes: [], timeline: [] };
    try {
      await writeNewNote({ header, ink: {} });
    } catch (e) {
      dispatch(storing('ink', e));
      return null;
    }
    dispatch(librarySlice.actions.upserted(header));
    tell({ kind: 'library' });
    return header.id;
  };

export const deleteNotes =
  (ids: readonly string[]): Thunk<Promise<void>> =>
  async (dispatch, getState) => {
    for (const id of ids) {
      const header = getState().library.headers.find((h) => h.id === id);
      if (!header) continue;
      if (getState().recording.state !== 'idle' && getState().recording.note === id) {
        dispatch(say('delete', 'problem', `“${header.title}” is being recorded. Stop the recording first, then delete it.`));
        continue;
      }
      if (getState().note.id === id) await dispatch(closeNote());
      try {
        // Sound that other notes play too stays.
        const { headers, covers } = getState().library;
        const shared = new Set([...headers.flatMap((h) => (h.id === id ? [] : h.takes.map((t) => t.id))), ...Object.values(covers).flatMap((c) => (c.id === id ? [] : c.takes))]);
        await deleteFromDisk(header, shared);
        dispatch(librarySlice.actions.removed([id]));
      } catch (e) {
        dispatch(say('delete', 'problem', `“${header.title}” could not be deleted (${reason(e)}). Try again.`));
      }
    }
    tell({ kind: 'library' });
  };

// The open note

let opening: { id: string; done: Promise<void> } | null = null;

/** Opens a note, or waits for the opening that is under way. */
export const openNote =
  (id: string): Thunk<Promise<void>> =>
  (dispatch, getState) => {
    if (opening?.id === id) return opening.done;
    if (getState().note.id === id && getState().note.status === 'open') return Promise.resolve();
    const done = (opening?.done ?? Promise.resolve()).then(() => dispatch(openNow(id)));
    const mine = { id, done };
    opening = mine;
    return done.finally(() => {
      if (opening === mine) opening = null;
    });
  };

const openNow =
  (id: string): Thunk<Promise<void>> =>
  async (dispatch) => {
    await dispatch(closeNote());
    dispatch(noteSlice.actions.opening(id));
    try {
      const lock = await holdNote(id);
      held = lock ? { note: id, release: lock.release } : null;
      const { note, file, problems } = await NoteFile.open(id);
      attach(file, dispatch);
      const listen = note.header.readOnly || (note.header.timeline.length > 0 && countStrokes(note.ink) > 0);
      openHistory.current = lock ? new HistoryFile(id) : null;
      const history = await openHistory.current?.read(note);
      dispatch(toolsSlice.actions.cleared());
      dispatch(noteSlice.actions.opened({ note, following: !lock, mode: listen ? 'listen' : 'write', ...history }));
      if (problems.length) dispatch(say('repair', 'problem', problems.join(' ')));
      if (lock) await dispatch(finishTakes());
      else dispatch(say('following', 'info', 'This note is being written in another tab. This tab shows what is written there and cannot change it.', 'write-here'));
      dispatch(loadPlayer());
      if (toHear?.note === id) dispatch(hearWaiting());
    } catch (e) {
      held?.release();
      held = null;
      dispatch(noteSlice.actions.openFailed({ reason: reason(e), locked: e instanceof LockedError }));
    }
  };

function attach(file: NoteFile, dispatch: Dispatch): void {
  openFile.current = file;
  file.onState = (state, error) => {
    dispatch(noteSlice.actions.saveSet(state));
    if (state === 'failed') dispatch(storing('ink', error ?? new Error('unknown reason')));
    if (state === 'saved') dispatch(storing('ink', null));
  };
  file.onWritten = (written) => {
    const note = held?.note;
    if (note) tell({ kind: 'written', note, keys: written });
  };
}

/** A take of this note that some earlier visit left running. */
const finishTakes =
  (): Thunk<Promise<void>> =>
  async (dispatch, getState) => {
    const header = getState().note.note?.header;
    if (!header?.takes.some((t) => t.state === 'recording')) return;
    const takes: Take[] = [];
    for (const t of header.takes) takes.push(t.state === 'recording' ? { ...t, state: 'done', ms: Math.max(t.ms, await storedLength(t.id)) } : t);
    dispatch(change({ header: { takes, timeline: wholeTimeline(takes) } }, false));
    dispatch(recovered(header, getState().note.note!.header));
  };

export const closeNote =
  (): Thunk<Promise<void>> =>
  async (dispatch, getState) => {
    const { recording, note } = getState();
    if (recording.state !== 'idle' && recording.note === note.id) await dispatch(stopRecording());
    player?.destroy();
    player = null;
    dispatch(playbackSlice.actions.set({ playing: false, waiting: false, lit: null, repeat: null, second: false }));
    const file = openFile.current;
    if (note.note && file && !note.following) {
      try {
        await file.close();
        dispatch(librarySlice.actions.upserted(note.note.header));
      } catch {
        // Told by onState; the file keeps trying as long as this tab lives.
      }
    }
    openFile.current = null;
    // The session of the note ends here, and with it what can be taken back. Left-over records do no harm and go with the next one.
    await openHistory.current?.clear().catch(() => undefined);
    openHistory.current = null;
    held?.release();
    held = null;
    for (const key of ['repair', 'following', 'listen', 'mark', 'gap', 'read-only', 'folder']) dispatch(messagesSlice.actions.dismissed(key));
    dispatch(noteSlice.actions.closed());
  };

/** The one path for every change of the open note. */
export const change =
  (edit: Edit, history = true): Thunk =>
  (dispatch, getState) => {
    const { following, note } = getState().note;
    if (following || !note) return;
    // A note that is read only takes only what it does for itself: takes that end, and being let go.
    if (note.header.readOnly && (history || edit.put || edit.cut)) return;
    dispatch(noteSlice.actions.changed({ edit, history, now: Date.now() }));
  };

/** False while another tab writes the note, or it is read only. */
export const canChange = ({ note }: RootState): boolean => note.note !== null && !note.following && !note.note.header.readOnly;

export const undo = (): Thunk => (dispatch, getState) => {
  if (canChange(getState())) dispatch(noteSlice.actions.undone({ now: Date.now() }));
};
export const redo = (): Thunk => (dispatch, getState) => {
  if (canChange(getState())) dispatch(noteSlice.actions.redone({ now: Date.now() }));
};

export const setMode =
  (mode: Mode): Thunk =>
  (dispatch, getState) => {
    if (mode === 'write' && getState().note.note?.header.readOnly) return dispatch(say('read-only', 'info', 'This note is read only. The button “Read only” above the page lets it be changed.'));
    if (mode === 'write') {
      dispatch(pausePlaying());
      dispatch(letGo());
    }
    if (getState().playback.second) dispatch(playbackSlice.actions.set({ second: false }));
    // Sheets of Write have no place in Listen, nor the other way round.
    dispatch(toolsSlice.actions.set({ sheet: 'none' }));
    dispatch(noteSlice.actions.modeSet(mode));
    if (mode === 'listen' && getState().note.note && !player) dispatch(loadPlayer());
  };

/** A tab that follows asks the writing one to let go, and writes from then on. */
export const writeHere =
  (): Thunk<Promise<void>> =>
  async (dispatch, getState) => {
    const { id, following } = getState().note;
    if (!id || !following) return;
    const lock = new Promise<{ release: () => void } | null>((resolve, reject) => {
      const giveUp = new AbortController();
      const timer = setTimeout(() => giveUp.abort(), 8000);
      const off = onTold((m) => {
        if (m.kind === 'busy' && m.note === id) giveUp.abort();
      });
      holdNote(id, giveUp.signal)
        .then(resolve, reject)
        .finally(() => {
          clearTimeout(timer);
          off();
        });
      tell({ kind: 'please', note: id });
    });
    const got = await lock;
    if (!got) {
      dispatch(say('following', 'problem', 'The other tab is recording this note and keeps it until the recording is stopped there. This tab goes on showing what is written.', 'write-here'));
      return;
    }
    held = { note: id, release: got.release };
    openHistory.current = new HistoryFile(id);
    // The other tab has written everything before it let go; what came meanwhile is read afresh.
    const { note, file } = await NoteFile.open(id);
    attach(file, dispatch);
    dispatch(noteSlice.actions.opened({ note, following: false, mode: getState().note.mode }));
    dispatch(messagesSlice.actions.dismissed('following'));
    dispatch(loadPlayer());
  };

/** Answers other tabs; called once. */
export const listenToTabs = (): Thunk => (dispatch, getState) => {
  onTold((m) => {
    const { note, recording } = getState();
    if (m.kind === 'library') void dispatch(loadLibrary());
    else if (m.kind === 'lock' || m.note !== note.id) return;
    else if (m.kind === 'written' && note.following && openFile.current) {
      const file = openFile.current;
      const before = note.note?.header.timeline;
      file
        .follow(m.keys)
        .then((edit) => {
          if (openFile.current !== file) return;
          dispatch(noteSlice.actions.followed(edit));
          if (edit.header && JSON.stringify(before) !== JSON.stringify(edit.header.timeline)) dispatch(loadPlayer());
        })
        .catch((e: unknown) => dispatch(say('following', 'problem', `What the other tab wrote could not be read (${reason(e)}). Load this page again to see it.`)));
    } else if (m.kind === 'please' && held?.note === note.id) {
      if (recording.state !== 'idle') return tell({ kind: 'busy', note: m.note });
      dispatch(pausePlaying());
      dispatch(noteSlice.actions.followingSet(true));
      (openFile.current?.flush() ?? Promise.resolve())
        .then(() => {
          held?.release();
          held = null;
          dispatch(say('following', 'info', 'Another tab has taken over writing this note. This tab shows what is written there and cannot change it.', 'write-here'));
        })
        .catch(() => {
          // Not stored means not let go: the strokes are here and nowhere else.
          dispatch(noteSlice.actions.followingSet(false));
          tell({ kind: 'busy', note: m.note });
        });
    }
  });
};

// Recording

/** The stamp of ink begun at an event: of what is being recorded, or, in a second pass, of what is being heard. */
export const stampOf = (timeStamp: number, state: RootState): Stamp | null => (state.note.mode === 'listen' ? heardAtEvent(timeStamp, state) : stampAt(timeStamp, state));

/** The stamp of an event at `timeStamp` (time base of performance.now(), ms); null when nothing is being recorded then. */
export function stampAt(timeStamp: number, state: RootState): Stamp | null {
  const { take, note } = state.recording;
  if (!recorder || !take || note !== state.note.id) return null;
  const at = recorder.clock.takeTime(timeStamp);
  return at === null ? null : { take, at: Math.round(at * 10) / 10 };
}

/** Recorded ms of the running take, for the clock on the screen. */
export const recordedMs = (): number => recorder?.clock.takeTime(performance.now()) ?? recorder?.clock.length ?? 0;

const patchTake =
  (id: string, patch: (t: Take) => Take, withTimeline: boolean): Thunk =>
  (dispatch, getState) => {
    const header = getState().note.note?.header;
    if (!header) return;
    const takes = header.takes.map((t) => (t.id === id ? patch(t) : t));
    dispatch(change({ header: { takes, ...(withTimeline ? { timeline: wholeTimeline(takes) } : {}) } }, false));
    if (withTimeline) dispatch(loadPlayer());
  };

export const startRecording =
  (): Thunk<Promise<void>> =>
  async (dispatch, getState) => {
    const { note, recording } = getState();
    if (recording.state !== 'idle' || !canChange(getState())) return;
    dispatch(pausePlaying());
    dispatch(setMode('write'));
    dispatch(messagesSlice.actions.dismissed('recording'));
    const take = newId();
    dispatch(recordingSlice.actions.set({ state: 'starting', note: note.id, take, microphone: 'good' }));
    sealTake(note.id!, take);
    const file = new SoundFile(take);
    file.onState = (state, error) => dispatch(storing('sound', state === 'failed' ? (error ?? new Error('unknown reason')) : null));
    const r = new Recorder({
      packets: (packets) => file.add(packets),
      level: (level, state) => {
        liveLevel.set(level);
        if (getState().recording.microphone === state) return;
        dispatch(recordingSlice.actions.set({ microphone: state }));
        if (state === 'silent') dispatch(say('microphone', 'problem', 'The microphone is silent: nothing is heard. Check that it is switched on, not muted, and the right one is chosen.'));
        else if (state === 'clipping') dispatch(say('microphone', 'problem', 'The sound is too loud and is being cut off. Move the microphone away or turn its level down.'));
        else dispatch(messagesSlice.actions.dismissed('microphone'));
      },
      broken: (sentence) => {
        dispatch(say('recording', 'problem', sentence));
        void dispatch(recordingEnded());
      },
    });
    try {
      await r.start();
    } catch (e) {
      dispatch(recordingSlice.actions.set({ state: 'idle', note: null, take: null }));
      dispatch(say('recording', 'problem', e instanceof MicrophoneError ? e.message : `Recording could not start (${reason(e)}). You can write; press Record to try again.`));
      return;
    }
    if (getState().note.id !== note.id) {
      await r.stop();
      dispatch(recordingSlice.actions.set({ state: 'idle', note: null, take: null }));
      return;
    }
    recorder = r;
    sound = file;
    letSleep = keepAwake();
    const takes = getState().note.note!.header.takes;
    const wall = Date.now();
    const made: Take = { id: take, name: `Take ${takes.length + 1}`, wall, ms: 0, state: 'recording', parts: [{ at: 0, wall }] };
    dispatch(change({ header: { takes: [...takes, made] } }, false));
    dispatch(recordingSlice.actions.set({ state: 'recording' }));
    // Known on disk at once, so that a crash in the first second leaves a take and not loose sound. A failure is told by the file.
    await openFile.current?.flush().catch(() => undefined);
  };

export const pauseRecording =
  (): Thunk<Promise<void>> =>
  async (dispatch, getState) => {
    if (getState().recording.state !== 'recording' || !recorder) return;
    dispatch(recordingSlice.actions.set({ state: 'stopping' }));
    await recorder.pause();
    await sound?.flush().catch(() => undefined);
    const { take } = getState().recording;
    if (!take || !recorder) return;
    const ms = recorder.clock.length;
    dispatch(patchTake(take, (t) => ({ ...t, ms }), true));
    dispatch(recordingSlice.actions.set({ state: 'paused' }));
  };

export const resumeRecording = (): Thunk => (dispatch, getState) => {
  const { take, state } = getState().recording;
  if (state !== 'paused' || !recorder || !take) return;
  dispatch(pausePlaying());
  dispatch(setMode('write'));
  const at = recorder.clock.length;
  recorder.resume();
  dispatch(patchTake(take, (t) => ({ ...t, parts: [...t.parts, { at, wall: Date.now() }] }), false));
  dispatch(recordingSlice.actions.set({ state: 'recording' }));
};

export const stopRecording =
  (): Thunk<Promise<void>> =>
  async (dispatch, getState) => {
    const { state } = getState().recording;
    if (!recorder || (state !== 'recording' && state !== 'paused')) return;
    dispatch(recordingSlice.actions.set({ state: 'stopping' }));
    await recorder.stop();
    await dispatch(recordingEnded());
  };

const recordingEnded =
  (): Thunk<Promise<void>> =>
  async (dispatch, getState) => {
    const { take } = getState().recording;
    if (!recorder || !take) return;
    const ms = recorder.clock.length;
    recorder = null;
    letSleep?.();
    letSleep = null;
    await sound?.flush().catch(() => undefined);
    dispatch(patchTake(take, (t) => ({ ...t, ms, state: 'done' }), true));
    dispatch(recordingSlice.actions.set({ state: 'idle', note: null, take: null, microphone: 'good' }));
    dispatch(messagesSlice.actions.dismissed('microphone'));
    await openFile.current?.flush().catch(() => undefined);
  };

// Playing

export const loadPlayer = (): Thunk => (dispatch, getState) => {
  const { note, settings } = getState();
  const timeline = note.note?.header.timeline;
  if (!timeline) return;
  if (timeline.length) {
    const obstacle = playingObstacle();
    if (obstacle) return dispatch(say('listen', 'problem', obstacle));
  }
  if (!player) {
    player = new Player(async (take, pieces) => {
      const read = await readPieces(take, pieces, () => {
        dispatch(say('damaged', 'problem', 'A few seconds of sound are damaged and play as silence. Everything before and after them is unharmed.'));
      });
      // Sound that could not be stored yet plays from memory.
      return sound?.take === take ? pieces.map((p, i) => sound!.held(p) ?? read[i]) : read;
    });
    player.onState = ({ playing, waiting }) => dispatch(playbackSlice.actions.set({ playing, waiting }));
    player.onError = (text) => dispatch(say('listen', 'problem', text));
  }
  player.setSpeed(settings.speed);
  player.setTimeline(timeline);
  dispatch(letGo());
  dispatch(followSkips());
};

/** Where playing stands on the timeline, ms. */
export const position = (): number => player?.position ?? 0;

export const play = (): Thunk => (dispatch, getState) => {
  const { recording } = getState();
  if (recording.state === 'recording' || recording.state === 'starting') {
    dispatch(say('listen', 'info', 'A recording is running. Pause or stop it to listen, so that the loudspeaker is not recorded.'));
    return;
  }
  player?.play();
};
export const pausePlaying = (): Thunk => () => player?.pause();
export const seek =
  (ms: number): Thunk =>
  () =>
    player?.seek(ms);
export const skip =
  (by: number): Thunk =>
  () =>
    player?.seek(player.position + by);

/** Plays from a moment of the timeline, ms. */
export const playAt =
  (ms: number): Thunk =>
  (dispatch, getState) => {
    if (getState().playback.repeat) dispatch(letGo());
    player?.seek(ms);
    dispatch(play());
  };

/** Plays a stretch of the timeline again and again. */
export const repeatStretch =
  (span: Span): Thunk =>
  (dispatch) => {
    dispatch(playbackSlice.actions.set({ repeat: span }));
    player?.setRepeat(span);
    player?.seek(span.from);
    dispatch(play());
  };

/** A stretch shorter than this is none to repeat, ms. */
const LEAST_REPEAT_MS = 1500;
/** After the last stroke of a word a little more is heard, ms. */
const AFTER_MS = 600;

/** Repeats what was said about the word or line that was touched last; without one, the sentence at the position. */
export const repeatHere = (): Thunk => (dispatch, getState) => {
  const state = getState();
  const { lit } = state.playback;
  const { note, words } = state.note;
  const length = note ? timelineLength(note.header.timeline) : 0;
  if (!note || !player || length === 0) return;
  const grouping = lit && words[lit.page]?.grouping;
  const word = grouping ? [...grouping.words, ...grouping.drawings].find((w) => w.strokes.includes(lit.stroke)) : undefined;
  const line = lit?.line && grouping ? grouping.lines.find((l) => l.words.some((w) => grouping.words[w] === word)) : undefined;
  const ids = new Set(line ? line.words.flatMap((w) => grouping!.words[w].strokes) : (word?.strokes ?? (lit ? [lit.stroke] : [])));
  const strokes = lit ? (note.ink[lit.page] ?? []).filter((s) => ids.has(s.id) && toTimeline(note.header.timeline, s.stamp) !== null) : [];
  const times = strokes.map((s) => ({ from: startOf(state, s.stamp!)!, to: toTimeline(note.header.timeline, s.stamp)! + s.ms }));
  if (times.length) {
    const from = Math.min(...times.map((t) => t.from));
    return dispatch(repeatStretch({ from, to: Math.min(length, Math.max(from + LEAST_REPEAT_MS, Math.max(...times.map((t) => t.to)) + AFTER_MS)) }));
  }
  const at = player.position;
  const sentence = (selectSpeech(state) ?? []).find((s) => s.from <= at + 300 && s.to > at);
  dispatch(repeatStretch(sentence && sentence.to - sentence.from >= LEAST_REPEAT_MS ? sentence : { from: Math.max(0, at - 3000), to: Math.min(length, at + 3000) }));
};

/** Lets go of what is repeated; it plays on from where it stands. */
export const letGo = (): Thunk => (dispatch) => {
  dispatch(playbackSlice.actions.set({ repeat: null }));
  player?.setRepeat(null);
};

/** Keeps what is jumped over in step with the settings and with what is known of the sound; called once. */
export const followSkips = (): Thunk => (_, getState) => {
  const state = getState();
  player?.setSkips(state.settings.skipPauses ? selectSkips(state) : NO_SKIPS);
};

/** The moment that was heard at an event (time base of performance.now(), ms), while something plays or stands still; null without sound. */
export function heardAtEvent(timeStamp: number, state: RootState): Stamp | null {
  const timeline = state.note.note?.header.timeline ?? [];
  if (!player || !timeline.length) return null;
  const since = state.playback.playing && !state.playback.waiting ? (performance.now() - timeStamp) * player.audio.playbackRate : 0;
  const at = fromTimeline(timeline, Math.max(0, player.position - since));
  return at && { take: at.take, at: Math.round(at.at * 10) / 10 };
}

export const setSpeed =
  (speed: number): Thunk =>
  (dispatch) => {
    dispatch(settingsSlice.actions.patched({ speed }));
    player?.setSpeed(speed);
  };

/** What is to be heard as soon as the note that has its sound is open. */
let toHear: { note: string; stamp: Stamp } | null = null;

/** The note plays this moment as soon as it is open. */
export const hearIn =
  (note: string, stamp: Stamp): Thunk =>
  (dispatch, getState) => {
    toHear = { note, stamp };
    if (getState().note.id === note && getState().note.status === 'open') dispatch(hearWaiting());
  };

const hearWaiting = (): Thunk => (dispatch, getState) => {
  const { note } = getState();
  const waiting = toHear;
  toHear = null;
  if (!waiting || waiting.note !== note.id || !note.note) return;
  const from = startOf(getState(), waiting.stamp);
  if (from === null) return dispatch(say('listen', 'info', 'The sound of this moment is not on the timeline any more.'));
  dispatch(setMode('listen'));
  player?.seek(from);
  dispatch(play());
};

/** Where listening to a moment begins: the lead-in before it, or the beginning of the sentence where one is near; null when it is not on the timeline. */
const startOf = (state: RootState, stamp: Stamp): number | null => {
  const leadIn = leadInOf(state);
  const from = playFrom(state.note.note?.header.timeline ?? [], stamp, leadIn);
  return from === null || leadIn === 0 ? from : sentenceStart(selectSpeech(state) ?? [], from);
};

/** Begins to read the sound of a stroke that is about to be touched. */
export const makeReady =
  (stroke: Stroke): Thunk =>
  (_, getState) => {
    const from = stroke.stamp ? startOf(getState(), stroke.stamp) : null;
    if (from !== null) player?.makeReady(from);
  };

/** Plays from a stroke's moment, lead-in first; says so when it has no sound. */
export const playStroke =
  (stroke: Stroke, line = false): Thunk =>
  (dispatch, getState) => {
    const { note, playback } = getState();
    const from = stroke.stamp ? startOf(getState(), stroke.stamp) : null;
    if (playback.repeat) dispatch(letGo());
    // The sound is asked for before anything is drawn, so that storage works meanwhile.
    if (from !== null) player?.seek(from);
    dispatch(playbackSlice.actions.set({ lit: { page: stroke.page, stroke: stroke.id, ...(line ? { line } : {}) } }));
    if (from === null) {
      dispatch(pausePlaying());
      const link = note.note?.header.links?.find((l) => l.take === stroke.stamp?.take);
      if (link && stroke.stamp) {
        toHear = { note: link.note, stamp: stroke.stamp };
        dispatch(say('listen', 'info', `This was written in “${link.title}”, where its sound is.`, 'hear-there', link.note));
        return;
      }
      const when = new Date(stroke.wall).toLocaleString('en-GB', { day: 'numeric', month: 'long', hour: '2-digit', minute: '2-digit' });
      dispatch(say('listen', 'info', stroke.stamp ? 'The sound of this moment is not on the timeline.' : `This was written on ${when} while nothing was being recorded, so there is no sound to it.`));
      return;
    }
    if (getState().messages.some((m) => m.key === 'listen')) dispatch(messagesSlice.actions.dismissed('listen'));
    dispatch(play());
  };

/** Time and take of a stroke as the time margin shows them; null without sound. */
export function heardAt(note: Note, stroke: Stroke): { ms: number; take: number; text: string } | null {
  if (!stroke.stamp) return null;
  const take = note.header.takes.findIndex((t) => t.id === stroke.stamp!.take);
  // The take that is running will come at the end of the timeline.
  const running = note.header.takes[take]?.state === 'recording';
  const ms = running ? startOfTake(note.header, stroke.stamp.take) + stroke.stamp.at : toTimeline(note.header.timeline, stroke.stamp);
  if (ms === null) return null;
  return { ms, take, text: clockText(ms) };
}

function startOfTake(header: NoteHeader, take: string): number {
  let start = 0;
  for (const s of header.timeline) {
    if (s.take === take) break;
    start += s.to - s.from;
  }
  return start;
}

export const takeAt = (header: NoteHeader, ms: number): Take | null => {
  const moment = fromTimeline(header.timeline, ms);
  return header.takes.find((t) => t.id === moment?.take) ?? null;
};

export const lengthOf = (header: NoteHeader): number => timelineLength(header.timeline);

/** All packets of a take, from disk and from what is not stored yet. */
export async function soundOfTake(take: string): Promise<Packet[]> {
  const packets: Packet[] = [];
  for (const piece of await storedPieces(take)) packets.push(...(await readPieces(take, [piece]))[0]);
  if (sound?.take !== take) return packets;
  const held = sound.unstored();
  const pieces = new Set(held.map((p) => pieceOf(p.t)));
  return [...packets.filter((p) => !pieces.has(pieceOf(p.t))), ...held].sort((a, b) => a.t - b.t);
}

/** Writes what waits, when the page is hidden or about to go. */
export const flushAll = (): Thunk => (dispatch, getState) => {
  const { note, following } = getState().note;
  openFile.current?.flush(true).catch(() => undefined);
  // Lists show when the note was last written in.
  if (note && !following && getState().library.headers.find((h) => h.id === note.header.id)?.changed !== note.header.changed) dispatch(librarySlice.actions.upserted(note.header));
  flushHistory(getState().note).catch(() => undefined);
  sound?.flush().catch(() => undefined);
};
