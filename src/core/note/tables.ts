/**
 * The tables of a note, one description each: what a row holds, what it points to and how that is renumbered in a copy, the page it goes with,
 * and how its rows are shown in the header. Editing, undo, storing, copying, moving pages, following, bundles and merging all work by these
 * descriptions; a new table is one more entry here.
 */
import { z } from 'zod';
import type { Stretch } from '../time/timeline';
import { firstKeys, inOrder, isKey } from './order';
import { headingSchema, linkSchema, markSchema, originSchema, refSchema, writtenSchema, sheetSchema, stretchSchema, takeSchema, type Heading, type Mark, type NoteHeader, type NoteLink, type Origin, type Page, type Ref, type Take } from './schema';
import type { Past, Version } from './version';

/**
 * One version of a row; `v` is null when it was taken away: the trace of it stays. `last`: what it was when it was taken away, of a table whose rows may have to
 * stand all the same (`invariants.ts`); then `v` is that again, while it stands.
 */
export interface Row {
  readonly s: Version | null;
  readonly last?: object;
  /** Nothing is known of it but that it has to be: it is neither stored nor sent. */
  readonly guessed?: true;
  /** By device, the last version of the row that was known when this one was made. */
  readonly past?: Past;
  readonly v: object | null;
}

/** Rows by table and id. Tables that this version does not know are kept as they are. */
export type Rows = Readonly<Record<string, ReadonlyMap<string, Row>>>;

export type Entry<V = object> = readonly [id: string, v: V];

/** New ids in a copy; null for what is not in it. */
export interface Renumbered {
  page(id: string): string | null;
  placed(id: string): string | null;
  fresh(): string;
}

export interface Table<V extends object = object> {
  readonly schema: z.ZodType;
  /** Its part of the header. Items stay the same objects while their rows do. */
  show(rows: readonly Entry<V>[]): Partial<NoteHeader>;
  /** Its rows from a header, for notes of before there were rows: the same on every device. */
  from(header: NoteHeader): readonly Entry<V>[];
  /** A row in a copy of what it belongs to; null when what it points to is not in the copy. */
  copied(id: string, v: V, to: Renumbered): Entry<V> | null;
  /** Goes along when single pages are copied or moved to another note, and not with a whole note alone. */
  readonly withPages?: true;
  /** The page that it goes with when that is deleted. */
  page?(id: string, v: V): string;
  /** A row that was taken away keeps its last value. */
  readonly keepsLast?: true;
}

const order = z.string().regex(/^[A-Za-z][0-9A-Za-z]*$/).max(1000).refine(isKey, 'a key that nothing can be put beside');
const value = z.looseObject({ value: z.union([z.string().max(500), z.boolean()]) });

export type Ordered<T> = Omit<T, 'id'> & { readonly order: string };
type Without<T> = Omit<T, 'id'>;
export interface Content {
  /** Media type. */
  readonly type: string;
  readonly bytes: number;
  /** Its name in a bundle. */
  readonly file?: string;
}

const items = new WeakMap<object, object>();
/** A row as an item of a list, made once. */
function item<T extends { readonly id: string }>(id: string, v: object): T {
  let made = items.get(v) as T | undefined;
  // A copy has the same value under another id.
  if (made?.id !== id) {
    const { order: _, ...shown } = v as { order?: string };
    // A value may say an id of its own, and is not asked.
    items.set(v, (made = { ...shown, id } as unknown as T));
  }
  return made;
}
/** By order key where there is one, else by id: the same on every device. */
const sorted = <V extends object>(rows: readonly Entry<V>[]): Entry<V>[] => {
  const at = ([id, v]: Entry<V>) => ({ id, order: (v as { order?: string }).order ?? '' });
  return [...rows].sort((a, b) => inOrder(at(a), at(b)));
};
/** Stretches that go on where the one before ends are heard as one. */
function laidOut(list: readonly Stretch[]): Stretch[] {
  const out: Stretch[] = [];
  for (const { take, from, to } of list) {
    const last = out.at(-1);
    if (last && last.take === take && last.to === from) out[out.length - 1] = { ...last, to };
    else out.push({ take, from, to });
  }
  return out;
}
/** A part of the header that is left out while it is empty. */
const orNone = <T>(list: readonly T[]): readonly T[] | undefined => (list.length ? list : undefined);
const withoutId = <T extends { readonly id: string }>({ id, ...v }: T): Entry<Without<T>> => [id, v];
const withOrder = <T extends object>(list: readonly T[], id: (t: T, i: number) => string): Entry<T & { order: string }>[] => {
  const keys = firstKeys(list.length);
  return list.map((t, i) => [id(t, i), { ...t, order: keys[i] }]);
};
const same = <V>(id: string, v: V): Entry<V> => [id, v];

const note: Table<{ value: string | boolean }> = {
  schema: value,
  show(rows) {
    const by = new Map(rows);
    return { title: String(by.get('title')?.value ?? ''), readOnly: by.get('readOnly')?.value === true || undefined };
  },
  from: ({ title, readOnly }) => [['title', { value: title }], ...(readOnly ? [['readOnly', { value: true }] as const] : [])],
  copied: same,
};

const pages: Table<Ordered<Page>> = {
  schema: sheetSchema.extend({ order }),
  show: (rows) => ({ pages: sorted(rows).map(([id, v]) => item<Page>(id, v)) }),
  from: (header) => withOrder(header.pages, (p) => p.id).map(([id, { id: _, ...v }]) => [id, v]),
  copied(id, v, to) {
    const page = to.page(id);
    return page === null ? null : [page, v];
  },
  withPages: true,
  page: (id) => id,
  keepsLast: true,
};

/** Written only by the device that records. */
const takes: Table<Ordered<Take>> = {
  schema: takeSchema.omit({ id: true }).extend({ order }),
  show: (rows) => ({ takes: sorted(rows).map(([id, v]) => item<Take>(id, v)) }),
  from: (header) => withOrder(header.takes, (t) => t.id).map(([id, { id: _, ...v }]) => [id, v]),
  copied: same,
};

const stretches: Table<Stretch & { order: string }> = {
  schema: stretchSchema.extend({ order }),
  show: (rows) => ({ timeline: laidOut(sorted(rows).map(([, v]) => v)) }),
  from: (header) => withOrder(header.timeline.map(({ take, from, to }) => ({ take, from, to })), (s, i) => `${s.take}/${i}`),
  copied: (_, v, to) => [to.fresh(), v],
};

const marks: Table<Without<Mark>> = {
  schema: markSchema.omit({ id: true }),
  show: (rows) => ({ marks: orNone([...rows].sort(([a, v], [b, w]) => v.wall - w.wall || (a < b ? -1 : 1)).map(([id, v]) => item<Mark>(id, v))) }),
  from: (header) => (header.marks ?? []).map(withoutId),
  copied: (_, v, to) => [to.fresh(), v],
};

const settled: Table<Stretch> = {
  schema: stretchSchema,
  show: (rows) => ({ settled: orNone([...rows].sort(([a, v], [b, w]) => v.from - w.from || (a < b ? -1 : 1)).map(([, v]) => v)) }),
  from: (header) => (header.settled ?? []).map((s) => [`${s.take}/${Math.round(s.from)}`, s]),
  copied: (_, v, to) => [to.fresh(), v],
};

export const tagId = (placed: string, name: string): string => `${placed}/${name}`;

/** A row a piece of ink and name. */
const tags: Table<{ placed: string; name: string; order: string }> = {
  schema: z.looseObject({ placed: z.string().min(1).max(64), name: z.string().min(1).max(40), order }),
  show(rows) {
    const by = new Map<string, string[]>();
    for (const [, v] of sorted(rows)) by.set(v.placed, [...(by.get(v.placed) ?? []), v.name]);
    return { tags: orNone([...by].map(([stroke, names]) => ({ stroke, names }))) };
  },
  from: (header) => withOrder((header.tags ?? []).flatMap(({ stroke, names }) => names.map((name) => ({ placed: stroke, name }))), (t) => tagId(t.placed, t.name)),
  copied(_, v, to) {
    const placed = to.placed(v.placed);
    return placed === null ? null : [tagId(placed, v.name), { ...v, placed }];
  },
  withPages: true,
};

const headings: Table<Heading> = {
  schema: headingSchema,
  show: (rows) => ({ headings: orNone([...rows].sort(([a], [b]) => (a < b ? -1 : 1)).map(([, v]) => v)) }),
  from: (header) => (header.headings ?? []).map((h, i) => [h.strokes[0] ?? `${h.page}/${i}`, h]),
  copied(_, v, to) {
    const page = to.page(v.page);
    const strokes = v.strokes.flatMap((s) => to.placed(s) ?? []);
    return page === null || (!strokes.length && v.text === undefined) ? null : [to.fresh(), { ...v, page, strokes }];
  },
  withPages: true,
  page: (_, v) => v.page,
};

const bookmarks: Table<Record<string, unknown>> = {
  schema: z.looseObject({}),
  show: (rows) => ({ bookmarks: orNone(rows.map(([id]) => id).sort()) }),
  from: (header) => (header.bookmarks ?? []).map((id) => [id, {}]),
  copied(id, v, to) {
    const page = to.page(id);
    return page === null ? null : [page, v];
  },
  withPages: true,
  page: (id) => id,
};

/** Where the sound of pasted ink is, by take. What that note is called is looked up when it is shown: a title can be hidden. */
const links: Table<{ note: string }> = {
  schema: linkSchema.omit({ take: true }),
  show: (rows) => ({ links: orNone(sorted(rows).map(([take, v]): NoteLink => ({ take, note: v.note }))) }),
  from: (header) => (header.links ?? []).map(({ take, note: where }) => [take, { note: where }]),
  copied: same,
};

/** Where what was taken over came from, in one row for all that came at once. */
const origins: Table<Origin> = {
  schema: originSchema,
  show: (rows) => ({ origins: orNone(sorted(rows).map(([, v]) => v)) }),
  from: (header) => (header.origins ?? []).map((o) => [o.placed[0] ?? '', o]),
  copied(_, v, to) {
    const placed = v.placed.flatMap((p) => to.placed(p) ?? []);
    return placed.length ? [to.fresh(), { ...v, placed }] : null;
  },
  withPages: true,
};

/** Where what lies on the pages leads. */
const refs: Table<Without<Ref>> = {
  schema: refSchema,
  show: (rows) => ({ refs: orNone([...rows].sort(([a], [b]) => (a < b ? -1 : 1)).map(([id, v]) => item<Ref>(id, v))) }),
  from: (header) => (header.refs ?? []).map(withoutId),
  copied(_, v, to) {
    const placed = v.placed.flatMap((p) => to.placed(p) ?? []);
    // A page that is not copied stays where the link led.
    return placed.length ? [to.fresh(), { ...v, placed, to: v.to.is === 'page' ? { ...v.to, page: to.page(v.to.page) ?? v.to.page } : v.to }] : null;
  },
  withPages: true,
};

/** Words as the writer says they are, by their first stroke. */
const written: Table<{ strokes: readonly string[]; text: string }> = {
  schema: writtenSchema,
  show: (rows) => ({ written: orNone(sorted(rows).map(([, v]) => v)) }),
  from: (header) => (header.written ?? []).map((w) => [w.strokes[0], w]),
  copied(_, v, to) {
    const strokes = v.strokes.flatMap((s) => to.placed(s) ?? []);
    return strokes.length === v.strokes.length ? [strokes[0], { ...v, strokes }] : null;
  },
  withPages: true,
};

/** Things to do that are done, by the first stroke of their line, their typed line or their mark. */
const ticked: Table = {
  schema: z.looseObject({}),
  show: (rows) => ({ ticked: orNone([...rows].map(([id]) => id).sort()) }),
  from: (header) => (header.ticked ?? []).map((id) => [id, {}]),
  copied(id, v, to) {
    const placed = to.placed(id);
    return placed === null ? null : [placed, v];
  },
  withPages: true,
};

/** Ink that became typed text, by the id of that: base64 of a record of ink. It comes back with one touch. */
const originals: Table<{ ink: string }> = {
  schema: z.looseObject({ ink: z.string().max(50_000_000) }),
  show: () => ({}),
  from: () => [],
  copied(id, v, to) {
    const typed = to.placed(id);
    return typed === null ? null : [typed, v];
  },
  withPages: true,
};

/** What is held beside the pictures and files that rows and things name (`contents.ts`): by hash, what a bundle brought that this version does not know. */
const contents: Table<Content> = {
  schema: z.looseObject({ type: z.string().max(200), bytes: z.number().int().min(0), file: z.string().max(500).optional() }),
  show: () => ({}),
  from: () => [],
  copied: same,
};

/** What lost against a later change, until somebody chooses (`merge.ts`). */
const kept: Table = { schema: z.looseObject({ table: z.string(), id: z.string() }), show: (rows) => ({ kept: rows.length || undefined }), from: () => [], copied: () => null };

export interface Tables {
  note: { value: string | boolean };
  pages: Ordered<Page>;
  takes: Ordered<Take>;
  stretches: Stretch & { order: string };
  marks: Without<Mark>;
  settled: Stretch;
  tags: { placed: string; name: string; order: string };
  headings: Heading;
  bookmarks: Record<string, unknown>;
  links: { note: string };
  origins: Origin;
  refs: Without<Ref>;
  written: { strokes: readonly string[]; text: string };
  ticked: Record<string, unknown>;
  originals: { ink: string };
  contents: Content;
  kept: object;
}
export type TableName = keyof Tables;

export const TABLES = { note, pages, takes, stretches, marks, settled, tags, headings, bookmarks, links, origins, refs, written, ticked, originals, contents, kept } as unknown as Readonly<Record<TableName, Table>>;
export const TABLE_NAMES = Object.keys(TABLES) as readonly TableName[];
export const isTable = (name: string): name is TableName => Object.hasOwn(TABLES, name);

/** Live rows of a table that can be read, in the order they came. */
export function entriesOf<T extends TableName>(rows: Rows, table: T): Entry<Tables[T]>[] {
  const out: Entry<Tables[T]>[] = [];
  for (const [id, { v }] of rows[table] ?? []) if (v && isReadable(table, v)) out.push([id, v as Tables[T]]);
  return out;
}

/** Live rows of a table in their order. */
export const inTheirOrder = <T extends TableName>(rows: Rows, table: T): (Tables[T] & { readonly id: string; readonly order: string })[] =>
  sorted(entriesOf(rows, table) as Entry[]).map(([id, v]) => ({ ...v, id }) as unknown as Tables[T] & { id: string; order: string });

const readable = new WeakMap<object, boolean>();
/** False for a value that this version cannot read: it is kept and written back, and not shown. */
export function isReadable(table: TableName, v: object): boolean {
  let known = readable.get(v);
  if (known === undefined) readable.set(v, (known = TABLES[table].schema.safeParse(v).success));
  return known;
}

/** The part of the header that a table gives. */
export const showTable = (rows: Rows, table: TableName): Partial<NoteHeader> => TABLES[table].show(entriesOf(rows, table));

/** The rows of a header of before there were rows. */
export const rowsOfHeader = (header: NoteHeader): Rows => Object.fromEntries(TABLE_NAMES.map((t) => [t, new Map(TABLES[t].from(header).map(([id, v]) => [id, { s: null, v: Object.freeze(v) }]))]));
