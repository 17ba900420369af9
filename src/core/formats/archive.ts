/**
 * The index of an archive: a ZIP file that holds a whole library or a folder of it (docs/archive.md).
 *   archive.json           this index
 *   notes/<id>.scrivo      each note as a bundle
 *   locked/<id>.zip        a locked note as its records are stored, sealed, where the lock was closed when the archive was made
 *   templates/<id>.scrivo  each of the writer's templates, as the bundle of a note of one page
 * Files that this version does not know are kept.
 */
import { z } from 'zod';
import { folderSchema, placeSchema, type Folder, type Place } from '../library/folder';
import { binaryOf, textOf } from '../note/binaryText';
import { LAST_MS } from '../note/limits';
import { bytesOf, sizeOf, type Content } from './blobFile';
import { openBytes, openPortions, sealBytes, sealPortions } from '../vault/seal';
import { keyholeSchema } from '../vault/vault';

const FORMAT = 'scrivo archive';
export const INDEX_NAME = 'archive.json';
/** An index larger than this is none: that of 10,000 notes has 4 MB. */
export const LARGEST_INDEX = 64 << 20;
/** A note larger than this is none: two hours of sound are 30 MB. */
export const LARGEST_NOTE = 1 << 30;

export const noteName = (id: string): string => `notes/${id}.scrivo`;
export const shutName = (id: string): string => `locked/${id}.zip`;
export const templateName = (id: string): string => `templates/${id}.scrivo`;

/** A file that this version does not know: it is kept, and goes into the next archive as it came. */
export const isForeign = (name: string): boolean => name !== INDEX_NAME && !/^(notes|templates|locked)\/|\.\.|^\//.test(name) && name.length <= 500;
export const LARGEST_FOREIGN = 64 << 20;

const entrySchema = z.object({
  id: z.string().regex(/^[\w-]{1,64}$/),
  title: z.string().max(500),
  changed: z.number().min(0).max(LAST_MS),
  /** Of its versions (`note/state.ts`): a note that is in the same state is the same. Absent where that is not known. */
  state: z.string().max(64).optional(),
  bytes: z.number().int().min(1).max(LARGEST_NOTE),
  /** SHA-256 of the bundle, in hexadecimal digits. */
  sha256: z.string().regex(/^[0-9a-f]{64}$/),
  /** The bundle is sealed with the key of `lock`, under the name `bundle/<id>`. */
  sealed: z.literal(true).optional(),
  /** No bundle, but the records of the note as its device had them, sealed, since the lock was closed: `locked/<id>.zip`. */
  shut: z.literal(true).optional(),
  /** Bytes of the bundle that were sealed at a time; absent where it was sealed as a whole. */
  portion: z.number().int().min(1 << 16).max(LARGEST_NOTE).optional(),
});
const indexSchema = z.object({
  format: z.literal(FORMAT),
  v: z.literal(1),
  made: z.number().min(0).max(LAST_MS),
  folders: z.array(folderSchema),
  places: z.array(placeSchema),
  notes: z.array(entrySchema),
  templates: z.array(entrySchema).max(10_000).optional(),
  /** What opens the sealed notes, with their passphrase. */
  lock: keyholeSchema.optional(),
  /** Folders and places of locked notes, each part sealed under the name `archive`, in base64. */
  shut: z.array(z.string().max(LARGEST_INDEX)).max(1000).optional(),
});
export type ArchiveIndex = z.infer<typeof indexSchema>;
export type ArchiveEntry = z.infer<typeof entrySchema>;

/** Where a history of backups lies on a server: each version of a note once, by its checksum, and an index for every backup. */
export const objectName = (sha256: string): string => `objects/${sha256}.scrivo`;
export const HISTORY = 'history';
/** Name of the index of a backup made at `made`, ms: names are in the order of time. */
export const historyName = (made: number): string => `${new Date(made).toISOString().replace(/[:.]/g, '-')}.json`;

export class ArchiveError extends Error {
  readonly name = 'ArchiveError';
}

const UNTOUCHED = 'Nothing was changed.';
export const NOT_WHOLE = `This is not a Scrivo archive, or it did not arrive whole. ${UNTOUCHED} Get the file again and try once more.`;

export const writeIndex = (index: Omit<ArchiveIndex, 'format' | 'v'>): string => JSON.stringify({ format: FORMAT, v: 1, ...index }, null, 1);

/** @throws ArchiveError with a sentence for the user. */
export function readIndex(text: string): ArchiveIndex {
  let json: unknown;
  try {
    json = JSON.parse(text);
  } catch {
    throw new ArchiveError(NOT_WHOLE);
  }
  const head = z.object({ format: z.literal(FORMAT), v: z.number() }).safeParse(json);
  if (head.success && head.data.v > 1) throw new ArchiveError(`This archive was made by a newer Scrivo. ${UNTOUCHED} Update Scrivo and try once more.`);
  const parsed = indexSchema.safeParse(json);
  if (!parsed.success) throw new ArchiveError(NOT_WHOLE);
  const ids = parsed.data.notes.map((n) => n.id);
  if (new Set(ids).size !== ids.length) throw new ArchiveError(NOT_WHOLE);
  return parsed.data;
}

/** What a locked note is called whose title is hidden. */
export const HIDDEN_TITLE = 'Locked note';

const sealedName = (note: string): string => `bundle/${note}`;

/** A bundle larger than this is sealed in portions of this size, bytes: the sound of a long day need not be in memory for it. */
const PORTION = 16 << 20;

/** A bundle sealed, and what its entry says of that. */
export async function sealBundle(key: CryptoKey, note: string, bundle: Content): Promise<{ content: Content; sealed: Pick<ArchiveEntry, 'sealed' | 'portion'> }> {
  const name = sealedName(note);
  if (sizeOf(bundle) <= PORTION) return { content: await sealBytes(key, name, await bytesOf(bundle)), sealed: { sealed: true } };
  const blob = bundle instanceof Blob ? bundle : new Blob([bundle as Uint8Array<ArrayBuffer>]);
  return { content: await sealPortions(key, name, blob, PORTION), sealed: { sealed: true, portion: PORTION } };
}

/** @throws SealError */
export async function openBundle(key: CryptoKey, { id, portion }: Pick<ArchiveEntry, 'id' | 'portion'>, sealed: Content): Promise<Content> {
  if (portion === undefined) return openBytes(key, sealedName(id), await bytesOf(sealed));
  return openPortions(key, sealedName(id), sealed instanceof Blob ? sealed : new Blob([sealed as Uint8Array<ArrayBuffer>]), portion);
}

const shutSchema = z.object({ folders: z.array(folderSchema), places: z.array(placeSchema) });
export type Shut = z.infer<typeof shutSchema>;

/** Folders and places that only the key may show. */
export const writeShut = async (key: CryptoKey, folders: readonly Folder[], places: readonly Place[]): Promise<string> => btoa(textOf(await sealBytes(key, 'archive', new TextEncoder().encode(JSON.stringify({ folders, places })))));

/** @throws ArchiveError with a clause when it does not open or is not what it should be. */
export async function readShut(key: CryptoKey, text: string): Promise<Shut> {
  try {
    return shutSchema.parse(JSON.parse(new TextDecoder().decode(await openBytes(key, 'archive', binaryOf(atob(text))))));
  } catch {
    throw new ArchiveError('they do not open with this passphrase, or were damaged');
  }
}
