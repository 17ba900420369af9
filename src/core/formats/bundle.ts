/**
 * The bundle: a note as one open file (`.scrivo`), a ZIP of
 *   note.json          the header, as docs/bundle.md says
 *   ink.inkml          all strokes with their stamps
 *   takes/<id>.webm    each take as a sound file any player opens
 */
import { strFromU8, strToU8, unzipSync, zipSync } from 'fflate';
import { newId } from '../id';
import { applyEdit, type Note } from '../note/edit';
import { readHeader } from '../note/records';
import { strokeOrder } from '../ink/stroke';
import { readInkml, writeInkml } from './inkml';

export interface Bundle {
  readonly note: Note;
  /** WebM bytes by take id. */
  readonly takes: ReadonlyMap<string, Uint8Array>;
}

export class BundleError extends Error {
  readonly name = 'BundleError';
}

const FORMAT = 'scrivo bundle';
/** No file in a bundle unpacks to more than this; a ZIP can claim anything. */
const LARGEST = 1 << 30;

export function writeBundle({ note, takes }: Bundle): Uint8Array {
  const strokes = Object.values(note.ink).flat().sort(strokeOrder);
  const files: Record<string, Uint8Array | [Uint8Array, { level: 0 }]> = {
    'note.json': strToU8(JSON.stringify({ format: FORMAT, ...note.header }, null, 1)),
    'ink.inkml': strToU8(writeInkml(strokes)),
  };
  // Opus is packed as tightly as it gets.
  for (const [id, bytes] of takes) files[`takes/${id}.webm`] = [bytes, { level: 0 }];
  return zipSync(files, { level: 9, mtime: new Date(Math.max(note.header.changed, Date.UTC(1980, 0, 2))) });
}

/** @throws BundleError with a sentence for the user. */
export function readBundle(bytes: Uint8Array): Bundle {
  let files: Record<string, Uint8Array>;
  try {
    files = unzipSync(bytes, {
      filter: (f) => {
        if (f.originalSize > LARGEST) throw new BundleError('The file holds a part too large to be a note.');
        return f.name === 'note.json' || f.name === 'ink.inkml' || /^takes\/[\w-]+\.webm$/.test(f.name);
      },
    });
  } catch (e) {
    if (e instanceof BundleError) throw e;
    throw new BundleError('This is not a Scrivo bundle, or it did not arrive whole. Nothing was changed; get the file again and try once more.');
  }
  if (!files['note.json']) throw new BundleError('The file has no note in it. Nothing was changed.');
  const header = readHeader(strFromU8(files['note.json']));
  const strokes = files['ink.inkml']
    ? readInkml(strFromU8(files['ink.inkml']), { page: header.pages[0].id, pen: { kind: 'ball', color: '#16324f', width: 0.4 }, id: newId, wall: header.made })
    : [];
  const takes = new Map<string, Uint8Array>();
  for (const t of header.takes) {
    const sound = files[`takes/${t.id}.webm`];
    if (sound) takes.set(t.id, sound);
  }
  return { note: applyEdit({ header, ink: {} }, { put: strokes }).note, takes };
}
