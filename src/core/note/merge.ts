/**
 * Two states of a note brought together, row by row and thing by thing: of two versions the later one stands, on both devices the same,
 * in whatever order and however often they are exchanged. A version that lost without having been seen by the one that won is kept in a table
 * of its own until somebody chooses (`kept.ts`), unless the kind of the thing can bring both together. Which pages stand follows from what comes out (`invariants.ts`).
 */
import { textOf } from './binaryText';
import type { Edit, Gone, Note, RowPut } from './edit';
import { kindOf, type Placed } from './kinds/kinds';
import { readInk, writeInk } from './records/inkChunk';
import type { Row } from './tables';
import { compareVersions, isSeen, type Past, type Version } from './version';

/** What comes from elsewhere: a whole note, or some of it. */
export interface Incoming {
  readonly rows: readonly (Row & { readonly table: string; readonly id: string })[];
  readonly placed: readonly Placed[];
  readonly gone: readonly (readonly [string, Gone])[];
  readonly changed: number;
}

/** All of a note, as another device is given it. */
export const allOf = ({ rows, ink, gone, header }: Note): Incoming => ({
  rows: Object.entries(rows).flatMap(([table, list]) => [...list].flatMap(([id, row]) => (row.guessed ? [] : [{ table, id, ...row }]))),
  placed: Object.values(ink).flat(),
  gone: [...gone],
  changed: header.changed,
});

/** Identity of a version that lost: the same wherever it is found out. */
const keptId = (id: string, s: Version): string => `${id} ${s[2]} ${s[3]}`;

interface State {
  readonly s?: Version | null | undefined;
  readonly past?: Past;
}

/** A thing without what it says of its versions. */
const lookOf = ({ s: _s, past: _past, ...it }: Placed): string => writeInk([it as Placed]);

/** What comes of bringing two states together. */
export interface Merged {
  /** What the incoming one brings. */
  readonly edit: Edit;
  /** To be done after it as a change of this device's own: things of which both versions were brought together. Null when there are none. */
  readonly own: Edit | null;
}

/**
 * The edit that brings a note to what it and the incoming make together.
 * @param device who merges: what somebody else says to have seen of it is believed only as far as it has given out versions.
 */
export function merge(note: Note, incoming: Incoming, device = ''): Merged {
  const issued = note.seen.q[device] ?? -1;
  /** A claim to have seen what there never was is none at all. */
  const believed = <T extends State>(it: T): T => {
    if (!(it.past && it.past[device] > issued)) return it;
    const { [device]: _, ...past } = it.past;
    return { ...it, past };
  };
  const lostUnseen = (loser: State, winner: State): boolean => Boolean(loser.s && winner.s && !isSeen(loser.s, winner.s, winner.past));

  const rows: RowPut[] = [];
  const kept: RowPut[] = [];
  const keep = (table: string, id: string, loser: { s: Version; v: object }) => {
    const key = keptId(id, loser.s);
    if (!note.rows.kept?.has(key)) kept.push({ table: 'kept', id: key, s: loser.s, v: { table, id, ...loser.v } });
  };
  for (const given of incoming.rows) {
    const row = believed(given);
    const { table, id } = row;
    const mine = note.rows[table]?.get(id);
    const order = mine && !mine.guessed ? compareVersions(row.s, mine.s) : 1;
    if (order === 0) continue;
    const [winner, loser] = order > 0 ? [row, mine] : [mine!, row];
    const [stood, stands] = [loser?.last ? null : loser?.v, winner.last ? null : winner.v];
    if (loser && stood && table !== 'kept' && lostUnseen(loser, winner) && JSON.stringify(stood) !== JSON.stringify(stands)) keep(table, id, { s: loser.s!, v: { v: stood } });
    if (order <= 0) continue;
    rows.push({ table, id, s: row.s, v: stands ?? null, ...(row.past ? { past: row.past } : {}), ...(row.last ? { last: row.last } : {}) });
  }

  const here = new Map<string, Placed>();
  for (const list of Object.values(note.ink)) for (const it of list) here.set(it.id, it);
  const put: Placed[] = [];
  const together: Placed[] = [];
  const cut: { id: string; page: string; s?: Version; past?: Past }[] = [];
  const keepInk = (it: Placed) => keep('placed', it.id, { s: it.s!, v: { ink: btoa(writeInk([it])) } });
  for (const given of incoming.placed) {
    const it = believed(given);
    const mine = here.get(it.id);
    const known = mine ?? note.gone.get(it.id);
    const order = known ? compareVersions(it.s, known.s) : 1;
    if (order === 0) continue;
    const [winner, loser] = order > 0 ? [it, known] : [known!, it];
    if (mine && lostUnseen(loser!, winner) && lookOf(it) !== lookOf(mine)) {
      const both = bothOf(winner as Placed, loser as Placed);
      if (both) together.push(both);
      else keepInk(loser as Placed);
    } else if (!mine && loser === it && lostUnseen(it, winner)) keepInk(it);
    if (order <= 0) continue;
    if (mine && mine.page !== it.page) cut.push({ id: mine.id, page: mine.page });
    put.push(it);
  }
  for (const [id, given] of incoming.gone) {
    const trace = believed(given);
    const mine = here.get(id);
    const known = mine ?? note.gone.get(id);
    if (known && compareVersions(trace.s, known.s) <= 0) continue;
    if (mine && lostUnseen(mine, trace)) keepInk(mine);
    cut.push({ id, page: mine?.page ?? trace.page, s: trace.s, ...(trace.past ? { past: trace.past } : {}) });
  }
  return { edit: { put, cut, rows: [...rows, ...kept], foreign: { changed: incoming.changed } }, own: together.length ? { put: together } : null };
}

/** Two versions of a thing that were made without knowing each other as one; null where one of them has to lose. */
function bothOf(winner: Placed, loser: Placed): Placed | null {
  if (winner.kind !== loser.kind || winner.page !== loser.page) return null;
  return (kindOf(winner).together?.(winner, loser, (s) => !isSeen(s, loser.s!, loser.past), (s) => !isSeen(s, winner.s!, winner.past)) as Placed | null | undefined) ?? null;
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
  for (const [table, list] of Object.entries(mine.rows)) for (const [id, { s, v, guessed }] of list) if (!guessed) here.set(of(table, id), { s, what: v });
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
