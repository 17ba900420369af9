/** Sound files as takes: of the open note, or of a new one. Until all of it is stored nothing of it is there. */
import { sha256Hex } from '../core/hash';
import { newId } from '../core/id';
import type { Packet } from '../core/audio/opus';
import { bringTake } from '../core/note/takes';
import { newPage } from '../core/note/schema';
import { soundOfFile } from '../platform/bringing/soundIn';
import { holdIfFree } from '../platform/tabs';
import { keepContent } from '../storage/contentFile';
import { isQuotaError } from '../storage/databases';
import { bringSoundFor } from '../storage/libraryFile';
import { removeSound, SoundFile } from '../storage/soundFile';
import { arrive, bringAsNote, titleOf, type Place } from './bringing';
import { canChange, change } from './change';
import { runJob, type JobWork } from './jobs';
import { reasonOf, say } from './messages';
import { setMode } from './mode';
import { paperFor } from './newPaper';
import { loadPlayer } from './playing';
import { writeWhileListening } from './reviewing';
import type { Thunk } from './thunk';

/** Packets that wait to be written are no more than this, ms of sound. */
const STORE_EVERY_MS = 120_000;

/** Stores the sound of a file under a take. @throws what reading and storing throw */
async function storeSound(file: File, take: string, { signal, progress }: JobWork): Promise<number> {
  const sound = new SoundFile(take);
  let since = 0;
  const next = async (packets: Packet[], share: number): Promise<void> => {
    sound.add(packets);
    progress(0.98 * share);
    if (packets.at(-1)!.t - since < STORE_EVERY_MS) return;
    since = packets.at(-1)!.t;
    await sound.flush();
  };
  try {
    const { ms } = await soundOfFile(file, signal, next);
    await sound.flush();
    return ms;
  } catch (e) {
    sound.giveUp();
    throw e;
  }
}

/** Films beyond it come in as sound alone, bytes. */
export const LARGEST_FILM = 200e6;

/** `film`: the file itself is kept too, to be seen in a window of its own. */
export const bringSoundFile =
  (file: File, film: boolean, place: Place, go: (note: string) => void): Thunk<Promise<void>> =>
  async (dispatch, getState, alive) => {
    const into = place.into === null ? null : alive.file;
    if (place.into !== null && (!into || getState().note.id !== place.into || !canChange(getState()))) return;
    const take = newId();
    const from = window.location.pathname;
    const name = titleOf(file);
    await dispatch(
      runJob({
        kind: 'bring',
        title: `Bringing in “${file.name}”`,
        async task(work) {
          const lease = `bringing-${take}`;
          const held = await holdIfFree(lease);
          try {
            const shown = film ? new Uint8Array(await file.arrayBuffer()) : null;
            const kept = shown ? { film: { content: await sha256Hex(shown), type: file.type || 'video/mp4' } } : {};
            if (!into) {
              let id = '';
              await bringSoundFor(lease, take, async () => {
                const ms = await storeSound(file, take, work);
                const pages = [newPage(newId(), paperFor(getState(), 'recorded'))];
                id = await dispatch(bringAsNote(name, place.folder, pages, (note) => bringTake(note, { id: take, name, ms, wall: Date.now(), ...kept }), async () => void (shown && (await keepContent(shown, () => Promise.resolve(work.signal.throwIfAborted()))))));
              });
              if (!(await dispatch(arrive(id, from, go)))) return;
            } else {
              await bringSoundFor(lease, take, async () => {
                const ms = await storeSound(file, take, work);
                if (shown) await into.keep(shown);
                const { note } = getState().note;
                // The note was closed meanwhile: its sound goes again.
                if (alive.file !== into || !note) return removeSound([take]);
                dispatch(change(bringTake(note, { id: take, name, ms, wall: Date.now(), ...kept })));
                await into.flush();
              });
              if (alive.file !== into) return;
              dispatch(loadPlayer());
            }
            // Whoever records goes on writing: the pen must not be taken from the hand.
            if (getState().recording.state !== 'idle') return void dispatch(say('tool', 'info', `“${name}” is a take of this note now.`));
            dispatch(setMode('listen'));
            dispatch(writeWhileListening(true));
            dispatch(say('tool', 'info', 'Press Play and write along: the pen writes while the sound plays.'));
          } finally {
            await held?.release();
          }
        },
        said: {
          key: 'bring',
          stopped: `“${file.name}” was not brought in; nothing of it was kept.`,
          failed: (e) => (isQuotaError(e) ? `There is no room left for “${file.name}”. Nothing was changed; free some room (Settings, Storage) and bring it in once more.` : `“${file.name}” was not brought in: ${reasonOf(e)}. Nothing was changed.`),
        },
      }),
    );
  };
