/** What the records of each note take on disk. */
import { notesDb, rawDbs, readMany, soundDb } from './databases';
import { keysMadeAnew, placeOf } from './recordKinds';

export interface NoteSize {
  readonly note: string;
  /** Bytes. */
  readonly ink: number;
  readonly picture: number;
}

const BATCH = 200;

/** Bytes of the ink and pictures of every note. Records are text of one byte a character, nearly all of it. */
export async function inkSizes(): Promise<NoteSize[]> {
  const sizes = new Map<string, { ink: number; picture: number }>();
  const wanted = (await notesDb().getAllKeys()).filter((k) => placeOf('notes', k).owner !== null);
  for (let i = 0; i < wanted.length; i += BATCH) {
    for (const [key, text] of await readMany(rawDbs().notes, wanted.slice(i, i + BATCH), BATCH)) {
      const { kind, owner } = placeOf('notes', key);
      const note = owner!;
      const entry = sizes.get(note) ?? { ink: 0, picture: 0 };
      if (kind === 'picture') entry.picture += text.length;
      else entry.ink += text.length;
      sizes.set(note, entry);
    }
  }
  return [...sizes].map(([note, s]) => ({ note, ...s }));
}

/** So many records of a take are weighed; the others are taken to be like them. */
const WEIGHED = 6;

/** Bytes of the sound of every take, and of every picture and file, by take and by hash. */
export async function soundSizes(): Promise<{ takes: Map<string, number>; contents: Map<string, number> }> {
  const records = new Map<string, string[]>();
  const contents = new Map<string, number>();
  for (const key of await soundDb().getAllKeys()) {
    const { kind, owner } = placeOf('sound', key);
    if (kind === 'content') contents.set(owner!, 0);
    const list = records.get(owner ?? '');
    if (list) list.push(key);
    else records.set(owner ?? '', [key]);
  }
  const takes = new Map<string, number>();
  for (const [owner, list] of records) {
    const step = Math.max(1, Math.floor(list.length / WEIGHED));
    const some = list.filter((_, i) => i % step === 0).slice(0, WEIGHED);
    const read = await readMany(rawDbs().sound, some);
    const mean = [...read.values()].reduce((s, t) => s + t.length, 0) / Math.max(1, read.size);
    (contents.has(owner) ? contents : takes).set(owner, Math.round(mean * list.length));
  }
  return { takes, contents };
}

/** Pictures and what is known of sound and gaps: all of it is found again when it is needed. */
export async function freeMadeAnew(): Promise<void> {
  const gone = keysMadeAnew('notes', await notesDb().getAllKeys());
  for (let i = 0; i < gone.length; i += 256) await notesDb().removeMany(gone.slice(i, i + 256));
}
