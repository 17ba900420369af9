/** Two stores, so that listing notes never has to walk past the many records of sound. */
import { createAsyncStorage, type AsyncStorage } from '@react-native-async-storage/async-storage';
import { KeyRanges } from './keyRanges';
import { asideKey, keysOwnedBy, prefixesOwnedBy, stretchesOf, type Store } from './recordKinds';
import { asStored, policy, sealing, type Records } from './sealing';

let opened: { raw: { notes: AsyncStorage; sound: AsyncStorage }; notes: Records; sound: Records; ranges: Record<Store, KeyRanges> } | null = null;

function open() {
  if (!opened) {
    const raw = { notes: createAsyncStorage('scrivo'), sound: createAsyncStorage('scrivo-sound') };
    opened = { raw, notes: sealing(raw.notes, 'notes'), sound: sealing(raw.sound, 'sound'), ranges: { notes: new KeyRanges('scrivo'), sound: new KeyRanges('scrivo-sound') } };
  }
  return opened;
}

export const notesDb = (): Records => open().notes;
export const soundDb = (): Records => open().sound;
/** The stores themselves, past the lock: for the lock alone. */
export const rawDbs = (): { notes: AsyncStorage; sound: AsyncStorage } => open().raw;

/** Keys that begin with one of these, in order. */
export const keysStarting = (store: Store, ...prefixes: readonly string[]): Promise<string[]> => open().ranges[store].starting(prefixes);

/** Keys of everything that belongs to one of these notes, takes or contents, set aside or not, also of kinds that this version does not know. */
export async function keysOf(store: Store, owners: ReadonlySet<string>): Promise<string[]> {
  if (!owners.size) return [];
  const ranges = open().ranges[store];
  // Of many it is less to look at every key once.
  if (owners.size > MANY) return keysOwnedBy(store, await rawDbs()[store].getAllKeys(), owners);
  const heads = { open: store === 'notes' ? await ranges.heads() : [], aside: await ranges.heads(asideKey('')) };
  return keysOwnedBy(store, await ranges.starting(prefixesOwnedBy(store, owners, heads)), owners);
}
const MANY = 1000;

/** Removes everything that belongs to one of these notes, takes or contents, but `kept`. Each owner goes whole or not at all. @throws what storage throws */
export async function removeOwned(store: Store, owners: ReadonlySet<string>, kept: ReadonlySet<string> = new Set()): Promise<void> {
  const ids = [...owners];
  for (let i = 0; i < ids.length; i += AT_ONCE) {
    const some = new Set(ids.slice(i, i + AT_ONCE));
    const left = async () => (await keysOf(store, some)).filter((k) => !kept.has(k));
    // What was stored beside an owner (`setBeside`) after it was looked for and before the owner went: after that nothing more comes.
    for (let gone = await left(); gone.length; gone = await left()) {
      const { single, starting } = stretchesOf(store, gone);
      await open().ranges[store].remove(single, starting);
    }
  }
}
const AT_ONCE = 500;

/**
 * Stores what was made from a note or a take, which can be made anew: its words, its picture, what is known of its sound. What was begun before the note was
 * deleted for good, here or in another tab, and ends after it, leaves nothing behind. @throws LockedError, and what storage throws
 */
export async function setBeside(owner: { readonly note: string; readonly take?: string }, entries: Readonly<Record<string, string>>): Promise<void> {
  const [store, record] = owner.take === undefined ? (['notes', keys.note(owner.note)] as const) : (['sound', keys.piecePrefix(owner.take)] as const);
  const stored = await asStored(store, entries);
  // Another tab may have locked the note since this one knew what is locked: then nothing of it is written in the open, and it is made anew when it is wanted.
  const isOpen = Object.keys(entries).every((key) => stored[key] === entries[key]);
  const locks = isOpen ? [keys.cover(owner.note), ...(policy.current.lock === null ? [keys.vault] : [])] : [];
  await open().ranges[store].setWhile(record, stored, store === 'notes' ? locks : []);
  // The two stores have no step in common. Who locks a note writes its cover before looking for what to seal: what is not seen by that look sees the cover here.
  if (store === 'sound' && locks.length && Object.values(await open().raw.notes.getMany(locks)).some((text) => text !== null)) await open().raw.sound.removeMany(Object.keys(entries));
}

/** Replaces records of notes that are there; what another tab has taken away stays away. */
export async function replaceThere(entries: Readonly<Record<string, string>>): Promise<void> {
  const stored = await asStored('notes', entries);
  for (const [key, text] of Object.entries(stored)) await open().ranges.notes.setWhile(key, { [key]: text });
}

/** The keys of records; what each kind is, `recordKinds.ts` says. */
export const keys = {
  note: (note: string) => `note/${note}`,
  ink: (note: string, chunk: number) => `ink/${note}/${chunk}`,
  inkPrefix: (note: string) => `ink/${note}/`,
  rows: (note: string, chunk: number) => `rows/${note}/${chunk}`,
  rowsPrefix: (note: string) => `rows/${note}/`,
  extent: (note: string) => `extent/${note}`,
  folder: (folder: string) => `folder/${folder}`,
  place: (note: string) => `place/${note}`,
  gone: (note: string) => `gone/${note}`,
  lease: (tab: string) => `lease/${tab}`,
  checkpoint: (note: string, at: number) => `checkpoint/${note}/${at}`,
  checkpointPrefix: (note: string) => `checkpoint/${note}/`,
  replacing: (note: string) => `replacing/${note}`,
  text: (note: string, page: string) => `text/${note}/${page}`,
  textPrefix: (note: string) => `text/${note}/`,
  /** What of a note was read, and when it had been changed last then. */
  textOf: (note: string) => `text/${note}`,
  picture: (note: string) => `picture/${note}`,
  today: 'today',
  template: (id: string) => `template/${id}`,
  templates: 'templates',
  learned: 'learned',
  /** Of a locked note. */
  taught: (note: string) => `taught/${note}`,
  words: 'words',
  review: (note: string) => `review/${note}`,
  seen: (note: string) => `seen/${note}`,
  aside: asideKey,
  foreign: 'foreign',
  due: 'due',
  settings: 'settings',
  device: 'device',
  vault: 'vault',
  vaultCopy: 'vault-copy',
  cover: (note: string) => `locked/${note}`,
  historyPrefix: (note: string) => `history/${note}/`,
  historyOrder: (note: string) => `history/${note}/order`,
  historyStep: (note: string, step: string) => `history/${note}/${step}`,
  piece: (take: string, piece: number) => `${take}/${String(piece).padStart(6, '0')}`,
  piecePrefix: (take: string) => `${take}/`,
  heard: (take: string) => `heard/${take}`,
  beat: (take: string) => `beat/${take}`,
  content: (hash: string, part: number) => `content/${hash}/${part}`,
  contentPrefix: (hash: string) => `content/${hash}/`,
};

/** Reads many records in batches, so that neither one transaction nor one answer grows with the note. */
export async function readMany(db: Pick<Records, 'getMany'>, wanted: readonly string[], batch = 64): Promise<Map<string, string>> {
  const found = new Map<string, string>();
  for (let i = 0; i < wanted.length; i += batch) {
    const part = await db.getMany(wanted.slice(i, i + batch));
    for (const [key, value] of Object.entries(part)) if (value !== null) found.set(key, value);
  }
  return found;
}

/**
 * True when storing failed because there is no room left. Chromium's QuotaExceededError has no message, and AsyncStorage passes on
 * the message alone: its error without words is the full disk.
 */
export function isQuotaError(e: unknown): boolean {
  if (!(e instanceof Error)) return false;
  return e.message === '' || /quota|disk|space/i.test(`${e.name} ${e.message}`);
}
