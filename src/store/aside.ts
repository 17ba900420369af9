/** What was set aside because it could not be read: shown in Settings, saved as a file, tried again, thrown away. */
import { bytesOfRecord } from '../core/note/binaryText';
import { merge } from '../core/note/merge';
import { saveFile } from '../platform/files';
import { dropAside, listAside, readAside, retryAside, type Aside } from '../storage/asideFile';
import { change } from './change';
import { loadLibrary } from './library';
import { reasonOf, say } from './messages';
import { editStored } from './storedNotes';
import type { Thunk } from './thunk';

const guarded =
  (what: string, work: Thunk<Promise<string | null>>): Thunk<Promise<void>> =>
  async (dispatch) => {
    try {
      const told = await dispatch(work);
      if (told) dispatch(say('aside', 'info', told));
    } catch (e) {
      dispatch(say('aside', 'problem', `${what} (${reasonOf(e)}). Nothing was changed.`));
    }
  };

/** Null when it could not be found out, which is told. */
export const loadAside =
  (): Thunk<Promise<readonly Aside[] | null>> =>
  async (dispatch) => {
    try {
      return await listAside();
    } catch (e) {
      dispatch(say('aside', 'problem', `What was set aside could not be listed (${reasonOf(e)}).`));
      return null;
    }
  };

export const saveAside = (key: string): Thunk<Promise<void>> =>
  guarded('It could not be handed out', async () => {
    const text = await readAside(key);
    if (text === null) return 'It is not there any more.';
    saveFile(`${key.replace(/[^\w-]+/g, '_')}.txt`, bytesOfRecord(text), 'application/octet-stream');
    return 'It was handed to the browser as a file.';
  });

export const discardAside = (key: string): Thunk<Promise<void>> =>
  guarded('It could not be thrown away', async () => {
    await dropAside(key);
    return 'It was thrown away.';
  });

/** Reads it once more: what can be read now goes where it belongs, beside what is there. */
export const tryAside = ({ key, note }: Aside): Thunk<Promise<void>> =>
  guarded('It could not be brought back', async (dispatch, getState) => {
    const found = await retryAside(key);
    if (!found) return 'It still cannot be read. It stays set aside; a newer Scrivo may be able to.';
    if (found === 'back') {
      await dispatch(loadLibrary());
      return 'It can be read and is where it belongs.';
    }
    if (getState().note.id === note && getState().note.note) {
      if (!dispatch(change(merge(getState().note.note!, found).edit, false))) throw new Error('the note cannot be changed now');
    } else await dispatch(editStored(note!, (n) => merge(n, found).edit));
    await dropAside(key);
    return 'It can be read and is back in its note.';
  });
