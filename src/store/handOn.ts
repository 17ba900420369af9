/** Notes, and parts of them, out to files. A new format is an exporter, and one more entry here. */
import { bundleExporter } from '../core/formats/bundleExporter';
import { fileName, type Exporter, type Leaving } from '../core/formats/exporter';
import type { Note } from '../core/note/edit';
import { pictureExporter } from '../platform/drawing/pictureExporter';
import { copyFile, saveFile } from '../platform/files';
import { packer } from '../platform/packing';
import { contentsOf, heardOf } from '../storage/archive';
import { NoteFile } from '../storage/noteFile';
import type { Alive } from './alive';
import { runJob } from './jobs';
import { reasonOf, say } from './messages';
import { soundOfTake } from './takeSound';
import type { RootState } from './state';
import type { Thunk } from './thunk';
import { selected } from './tools';

export const EXPORTERS = { bundle: bundleExporter(packer), picture: pictureExporter } as const;

/** The open note as an exporter takes it, with what is not stored yet. */
function leaving(note: Note, chosen: Leaving['chosen'], alive: Alive): Leaving {
  return {
    note,
    chosen,
    async takes() {
      const takes = new Map<string, Blob>();
      for (const t of note.header.takes) {
        const sound = await packer.packSound(await soundOfTake(t.id, alive));
        if (sound) takes.set(t.id, sound);
      }
      return takes;
    },
    heard: () => heardOf(note),
    contents: () => contentsOf(note),
  };
}

/** The note as it is now, what is not stored yet included; null when there is none. */
async function asItIs(of: string | undefined, { note: open, id }: RootState['note'], alive: Alive): Promise<Note | null> {
  if (!of || of === id) return open;
  return alive.unsaved.get(of)?.file.current ?? (await NoteFile.open(of)).note;
}

/** A note as a bundle: the open one, or any other. */
export const saveCopy =
  (of?: string): Thunk<Promise<void>> =>
  async (dispatch, getState, alive) => {
    const { bundle } = EXPORTERS;
    await dispatch(
      runJob({
        kind: 'copy',
        title: 'Making a copy',
        async task() {
          const note = await asItIs(of, getState().note, alive);
          if (!note) return;
          saveFile(fileName(note.header.title, bundle), await bundle.write(leaving(note, [], alive), {}), bundle.type);
          dispatch(say('copy', 'info', `A copy of “${note.header.title}” was handed to the browser as a file.`));
        },
        said: { key: 'copy', stopped: 'No copy was made.', failed: (e) => `The copy could not be made (${reasonOf(e)}). The note itself is unchanged.` },
      }),
    );
  };

/** What is selected as a picture: a file, or onto the clipboard. */
export const handPicture =
  (paper: boolean, copy: boolean): Thunk<Promise<void>> =>
  async (dispatch, getState, alive) => {
    const { note } = getState().note;
    const chosen = selected(getState());
    if (!note || !chosen.length) return;
    const { picture } = EXPORTERS as { picture: Exporter<{ paper: boolean }> };
    try {
      const png = picture.write(leaving(note, chosen, alive), { paper });
      // The clipboard takes the promise while the touch counts.
      if (copy) await copyFile(png, picture.type);
      else saveFile(fileName('selection', picture), await png, picture.type);
      dispatch(say('tool', 'info', copy ? 'The picture is on the clipboard.' : 'The picture was handed to the browser as selection.png.'));
    } catch (e) {
      dispatch(say('tool', 'problem', copy ? `The browser did not take the picture (${reasonOf(e)}). Save it as a file instead.` : `The picture could not be made (${reasonOf(e)}). Select less and try again.`));
    }
  };
