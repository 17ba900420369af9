/**
 * The kinds of records there are: their keys, whose they are, whether they can be made anew, and whether they are sealed with what is locked.
 * Deleting, backing up, restoring, locking, sizing and freeing walk this list; a new kind is one more entry. What is not in it belongs to a
 * later version: it is sealed with whatever note it names, and left alone.
 */

export type Store = 'notes' | 'sound';

interface Kind {
  readonly store: Store;
  /** Whose it is: a note's, a take's, the whole library's, or this device's alone. Of a note or take its id is the second part of the key. */
  readonly owner: 'note' | 'take' | 'content' | 'library' | 'device';
  /** Can be made anew of these, so that it may be thrown away. */
  readonly madeOf?: readonly string[];
  /** `never`: the lock itself, and what has to be read before it is open. `whole`: only when everything is locked. Else with its note. */
  readonly sealed?: 'never' | 'whole';
  /** Said of it to the user, as in “… was set aside”. */
  readonly what: string;
}

export const KINDS = {
  note: { store: 'notes', owner: 'note', what: 'what lists show of a note' },
  rows: { store: 'notes', owner: 'note', what: 'pages, takes and marks of a note' },
  ink: { store: 'notes', owner: 'note', what: 'ink of a note' },
  /** How many records of rows and ink a note has. */
  extent: { store: 'notes', owner: 'note', sealed: 'whole', what: 'the extent of a note' },
  history: { store: 'notes', owner: 'note', what: 'what can be taken back in a note' },
  review: { store: 'notes', owner: 'note', madeOf: ['rows', 'ink', 'heard'], what: 'what is unfinished in a note' },
  /** What was read of the handwriting of a page. */
  text: { store: 'notes', owner: 'note', madeOf: ['rows', 'ink'], what: 'the text of a note' },
  picture: { store: 'notes', owner: 'note', madeOf: ['rows', 'ink'], what: 'the picture of a note' },
  /** Where on its pages one stopped; only of use on this device. */
  seen: { store: 'notes', owner: 'note', madeOf: ['note'], what: 'where one stopped in a note' },
  /** Where a note lies among the folders. */
  place: { store: 'notes', owner: 'note', what: 'where a note lies' },
  /** What may be known of a locked note. */
  locked: { store: 'notes', owner: 'note', sealed: 'whole', what: 'the cover of a locked note' },
  /** A deletion, and a replacement, that is under way. */
  gone: { store: 'notes', owner: 'note', sealed: 'whole', what: 'a deletion' },
  replacing: { store: 'notes', owner: 'note', sealed: 'whole', what: 'a restore' },
  checkpoint: { store: 'notes', owner: 'note', what: 'what a note was before a merge' },
  folder: { store: 'notes', owner: 'library', what: 'a folder' },
  template: { store: 'notes', owner: 'library', what: 'a template' },
  /** The ids of all templates. */
  templates: { store: 'notes', owner: 'library', what: 'the list of templates' },
  /** The same, of a locked note. */
  taught: { store: 'notes', owner: 'note', what: 'what the writer taught the reader in a note' },
  /** Shapes of words that the writer put right. */
  learned: { store: 'notes', owner: 'library', what: 'what the writer taught the reader' },
  /** The user's own word list. */
  words: { store: 'notes', owner: 'library', what: 'the word list' },
  /** Files of archives that a later version made. */
  foreign: { store: 'notes', owner: 'library', what: 'files of a newer Scrivo' },
  /** What Today shows first, as it was shown last. */
  today: { store: 'notes', owner: 'device', madeOf: ['note'], what: 'what Today shows' },
  settings: { store: 'notes', owner: 'device', what: 'the settings' },
  /** What the clipboard of a tab holds. */
  lease: { store: 'notes', owner: 'device', what: 'what the clipboard holds' },
  due: { store: 'notes', owner: 'device', what: 'what is due in the bin' },
  device: { store: 'notes', owner: 'device', what: 'the name of this device' },
  /** The lock, twice: without it nothing that is locked could ever be read. */
  vault: { store: 'notes', owner: 'device', sealed: 'never', what: 'the lock' },
  'vault-copy': { store: 'notes', owner: 'device', sealed: 'never', what: 'the lock' },
  heard: { store: 'sound', owner: 'take', madeOf: ['piece'], what: 'what is known of the sound of a take' },
  /** When a take that is being recorded was last known to run. */
  beat: { store: 'sound', owner: 'take', madeOf: ['piece'], what: 'when a recording last ran' },
  /** Pictures and files, by their hash. */
  content: { store: 'sound', owner: 'content', what: 'a picture or file' },
  /** Sound: its key begins with the take itself. So do those of kinds of sound that later versions add. */
  piece: { store: 'sound', owner: 'take', what: 'sound of a take' },
} as const satisfies Record<string, Kind>;
export type KindName = keyof typeof KINDS;

const ASIDE = 'aside/';
/** Where a record is put that cannot be read. */
export const asideKey = (key: string): string => `${ASIDE}${key}`;
/** Its key before it was set aside; null when it was not. */
export const beforeAside = (key: string): string | null => (key.startsWith(ASIDE) ? key.slice(ASIDE.length) : null);

export interface Place {
  /** Null for a kind that this version does not know. */
  readonly kind: KindName | null;
  /** Id of the note, take or content it belongs to; null for what belongs to none. */
  readonly owner: string | null;
}

const isKind = (store: Store, head: string): head is KindName => Object.hasOwn(KINDS, head) && KINDS[head as KindName].store === store;

/** What a key says of its record. */
export function placeOf(store: Store, key: string): Place {
  const parts = (beforeAside(key) ?? key).split('/');
  const kind = isKind(store, parts[0]) ? parts[0] : null;
  if (kind) return { kind, owner: 'note take content'.includes(KINDS[kind].owner) ? (parts[1] ?? null) : null };
  if (store === 'sound') return { kind: parts.length === 2 && /^\d{6}$/.test(parts[1]) ? 'piece' : null, owner: parts[0] };
  return { kind: null, owner: parts[1] ?? null };
}

const about = (kind: KindName): Kind => KINDS[kind];

export interface Locked {
  readonly whole: boolean;
  readonly notes: ReadonlySet<string>;
  /** Takes and contents of those notes. */
  readonly takes: ReadonlySet<string>;
}

/** Whether a record is to be stored sealed. */
export function isSealed(store: Store, key: string, { whole, notes, takes }: Locked): boolean {
  const { kind, owner } = placeOf(store, key);
  const sealed = kind && about(kind).sealed;
  if (sealed === 'never') return false;
  if (whole) return true;
  if (sealed === 'whole' && beforeAside(key) === null) return false;
  if (kind) return owner !== null && (about(kind).owner === 'note' ? notes : takes).has(owner);
  return key.split('/').some((part) => notes.has(part) || takes.has(part));
}

/** Keys of everything that belongs to one of these notes, takes or contents, set aside or not. */
export const keysOwnedBy = (store: Store, keys: readonly string[], owners: ReadonlySet<string>): string[] => keys.filter((k) => owners.has(placeOf(store, k).owner ?? ''));

/**
 * These keys, of owners of which everything is named, by whole stretches: `starting` are those up to the slash behind their owner, beneath which nobody else's lies;
 * `single` the others.
 */
export function stretchesOf(store: Store, owned: readonly string[]): { starting: string[]; single: string[] } {
  const [starting, single] = [new Set<string>(), [] as string[]];
  for (const key of owned) {
    const aside = beforeAside(key);
    const parts = (aside ?? key).split('/');
    const { owner } = placeOf(store, key);
    // Pieces of sound have their owner first, everything else behind its kind.
    const at = store === 'sound' && !isKind(store, parts[0]) ? 0 : 1;
    if (owner === null || parts.length === at + 1) single.push(key);
    else starting.add(`${aside === null ? '' : ASIDE}${parts.slice(0, at + 1).join('/')}/`);
  }
  return { starting: [...starting], single };
}

/** How keys begin of what belongs to one of these; more may begin so. `heads`: what keys of the store begin with, up to the slash, and those of what was set aside. */
export function prefixesOwnedBy(store: Store, owners: ReadonlySet<string>, heads: { readonly open: readonly string[]; readonly aside: readonly string[] }): string[] {
  const ids = [...owners];
  if (store === 'notes') return ids.flatMap((id) => [...heads.open.map((kind) => `${kind}/${id}`), ...heads.aside.map((kind) => asideKey(`${kind}/${id}`))]);
  const open = ids.flatMap((id) => [`${id}/`, `heard/${id}`, `beat/${id}`, `content/${id}/`]);
  return heads.aside.length ? [...open, ...open.map(asideKey)] : open;
}

/** Keys of what can be made anew. */
export const keysMadeAnew = (store: Store, keys: readonly string[]): string[] =>
  keys.filter((k) => {
    const { kind } = placeOf(store, k);
    return kind !== null && about(kind).madeOf !== undefined;
  });

export const whatOf = (store: Store, key: string): string => {
  const { kind } = placeOf(store, key);
  return kind ? about(kind).what : 'a record of a newer Scrivo';
};
