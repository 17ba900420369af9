/** The demo notes: served beside the application when it was started with them. */
import { deleteNotes } from './library';
import { reasonOf } from './messages';
import type { Thunk } from './thunk';
import { packer } from '../platform/packing';
import { storeNote } from '../storage/archive';
import { librarySlice, messagesSlice, settingsSlice } from './slices';

/**
 * Brings the demo notes in that are not there. Without being asked only into an empty library, once, and when the server
 * offers them.
 */
export const bringDemo =
  (asked: boolean): Thunk<Promise<void>> =>
  async (dispatch, getState) => {
    const { library, settings } = getState();
    if (library.demo === 'loading' || library.status !== 'ready') return;
    if (!asked && (library.headers.length > 0 || settings.demoSettled)) return;
    try {
      const answer = await fetch('/demo/notes.json');
      const offered = answer.ok ? ((await answer.json()) as { auto: boolean; notes: { id: string; file: string }[] }) : null;
      if (!offered) throw new Error(`the server answered ${answer.status}`);
      if (!asked && !offered.auto) return;
      dispatch(librarySlice.actions.demoSet('loading'));
      for (const { id, file } of offered.notes) {
        if (getState().library.headers.some((h) => h.id === id)) continue;
        const bundle = await fetch(`/demo/${file}`);
        if (!bundle.ok) throw new Error(`the server answered ${bundle.status}`);
        dispatch(librarySlice.actions.upserted(await storeNote(await packer.readBundle(new Uint8Array(await bundle.arrayBuffer())), packer, { demo: true })));
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
  };
