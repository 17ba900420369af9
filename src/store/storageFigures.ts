/** What is stored and how much more can be, in figures a writer can use. */
import { askToKeep, readQuota } from '../platform/quota';
import { freeMadeAnew, inkSizes, soundSizes } from '../storage/sizes';
import { reasonOf, say } from './messages';
import type { store as Store } from './store';
import type { Thunk } from './thunk';

/** Bytes an hour of speech takes as it is recorded (npm run bench, `stored bytes per hour of speech`). */
const BYTES_PER_HOUR = 14e6;
/** With less room than this a warning is given, hours of recording. */
const FEW_HOURS = 3;

export interface StorageFigures {
  /** Bytes by note, the largest first. */
  readonly notes: readonly { readonly note: string; readonly ink: number; readonly sound: number; readonly files: number }[];
  readonly ink: number;
  readonly sound: number;
  /** Pictures and files that notes have. */
  readonly files: number;
  /** Pictures of pages, which can be made anew. */
  readonly pictures: number;
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
      const [ink, sound, room] = await Promise.all([inkSizes(), soundSizes(), readQuota()]);
      const { headers } = getState().library;
      const sum = (list: readonly number[]) => list.reduce((s, v) => s + v, 0);
      const byNote = new Map(headers.map((h) => [h.id, { sound: sum(h.takes.map((t) => sound.takes.get(t.id) ?? 0)), files: sum((h.contents ?? []).map((hash) => sound.contents.get(hash) ?? 0)) }]));
      const all = (n: StorageFigures['notes'][number]) => n.ink + n.sound + n.files;
      const notes = ink.map((n) => ({ note: n.note, ink: n.ink, ...(byNote.get(n.note) ?? { sound: 0, files: 0 }) })).sort((a, b) => all(b) - all(a));
      return { notes, ink: sum(ink.map((n) => n.ink)), sound: sum([...sound.takes.values()]), files: sum([...sound.contents.values()]), pictures: sum(ink.map((n) => n.picture)), ...room, hours: Math.max(0, (room.quota - room.used) / BYTES_PER_HOUR) };
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

/** Warns when the application starts and whenever a recording begins; gives the way to end it. */
export function watchRoom(store: typeof Store): () => void {
  let was = 'idle';
  void store.dispatch(warnOfLittleRoom());
  return store.subscribe(() => {
    const { state } = store.getState().recording;
    if (state === 'recording' && was !== 'recording') void store.dispatch(warnOfLittleRoom());
    was = state;
  });
}
