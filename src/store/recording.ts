/** Recording into the open note. Sound is appended to the timeline as it comes, and what is laid there already is never touched. */
import { newId } from '../core/id';
import { put, type RowPut } from '../core/note/edit';
import { orderAt } from '../core/note/order';
import { entriesOf, inTheirOrder, type Tables } from '../core/note/tables';
import { restamped } from '../core/note/takes';
import { append } from '../core/time/editTimeline';
import type { Stamp } from '../core/time/timeline';
import { MicrophoneError } from '../platform/microphoneErrors';
import { Recorder } from '../platform/recorder';
import { keepAwake } from '../platform/wakeLock';
import { SoundFile } from '../storage/soundFile';
import { sealTake } from '../storage/vaultFile';
import { canChange, change } from './change';
import { takeWritingPen } from './cup';
import { reasonOf, say, storing } from './messages';
import { setMode } from './mode';
import { heardAtEvent, pausePlaying, position } from './playing';
import { messagesSlice, recordingSlice } from './slices';
import type { Thunk } from './thunk';

/** The stamp of ink begun at an event: of what is being recorded, in a second pass of what is being heard; else of what goes on beside this note. */
export const stampOf =
  (timeStamp: number): Thunk<Stamp | null> =>
  (dispatch, getState, alive) =>
    getState().note.mode === 'listen' ? dispatch(heardAtEvent(timeStamp)) : (dispatch(stampAt(timeStamp)) ?? alive.other?.dispatch(stampAt(timeStamp)) ?? dispatch(heardBeside(timeStamp)));

/** Now, as it stands with what is put onto the page now. */
export const momentNow =
  (): Thunk<{ readonly stamp: Stamp | null; readonly wall: number }> =>
  (dispatch) => {
    const now = performance.now();
    return { stamp: dispatch(stampOf(now)), wall: Math.round(performance.timeOrigin + now) };
  };

/** What is heard on the other side of the screen at an event, to which this note is written: what plays there, and what was stopped to write it down. */
export const heardBeside =
  (timeStamp: number): Thunk<Stamp | null> =>
  (_, getState, { other }) => {
    if (!other || getState().recording.state === 'recording') return null;
    const { note, playback } = other.getState();
    const heard = note.mode === 'listen' && (playback.playing || other.dispatch(position()) > 0);
    return heard ? other.dispatch(heardAtEvent(timeStamp)) : null;
  };

/** The stamp of an event at `timeStamp` (time base of performance.now(), ms); null when nothing is being recorded then. */
export const stampAt =
  (timeStamp: number): Thunk<Stamp | null> =>
  (_, getState, { recorder }) => {
    const { recording, note } = getState();
    if (!recorder || !recording.take || recording.note !== note.id) return null;
    const at = recorder.clock.takeTime(timeStamp);
    return at === null ? null : { take: recording.take, at: Math.round(at * 10) / 10 };
  };

/** The wall clock at an event (time base of performance.now(), ms), as strokes have it: it never jumps while the page stands. */
const wallOf = (event: number): number => performance.timeOrigin + event;

/** Recorded ms of the running take, for the clock on the screen. */
export const recordedMs = (): Thunk<number> => (_, __, { recorder }) => recorder?.clock.takeTime(performance.now()) ?? recorder?.clock.length ?? 0;

/** Changes the running take; `laid`: what it has more of sound goes to the end of the timeline. */
const patchTake =
  (id: string, patch: (t: Tables['takes']) => Partial<Tables['takes']>, laid: boolean): Thunk =>
  (dispatch, getState) => {
    const { note } = getState().note;
    const before = note && entriesOf(note.rows, 'takes').find(([take]) => take === id)?.[1];
    if (!note || !before) return;
    const after = { ...before, ...patch(before) };
    dispatch(change({ rows: [put('takes', id, after), ...(laid ? append(inTheirOrder(note.rows, 'stretches'), { take: id, from: before.ms, to: after.ms }, newId) : [])] }, false));
  };

/** Nothing comes out of the loudspeaker, on either side of the screen: it would be recorded. */
const silence = (): Thunk => (dispatch, _, { other }) => {
  dispatch(pausePlaying());
  other?.dispatch(pausePlaying());
};

export const startRecording =
  (): Thunk<Promise<void>> =>
  async (dispatch, getState, alive) => {
    const { note, recording } = getState();
    if (recording.state !== 'idle' || !canChange(getState())) return;
    dispatch(silence());
    dispatch(setMode('write'));
    dispatch(takeWritingPen());
    dispatch(messagesSlice.actions.dismissed('recording'));
    const take = newId();
    dispatch(recordingSlice.actions.set({ state: 'starting', note: note.id, take, microphone: 'good' }));
    sealTake(note.id!, take);
    const file = new SoundFile(take);
    file.onState = (state, error) => {
      if (state !== 'saving') dispatch(storing('sound', state === 'failed' ? (error ?? new Error('unknown reason')) : null));
    };
    const r = new Recorder({
      packets: (packets) => file.add(packets),
      runs: () => file.beat(wallOf(performance.now())),
      level: (level, state) => {
        alive.level.set(level);
        if (getState().recording.microphone === state) return;
        dispatch(recordingSlice.actions.set({ microphone: state }));
        if (state === 'silent') dispatch(say('microphone', 'problem', 'The microphone is silent: nothing is heard. Check that it is switched on, not muted, and the right one is chosen.'));
        else if (state === 'none') dispatch(say('microphone', 'problem', 'No sound is arriving from the microphone. Check its plug, or close what keeps this device busy. If no sound comes, press Stop and Record to start a new take.'));
        else if (state === 'clipping') dispatch(say('microphone', 'problem', 'The sound is too loud and is being cut off. Move the microphone away or turn its level down.'));
        else dispatch(messagesSlice.actions.dismissed('microphone'));
      },
      broken: (sentence) => {
        dispatch(say('recording', 'problem', sentence));
        void dispatch(recordingEnded());
      },
    });
    const idle = () => dispatch(recordingSlice.actions.set({ state: 'idle', note: null, take: null }));
    try {
      await r.start();
    } catch (e) {
      idle();
      dispatch(say('recording', 'problem', e instanceof MicrophoneError ? e.message : `Recording could not start (${reasonOf(e)}). You can write; press Record to try again.`));
      return;
    }
    const open = getState().note.note;
    if (getState().note.id !== note.id || !open) {
      await r.stop();
      idle();
      return;
    }
    const takes = inTheirOrder(open.rows, 'takes');
    // By the clock of the strokes: after a crash it tells what the clock of the take said.
    const wall = Math.round(wallOf(r.clock.begins[0].event));
    const row: RowPut = put('takes', take, { name: `Take ${takes.length + 1}`, wall, ms: 0, state: 'recording', parts: [{ at: 0, wall }], order: orderAt(takes, takes.length)[0] });
    if (!dispatch(change({ rows: [row] }, false))) {
      await r.stop();
      idle();
      return;
    }
    alive.recorder = r;
    alive.earlierSound = [...alive.earlierSound, alive.sound].filter((s): s is SoundFile => s !== null && s.unstored().length > 0);
    alive.sound = file;
    alive.letSleep = keepAwake();
    dispatch(recordingSlice.actions.set({ state: 'recording' }));
    // Known on disk at once, so that a crash in the first second leaves a take and not loose sound. A failure is told by the file.
    await alive.file?.flush().catch(() => undefined);
  };

export const pauseRecording =
  (): Thunk<Promise<void>> =>
  async (dispatch, getState, alive) => {
    const { recorder } = alive;
    if (getState().recording.state !== 'recording' || !recorder) return;
    dispatch(recordingSlice.actions.set({ state: 'stopping' }));
    await recorder.pause();
    await alive.sound?.flush().catch(() => undefined);
    const { take } = getState().recording;
    if (!take || !alive.recorder) return;
    const ms = alive.recorder.clock.length;
    dispatch(patchTake(take, () => ({ ms }), true));
    dispatch(recordingSlice.actions.set({ state: 'paused' }));
  };

export const resumeRecording = (): Thunk => (dispatch, getState, { recorder }) => {
  const { take, state } = getState().recording;
  if (state !== 'paused' || !recorder || !take) return;
  dispatch(silence());
  dispatch(setMode('write'));
  const at = recorder.clock.length;
  recorder.resume();
  dispatch(patchTake(take, (t) => ({ parts: [...t.parts, { at, wall: Math.round(wallOf(recorder.clock.begins.at(-1)!.event)) }] }), false));
  dispatch(recordingSlice.actions.set({ state: 'recording' }));
};

export const stopRecording =
  (): Thunk<Promise<void>> =>
  async (dispatch, getState, { recorder }) => {
    const { state } = getState().recording;
    if (!recorder || (state !== 'recording' && state !== 'paused')) return;
    dispatch(recordingSlice.actions.set({ state: 'stopping' }));
    await recorder.stop();
    await dispatch(recordingEnded());
  };

/** Ink of the open note, as the clock of a take that has ended has it. */
const restampOpen =
  (take: string, momentOf: (wall: number) => number | null): Thunk =>
  (dispatch, getState) => {
    const { note } = getState().note;
    if (note) dispatch(change(restamped(note, take, momentOf), false));
  };

const recordingEnded =
  (): Thunk<Promise<void>> =>
  async (dispatch, getState, alive) => {
    const { take } = getState().recording;
    if (!alive.recorder || !take) return;
    const { clock } = alive.recorder;
    const ms = clock.length;
    alive.recorder = null;
    alive.letSleep?.();
    alive.letSleep = null;
    await alive.sound?.flush().catch(() => undefined);
    const parts = clock.begins.map(({ at, event }) => ({ at, wall: Math.round(wallOf(event)) }));
    dispatch(patchTake(take, () => ({ ms, parts, state: 'done' }), true));
    // What came late is known by now: ink that was stamped before is put right, on both sides of the screen.
    const momentOf = (wall: number) => clock.momentOf(wall - performance.timeOrigin);
    for (const side of [dispatch, ...(alive.other ? [alive.other.dispatch] : [])]) side(restampOpen(take, momentOf));
    await alive.sound?.ended();
    dispatch(recordingSlice.actions.set({ state: 'idle', note: null, take: null, microphone: 'good' }));
    dispatch(messagesSlice.actions.dismissed('microphone'));
    await alive.file?.flush().catch(() => undefined);
  };
