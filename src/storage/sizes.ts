/** What the records of notes, takes and contents take on disk: counted all, weighed some, so that it takes no longer the more there is. */
import { notesDb, rawDbs, readMany } from './databases';
import { keysMadeAnew, placeOf, type KindName, type Store } from './recordKinds';

/** Records that are weighed of each kind; where there are no more, sizes are exact. */
const SAMPLE = 240;
/** The largest are looked at more closely, each by so many of its records. */
const CLOSELY = 12;
const OF_EACH = 10;

/** Some of a list, evenly over it. */
function spread<T>(list: readonly T[], some: number): readonly T[] {
  if (list.length <= some) return list;
  return Array.from({ length: some }, (_, i) => list[Math.floor((i * list.length) / some)]);
}

/** Records are text of one byte a character, nearly all of it. */
async function meanSize(store: Store, keys: readonly string[]): Promise<number> {
  const read = await readMany(rawDbs()[store], keys);
  return [...read.values()].reduce((s, t) => s + t.length, 0) / Math.max(1, read.size);
}

/** Bytes by owner of records of one kind. */
async function weighed(store: Store, keys: readonly string[]): Promise<Map<string, number>> {
  const byOwner = new Map<string, string[]>();
  for (const key of keys) {
    const owner = placeOf(store, key).owner ?? '';
    const list = byOwner.get(owner);
    if (list) list.push(key);
    else byOwner.set(owner, [key]);
  }
  const exact = keys.length <= SAMPLE;
  const mean = exact ? 0 : await meanSize(store, spread(keys, SAMPLE));
  const largest = exact ? [...byOwner.keys()] : [...byOwner].sort((a, b) => b[1].length - a[1].length).slice(0, CLOSELY).map(([owner]) => owner);
  const sizes = new Map([...byOwner].map(([owner, list]) => [owner, mean * list.length]));
  for (const owner of largest) {
    const list = byOwner.get(owner)!;
    sizes.set(owner, (await meanSize(store, exact ? list : spread(list, OF_EACH))) * list.length);
  }
  return new Map([...sizes].map(([owner, bytes]) => [owner, Math.round(bytes)]));
}

function byKind(store: Store, keys: readonly string[]): Map<KindName | null, string[]> {
  const kinds = new Map<KindName | null, string[]>();
  for (const key of keys) {
    const { kind, owner } = placeOf(store, key);
    if (owner === null) continue;
    const list = kinds.get(kind);
    if (list) list.push(key);
    else kinds.set(kind, [key]);
  }
  return kinds;
}

export interface NoteSize {
  readonly note: string;
  /** Bytes. */
  readonly ink: number;
  readonly picture: number;
}

/** Bytes of the ink and pictures of every note. */
export async function inkSizes(): Promise<NoteSize[]> {
  const sizes = new Map<string, { ink: number; picture: number }>();
  for (const [kind, keys] of byKind('notes', await notesDb().getAllKeys())) {
    for (const [note, bytes] of await weighed('notes', keys)) {
      const entry = sizes.get(note) ?? { ink: 0, picture: 0 };
      entry[kind === 'picture' ? 'picture' : 'ink'] += bytes;
      sizes.set(note, entry);
    }
  }
  return [...sizes].map(([note, s]) => ({ note, ...s }));
}

/** Bytes of the sound of every take, and of every picture and file, by take and by hash. */
export async function soundSizes(): Promise<{ takes: Map<string, number>; contents: Map<string, number> }> {
  const [takes, contents] = [new Map<string, number>(), new Map<string, number>()];
  for (const [kind, keys] of byKind('sound', await rawDbs().sound.getAllKeys())) {
    const into = kind === 'content' ? contents : takes;
    for (const [owner, bytes] of await weighed('sound', keys)) into.set(owner, (into.get(owner) ?? 0) + bytes);
  }
  return { takes, contents };
}

/** Pictures and what is known of sound and gaps: all of it is found again when it is needed. */
export async function freeMadeAnew(): Promise<void> {
  const gone = keysMadeAnew('notes', await notesDb().getAllKeys());
  for (let i = 0; i < gone.length; i += 256) await notesDb().removeMany(gone.slice(i, i + 256));
}
