/** Two stores, so that listing notes never has to walk past the many records of sound. */
import { createAsyncStorage, type AsyncStorage } from '@react-native-async-storage/async-storage';
import { sealing, sealsNotes, sealsSound, type Records } from './sealing';

let opened: { raw: { notes: AsyncStorage; sound: AsyncStorage }; notes: Records; sound: Records } | null = null;

function open() {
  if (!opened) {
    const raw = { notes: createAsyncStorage('scrivo'), sound: createAsyncStorage('scrivo-sound') };
    opened = { raw, notes: sealing(raw.notes, sealsNotes), sound: sealing(raw.sound, sealsSound) };
  }
  return opened;
}

export const notesDb = (): Records => open().notes;
export const soundDb = (): Records => open().sound;
/** The stores themselves, past the lock: for the lock alone. */
export const rawDbs = (): { notes: AsyncStorage; sound: AsyncStorage } => open().raw;

export const keys = {
  note: (note: string) => `note/${note}`,
  ink: (note: string, chunk: number) => `ink/${note}/${chunk}`,
  inkPrefix: (note: string) => `ink/${note}/`,
  folder: (folder: string) => `folder/${folder}`,
  /** Where a note lies among the folders. */
  place: (note: string) => `place/${note}`,
  /** A deletion that is under way: the takes whose sound has yet to go. */
  gone: (note: string) => `gone/${note}`,
  /** A note that is being replaced: the number of its new records of ink. */
  replacing: (note: string) => `replacing/${note}`,
  picture: (note: string) => `picture/${note}`,
  /** One more than the highest chunk of a note's ink: with it a note is opened without a walk through the keys of all notes. */
  extent: (note: string) => `extent/${note}`,
  /** What Today shows first, as it was shown last. */
  today: 'today',
  template: (id: string) => `template/${id}`,
  /** The ids of all templates. */
  templates: 'templates',
  review: (note: string) => `review/${note}`,
  aside: (key: string) => `aside/${key}`,
  settings: 'settings',
  /** The lock: the key behind its passphrase. */
  vault: 'vault',
  /** The same once more: without it nothing that is locked could ever be read. */
  vaultCopy: 'vault-copy',
  /** What may be known of a locked note. It is there as long as anything of the note is sealed. */
  cover: (note: string) => `locked/${note}`,
  historyPrefix: (note: string) => `history/${note}/`,
  historyOrder: (note: string) => `history/${note}/order`,
  historyStep: (note: string, step: string) => `history/${note}/${step}`,
  piece: (take: string, piece: number) => `${take}/${String(piece).padStart(6, '0')}`,
  /** What is known of the sound of a take: levels and speech. */
  heard: (take: string) => `heard/${take}`,
  piecePrefix: (take: string) => `${take}/`,
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
