/**
 * Work of more than a second: it has a title, says how far it is, can be stopped, and ends with a result or a sentence. Several can wait: those
 * that must not run beside each other share a lane. `features/jobs` shows them on every screen.
 */
import { newId } from '../core/id';
import { say } from './messages';
import { jobsSlice, type Job, type JobKind } from './slices';
import type { RootState } from './state';
import type { Thunk } from './thunk';

/** Jobs that go through the whole library run one after another. */
export const LIBRARY_LANE = 'library';

const { added, told, ended } = jobsSlice.actions;

export const jobOf = (kind: JobKind) => (s: RootState): Job | undefined => s.jobs.find((j) => j.kind === kind);
export const isBusy = ({ jobs }: Pick<RootState, 'jobs'>, ...kinds: readonly JobKind[]): boolean => jobs.some((j) => kinds.includes(j.kind));

export interface JobWork {
  readonly signal: AbortSignal;
  /** Share done, 0..1, and what it is at. */
  progress(share: number, at?: string): void;
}

export interface JobPlan {
  readonly kind: JobKind;
  readonly title: string;
  /** Jobs of one lane run one after another; without one it runs at once. */
  readonly lane?: string;
  task(work: JobWork): Promise<void>;
  /** Key of the message that tells its end, and the sentences; without them nothing is said. */
  readonly said?: { readonly key: string; readonly stopped: string; failed(e: unknown): string };
}

export const isStopped = (e: unknown): boolean => e instanceof DOMException && e.name === 'AbortError';

/** Fails as soon as it is stopped. */
const stopped = (signal: AbortSignal): Promise<never> => new Promise((_, reject) => signal.addEventListener('abort', () => reject(signal.reason as Error), { once: true }));

/** Runs a job. True when it came to its end; false when it was stopped or failed, which is told. */
export const runJob =
  ({ kind, title, lane, task, said }: JobPlan): Thunk<Promise<boolean>> =>
  async (dispatch, _, { stops, lanes }) => {
    const id = newId();
    const stop = new AbortController();
    stops.set(id, stop);
    const before = lane ? lanes.get(lane) : undefined;
    dispatch(added({ id, kind, title, at: '', share: before ? null : 0 }));
    const run = async (): Promise<boolean> => {
      try {
        if (before) await Promise.race([before, stopped(stop.signal)]);
        stop.signal.throwIfAborted();
        dispatch(told({ id, share: 0 }));
        let shown = '';
        const progress: JobWork['progress'] = (share, at) => {
          // Told in whole percents: work in small steps would else have every screen drawn anew for each of them.
          const now = `${Math.round(100 * share)} ${at}`;
          if (now === shown) return;
          shown = now;
          dispatch(told({ id, share, ...(at === undefined ? {} : { at }) }));
        };
        await task({ signal: stop.signal, progress });
        return true;
      } catch (e) {
        if (said) dispatch(say(said.key, isStopped(e) ? 'info' : 'problem', isStopped(e) ? said.stopped : said.failed(e)));
        return false;
      } finally {
        stops.delete(id);
        dispatch(ended(id));
      }
    };
    const done = run();
    if (!lane) return done;
    // Who comes next waits for what runs, even when the one between has been stopped.
    const mine = Promise.all([before, done]).then(() => undefined);
    lanes.set(lane, mine);
    try {
      return await done;
    } finally {
      if (lanes.get(lane) === mine) lanes.delete(lane);
    }
  };

/** Stops a job, or all of a kind. What waits ends at once, what runs at its next step. */
export const stopJob =
  (which: { readonly id: string } | { readonly kind: JobKind }): Thunk =>
  (_, getState, { stops }) => {
    for (const j of getState().jobs) if ('id' in which ? j.id === which.id : j.kind === which.kind) stops.get(j.id)?.abort();
  };

