/** The lock of a library: a random key that seals records, itself sealed by the passphrase; and what may be known of notes that are locked. */
import { z } from 'zod';
import { newId } from '../id';
import { binaryOf, textOf } from '../note/binaryText';
import { JsonRecord } from '../record';
import type { Place } from '../library/folder';
import type { NoteHeader } from '../note/schema';
import { deriveSchema, newDerive, type Derive } from './passphrase';
import { importKey, newKeyBytes, openBytes, sealBytes, SealError } from './seal';

const id = z.string().min(1).max(64);
const wall = z.number().finite().min(0);

/** What goes along with locked notes to another device: with it and the passphrase they open. */
export const keyholeSchema = z.object({
  id,
  derive: deriveSchema,
  /** The key, sealed by the passphrase: base64. */
  wrapped: z.string().min(40).max(400),
  hint: z.string().max(200),
});
export type Keyhole = z.infer<typeof keyholeSchema>;

const vaultSchema = keyholeSchema.extend({
  v: z.number(),
  /** Everything is locked, and not single notes. */
  whole: z.boolean(),
  /** Minutes without a touch after which it locks by itself; 0 for never. */
  idle: z.number().min(0).max(1440),
  /** Wrong passphrases in a row, and before which time no other is tried, ms since the epoch. */
  wrong: z.number().int().min(0),
  notBefore: wall,
  /** Records are being sealed or unsealed: gone on with when it is next unlocked. */
  unfinished: z.boolean(),
});
export type Vault = z.infer<typeof vaultSchema>;

/** What is known of a locked note while it is locked. */
const coverSchema = z.object({
  v: z.number(),
  id,
  /** Null when the title is hidden too. */
  title: z.string().max(500).nullable(),
  made: wall,
  changed: wall,
  folder: id.nullable(),
  archived: z.boolean(),
  binned: z.boolean(),
  /** Ids of its takes: their sound stays sealed, and stays, whatever becomes of other notes that play it. */
  takes: z.array(id),
  /** Hashes of its pictures and files, likewise. */
  contents: z.array(z.string()).optional(),
});
export type Cover = z.infer<typeof coverSchema>;

export const LEAST_PASSPHRASE = 8;

export class WrongPassphrase extends Error {
  readonly name = 'WrongPassphrase';
}

/** Gives 32 bytes of key; slow on purpose. */
export type DeriveKey = (passphrase: string, derive: Derive) => Promise<Uint8Array>;

const wrapName = (vault: string): string => `vault/${vault}`;

async function wrap(vault: string, keyBytes: Uint8Array, passphrase: string, derive: DeriveKey): Promise<Pick<Keyhole, 'derive' | 'wrapped'>> {
  const how = newDerive();
  const key = await importKey(await derive(passphrase, how));
  return { derive: how, wrapped: btoa(textOf(await sealBytes(key, wrapName(vault), keyBytes))) };
}

export async function newVault(passphrase: string, hint: string, derive: DeriveKey): Promise<{ vault: Vault; keyBytes: Uint8Array }> {
  const [vault, keyBytes] = [newId(), newKeyBytes()];
  return { keyBytes, vault: vaultOf({ id: vault, ...(await wrap(vault, keyBytes, passphrase, derive)), hint }) };
}

/** A lock as it begins. */
export const vaultOf = ({ id: vault, derive, wrapped, hint }: Keyhole): Vault => ({ v: 1, id: vault, derive, wrapped, hint, whole: false, idle: 5, wrong: 0, notBefore: 0, unfinished: false });

/** The key itself, as bytes. @throws WrongPassphrase */
export async function unlock({ id: vault, derive: how, wrapped }: Keyhole, passphrase: string, derive: DeriveKey): Promise<Uint8Array> {
  const key = await importKey(await derive(passphrase, how));
  try {
    return await openBytes(key, wrapName(vault), binaryOf(atob(wrapped)));
  } catch (e) {
    if (e instanceof SealError) throw new WrongPassphrase('This is not the passphrase.');
    throw e;
  }
}

/** The same key behind another passphrase: nothing that is sealed has to be touched. */
export const rewrap = async (vault: Vault, keyBytes: Uint8Array, passphrase: string, hint: string, derive: DeriveKey): Promise<Vault> => ({ ...vault, ...(await wrap(vault.id, keyBytes, passphrase, derive)), hint });

const LONGEST_WAIT_MS = 300_000;

/** How long no other passphrase is tried after so many wrong ones in a row, ms: 1, 2, 4 s and so on, up to five minutes. */
export const waitAfter = (wrong: number): number => (wrong < 1 ? 0 : Math.min(LONGEST_WAIT_MS, 1000 * 2 ** Math.min(20, wrong - 1)));

/** ms still to wait. A clock that was put back does not lock anyone out for longer than the longest wait. */
export const waitLeft = ({ notBefore }: Pick<Vault, 'notBefore'>, now: number): number => Math.min(LONGEST_WAIT_MS, Math.max(0, notBefore - now));

export const coverOf = ({ id: note, title, made, changed, takes, contents }: Pick<NoteHeader, 'id' | 'title' | 'made' | 'changed' | 'takes' | 'contents'>, place: Place | undefined, hidden: boolean): Cover => ({
  v: 1, id: note, title: hidden ? null : title, made, changed, folder: place?.folder ?? null, archived: Boolean(place?.archived), binned: Boolean(place?.binned), takes: takes.map((t) => t.id), ...(contents ? { contents: [...contents] } : {}),
});

export const vaultRecord = new JsonRecord<Vault>({ what: 'the lock', version: 1, schema: vaultSchema });
const coverRecord = new JsonRecord<Cover>({ what: 'a cover', version: 1, schema: coverSchema });
export const writeCover = (cover: Cover): string => coverRecord.write(cover);

/** One that cannot be read says no more than that the note is locked. */
export function readCover(note: string, text: string): Cover {
  try {
    return coverRecord.peek(text).value;
  } catch {
    return { v: 1, id: note, title: null, made: 0, changed: 0, folder: null, archived: false, binned: false, takes: [] };
  }
}
