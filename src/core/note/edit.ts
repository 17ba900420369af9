/**
 * The one way a note changes: an edit goes in, the changed note and the edit that takes it back come out.
 * Undo, saving, following another tab, copying and merging all ride on it.
 */
import { placedOrder } from '../ink/stroke';
import type { Stretch } from '../time/timeline';
import { contentsOf, contentsOfPlaced, hashesIn } from './contents';
import { kindOf, type Placed } from './kinds/kinds';
import type { Gone, Ink } from './placedInk';
import type { NoteHeader, PageForm } from './schema';
import { isInRange, withKey, withKeys, withPages } from './invariants';
import { digestOf, stateText, Tally, type Digest } from './state';
import { isReadable, isTable, rowsOfHeader, showTable, TABLE_NAMES, TABLES, type Row, type Rows, type TableName, type Tables } from './tables';
import { NOTHING_SEEN, pastOf, Versions, type By, type Past, type Seen, type Version } from './version';

export type { Gone, Ink } from './placedInk';

export interface Note {
  /** As screens see it, worked out from the rows. */
  readonly header: NoteHeader;
  readonly rows: Rows;
  readonly ink: Ink;
  readonly gone: ReadonlyMap<string, Gone>;
  readonly seen: Seen;
  /** Of the versions of all that it is made of; `header.state` says the same as text. */
  readonly digest: Digest;
}

/** A row to put; `v` null takes it away. What comes from elsewhere or from storage has its version. */
export interface RowPut {
  readonly table: string;
  readonly id: string;
  readonly v: object | null;
  readonly s?: Version | null;
  readonly past?: Past;
  /** Of what was taken away, where it comes from elsewhere: what it was. */
  readonly last?: object;
}

export interface Edit {
  /** What is to lie on a page; what has the same id already makes way. */
  readonly put?: readonly Placed[];
  /** What is to go. Ids that are not there are passed over. */
  readonly cut?: readonly { readonly id: string; readonly page: string; readonly s?: Version; readonly past?: Past }[];
  readonly rows?: readonly RowPut[];
  /** From storage or another device: everything in it has its version already, and `changed` is that of where it comes from. */
  readonly foreign?: { readonly changed: number };
}

/** Something that cannot be stored: a sentence for the user. */
export class EditError extends Error {
  readonly name = 'EditError';
}

export const put = <T extends TableName>(table: T, id: string, v: Tables[T]): RowPut => ({ table, id, v });
export const drop = (table: TableName, id: string): RowPut => ({ table, id, v: null });

/** A note of a header of before there were rows, and of tests. */
export function noteOf(header: NoteHeader, ink: Ink = {}): Note {
  return noteOfRows(header, rowsOfHeader(header), ink);
}

/** A note of its rows and what is fixed about it. `form`: of pages of which nothing is known but the ink on them. */
export function noteOfRows({ id, made, changed, demo }: Pick<NoteHeader, 'id' | 'made' | 'changed' | 'demo'>, given: Rows, ink: Ink = {}, gone: ReadonlyMap<string, Gone> = new Map(), form?: PageForm): Note {
  const rows = withPages(withKeys(given), ink, form);
  const versions = new Versions(NOTHING_SEEN, { device: '', now: 0 });
  for (const table of Object.values(rows)) for (const { s } of table.values()) versions.notice(s);
  for (const list of Object.values(ink)) for (const { s } of list) versions.notice(s);
  for (const { s } of gone.values()) versions.notice(s);
  const shown = Object.assign({}, ...TABLE_NAMES.map((t) => showTable(rows, t))) as NoteHeader;
  const digest = digestOf(rows, ink, gone);
  return { header: clean({ ...shown, contents: orNone(contentsOf(rows, ink)), v: 2, id, made, changed, state: stateText(digest), ...(demo ? { demo } : {}) }), rows, ink, gone, seen: versions.seen, digest };
}

const orNone = (list: readonly string[]) => (list.length ? list : undefined);

/** Without the parts that are empty, and with stretches of takes that are there, which say where they end at a cut and not with their take. */
function clean(given: NoteHeader): NoteHeader {
  const ends = new Map(given.takes.map((t) => [t.id, t.ms]));
  const header = given.timeline.every((s) => ends.has(s.take)) ? given : { ...given, timeline: given.timeline.filter((s) => ends.has(s.take)) };
  const isCut = ({ take: id, to }: Stretch) => to < (ends.get(id) ?? 0) - 1;
  const timeline = header.timeline.some((s) => isCut(s) !== Boolean(s.cut)) ? header.timeline.map((s): Stretch => ({ take: s.take, from: s.from, to: s.to, ...(isCut(s) ? { cut: true } : {}) })) : header.timeline;
  return Object.fromEntries(Object.entries({ ...header, timeline }).filter(([, v]) => v !== undefined)) as unknown as NoteHeader;
}

/**
 * @param by who changes the note; without it nothing gets a version and `changed` stays (for what is worked out and not kept).
 * @throws EditError when a row could not be read again: nothing that cannot be read may be written.
 */
export function applyEdit(note: Note, edit: Edit, by?: By): { note: Note; inverse: Edit } {
  const versions = by && !edit.foreign ? new Versions(note.seen, by) : null;
  const noticed = edit.foreign ? new Versions(note.seen, { device: '', now: 0 }) : null;
  if (!edit.foreign && !edit.put?.every(isInRange) && edit.put?.length) throw new EditError('This cannot be kept: it has numbers that no page has. Nothing was changed.');
  const tally = new Tally(note.digest);
  const placed = applyPlaced(note, edit, versions, tally, by);
  const table = applyRows(note, edit, versions, tally, by);
  if (noticed) for (const { s } of [...(edit.put ?? []), ...(edit.cut ?? []), ...(edit.rows ?? [])]) noticed.notice(s);
  const rows = touchesPages(table.rows, edit) ? withPages(table.rows, placed.ink) : table.rows;
  const changed = by ? Math.max(Math.floor(by.now), note.header.changed + 1) : Math.max(note.header.changed, edit.foreign?.changed ?? 0);
  const points = placed.put.some(pointsTo) || edit.put?.some(pointsTo) || [...table.back, ...(edit.rows ?? [])].some(namesContents);
  const shown = { ...table.shown, ...(rows.pages !== table.rows.pages ? showTable(rows, 'pages') : {}), ...(points ? { contents: orNone(contentsOf(rows, placed.ink)) } : {}) };
  const state = stateText(tally.digest);
  const header = Object.keys(shown).length || changed !== note.header.changed || state !== note.header.state ? clean({ ...note.header, ...shown, changed, state }) : note.header;
  const inverse: Edit = { ...(placed.put.length ? { put: placed.put } : {}), ...(placed.cut.length ? { cut: placed.cut } : {}), ...(table.back.length ? { rows: table.back } : {}) };
  return { note: { header, rows, ink: placed.ink, gone: placed.gone, seen: versions?.seen ?? noticed?.seen ?? note.seen, digest: tally.digest }, inverse };
}

/** Whether which pages stand may be another than before. */
const touchesPages = ({ pages }: Rows, { put: coming, cut, rows }: Edit): boolean =>
  rows?.some((r) => r.table === 'pages') || coming?.some((it) => !pages?.get(it.page)?.v) || cut?.some((it) => pages?.get(it.page)?.last !== undefined) || coming?.some((it) => pages?.get(it.page)?.last !== undefined) || false;

function withoutPast({ past: _, ...rest }: Placed, s: Version): object {
  return { ...rest, s };
}

/** With the versions of its parts, where it has any. */
const versioned = (it: Placed, was: Placed | undefined, s: Version): Placed => (was?.kind === it.kind && kindOf(it).versioned?.(it, was, s) as Placed | undefined) || it;

const pointsTo = (it: Placed): boolean => contentsOfPlaced(it).length > 0;
const namesContents = ({ table, v }: RowPut): boolean => table === 'contents' || (v !== null && hashesIn(v).length > 0);

function applyPlaced(note: Note, edit: Edit, versions: Versions | null, tally: Tally, by?: By) {
  const backPut: Placed[] = [];
  const backCut: { id: string; page: string }[] = [];
  let { ink } = note;
  if (!edit.put?.length && !edit.cut?.length) return { ink, gone: note.gone, put: backPut, cut: backCut };
  const pages = new Map<string, { put: Placed[]; cut: Set<string> }>();
  const at = (page: string) => {
    let p = pages.get(page);
    if (!p) pages.set(page, (p = { put: [], cut: new Set() }));
    return p;
  };
  for (const c of edit.cut ?? []) at(c.page).cut.add(c.id);
  for (const s of edit.put ?? []) at(s.page).put.push(s);
  const before = new Map<string, Placed>();
  const next: Record<string, readonly Placed[]> = { ...ink };
  const arriving = new Set<string>();
  for (const [page, change] of pages) {
    const had = ink[page] ?? [];
    const incoming = new Set(change.put.map((s) => s.id));
    let kept: readonly Placed[] = had;
    if (change.cut.size || had.some((s) => incoming.has(s.id))) {
      const stay: Placed[] = [];
      for (const s of had) {
        if (incoming.has(s.id) || change.cut.has(s.id)) {
          backPut.push(s);
          before.set(s.id, s);
          tally.placed(s);
        } else stay.push(s);
      }
      kept = stay;
    }
    next[page] = kept;
    for (const s of change.put) {
      if (before.get(s.id)?.page !== page) backCut.push({ id: s.id, page });
      arriving.add(s.id);
    }
  }
  // Versions come in the order of the edit, whatever page things lie on.
  let gone: Map<string, Gone> | null = null;
  const traces = () => (gone ??= new Map(note.gone));
  for (const [page, change] of pages) {
    const list = versions
      ? change.put.map((s) => {
          const was = before.get(s.id) ?? note.gone.get(s.id);
          const past = pastOf(was?.s, was?.past, by!.device);
          const next = versions.nextOf(s, was?.s);
          const it = versioned(s, before.get(s.id), next);
          // Thousands at a time: one object made for each.
          return Object.freeze(past ? { ...it, s: next, past } : it.past ? withoutPast(it, next) : { ...it, s: next }) as Placed;
        })
      : change.put;
    for (const s of list) {
      tally.placed(s);
      if (!note.gone.has(s.id)) continue;
      tally.gone(s.id, note.gone.get(s.id));
      traces().delete(s.id);
    }
    next[page] = insertInOrder(next[page], list);
  }
  for (const c of edit.cut ?? []) {
    if (arriving.has(c.id)) continue;
    const was = before.get(c.id);
    const past = versions && was ? pastOf(was.s, was.past, by!.device) : c.past;
    const s = edit.foreign ? c.s : versions && was ? versions.next(was.s) : undefined;
    if (!s) continue;
    const trace: Gone = { page: c.page, s, ...(past ? { past } : {}) };
    tally.gone(c.id, traces().get(c.id));
    tally.gone(c.id, trace);
    traces().set(c.id, trace);
  }
  ink = next;
  return { ink, gone: gone ?? note.gone, put: backPut, cut: backCut };
}

function applyRows(note: Note, edit: Edit, versions: Versions | null, tally: Tally, by?: By) {
  const back: RowPut[] = [];
  if (!edit.rows?.length) return { rows: note.rows, shown: null, back };
  const next: Record<string, Map<string, Row>> = {};
  for (const { table, id, v: given, s, past, last: was0 } of edit.rows) {
    const rows = (next[table] ??= new Map(note.rows[table]));
    const was = rows.get(id);
    const v = edit.foreign ? withKey(given) : given;
    if (!edit.foreign && v && isTable(table) && !isReadable(table, v)) throw new EditError('This cannot be kept: no note could be read with it. Nothing was changed.', { cause: TABLES[table].schema.safeParse(v).error });
    back.unshift({ table, id, v: was?.v ?? null });
    const known = pastOf(was?.s, was?.past, by?.device ?? '');
    const last = v ? undefined : edit.foreign ? withKey(was0) : isTable(table) && TABLES[table].keepsLast ? (was?.v ?? was?.last) : undefined;
    tally.row(table, id, was);
    if (versions) rows.set(id, { s: versions.next(was?.s), ...(known ? { past: known } : {}), ...(last ? { last: Object.freeze(last) } : {}), v: v && Object.freeze(v) });
    else if (edit.foreign) rows.set(id, { s: s ?? null, ...(past ? { past } : {}), ...(last ? { last: Object.freeze(last) } : {}), v: v && Object.freeze(v) });
    // Without versions there is nobody to bring together with, and no need of a trace.
    else if (v) rows.set(id, { s: null, v: Object.freeze(v) });
    else rows.delete(id);
    tally.row(table, id, rows.get(id));
  }
  const rows: Rows = { ...note.rows, ...next };
  // Which stretches are heard follows from the takes too.
  const touched = new Set([...Object.keys(next), ...(next.takes ? ['stretches'] : [])]);
  const shown = Object.assign({}, ...[...touched].filter(isTable).map((t) => showTable(rows, t))) as Partial<NoteHeader>;
  return { rows, shown, back };
}


function insertInOrder(list: readonly Placed[], add: readonly Placed[]): readonly Placed[] {
  if (!add.length) return list;
  const last = list.at(-1);
  const sorted = add.length > 1 ? [...add].sort(placedOrder) : add;
  if (!last || placedOrder(last, sorted[0]) < 0) return [...list, ...sorted];
  if (add.length > 1) return [...list, ...sorted].sort(placedOrder);
  let [lo, hi] = [0, list.length];
  while (lo < hi) {
    const mid = (lo + hi) >> 1;
    if (placedOrder(list[mid], add[0]) < 0) lo = mid + 1;
    else hi = mid;
  }
  return [...list.slice(0, lo), add[0], ...list.slice(lo)];
}

export const isEmptyEdit = (e: Edit): boolean => !e.put?.length && !e.cut?.length && !e.rows?.length;

/** Several edits as one. */
export const joined = (...edits: readonly Edit[]): Edit => ({ put: edits.flatMap((e) => e.put ?? []), cut: edits.flatMap((e) => e.cut ?? []), rows: edits.flatMap((e) => e.rows ?? []) });

export function countPlaced(ink: Ink): number {
  let n = 0;
  for (const page of Object.values(ink)) n += page.length;
  return n;
}
