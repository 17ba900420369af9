/**
 * What holds of every note, whatever came into it: by its own writer, from storage, or from another device. `applyEdit` and whoever makes a note of rows
 * end with it, so that nothing that is broken is ever shown or written.
 *
 * - It has a page, and everything lies on a page that stands. Whether a page stands follows from the rows and the ink alone, on every device alike: a page that was
 *   taken away stands while there is ink on it (whoever took it away had taken away the ink he saw), as it was when it was taken away; and where none would be left,
 *   the one that was taken away last.
 * - Keys of order are such that something can be put between them.
 * - The timeline names takes that are there (`showTable` of stretches, `edit.ts`).
 * - Numbers are in their range: rows by the schemas of their tables, things by `isInRange`.
 */
import type { Ink } from './placedInk';
import type { Placed } from './kinds/kinds';
import { LAST_MS, LONGEST_MS } from './limits';
import { asKey, firstKeys, inOrder, isKey, keyAfter } from './order';
import { newPage, type PageForm } from './schema';
import type { Row, Rows } from './tables';
import { compareVersions } from './version';

const sheet = (form: PageForm | undefined, order: string): object => {
  const { id: _, ...page } = newPage('', form);
  return Object.freeze({ ...page, order });
};

const orderOf = (v: object): string => (v as { order?: string }).order ?? '';

/** Pages that stand as they have to; the same rows where they do. `form`: of a page of which nothing is known but the ink on it. */
export function withPages(rows: Rows, ink: Ink, form?: PageForm): Rows {
  const given: ReadonlyMap<string, Row> = rows.pages ?? new Map<string, Row>();
  // What was only guessed is worked out anew.
  const hadGuessed = [...given.values()].some((row) => row.guessed);
  const pages = hadGuessed ? new Map([...given].filter(([, row]) => !row.guessed)) : given;
  const next = new Map<string, Row>();
  const missing: string[] = [];
  for (const [page, list] of Object.entries(ink)) if (list.length && !pages.get(page)?.v && !pages.get(page)?.last) missing.push(page);
  let standing = missing.length;
  for (const [id, row] of pages) {
    if (!row.last) {
      if (row.v) standing++;
      continue;
    }
    const stands = Boolean(ink[id]?.length);
    if (stands) standing++;
    if (stands !== (row.v !== null)) next.set(id, { ...row, v: stands ? row.last : null });
  }
  if (missing.length) {
    let last: string | null = [...pages].flatMap(([id, { v, last: was }]) => (v || was ? [{ id, order: orderOf((v ?? was)!) }] : [])).sort(inOrder).at(-1)?.order ?? null;
    for (const id of missing.sort()) {
      last = keyAfter(last);
      const was = pages.get(id);
      // One that was taken away before last values were kept is as good as unknown.
      const page = sheet(form, last);
      next.set(id, was ? { ...was, v: page, last: page } : { s: null, v: page, guessed: true });
    }
  }
  if (!standing) {
    const gone = [...pages].filter(([, { last }]) => last).sort(([a, x], [b, y]) => compareVersions(y.s, x.s) || (a < b ? -1 : 1));
    if (gone.length) next.set(gone[0][0], { ...gone[0][1], v: gone[0][1].last! });
    else next.set(ONLY_PAGE, { s: null, v: sheet(form, firstKeys(1)[0]), guessed: true });
  }
  return next.size || hadGuessed ? { ...rows, pages: new Map([...pages, ...next]) } : rows;
}

/** The page of a note that has lost all of its own: the same on every device. */
const ONLY_PAGE = 'only-page';

/** A value with a key of order that something can be put beside. */
export const withKey = <V extends object | null | undefined>(v: V): V => {
  const order = (v as { order?: unknown } | null | undefined)?.order;
  return typeof order === 'string' && !isKey(order) ? Object.freeze({ ...v, order: asKey(order) } as V) : v;
};

/** Of rows as they were stored or sent. */
export function withKeys(rows: Rows): Rows {
  let next: Record<string, ReadonlyMap<string, Row>> | null = null;
  for (const [table, list] of Object.entries(rows)) {
    let mended: Map<string, Row> | null = null;
    for (const [id, row] of list) {
      const [v, last] = [withKey(row.v), withKey(row.last)];
      if (v !== row.v || last !== row.last) (mended ??= new Map(list)).set(id, { ...row, v, ...(last ? { last } : {}) });
    }
    if (mended) (next ??= { ...rows })[table] = mended;
  }
  return next ?? rows;
}

/** A place on a page, mm: boards go to some metres. */
const FAR_MM = 1e6;
const near = (v: number): boolean => v >= -FAR_MM && v <= FAR_MM;

/** Whether a thing's own numbers are such as can be stored and read again. */
export const isInRange = ({ box, wall, ms, stamp }: Placed): boolean => box.every(near) && wall >= 0 && wall <= LAST_MS && ms >= 0 && ms <= LAST_MS && (!stamp || (stamp.at >= 0 && stamp.at <= LONGEST_MS));
