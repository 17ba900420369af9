/** A new note, from the first touch on: made, opened, recording where that was asked. */
import { offerFolder } from './filing';
import { createNote, type NoteKind } from './library';
import { openNote } from './openNote';
import { startRecording } from './recording';
import type { Thunk } from './thunk';

/** `folder`: where it is to lie; without one it is offered the folder it probably belongs to. `go` shows the note. */
export const beginNote =
  (kind: NoteKind, go: (path: string) => void, folder: string | null = null): Thunk<Promise<void>> =>
  async (dispatch) => {
    const id = await dispatch(createNote(kind, folder));
    if (!id) return;
    go(kind === 'sound' ? `/sound/${id}` : `/note/${id}`);
    await dispatch(openNote(id));
    if (kind !== 'written') await dispatch(startRecording());
    if (folder === null) dispatch(offerFolder(id));
  };
