/** A note out to a file and back in. */
import type { Packet } from '../core/audio/opus';
import { readBundle, writeBundle } from '../core/formats/bundle';
import type { NoteHeader, NoteSummary } from '../core/note/schema';
import { saveFile } from '../platform/files';
import { fillHoles, opusHead, webmOf } from '../core/formats/webmFile';
import { contentsOf, storeNote } from '../storage/archive';
import { librarySlice, messagesSlice } from './slices';
import { soundOfTake } from './takeSound';
import type { Thunk } from './thunk';

const said = (tone: 'info' | 'problem', text: string) => messagesSlice.actions.said({ key: 'copy', tone, text });

/** The open note as a bundle, what is not stored yet included. */
export const saveCopy =
  (): Thunk<Promise<void>> =>
  async (dispatch, getState, alive) => {
    const { note } = getState().note;
    if (!note) return;
    try {
      const takes = new Map<string, Uint8Array>();
      for (const t of note.header.takes) {
        const packets: Packet[] = await soundOfTake(t.id, alive);
        if (packets.length) takes.set(t.id, await webmOf(fillHoles(packets, packets[0].t), opusHead(2)));
      }
      const name = note.header.title.replace(/[^\p{L}\p{N} _-]+/gu, '').trim() || 'note';
      saveFile(`${name}.scrivo`, writeBundle({ note, takes, ...(await contentsOf(note)) }), 'application/zip');
      dispatch(said('info', `A copy of “${note.header.title}” was handed to the browser as a file.`));
    } catch (e) {
      dispatch(said('problem', `The copy could not be made (${e instanceof Error ? e.message : String(e)}). The note itself is unchanged.`));
    }
  };

/** Brings a bundle into the library. @throws BundleError, RecordError or what storage throws. */
export const storeBundle = (bytes: Uint8Array, mark: Partial<Pick<NoteHeader, 'demo'>> = {}): Promise<NoteSummary> => storeNote(readBundle(bytes), mark);

export const listed = (header: NoteSummary) => librarySlice.actions.upserted(header);
