/** Finds out, once for every take, how loud it is and where somebody speaks: first by levels, which is quick, then with the speech model. */
import type { Heard } from '../core/audio/heard';
import type { Take } from '../core/note/schema';
import { hear, hearingObstacle } from '../platform/hearing';
import { whenIdle } from '../platform/idle';
import { readTakeHeard, writeTakeHeard } from '../storage/heardFile';
import { readPieces } from '../storage/soundFile';
import { isStopped, runJob, stopJob } from './jobs';
import { hearingSlice } from './slices';
import type { RootState } from './state';
import type { Store, Thunk } from './thunk';

/** After a note was opened, before the work begins: opening and the first touch come first. ms. */
const WAIT_MS = 1200;
/** While something plays the model rests so long between portions, ms. */
const REST_MS = 400;

const { found, stopped } = hearingSlice.actions;

/** Stops the search; it goes on when asked. */
export const stopHearing = (): Thunk => (dispatch) => {
  dispatch(stopped(true));
  dispatch(stopJob({ kind: 'hearing' }));
};

const missing = ({ note, hearing, recording }: RootState): { take: Take; known: Heard | undefined } | null => {
  if (!note.note || hearing.stopped || recording.state !== 'idle' || hearingObstacle()) return null;
  for (const by of ['levels', 'model'] as const) {
    for (const take of note.note.header.takes) {
      const known = hearing.takes[take.id];
      if (take.state !== 'done' || take.ms <= 0 || hearing.failed.includes(`${take.id} ${by}`)) continue;
      if (!known || known.ms < take.ms - 1 || (by === 'model' && known.by !== 'model')) return { take, known };
    }
  }
  return null;
};

/** Looks at a take, as a job. */
const looking =
  (take: Take, model: boolean): Thunk<Promise<boolean>> =>
  (dispatch, getState) =>
    dispatch(
      runJob({
        kind: 'hearing',
        title: model ? 'Listening more closely for speech' : 'Looking for pauses',
        async task({ signal, progress }) {
          const note = getState().note.id;
          try {
            const heard = await hear({
              ms: take.ms,
              model,
              signal,
              read: async (pieces) => {
                if (getState().playback.playing && model) await new Promise((r) => setTimeout(r, REST_MS));
                return readPieces(take.id, pieces);
              },
              progress,
            });
            dispatch(found({ take: take.id, heard }));
            // Kept so that it need not be found again; a full disk costs only that, and is told where it matters.
            if (note !== null) await writeTakeHeard(note, take.id, heard).catch(() => undefined);
          } catch (e) {
            if (!isStopped(e)) dispatch(hearingSlice.actions.failed({ what: `${take.id} ${model ? 'model' : 'levels'}`, reason: e instanceof Error ? e.message : String(e) }));
          }
        },
      }),
    );

/** Runs beside the open note for as long as the application does; gives the way to end it. */
export function findSpeech(store: Store): () => void {
  let timer: ReturnType<typeof setTimeout> | null = null;
  let ended = false;

  let running: string | null = null;
  let callOff = (): void => undefined;
  const stop = () => void store.dispatch(stopJob({ kind: 'hearing' }));
  const step = async (rested = false): Promise<void> => {
    if (running || ended) return;
    const next = missing(store.getState());
    if (!next) return;
    const { take, known } = next;
    const model = Boolean(known && known.ms >= take.ms - 1);
    // Levels are what the timeline shows. Listening more closely loads a runtime of megabytes, and begins when the page rests.
    if (model && !rested) {
      callOff();
      callOff = whenIdle(() => void step(true));
      return;
    }
    running = take.id;
    try {
      const kept = known ? null : await readTakeHeard(take.id);
      if (kept && kept.ms >= take.ms - 1) store.dispatch(found({ take: take.id, heard: kept }));
      else await store.dispatch(looking(take, model));
    } finally {
      running = null;
      if (!ended) void Promise.resolve().then(() => step());
    }
  };

  let seen: unknown = null;
  const off = store.subscribe(() => {
    const { note, recording, hearing } = store.getState();
    // Sound that is being recorded needs the machine for itself.
    if (running && (recording.state !== 'idle' || !note.note?.header.takes.some((t) => t.id === running))) stop();
    const now = [note.note?.header.takes, recording.state, hearing.stopped];
    if (Array.isArray(seen) && now.every((v, i) => v === (seen as unknown[])[i])) return;
    seen = now;
    if (timer) clearTimeout(timer);
    callOff();
    timer = setTimeout(() => void step(), WAIT_MS);
  });
  return () => {
    ended = true;
    stop();
    if (timer) clearTimeout(timer);
    callOff();
    off();
  };
}
