/** Playing the open note: the player follows its timeline, and what is asked of it goes through here. */
import type { Span } from '../core/audio/speech';
import type { NoteHeader, Take } from '../core/note/schema';
import { fromTimeline, timelineLength, type Stamp } from '../core/time/timeline';
import { Player, playingObstacle } from '../platform/player';
import { readPieces } from '../storage/soundFile';
import { selectSkips } from './listening';
import { say } from './messages';
import { playbackSlice, settingsSlice } from './slices';
import type { Thunk } from './thunk';
import { soundInMemory } from './unsaved';

const NO_SKIPS: readonly Span[] = [];

/** Makes the player of the open note; from then on it follows the timeline. */
export const loadPlayer = (): Thunk => (dispatch, getState, alive) => {
  const { note, settings } = getState();
  const timeline = note.note?.header.timeline;
  if (!timeline) return;
  const obstacle = timeline.length ? playingObstacle() : null;
  if (obstacle) return dispatch(say('listen', 'problem', obstacle));
  if (!alive.player) {
    alive.player = new Player(async (take, pieces) => {
      const read = await readPieces(take, pieces, () => {
        dispatch(say('damaged', 'problem', 'A few seconds of sound are damaged and play as silence. Everything before and after them is unharmed.'));
      });
      // Sound that could not be stored yet plays from memory.
      const sound = soundInMemory(take, alive);
      return sound ? pieces.map((p, i) => sound.inMemory(p) ?? read[i]) : read;
    });
    alive.player.onState = ({ playing, waiting }) => dispatch(playbackSlice.actions.set({ playing, waiting }));
    alive.player.onError = (text) => dispatch(say('listen', 'problem', text));
  }
  alive.player.setSpeed(settings.speed);
  alive.player.setGain(settings.gain);
  dispatch(followTimeline());
};

/** The player goes on at the moment it is at, on the timeline as it is now. */
export const followTimeline = (): Thunk => (dispatch, getState, { player }) => {
  const timeline = getState().note.note?.header.timeline;
  if (!player || !timeline) return;
  player.setTimeline(timeline);
  dispatch(letGo());
  dispatch(followSkips());
};

/** The player goes with the note. */
export const unloadPlayer = (): Thunk => (dispatch, _, alive) => {
  alive.player?.destroy();
  alive.player = null;
  dispatch(playbackSlice.actions.set({ playing: false, waiting: false, lit: null, repeat: null, second: false, answering: null }));
};

/** Where playing stands on the timeline, ms. */
export const position = (): Thunk<number> => (_, __, { player }) => player?.position ?? 0;

export const play = (): Thunk => (dispatch, getState, { player, other }) => {
  const { recording } = getState();
  if (recording.state === 'recording' || recording.state === 'starting') {
    dispatch(say('listen', 'info', 'A recording is running. Pause or stop it to listen, so that the loudspeaker is not recorded.'));
    return;
  }
  // One sound at a time.
  other?.dispatch(pausePlaying());
  player?.play();
};
export const pausePlaying = (): Thunk => (_, __, { player }) => player?.pause();
export const seek =
  (ms: number): Thunk =>
  (_, __, { player }) =>
    player?.seek(ms);
export const skip =
  (by: number): Thunk =>
  (_, __, { player }) =>
    player?.seek(player.position + by);

/** Plays a run of the timeline again and again. */
export const repeatRun =
  (span: Span): Thunk =>
  (dispatch, _, { player }) => {
    dispatch(playbackSlice.actions.set({ repeat: span }));
    player?.setRepeat(span);
    player?.seek(span.from);
    dispatch(play());
  };

/** Lets go of what is repeated; it plays on from where it stands. */
export const letGo = (): Thunk => (dispatch, _, { player }) => {
  dispatch(playbackSlice.actions.set({ repeat: null }));
  player?.setRepeat(null);
};

/** Keeps what is jumped over in step with the settings and with what is known of the sound. */
export const followSkips = (): Thunk => (_, getState, { player }) => {
  const state = getState();
  player?.setSkips(state.settings.skipPauses ? selectSkips(state) : NO_SKIPS);
};

/** The moment that was heard at an event (time base of performance.now(), ms), while something plays or stands still; null without sound. */
export const heardAtEvent =
  (timeStamp: number): Thunk<Stamp | null> =>
  (_, getState, { player }) => {
    const { note, playback } = getState();
    const timeline = note.note?.header.timeline ?? [];
    if (!player || !timeline.length) return null;
    const since = playback.playing && !playback.waiting ? (performance.now() - timeStamp) * player.audio.playbackRate : 0;
    const at = fromTimeline(timeline, Math.max(0, player.position - since));
    return at && { take: at.take, at: Math.round(at.at * 10) / 10 };
  };

export const setSpeed =
  (speed: number): Thunk =>
  (dispatch, _, { player }) => {
    dispatch(settingsSlice.actions.patched({ speed }));
    player?.setSpeed(speed);
  };

/** Makes what is heard louder, dB. */
export const setGain =
  (gain: number): Thunk =>
  (dispatch, _, { player }) => {
    dispatch(settingsSlice.actions.patched({ gain }));
    player?.setGain(gain);
  };

/** The film that belongs to what is heard at a moment of the timeline, ms, and where in it that is, s; null where none does. */
export function filmAt({ timeline, takes }: Pick<NoteHeader, 'timeline' | 'takes'>, ms: number): { readonly content: string; readonly type: string; readonly at: number } | null {
  const moment = fromTimeline(timeline, ms);
  const film = takes.find((t) => t.id === moment?.take)?.film;
  return film && moment ? { ...film, at: moment.at / 1000 } : null;
}

export const takeAt = ({ timeline, takes }: Pick<NoteHeader, 'timeline' | 'takes'>, ms: number): Take | null => {
  const moment = fromTimeline(timeline, ms);
  return takes.find((t) => t.id === moment?.take) ?? null;
};

export const lengthOf = ({ timeline }: Pick<NoteHeader, 'timeline'>): number => timelineLength(timeline);
