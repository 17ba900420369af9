/** The lock on disk: its record, the covers of locked notes, and bringing records to what is locked. */
import type { NoteHeader } from '../core/note/schema';
import { importKey } from '../core/vault/seal';
import { coverOf, readCover, rewrap, unlock, waitAfter, vaultRecord, waitLeft, writeCover, WrongPassphrase, type Cover, type DeriveKey, type Vault } from '../core/vault/vault';
import { alone } from './alone';
import { keys, keysOf, keysStarting, notesDb, rawDbs, readMany, replaceThere } from './databases';
import { LockedError, NO_LOCK, policy, sweep } from './sealing';

/** While the lock is open, as bytes: the passphrase can be changed with it. */
let keyBytes: Uint8Array | null = null;

/** A passphrase is tried too soon after a wrong one. */
export class TooSoon extends Error {
  readonly name = 'TooSoon';
}

/** As it is on disk; null when nothing is locked. @throws RecordError when its record is damaged. */
async function readVault(): Promise<Vault | null> {
  const found = await rawDbs().notes.getMany([keys.vault, keys.vaultCopy]);
  const texts = [found[keys.vault], found[keys.vaultCopy]].filter((t) => t !== null && t !== undefined);
  return texts.length ? firstGood(texts) : null;
}

/** Null when nothing is locked; from here on what it seals counts as sealed. @throws RecordError when its record is damaged. */
export async function loadVault(): Promise<Vault | null> {
  const vault = await readVault();
  // Another tab may have set up another lock: the key of the old one would seal what nobody could open.
  if (policy.current.lock !== (vault?.id ?? null)) {
    keyBytes = null;
    policy.current = NO_LOCK;
  }
  if (vault) policy.current = { ...policy.current, lock: vault.id, whole: vault.whole };
  return vault;
}

function firstGood(texts: readonly string[]): Vault {
  try {
    return vaultRecord.read(texts[0]);
  } catch (e) {
    if (texts.length < 2) throw e;
    return vaultRecord.read(texts[1]);
  }
}

const twice = (vault: Vault): Record<string, string> => ({ [keys.vault]: vaultRecord.write(vault), [keys.vaultCopy]: vaultRecord.write(vault) });

/**
 * Changes something of the lock as it is on disk now: what another tab changed of it, such as the passphrase, stays. `id`: of the lock that is meant.
 * @throws LockedError when it is another one by now, and what storage throws.
 */
export const patchVault = (id: string, patch: (now: Vault) => Partial<Omit<Vault, 'id'>>): Promise<Vault> =>
  alone('vault', async () => {
    const vault = await readVault();
    if (vault?.id !== id) throw new LockedError('The lock was changed in another tab. Load the page again.');
    const next = { ...vault, ...patch(vault) };
    await rawDbs().notes.setMany(twice(next));
    return next;
  });

/** Opens the lock. @throws WrongPassphrase, TooSoon, and what storage throws. */
export async function openVault(passphrase: string, derive: DeriveKey, now: number): Promise<Vault> {
  const vault = await loadVault();
  if (!vault) throw new LockedError('There is no lock on this device any more. Load the page again.');
  if (waitLeft(vault, now) > 0) throw new TooSoon('Too soon after a wrong passphrase.');
  try {
    keyBytes = await unlock(vault, passphrase, derive);
  } catch (e) {
    if (e instanceof WrongPassphrase) await patchVault(vault.id, ({ wrong }) => ({ wrong: wrong + 1, notBefore: now + waitAfter(wrong + 1) }));
    throw e;
  }
  policy.current = { ...policy.current, key: await importKey(keyBytes) };
  return vault.wrong ? patchVault(vault.id, () => ({ wrong: 0, notBefore: 0 })) : vault;
}

/** Sets the lock up and leaves it open; nothing is sealed by it yet. @throws LockedError when there is one already, damaged or not: what it seals would be lost. */
export async function beginVault(vault: Vault, bytes: Uint8Array): Promise<void> {
  const there = await rawDbs().notes.getMany([keys.vault, keys.vaultCopy]);
  if (Object.values(there).some((text) => text !== null)) throw new LockedError('there is a passphrase already, set in another tab; load this page again');
  await rawDbs().notes.setMany(twice(vault));
  keyBytes = bytes;
  policy.current = { ...NO_LOCK, lock: vault.id, key: await importKey(bytes), whole: vault.whole };
}

/** From here on nothing sealed can be read. */
export function closeVault(): void {
  keyBytes = null;
  policy.current = { ...policy.current, key: null };
}

export async function changePassphrase(vault: Vault, passphrase: string, hint: string, derive: DeriveKey): Promise<Vault> {
  if (!keyBytes) throw new LockedError('Unlock first, then change the passphrase.');
  const { derive: how, wrapped, hint: told } = await rewrap(vault, keyBytes, passphrase, hint, derive);
  return patchVault(vault.id, () => ({ derive: how, wrapped, hint: told }));
}

type Owning = Pick<NoteHeader, 'id' | 'takes' | 'contents'>;
/** Takes and contents of notes. */
const takesOf = (headers: readonly Owning[]): string[] => headers.flatMap((h) => [...h.takes.map((t) => t.id), ...(h.contents ?? [])]);

/** Notes that come locked from elsewhere, or as copies, with their takes and contents: their covers are written with their records. */
const coming = new Map<string, readonly string[]>();
/** The cover of this note is on disk, or will not be. */
export const coverCame = (note: string): void => void coming.delete(note);
/** Notes whose lock is being taken off here: their covers stand until the last record is open. */
let unsealing: ReadonlySet<string> = new Set();

/** All covers: their notes are stored sealed from now on, and no others but those whose covers are on their way. */
export async function readCovers(): Promise<Cover[]> {
  const prefix = keys.cover('');
  const found = await readMany(notesDb(), await keysStarting('notes', prefix), 500);
  const covers = [...found].map(([key, text]) => readCover(key.slice(prefix.length), text));
  const locked = [...covers.map((c) => ({ id: c.id, takes: [...c.takes, ...(c.contents ?? [])] })), ...[...coming].map(([id, takes]) => ({ id, takes }))].filter((c) => !unsealing.has(c.id));
  policy.current = { ...policy.current, notes: new Set(locked.map((c) => c.id)), takes: new Set(locked.flatMap((c) => c.takes)) };
  return covers;
}

/** A locked note is about to get this take: its sound is sealed from the first piece on. */
export function sealTake(note: string, take: string): void {
  if (policy.current.notes.has(note)) policy.current = { ...policy.current, takes: new Set([...policy.current.takes, take]) };
}

/** Takes and contents of a locked note that were not known to be its own: what is stored of them has yet to be sealed (`sealSound`). */
export function adopt(header: Owning): readonly string[] {
  if (!policy.current.notes.has(header.id)) return [];
  const fresh = takesOf([header]).filter((t) => !policy.current.takes.has(t));
  for (const t of fresh) sealTake(header.id, t);
  return fresh;
}

/** The cover of a note that comes locked from elsewhere; from here on it is stored sealed. None is needed where everything is. */
export function coverNew(header: Parameters<typeof coverOf>[0], hidden: boolean): Cover | undefined {
  if (policy.current.whole) return undefined;
  policy.current = { ...policy.current, notes: new Set([...policy.current.notes, header.id]) };
  coming.set(header.id, takesOf([header]));
  adopt(header);
  return coverOf(header, undefined, hidden);
}

/** The cover of a copy of a note, when that one is locked; from here on the copy is stored sealed. */
export async function coverLike(of: string, copy: Parameters<typeof coverOf>[0]): Promise<Cover | null> {
  if (!policy.current.notes.has(of)) return null;
  const text = await notesDb().getItem(keys.cover(of));
  policy.current = { ...policy.current, notes: new Set([...policy.current.notes, copy.id]) };
  coming.set(copy.id, takesOf([copy]));
  adopt(copy);
  return coverOf(copy, undefined, text === null || readCover(of, text).title === null);
}

/** The cover of a locked note with what its record names by now; null when it has none. It goes with the record, in the same step. */
export async function coverNow(header: Owning): Promise<Cover | null> {
  if (!policy.current.notes.has(header.id)) return null;
  const text = await notesDb().getItem(keys.cover(header.id));
  return text === null ? null : { ...readCover(header.id, text), takes: header.takes.map((t) => t.id), ...(header.contents ? { contents: [...header.contents] } : {}) };
}

const asRecords = (covers: readonly Cover[]): Record<string, string> => Object.fromEntries(covers.map((c) => [keys.cover(c.id), writeCover(c)]));

/** Covers follow their notes. A note from which another tab took the lock, or which it deleted, gets none again. */
export const keepCovers = (covers: readonly Cover[]): Promise<void> => replaceThere(asRecords(covers));

/**
 * Whoever is about to write a note looks whether it is locked by now: another tab may have locked it, set the lock up or taken it off a moment ago, and while one holds the
 * note none can. Without the key, writing fails after that, and nothing of a locked note is written in the open, nor of an open one sealed by a lock that is gone.
 */
export async function knowCover(note: string): Promise<void> {
  const { [keys.cover(note)]: cover, [keys.vault]: vault } = await rawDbs().notes.getMany([keys.cover(note), keys.vault]);
  const { lock, whole, notes } = policy.current;
  if ((vault !== null) === (lock !== null) && (whole || (cover !== null) === notes.has(note))) return;
  await loadVault();
  await readCovers();
}

export interface Sweeping {
  readonly signal: AbortSignal;
  /** Share done, 0..1. */
  progress(share: number): void;
}

/** Brings all records, or those of some notes and takes, to what the policy wants. */
async function sweepAll({ signal, progress }: Sweeping, only?: { notes: ReadonlySet<string>; takes: ReadonlySet<string> }): Promise<void> {
  const { notes, sound } = rawDbs();
  const inNotes = only ? await keysOf('notes', only.notes) : await notes.getAllKeys();
  const inSound = only ? await keysOf('sound', only.takes) : await sound.getAllKeys();
  const total = Math.max(1, inNotes.length + inSound.length);
  await sweep(notes, 'notes', inNotes, signal, (done) => progress(done / total));
  await sweep(sound, 'sound', inSound, signal, (done) => progress((inNotes.length + done) / total));
}

/** Goes on with what was broken off, or takes all sound of a note that a take was brought into. */
export async function finishSealing(vault: Vault, work: Sweeping): Promise<Vault> {
  await sweepAll(work);
  return patchVault(vault.id, () => ({ unfinished: false }));
}

/** Seals sound, pictures and files that came into a locked note, also those that an open note had before; a program that ends in between goes on when it is next unlocked. */
export async function sealSound(takes: readonly string[]): Promise<void> {
  if (!takes.length) return;
  const vault = await loadVault();
  if (!vault) return;
  await patchVault(vault.id, () => ({ unfinished: true }));
  await sweepAll({ signal: new AbortController().signal, progress: () => undefined }, { notes: new Set(), takes: new Set(takes) });
  await patchVault(vault.id, () => ({ unfinished: vault.unfinished }));
}

/**
 * Locks notes. That they are locked is written first and holds from then on, and `known` is called to tell others; a program that ends in between goes on sealing when it is next
 * unlocked. Stopped by hand, all is as before. @throws AbortError, and what storage throws.
 */
export async function sealNotes(vault: Vault, covers: readonly Cover[], headers: readonly Owning[], work: Sweeping, known: () => void = () => undefined): Promise<void> {
  const before = policy.current;
  await patchVault(vault.id, () => ({ unfinished: true }));
  await notesDb().setMany(asRecords(covers));
  // Other tabs write nothing of these notes in the open from here on.
  known();
  const [ids, takes] = [covers.map((c) => c.id), takesOf(headers)];
  policy.current = { ...before, notes: new Set([...before.notes, ...ids]), takes: new Set([...before.takes, ...takes]) };
  try {
    await sweepAll(work, { notes: new Set(ids), takes: new Set(takes) });
  } catch (e) {
    if (work.signal.aborted) await unsealNotes(vault, ids, [...headers], { signal: new AbortController().signal, progress: () => undefined });
    throw e;
  }
  await patchVault(vault.id, () => ({ unfinished: vault.unfinished }));
}

/** Takes the lock off notes. They count as locked until all of them is readable. */
export async function unsealNotes(vault: Vault, ids: readonly string[], headers: readonly Owning[], work: Sweeping): Promise<void> {
  const before = policy.current;
  const notes = new Set([...before.notes].filter((n) => !ids.includes(n)));
  await patchVault(vault.id, () => ({ unfinished: true }));
  // Sound that another locked note plays too stays sealed.
  const shared = new Set(takesOf(headers.filter((h) => notes.has(h.id))));
  const mine = takesOf(headers.filter((h) => ids.includes(h.id))).filter((t) => !shared.has(t));
  policy.current = { ...before, notes, takes: new Set([...before.takes].filter((t) => !mine.includes(t))) };
  unsealing = new Set(ids);
  try {
    await sweepAll(work, { notes: new Set(ids), takes: new Set(mine) });
    await rawDbs().notes.removeMany(ids.map(keys.cover));
  } catch (e) {
    policy.current = before;
    throw e;
  } finally {
    unsealing = new Set();
  }
  await patchVault(vault.id, () => ({ unfinished: vault.unfinished }));
}

/** Locks everything, or no longer everything. @throws AbortError; what was done by then is gone on with, or taken back, by calling it again. */
export async function sealWhole(vault: Vault, whole: boolean, work: Sweeping): Promise<Vault> {
  // Whole counts from the beginning of sealing to the end of unsealing.
  await patchVault(vault.id, () => ({ whole: true, unfinished: true }));
  policy.current = { ...policy.current, whole };
  try {
    await sweepAll(work);
  } catch (e) {
    policy.current = { ...policy.current, whole: vault.whole };
    if (work.signal.aborted) {
      await sweepAll({ signal: new AbortController().signal, progress: work.progress });
      await patchVault(vault.id, () => ({ whole: vault.whole, unfinished: vault.unfinished }));
    }
    throw e;
  }
  return patchVault(vault.id, () => ({ whole, unfinished: vault.unfinished }));
}

/**
 * The lock goes. First every record there is is opened, whatever note or take it belongs to and whether that can still be told: what stayed
 * sealed would be lost with the key. @throws AbortError; stopped by hand, all is as before.
 */
export async function removeVault(vault: Vault, work: Sweeping): Promise<void> {
  const before = policy.current;
  await patchVault(vault.id, () => ({ unfinished: true }));
  policy.current = { ...before, whole: false, notes: new Set(), takes: new Set() };
  try {
    await sweepAll(work);
  } catch (e) {
    policy.current = before;
    if (work.signal.aborted) {
      await sweepAll({ signal: new AbortController().signal, progress: work.progress });
      await patchVault(vault.id, () => ({ unfinished: vault.unfinished }));
    }
    throw e;
  }
  const { notes } = rawDbs();
  await notes.removeMany(await keysStarting('notes', keys.cover('')));
  await notes.removeMany([keys.vault, keys.vaultCopy]);
  keyBytes = null;
  policy.current = NO_LOCK;
}
