/** Copies of things, pages and notes under ids of their own. Stamps stay: a copy plays what the original plays. */
import { noteOfRows, type Ink, type Note, type RowPut } from './edit';
import { kindOf, type Placed } from './kinds/kinds';
import { entriesOf, TABLE_NAMES, TABLES, type Renumbered, type Row } from './tables';

/** `page`: id of the page that a copy lies on. Groups, flows and what holds on to something hold on to its copy. */
export function copiedPlaced<T extends Placed>(all: readonly T[], page: (of: string) => string, newId: () => string): { copies: T[]; ids: ReadonlyMap<string, string> } {
  const ids = new Map(all.map((s) => [s.id, newId()]));
  const groups = new Map<string, string>();
  const groupOf = (g: string) => groups.get(g) ?? groups.set(g, newId()).get(g)!;
  const copies = all.map((it): T => {
    const { s: _, past: __, on, ...made } = kindOf(it).copied?.(it, (id) => ids.get(id) ?? null) ?? it;
    const under = on === undefined ? undefined : ids.get(on);
    return Object.freeze({ ...made, ...(under === undefined ? {} : { on: under }), id: ids.get(it.id)!, page: page(it.page), ...(it.group ? { group: groupOf(it.group) } : {}), ...(it.kind === 'typed' ? { flow: groupOf(it.flow) } : {}) }) as T;
  });
  return { copies, ids };
}

/** What goes along with copied pages, as rows to put; `pages`: new ids by the old ones. */
export function rowsAlong(note: Note, pages: ReadonlyMap<string, string>, ids: ReadonlyMap<string, string>, newId: () => string): RowPut[] {
  const to = renumbered(pages, ids, newId);
  return TABLE_NAMES.filter((t) => TABLES[t].withPages && t !== 'pages').flatMap((table) =>
    entriesOf(note.rows, table).flatMap(([id, v]) => {
      const made = TABLES[table].copied(id, v, to);
      return made ? [{ table, id: made[0], v: made[1] }] : [];
    }),
  );
}

const renumbered = (pages: ReadonlyMap<string, string>, ids: ReadonlyMap<string, string>, newId: () => string): Renumbered => ({
  page: (id) => pages.get(id) ?? null,
  placed: (id) => ids.get(id) ?? null,
  fresh: newId,
});

/** A note once more. Its takes are the same takes: their sound is stored once and kept as long as one of the notes has it. */
export function copiedNote(note: Note, title: string, now: number, newId: () => string): Note {
  const { header, ink } = note;
  const pages = new Map(header.pages.map((p) => [p.id, newId()]));
  const { copies, ids } = copiedPlaced(Object.values(ink).flat(), (p) => pages.get(p)!, newId);
  const next: Record<string, Placed[]> = {};
  for (const s of copies) (next[s.page] ??= []).push(s);
  const to = renumbered(pages, ids, newId);
  const rows = Object.fromEntries(
    TABLE_NAMES.map((table) => [
      table,
      new Map(
        entriesOf(note.rows, table).flatMap(([id, v]): [string, Row][] => {
          const made = TABLES[table].copied(id, v, to);
          return made ? [[made[0], { s: null, v: Object.freeze(made[1]) }]] : [];
        }),
      ),
    ]),
  );
  rows.note.set('title', { s: null, v: { ...rows.note.get('title')?.v, value: title } });
  return noteOfRows({ id: newId(), made: now, changed: now }, rows, next as Ink);
}
