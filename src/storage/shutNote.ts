/**
 * A locked note as it goes into a backup while the lock is closed: its records as they are stored, sealed, in a ZIP. With the passphrase they are a note again where
 * they are restored.
 */
import { readHeard, type Heard } from '../core/audio/heard';
import { readPiece } from '../core/audio/pieces';
import type { Packet } from '../core/audio/opus';
import { ArchiveError } from '../core/formats/archive';
import { bytesOf, type Content } from '../core/formats/blobFile';
import type { Bundle, Packer } from '../core/formats/bundle';
import { Allowance, ZipError, ZipIn, ZipOut } from '../core/formats/zip';
import { sha256Hex } from '../core/hash';
import { placeRecord, type Place } from '../core/library/folder';
import { binaryOf, textOf } from '../core/note/binaryText';
import { RecordError } from '../core/record';
import { isSealed, openText, SealError } from '../core/vault/seal';
import type { Cover } from '../core/vault/vault';
import { keys, keysOf, rawDbs } from './databases';
import { noteIn } from './noteReading';
import { placeOf, type Store } from './recordKinds';

/** Records that are read at a time: with sound 30 MB and more of a note. */
const AT_ONCE = 200;
/** Beyond its own size so much may become of it, bytes: records are as tight as they get. */
const GROWTH = 64 << 20;
const LARGEST_RECORD = 64 << 20;

/** Its records, those that can be made anew left out. Nothing is opened. @throws what storage throws */
export async function shutNote(cover: Cover): Promise<Blob> {
  const zip = new ZipOut();
  const owned: readonly (readonly [Store, ReadonlySet<string>])[] = [['notes', new Set([cover.id])], ['sound', new Set([...cover.takes, ...(cover.contents ?? [])])]];
  for (const [store, owners] of owned) {
    const wanted = (await keysOf(store, owners)).filter((key) => WANTED.has(placeOf(store, key).kind ?? ''));
    for (let i = 0; i < wanted.length; i += AT_ONCE) {
      for (const [key, text] of Object.entries(await rawDbs()[store].getMany(wanted.slice(i, i + AT_ONCE)))) if (text !== null) await zip.add(`${store}/${key}`, binaryOf(text), 0, 0);
    }
  }
  return zip.close();
}
const WANTED: ReadonlySet<string> = new Set(['note', 'rows', 'ink', 'extent', 'place', 'checkpoint', 'piece', 'heard', 'content']);

/** Such a note with its place, opened. @throws ArchiveError with a clause, RecordError */
export async function openedShut(key: CryptoKey, id: string, content: Content, packer: Packer): Promise<{ bundle: Bundle; place: Place | null }> {
  const texts = new Map<string, string>();
  const sound = new Map<string, string>();
  try {
    const zip = await ZipIn.open(content instanceof Blob ? content : new Blob([content as Uint8Array<ArrayBuffer>]));
    const allowance = new Allowance((content instanceof Blob ? content.size : content.length) + GROWTH);
    for (const name of zip.names) {
      const [, store, record] = /^(notes|sound)\/(.+)$/.exec(name) ?? [];
      if (!store) continue;
      const text = textOf(await zip.read(name, LARGEST_RECORD, allowance));
      (store === 'notes' ? texts : sound).set(record, isSealed(text) ? await openText(key, record, text) : text);
    }
    await zip.close();
  } catch (e) {
    if (e instanceof SealError) throw new ArchiveError('it does not open with this passphrase');
    throw e instanceof ZipError ? new ArchiveError('it is damaged') : e;
  }
  const { note } = noteIn(id, texts);
  const takes = new Map<string, Uint8Array>();
  const heard = new Map<string, Heard>();
  for (const { id: take } of note.header.takes) {
    const pieces = [...sound].filter(([k]) => k.startsWith(keys.piecePrefix(take))).sort(([a], [b]) => (a < b ? -1 : 1));
    const packets: Packet[] = pieces.flatMap(([, text]) => orNone(() => readPiece(text)) ?? []);
    const webm = packets.length ? await packer.packSound(once(packets)) : null;
    if (webm) takes.set(take, await bytesOf(webm));
    const text = sound.get(keys.heard(take));
    // It can be found out anew.
    const known = text === undefined ? null : orNone(() => readHeard(text));
    if (known) heard.set(take, known);
  }
  const contents = new Map<string, Uint8Array>();
  for (const hash of note.header.contents ?? []) {
    const bytes = contentIn(sound, hash);
    if (bytes && (await sha256Hex(bytes)) === hash) contents.set(hash, bytes);
  }
  const place = texts.get(keys.place(id));
  return { bundle: { note, takes, heard, contents, others: new Map() }, place: place === undefined ? null : placeRecord.read(place) };
}

/** A damaged record costs itself alone. */
function orNone<T>(read: () => T): T | null {
  try {
    return read();
  } catch (e) {
    if (!(e instanceof RecordError)) throw e;
    return null;
  }
}

/** All at once, and then no more. */
function once(packets: readonly Packet[]): () => Promise<readonly Packet[] | null> {
  let left: readonly Packet[] | null = packets;
  return () => {
    const now = left;
    left = null;
    return Promise.resolve(now);
  };
}

function contentIn(sound: ReadonlyMap<string, string>, hash: string): Uint8Array | null {
  const parts: string[] = [];
  for (let k = 0; sound.has(keys.content(hash, k)); k++) parts.push(sound.get(keys.content(hash, k))!);
  return parts.length ? binaryOf(parts.map((text) => text.slice(text.indexOf('\n') + 1)).join('')) : null;
}
