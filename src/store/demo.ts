/** The demo notes: served beside the application when it was started with them. */
import { z } from 'zod';
import { foldersIn, folderSchema, unfiled } from '../core/library/folder';
import { removeFolders, writeFolders, writePlaces } from '../storage/libraryFile';
import { deleteNotes } from './library';
import { reasonOf, say } from './messages';
import type { Thunk } from './thunk';
import { packer } from '../platform/packing';
import { holdIfFree } from '../platform/tabs';
import { storeNote } from '../storage/archive';
import { librarySlice, messagesSlice, settingsSlice } from './slices';

const DEMO_FOLDER = 'demo-';
const offer = z.object({ auto: z.boolean(), notes: z.array(z.object({ id: z.string(), file: z.string(), folder: folderSchema.pick({ id: true, name: true, color: true, emblem: true }).optional() })) });

/** Lays a demo note into its folder, which is made where it is not there. */
const fileDemo =
  (note: string, folder: z.infer<typeof offer>['notes'][number]['folder']): Thunk<Promise<void>> =>
  async (dispatch, getState) => {
    if (!folder) return;
    const now = Date.now();
    if (!getState().library.folders.has(folder.id)) {
      const made = { ...folder, v: 1, parent: null, made: now, changed: now };
      await writeFolders([made]);
      dispatch(librarySlice.actions.foldersSet({ put: [made] }));
    }
    const place = { ...unfiled(note), folder: folder.id, changed: now };
    await writePlaces([place]);
    dispatch(librarySlice.actions.filed([place]));
  };

/**
 * Brings the demo notes in that are not there. Without being asked only into an empty library, once, and when the server
 * offers them.
 */
export const bringDemo =
  (asked: boolean): Thunk<Promise<void>> =>
  async (dispatch, getState) => {
    const { library, settings } = getState();
    if (library.demo === 'loading' || library.status !== 'ready') return;
    // A first visit that was left before all of them were in goes on with the rest.
    if (!asked && (library.headers.some((h) => !h.demo) || settings.demoSettled)) return;
    try {
      const answer = await fetch('/demo/notes.json');
      const offered = answer.ok ? offer.parse(await answer.json()) : null;
      if (!offered) throw new Error(`the server answered ${answer.status}`);
      if (!asked && !offered.auto) return;
      dispatch(librarySlice.actions.demoSet('loading'));
      for (const { id, file, folder } of offered.notes) {
        if (getState().library.headers.some((h) => h.id === id)) continue;
        const bundle = await fetch(`/demo/${file}`);
        if (!bundle.ok) throw new Error(`the server answered ${bundle.status}`);
        // Another tab may be at just that.
        const held = await holdIfFree(id);
        if (!held) continue;
        try {
          dispatch(librarySlice.actions.upserted(await storeNote(held, await packer.readBundle(new Uint8Array(await bundle.arrayBuffer())), packer, { demo: true })));
        } finally {
          void held.release();
        }
        await dispatch(fileDemo(id, folder));
      }
      dispatch(settingsSlice.actions.patched({ demoSettled: true }));
    } catch (e) {
      // Unasked, a server without demo notes is nothing to report.
      if (asked || getState().library.demo === 'loading') {
        dispatch(messagesSlice.actions.said({ key: 'demo', tone: 'problem', text: `The demo notes could not be brought in (${reasonOf(e)}). Check that the server is running and try again in Settings.` }));
      }
    } finally {
      dispatch(librarySlice.actions.demoSet('none'));
    }
  };

export const removeDemo =
  (): Thunk<Promise<void>> =>
  async (dispatch, getState) => {
    dispatch(settingsSlice.actions.patched({ demoSettled: true }));
    await dispatch(deleteNotes(getState().library.headers.filter((h) => h.demo).map((h) => h.id)));
    // Their folders go too, where nothing else was put into them.
    const { folders, places } = getState().library;
    const empty = [...folders.keys()].filter((id) => id.startsWith(DEMO_FOLDER) && !foldersIn(folders, id).length && !Object.values(places).some((p) => p.folder === id));
    try {
      await removeFolders(empty, [], []);
      dispatch(librarySlice.actions.foldersSet({ cut: empty }));
    } catch (e) {
      dispatch(say('demo', 'problem', `The folders of the demo notes could not be removed (${reasonOf(e)}). Remove them in the Library.`));
    }
  };
