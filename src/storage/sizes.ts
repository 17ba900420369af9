/** What notes take on disk. Counting records takes longer the more there are, so lengths and extents tell how many there are, and some are weighed. */
import { PIECE_MS } from '../core/audio/pieces';
import { readExtent } from '../core/note/records/noteRecord';
import type { NoteSummary } from '../core/note/schema';
import { contentBytes } from './contentFile';
import { keys, notesDb, rawDbs, readMany } from './databases';
import { keysMadeAnew, type Store } from './recordKinds';

/** Up to so many records of a kind are all weighed; of more, so many. */
const EXACT = 240;
const SAMPLE = 96;
/** The largest are weighed by themselves, by so many of their records. */
const LARGEST = 6;
const OF_EACH = 8;

/** Bytes. */
export interface Sizes {
  readonly notes: readonly { readonly note: string; readonly ink: number; readonly sound: number; readonly files: number }[];
  readonly ink: number;
  readonly sound: number;
  readonly files: number;
  /** Pictures of pages. */
  readonly pictures: number;
}

/** Some of a list, evenly over it. */
const spread = <T>(list: readonly T[], some: number): readonly T[] => (list.length <= some ? list : Array.from({ length: some }, (_, i) => list[Math.floor((i * list.length) / some)]));
const sum = (list: Iterable<number>): number => [...list].reduce((s, v) => s + v, 0);

/** Bytes of these records, by some of them; one that is missing has none. Records are text of one byte a character, nearly all of it. */
async function weighed(store: Store, wanted: readonly string[], some: number): Promise<number> {
  if (!wanted.length) return 0;
  const asked = spread(wanted, some);
  return (sum([...(await readMany(rawDbs()[store], asked)).values()].map((t) => t.length)) * wanted.length) / asked.length;
}

/** Bytes by owner of records that are numbered from 0. @param owners with how many each has. */
async function numbered(store: Store, owners: ReadonlyMap<string, number>, key: (owner: string, k: number) => string): Promise<Map<string, number>> {
  const all = [...owners].flatMap(([owner, n]) => Array.from({ length: n }, (_, k) => key(owner, k)));
  const exact = all.length <= EXACT;
  const each = exact ? 0 : (await weighed(store, all, SAMPLE)) / all.length;
  const bytes = new Map([...owners].map(([owner, n]) => [owner, each * n]));
  const largest = [...owners].sort((a, b) => b[1] - a[1]).slice(0, exact ? owners.size : LARGEST);
  for (const [owner, n] of largest) bytes.set(owner, await weighed(store, Array.from({ length: n }, (_, k) => key(owner, k)), exact ? n : OF_EACH));
  return bytes;
}

export async function sizesOf(notes: readonly Pick<NoteSummary, 'id' | 'takes' | 'contents'>[]): Promise<Sizes> {
  const ids = notes.map((n) => n.id);
  const extents = await readMany(rawDbs().notes, ids.map(keys.extent), 500);
  // Of notes of before the extent was kept one part is told; they get one when they are next opened.
  const ink = await numbered('notes', new Map(ids.map((id) => [id, readExtent(extents.get(keys.extent(id)) ?? null)?.ink ?? 1])), keys.ink);
  const sound = await numbered('sound', new Map(notes.flatMap((n) => n.takes.map((t) => [t.id, Math.ceil(t.ms / PIECE_MS)]))), keys.piece);
  const files = new Map<string, number>();
  for (const hash of new Set(notes.flatMap((n) => n.contents ?? []))) files.set(hash, (await contentBytes(hash)) ?? 0);
  const others = await Promise.all([keys.note, (id: string) => keys.rows(id, 0), keys.place, keys.review].map((key) => weighed('notes', ids.map(key), SAMPLE / 2)));
  const heard = await weighed('sound', [...sound.keys()].map(keys.heard), SAMPLE / 2);
  const round = Math.round;
  return {
    notes: notes.map(({ id, takes, contents }) => ({ note: id, ink: round(ink.get(id) ?? 0), sound: round(sum(takes.map((t) => sound.get(t.id) ?? 0))), files: round(sum((contents ?? []).map((h) => files.get(h) ?? 0))) })),
    ink: round(sum(ink.values()) + sum(others)),
    sound: round(sum(sound.values()) + heard),
    files: round(sum(files.values())),
    pictures: round(await weighed('notes', ids.map(keys.picture), SAMPLE)),
  };
}

/** Pictures and what is known of sound and gaps: all of it is found again when it is needed. */
export async function freeMadeAnew(): Promise<void> {
  const gone = keysMadeAnew('notes', await notesDb().getAllKeys());
  for (let i = 0; i < gone.length; i += 256) await notesDb().removeMany(gone.slice(i, i + 256));
}
