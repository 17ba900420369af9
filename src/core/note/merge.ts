/**
 * Two states of a note brought together, row by row and thing by thing: of two versions the later one stands, on both devices the same,
 * in whatever order and however often they are exchanged. A version that lost without having been seen by the one that won is kept in a table
 * of its own until somebody chooses, and a page that was deleted while another device wrote on it stands.
 */
import { textOf } from './binaryText';
import type { Edit, Gone, Note, RowPut } from './edit';
import type { Placed } from './kinds/kinds';
import { readInk, writeInk } from './records/inkChunk';
import type { Row } from './tables';
import { compareVersions, isSeen, type Version } from './version';

/** What comes from elsewhere: a whole note, or some of it. */
export interface Incoming {
  readonly rows: readonly (Row & { readonly table: string; readonly id: string })[];
  readonly placed: readonly Placed[];
  readonly gone: readonly (readonly [string, Gone])[];
  readonly changed: number;
}

/** All of a note, as another device is given it. */
export const allOf = ({ rows, ink, gone, header }: Note): Incoming => ({
  rows: Object.entries(rows).flatMap(([table, list]) => [...list].map(([id, row]) => ({ table, id, ...row }))),
  placed: Object.values(ink).flat(),
  gone: [...gone],
  changed: header.changed,
});

/** Identity of a version that lost: the same wherever it is found out. */
const keptId = (id: string, s: Version): string => `${id} ${s[1]} ${s[2]}`;

interface State {
  readonly s?: Version | null | undefined;
  readonly past?: Readonly<Record<string, number>>;
}
const lostUnseen = (loser: State, winner: State): boolean => Boolean(loser.s && winner.s && !isSeen(loser.s, winner.s, winner.past));

/**
 * The edit that brings a note to what it and the incoming make together. `reput`: pages that go on standing because there is ink on them that
 * whoever deleted them had not seen; to be put as a change of this device's own.
 */
export function merge(note: Note, incoming: Incoming): { edit: Edit; reput: RowPut[] } {
  const rows: RowPut[] = [];
  const kept: RowPut[] = [];
  const keep = (table: string, id: string, loser: { s: Version; v: object }) => {
    const key = keptId(id, loser.s);
    if (!note.rows.kept?.has(key)) kept.push({ table: 'kept', id: key, s: loser.s, v: { table, id, ...loser.v } });
  };
  const deleted = new Map<string, object>();
  for (const row of incoming.rows) {
    const { table, id } = row;
    const mine = note.rows[table]?.get(id);
    const order = mine ? compareVersions(row.s, mine.s) : 1;
    if (order === 0) continue;
    const [winner, loser] = order > 0 ? [row, mine] : [mine!, row];
    if (loser?.v && table !== 'kept' && lostUnseen(loser, winner) && JSON.stringify(loser.v) !== JSON.stringify(winner.v)) keep(table, id, { s: loser.s!, v: { v: loser.v } });
    if (order <= 0) continue;
    rows.push({ table, id, s: row.s, v: row.v, ...(row.past ? { past: row.past } : {}) });
    if (table === 'pages' && !row.v && mine?.v) deleted.set(id, mine.v);
  }

  const here = new Map<string, Placed>();
  for (const list of Object.values(note.ink)) for (const it of list) here.set(it.id, it);
  const put: Placed[] = [];
  const cut: { id: string; page: string; s?: Version; past?: Gone['past'] }[] = [];
  for (const it of incoming.placed) {
    const mine = here.get(it.id);
    const trace = note.gone.get(it.id);
    const known = mine ?? trace;
    const order = known ? compareVersions(it.s, known.s) : 1;
    if (order === 0) continue;
    const [winner, loser] = order > 0 ? [it, known] : [known!, it];
    const placedLoser = loser === it ? it : mine;
    if (placedLoser && loser && lostUnseen(loser, winner)) keep('placed', it.id, { s: loser.s!, v: { ink: btoa(writeInk([placedLoser])) } });
    if (order <= 0) continue;
    if (mine && mine.page !== it.page) cut.push({ id: mine.id, page: mine.page });
    put.push(it);
  }
  for (const [id, trace] of incoming.gone) {
    const mine = here.get(id);
    const known = mine ?? note.gone.get(id);
    if (known && compareVersions(trace.s, known.s) <= 0) {
      continue;
    }
    if (mine && lostUnseen(mine, trace)) keep('placed', id, { s: mine.s!, v: { ink: btoa(writeInk([mine])) } });
    cut.push({ id, page: mine?.page ?? trace.page, s: trace.s, ...(trace.past ? { past: trace.past } : {}) });
  }

  const left = (page: string): boolean => {
    const goes = new Set(cut.map((c) => c.id));
    return [...(note.ink[page] ?? []), ...put.filter((p) => p.page === page)].some((p) => !goes.has(p.id));
  };
  const reput = [...deleted].flatMap(([id, v]) => (left(id) ? [{ table: 'pages', id, v }] : []));
  return { edit: { put, cut, rows: [...rows, ...kept], foreign: { changed: incoming.changed } }, reput };
}

/** What was kept of a thing on a page; null when it cannot be read. */
export function keptPlaced(ink: string): Placed | null {
  return readInk(atob(ink)).placed[0] ?? null;
}

/**
 * Whether two states can be brought together row by row: what only one of them has must have a version, or nobody can tell whether it is new
 * here or was taken away there before there were versions.
 */
export function canMerge(mine: Note, theirs: Incoming): boolean {
  const here = new Map<string, State & { readonly what?: unknown }>();
  const of = (table: string, id: string) => `${table}/${id}`;
  const look = (it: Placed) => ({ s: it.s, what: [it.page, it.kind, textOf(it.pts)] });
  for (const [table, list] of Object.entries(mine.rows)) for (const [id, { s, v }] of list) here.set(of(table, id), { s, what: v });
  for (const list of Object.values(mine.ink)) for (const it of list) here.set(of('', it.id), look(it));
  for (const [id, { s }] of mine.gone) here.set(of('', id), { s });
  const come = new Map<string, State & { readonly what?: unknown }>();
  for (const { table, id, s, v } of theirs.rows) come.set(of(table, id), { s, what: v });
  for (const it of theirs.placed) come.set(of('', it.id), look(it));
  for (const [id, { s }] of theirs.gone) come.set(of('', id), { s });
  const isTold = (key: string, a: State & { readonly what?: unknown }, others: ReadonlyMap<string, State & { readonly what?: unknown }>): boolean => {
    if (a.s) return true;
    const b = others.get(key);
    return b !== undefined && (Boolean(b.s) || JSON.stringify(a.what) === JSON.stringify(b.what));
  };
  return [...here].every(([key, a]) => isTold(key, a, come)) && [...come].every(([key, a]) => isTold(key, a, here));
}
