/** Binary contents by their hash: pictures and files that notes point to. Stored once, whatever number of notes has them. */
import { sha256Hex } from '../core/hash';
import { binaryOf, textOf } from '../core/note/binaryText';
import { noteRecord } from '../core/note/records/noteRecord';
import { alone } from './alone';
import { isSealed as isSealedText } from '../core/vault/seal';
import { keys, keysStarting, notesDb, rawDbs, readMany, removeOwned, soundDb } from './databases';
import { beforeAside, placeOf } from './recordKinds';
import { seals } from './sealing';

/** Bytes in a record. */
const PART = 1 << 20;

/** Stores bytes and gives their hash (SHA-256, hexadecimal); what is there already is not written again. */
export async function writeContent(bytes: Uint8Array): Promise<string> {
  const hash = await sha256Hex(bytes);
  // One that is damaged is written anew, and one that lies open and belongs to what is locked by now.
  if ((await readContent(hash)) !== null && (await isAsItShould(hash))) return hash;
  // The first part comes last: while it is missing the content is not there.
  for (let k = Math.max(0, Math.ceil(bytes.length / PART) - 1); k >= 0; k--) await soundDb().setItem(keys.content(hash, k), `${bytes.length}\n${textOf(bytes.subarray(k * PART, (k + 1) * PART))}`);
  return hash;
}

/** Whether it is stored as what holds it wants: sealed as soon as something locked does. */
async function isAsItShould(hash: string): Promise<boolean> {
  const key = keys.content(hash, 0);
  const first = await rawDbs().sound.getItem(key);
  return first === null || isSealedText(first) === seals('sound', key);
}

/** How many bytes a content has; null when it is not on this device. */
export async function contentBytes(hash: string): Promise<number | null> {
  const first = await soundDb().getItem(keys.content(hash, 0));
  return first === null ? null : Number(first.slice(0, first.indexOf('\n')));
}

/** Which of these contents, and of these takes with any sound, are on this device. */
export async function storedOf(contents: readonly string[], takes: readonly string[]): Promise<ReadonlySet<string>> {
  const there = new Set<string>();
  for (const hash of contents) if ((await contentBytes(hash)) !== null) there.add(hash);
  for (const take of takes) if ((await keysStarting('sound', keys.piecePrefix(take))).length) there.add(take);
  return there;
}

/** A content that is read piece by piece. Its hash is not checked: that was done when it came. */
export interface ContentSource {
  /** Bytes. */
  readonly length: number;
  /** @throws Error when a part of it is missing. */
  read(from: number, to: number): Promise<Uint8Array>;
}

/** Null when it is not on this device. */
export async function contentSource(hash: string): Promise<ContentSource | null> {
  const length = await contentBytes(hash);
  if (length === null || !(length >= 0)) return null;
  const part = async (k: number): Promise<Uint8Array> => {
    const text = await soundDb().getItem(keys.content(hash, k));
    if (text === null) throw new Error('a part of it is missing');
    return binaryOf(text.slice(text.indexOf('\n') + 1));
  };
  return {
    length,
    async read(from, to) {
      const end = Math.min(to, length);
      const out = new Uint8Array(Math.max(0, end - from));
      for (let k = Math.floor(from / PART); k * PART < end; k++) {
        const bytes = await part(k);
        const [a, b] = [Math.max(from, k * PART), Math.min(end, k * PART + bytes.length)];
        out.set(bytes.subarray(a - k * PART, b - k * PART), a - from);
      }
      return out;
    },
  };
}

/** Null when it is not on this device, or damaged: its hash tells. */
export async function readContent(hash: string): Promise<Uint8Array | null> {
  const first = await soundDb().getItem(keys.content(hash, 0));
  const length = first === null ? NaN : Number(first.slice(0, first.indexOf('\n')));
  if (first === null || !(length >= 0)) return null;
  const bytes = new Uint8Array(length);
  const parts = Math.max(1, Math.ceil(length / PART));
  const rest = await readMany(soundDb(), Array.from({ length: parts - 1 }, (_, i) => keys.content(hash, i + 1)), 8);
  for (let k = 0; k < parts; k++) {
    const text = k === 0 ? first : rest.get(keys.content(hash, k));
    if (text === undefined) return null;
    const part = binaryOf(text.slice(text.indexOf('\n') + 1));
    if (k * PART + part.length > length) return null;
    bytes.set(part, k * PART);
  }
  return (await sha256Hex(bytes)) === hash ? bytes : null;
}

/** Stores bytes for a note. `named` brings their hash to the note's record on disk first, so that no program that ends in between leaves bytes that nothing leads to. @throws what storage throws. */
export const keepContent = (bytes: Uint8Array, named: (hash: string) => Promise<void>): Promise<string> =>
  alone('contents', async () => {
    await named(await sha256Hex(bytes));
    return writeContent(bytes);
  });

/** Records that hold the contents they name. What was set aside may be tried again, so it holds them too. */
const HOLDING: readonly string[] = ['note', 'locked', 'template', 'foreign', 'checkpoint', 'lease'];

/**
 * Which of these takes and contents something on this device still needs, by what is on disk now. What cannot be read needs all that it names. `but`: a
 * record that needs none of them.
 */
export async function stillNamed(ids: readonly string[], but?: string): Promise<ReadonlySet<string>> {
  const db = notesDb();
  const holding = (await keysStarting('notes', ...HOLDING, keys.aside(''))).filter((k) => k !== but && (beforeAside(k) !== null || HOLDING.includes(placeOf('notes', k).kind ?? '')));
  const [wanted, named] = [new Set(ids), new Set<string>()];
  const plain = ids.every((id) => /^[\w-]+$/.test(id));
  // While a lock is closed the cover of a note says what it needs.
  for (const [key, text] of await readMany({ getMany: (some) => db.getOpen(some) }, holding, 500)) {
    // Most notes name none of them, and need not be read for that.
    if (plain && key.startsWith(keys.note('')) && !(text.match(/[\w-]+/g) ?? []).some((word) => wanted.has(word))) continue;
    const own = key.startsWith(keys.note('')) ? ownOf(text) : null;
    if (own) for (const id of own) wanted.has(id) && named.add(id);
    else for (const id of ids) if (text.includes(id)) named.add(id);
  }
  return named;
}

/** Takes and contents of a note by its record; takes of other notes that its ink was stamped by are not its own. Null when it cannot be read. */
function ownOf(text: string): ReadonlySet<string> | null {
  try {
    const { takes, contents = [] } = noteRecord.peek(text).value;
    return new Set([...takes.map((t) => t.id), ...contents]);
  } catch {
    // Then every id in its text counts.
    return null;
  }
}

/** Lets go of those contents that nothing on this device names any more. `but`: a record that needs none of them, though it names them still. */
export async function letGo(hashes: readonly string[], but?: string): Promise<void> {
  if (!hashes.length) return;
  // Nothing goes while another tab is about to point to it.
  await alone('contents', () => letGoOf(hashes, but));
}

/** The same, of takes too, for whoever is alone with contents already. */
export async function letGoOf(hashes: readonly string[], but?: string): Promise<void> {
  if (!hashes.length) return;
  const named = await stillNamed(hashes, but);
  await removeOwned('sound', new Set(hashes.filter((hash) => !named.has(hash))));
}
