/** Finds out, once for every take, how loud it is and where somebody speaks: first by levels, which is quick, then with the speech model. */
import type { Heard } from '../core/audio/heard';
import type { Take } from '../core/note/schema';
import { hear, hearingObstacle } from '../platform/hearing';
import { readTakeHeard, writeTakeHeard } from '../storage/heardFile';
import { readPieces } from '../storage/soundFile';
import { hearingSlice } from './slices';
import type { RootState, store as Store } from './store';

/** After a note was opened, before the work begins: opening and the first touch come first. ms. */
const WAIT_MS = 1200;
/** While something plays the model rests so long between portions, ms. */
const REST_MS = 400;

const { found, progressed, stopped } = hearingSlice.actions;

let running: { take: string; stop: AbortController } | null = null;

/** Stops the search; it goes on when asked. */
export function stopHearing(store: typeof Store): void {
  running?.stop.abort();
  store.dispatch(stopped(true));
}

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

/** Runs beside the open note for as long as the application does; gives the way to end it. */
export function findSpeech(store: typeof Store): () => void {
  let timer: ReturnType<typeof setTimeout> | null = null;
  let ended = false;

  const step = async (): Promise<void> => {
    if (running || ended) return;
    const next = missing(store.getState());
    if (!next) return;
    const { take, known } = next;
    const stop = new AbortController();
    running = { take: take.id, stop };
    const isWhole = known && known.ms >= take.ms - 1;
    const model = Boolean(isWhole);
    try {
      const kept = known ? null : await readTakeHeard(take.id);
      if (kept && kept.ms >= take.ms - 1) {
        store.dispatch(found({ take: take.id, heard: kept }));
        return;
      }
      const heard = await hear({
        ms: take.ms,
        model,
        signal: stop.signal,
        read: async (pieces) => {
          if (store.getState().playback.playing && model) await new Promise((r) => setTimeout(r, REST_MS));
          return readPieces(take.id, pieces);
        },
        progress: (share) => store.dispatch(progressed({ take: take.id, by: model ? 'model' : 'levels', share })),
      });
      store.dispatch(found({ take: take.id, heard }));
      // Kept so that it need not be found again; a full disk costs only that, and is told where it matters.
      await writeTakeHeard(take.id, heard).catch(() => undefined);
    } catch (e) {
      if (e instanceof DOMException && e.name === 'AbortError') return;
      store.dispatch(hearingSlice.actions.failed({ what: `${take.id} ${model ? 'model' : 'levels'}`, reason: e instanceof Error ? e.message : String(e) }));
    } finally {
      running = null;
      store.dispatch(progressed(null));
      if (!ended) void Promise.resolve().then(step);
    }
  };

  let seen: unknown = null;
  const off = store.subscribe(() => {
    const { note, recording, hearing } = store.getState();
    // Sound that is being recorded needs the machine for itself.
    if (recording.state !== 'idle' || (running && !note.note?.header.takes.some((t) => t.id === running!.take))) running?.stop.abort();
    const now = [note.note?.header.takes, recording.state, hearing.stopped];
    if (Array.isArray(seen) && now.every((v, i) => v === (seen as unknown[])[i])) return;
    seen = now;
    if (timer) clearTimeout(timer);
    timer = setTimeout(() => void step(), WAIT_MS);
  });
  return () => {
    ended = true;
    running?.stop.abort();
    if (timer) clearTimeout(timer);
    off();
  };
}
