/** What is stored and how much more can be, in figures a writer can use. */
import { askToKeep, readQuota } from '../platform/quota';
import { layReserve, onReserveUsed, RESERVE_BYTES } from '../storage/reserve';
import { freeMadeAnew, sizesOf, type Sizes } from '../storage/sizes';
import { reasonOf, say } from './messages';
import type { store as Store } from './store';
import type { Thunk } from './thunk';

/** Bytes an hour of speech takes as it is recorded (npm run bench, `stored bytes per hour of speech`). */
const BYTES_PER_HOUR = 14e6;
/** With less room than this a warning is given, hours of recording. */
const FEW_HOURS = 3;

/** What is stored (`notes` the largest first), and what this browser allows, bytes. */
export interface StorageFigures extends Sizes {
  readonly used: number;
  readonly quota: number;
  /** Hours of recording that still find room. */
  readonly hours: number;
  readonly persisted: boolean;
}

export const measureStorage =
  (): Thunk<Promise<StorageFigures | null>> =>
  async (dispatch, getState) => {
    try {
      const [sizes, room] = await Promise.all([sizesOf(getState().library.headers), readQuota()]);
      const all = (n: Sizes['notes'][number]) => n.ink + n.sound + n.files;
      return { ...sizes, notes: [...sizes.notes].sort((a, b) => all(b) - all(a)), ...room, hours: Math.max(0, (room.quota - room.used) / BYTES_PER_HOUR) };
    } catch (e) {
      dispatch(say('storage', 'problem', `What is stored could not be measured (${reasonOf(e)}). Nothing was changed.`));
      return null;
    }
  };

export const keepForGood =
  (): Thunk<Promise<void>> =>
  async (dispatch) => {
    const kept = await askToKeep().catch(() => false);
    dispatch(say('storage', 'info', kept ? 'The browser keeps the notes until they are deleted here.' : 'The browser did not agree. Browsers often do once Scrivo is installed or bookmarked; until then, back up now and then.'));
  };

export const freeKept =
  (): Thunk<Promise<void>> =>
  async (dispatch) => {
    try {
      await freeMadeAnew();
      dispatch(say('storage', 'info', 'Pictures of pages and lists of gaps were freed. They are made anew when they are needed.'));
    } catch (e) {
      dispatch(say('storage', 'problem', `This could not be freed (${reasonOf(e)}). Nothing was changed; try again.`));
    }
  };

/** Warns before the room runs out. */
const warnOfLittleRoom =
  (): Thunk<Promise<void>> =>
  async (dispatch) => {
    const { used, quota } = await readQuota().catch(() => ({ used: 0, quota: 0 }));
    const hours = (quota - used) / BYTES_PER_HOUR;
    if (quota > 0 && hours < FEW_HOURS) dispatch(say('room', 'problem', `There is room for about ${hours < 0.1 ? 'no' : hours.toFixed(1)} hours of recording. Settings, Storage, shows what takes most; a backup can be made first, then empty the bin.`));
  };

/** With so much more room than the reserve itself takes it is laid. */
const AMPLE = 20;
/** It is laid when whoever came has begun, ms. */
const SETTLED_MS = 5000;

async function layWhereAmple(): Promise<void> {
  const { used, quota } = await readQuota();
  if (quota - used > AMPLE * RESERVE_BYTES) await layReserve();
}

/** Warns when the application starts and whenever a recording begins; gives the way to end it. */
export function watchRoom(store: typeof Store): () => void {
  let was = 'idle';
  onReserveUsed(() => store.dispatch(say('room', 'problem', 'This browser has no room left. Scrivo goes on in a reserve that it kept, which is enough for about half an hour of recording. Free some room soon: delete notes in the Library, or other files on this device.')));
  // Where it finds no room there is none: nothing depends on it.
  const laying = setTimeout(() => void layWhereAmple().catch(() => undefined), SETTLED_MS);
  void store.dispatch(warnOfLittleRoom());
  const off = store.subscribe(() => {
    const { state } = store.getState().recording;
    if (state === 'recording' && was !== 'recording') void store.dispatch(warnOfLittleRoom());
    was = state;
  });
  return () => {
    clearTimeout(laying);
    off();
  };
}
