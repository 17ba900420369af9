/**
 * What lost against a later change without having been seen by whoever made that (`merge.ts`): seen side by side with what stands, until somebody chooses.
 */
import { boxesMeet, growBox, unionBox, type Box } from '../ink/stroke';
import { move } from '../ink/transform';
import { drop, type Edit, type Note, type RowPut } from './edit';
import { keptPlaced } from './merge';
import { mapPlaced, type Placed } from './kinds/kinds';
import { entriesOf, isTable, TABLES } from './tables';

/** One side of it: a thing on a page, or the value of a row; null where it was taken away. */
export type Side = { readonly placed: Placed } | { readonly value: object } | null;

export interface KeptOne {
  /** Of its row. */
  readonly key: string;
  /** `placed` for what lies on a page, else a table. */
  readonly table: string;
  readonly id: string;
  readonly stands: Side;
  readonly lost: Side;
  /** When the version that lost was made, and when the one that stands was, by the clocks of who made them, ms. */
  readonly lostAt: number;
  readonly standsAt: number | null;
}

function placedWith(note: Note, id: string): Placed | null {
  for (const list of Object.values(note.ink)) {
    const found = list.find((it) => it.id === id);
    if (found) return found;
  }
  return null;
}

/** All that waits for somebody to choose, the latest first. What this version cannot read is left out and stays. */
export function keptOf(note: Note): KeptOne[] {
  return entriesOf(note.rows, 'kept')
    .flatMap(([key, v]): KeptOne[] => {
      const { table, id, v: value, ink } = v as { table: string; id: string; v?: object; ink?: string };
      const lostAt = note.rows.kept.get(key)?.s?.[0] ?? 0;
      if (table === 'placed') {
        const lost = typeof ink === 'string' ? readPlaced(ink) : null;
        const stands = placedWith(note, id);
        return lost ? [{ key, table, id, lost: { placed: lost }, stands: stands && { placed: stands }, lostAt, standsAt: (stands?.s ?? note.gone.get(id)?.s)?.[0] ?? null }] : [];
      }
      if (!isTable(table) || !value || !TABLES[table].schema.safeParse(value).success) return [];
      const row = note.rows[table]?.get(id);
      return [{ key, table, id, lost: { value }, stands: row?.v ? { value: row.v } : null, lostAt, standsAt: row?.s?.[0] ?? null }];
    })
    .sort((a, b) => b.lostAt - a.lostAt || (a.key < b.key ? -1 : 1));
}

function readPlaced(ink: string): Placed | null {
  try {
    return keptPlaced(ink);
  } catch {
    // It waits for a program that can.
    return null;
  }
}

/** Around a thing that lies on a page so much is shown; and at least so much in all, mm. */
const [AROUND_MM, LEAST_W, LEAST_H] = [4, 36, 24];

/**
 * Where both versions are looked at, so that one that was moved is seen to be elsewhere, and what lies there beside them. Where they lie on different pages
 * each has its own. Null of what lies on no page.
 */
export function surroundings(note: Note, { id, stands, lost }: KeptOne): { readonly [side in 'stands' | 'lost']: { readonly box: Box; readonly around: readonly Placed[] } } | null {
  const [a, b] = [stands, lost].map((side) => (side && 'placed' in side ? side.placed : null));
  const one = a ?? b;
  if (!one) return null;
  const seen = (it: Placed, other: Placed | null) => {
    const [l, t, r, bottom] = growBox(other?.page === it.page ? unionBox(it.box, other.box) : it.box, AROUND_MM);
    const [w, h] = [Math.max(0, LEAST_W - (r - l)) / 2, Math.max(0, LEAST_H - (bottom - t)) / 2];
    const box: Box = [l - w, t - h, r + w, bottom + h];
    return { box, around: (note.ink[it.page] ?? []).filter((near) => near.id !== id && boxesMeet(near.box, box)) };
  };
  return { stands: seen(a ?? one, b), lost: seen(b ?? one, a) };
}

/** What stands beside it on the page where both are kept, mm. */
const BESIDE_MM = 6;

/** Whether both can stand: things on a page can, and rows that are known by no more than their id. */
export const canKeepBoth = ({ table }: KeptOne): boolean => table === 'placed' || BOTH.has(table);
const BOTH: ReadonlySet<string> = new Set(['marks', 'headings', 'refs', 'settled', 'origins', 'pages']);

/** What is chosen of what lost: that it stands instead, beside, or not at all. */
export type Choice = 'other' | 'both' | 'this';

export function chosen(note: Note, one: KeptOne, choice: Choice, newId: () => string): Edit {
  const done: RowPut = drop('kept', one.key);
  if (choice === 'this' || !one.lost || (choice === 'both' && !canKeepBoth(one))) return { rows: [done] };
  if ('placed' in one.lost) {
    const { s: _s, past: _past, ...it } = one.lost.placed;
    const page = note.header.pages.some((p) => p.id === it.page) ? it.page : note.header.pages[0].id;
    const back = { ...it, page } as Placed;
    if (choice === 'both' && one.stands) return { put: [{ ...mapPlaced(back, move(0, BESIDE_MM), page), id: newId() }], rows: [done] };
    const elsewhere = one.stands && 'placed' in one.stands && one.stands.placed.page !== page ? [{ id: one.id, page: one.stands.placed.page }] : [];
    return { put: [back], ...(elsewhere.length ? { cut: elsewhere } : {}), rows: [done] };
  }
  return { rows: [{ table: one.table, id: choice === 'both' && one.stands ? newId() : one.id, v: one.lost.value }, done] };
}

/** Of all at once: what stands goes on standing. */
export const allSettled = (note: Note): Edit => ({ rows: [...(note.rows.kept ?? [])].flatMap(([key, { v }]) => (v ? [drop('kept', key)] : [])) });

/** The edit that leads from one state of a note to another, as a change like any other: what is the same in both is not touched. */
export function editBetween(from: Note, to: Note): Edit {
  const rows: RowPut[] = [];
  for (const table of new Set([...Object.keys(from.rows), ...Object.keys(to.rows)])) {
    const [was, is] = [from.rows[table] ?? new Map(), to.rows[table] ?? new Map()];
    for (const id of new Set([...was.keys(), ...is.keys()])) {
      const [a, b] = [was.get(id), is.get(id)];
      // A page that was taken away and stands for its ink is no row of anybody's.
      const [before, after] = [a?.last || a?.guessed ? null : (a?.v ?? null), b?.last || b?.guessed ? null : (b?.v ?? null)];
      if (before !== after && JSON.stringify(before) !== JSON.stringify(after)) rows.push({ table, id, v: after });
    }
  }
  const all = (note: Note) => new Map(Object.values(note.ink).flat().map((it) => [it.id, it]));
  const [was, is] = [all(from), all(to)];
  const put = [...is.values()].filter((it) => was.get(it.id) !== it);
  const cut = [...was.values()].filter((it) => is.get(it.id)?.page !== it.page).map(({ id, page }) => ({ id, page }));
  return { put, cut, rows };
}

/** What a side says in words; null where its picture says it, or it was taken away. */
export function textOfSide(side: Side): string | null {
  if (!side) return null;
  if ('placed' in side) {
    const { placed } = side;
    if (placed.kind === 'typed') return placed.text;
    if (placed.kind === 'picture') return placed.text ?? placed.name ?? null;
    return placed.kind === 'table' ? placed.cells.map((row) => row.map((cell) => cell?.text ?? '').join(' | ')).join('\n') : null;
  }
  const { value, text, name, paper, kind, level, w, h } = side.value as Record<string, unknown>;
  if (typeof value === 'boolean') return value ? 'Yes' : 'No';
  const parts = [value, text, name, kind, level && `level ${String(level)}`, paper && `${String((paper as { kind?: unknown }).kind)} paper, ${Math.round(Number(w))} × ${Math.round(Number(h))} mm`];
  return parts.filter((p) => typeof p === 'string' && p !== '').join(', ') || 'Changed';
}

const NAMES: Readonly<Record<string, string>> = { placed: 'something on a page', note: 'the title', pages: 'a page', takes: 'a take', stretches: 'a cut of the sound', marks: 'a mark', tags: 'a tag', headings: 'a heading', refs: 'a link', written: 'a corrected word' };
const KIND_NAMES: Readonly<Record<string, string>> = { stroke: 'ink', area: 'an area', axes: 'axes', picture: 'a picture', slip: 'a sticky note', solid: 'a solid', table: 'a table', typed: 'a typed line' };

/** What it is, for a list: “a typed line on page 2”. */
export function nameOfKept(note: Note, { table, lost, id }: KeptOne): string {
  if (!lost) return NAMES[table] ?? 'something';
  const numberOf = (page: string): string => {
    const at = note.header.pages.findIndex((p) => p.id === page);
    return at < 0 ? '' : ` on page ${at + 1}`;
  };
  if ('placed' in lost) return `${KIND_NAMES[lost.placed.kind] ?? NAMES.placed}${numberOf(lost.placed.page)}`;
  if (table === 'note') return id === 'title' ? NAMES.note : 'whether it is read-only';
  if (table === 'pages') return numberOf(id) ? `page ${numberOf(id).replace(/\D/g, '')}` : NAMES.pages;
  return NAMES[table] ?? 'something';
}
