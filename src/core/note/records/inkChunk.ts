/**
 * What lies on pages, in one record: a line of JSON about it, a line feed, and the packed points of all of it as characters 0..255. Text of
 * such characters is kept by browsers at a byte a character, which base64 in JSON would exceed by a third.
 *
 * Pens, pages, takes and devices are named once and pointed to by number; bounds and length of a stroke follow from its points, and its
 * version, while it is as it was written, from when it was: runs of versions with one device and counters in a row take a few bytes.
 * Version 1 had strokes alone, without versions and traces; version 2 had the clock of a version as one number.
 */
import { z } from 'zod';
import { penKey, type Pen } from '../../ink/pen';
import { boxOf, pointsOf, type Box, type Stroke } from '../../ink/stroke';
import { asciiJson, NewerError, parseJson, RecordError, splitRecord, versionOf } from '../../record';
import type { Gone } from '../edit';
import { binaryOf, textOf } from '../binaryText';
import { areaInDisguise, areaKind } from '../kinds/area';
import { KINDS, readPlaced, type Placed } from '../kinds/kinds';
import { strokeKind } from '../kinds/stroke';
import { penSchema, placedSchema } from '../schema';
import { LAST_MS, LONGEST_MS } from '../limits';
import { freshHybrid, freshMs, ofHybrid, pastSchema, versionOfJson, type Past, type Version } from '../version';

const VERSION = 3;

const index = z.number().int().min(0);
const count = z.number().int().min(1);
const id = z.string().min(1).max(64);
const at = z.number().min(0).max(LONGEST_MS);
/** A moment, as its distance from that of the record, ms. */
const since = z.number().min(-LAST_MS).max(LAST_MS);
const size = z.number().int().min(0);
const fields = z.record(z.string(), z.unknown());
/** So many in a row with this device and counters from here; what the clock of each differs by from that of fresh ink, where it does: ms, and the clock's counter. */
const run = z.tuple([count, index, index]).rest(z.array(z.number()));
const trace = z.tuple([id, index, z.number(), z.number(), index, index]).rest(z.unknown());
const chunkHead = z.looseObject({
  v: z.number().int().min(1),
  /** Wall clock that what is in it counts from, ms since the epoch. */
  wall: z.number().min(-LAST_MS).max(LAST_MS),
  pages: z.array(z.string().min(1)),
  pens: z.array(penSchema),
  takes: z.array(z.string().min(1)),
  strokes: z.array(z.unknown()),
  /** What is not a stroke. */
  others: z.array(z.unknown()).optional(),
  devices: z.array(z.string()).optional(),
  /** Versions of strokes and others, in their order; an entry 0 n for n without one. */
  versions: z.array(z.union([run, z.tuple([z.literal(0), count])])).optional(),
  pasts: z.array(z.tuple([index, pastSchema])).optional(),
  gone: z.array(z.unknown()).optional(),
});

/** Id, page, pen, wall clock, bytes of points; then take and take time in ms where it has a stamp; then its extras where it has any. */
const storedStroke = z.union([
  z.tuple([id, index, index, since, size]),
  z.tuple([id, index, index, since, size, fields]),
  z.tuple([id, index, index, since, size, index, at]),
  z.tuple([id, index, index, since, size, index, at, fields]),
]);
/** Id, page, kind, wall clock, bytes of points, its fields; then take and take time. */
const storedOther = z.union([z.tuple([id, index, z.string().min(1), since, size, fields]), z.tuple([id, index, z.string().min(1), since, size, fields, index, at])]);
const SIZE = 4;

class Names<T> {
  readonly list: T[] = [];
  private readonly known = new Map<string, number>();
  at(key: string, value: T): number {
    let i = this.known.get(key);
    if (i === undefined) this.known.set(key, (i = this.list.push(value) - 1));
    return i;
  }
}

/** What the record says of it in no other place; null when that is nothing. */
export function own(it: Placed): Record<string, unknown> | null {
  const { id: _id, page: _page, kind: _kind, box: _box, stamp: _stamp, wall: _wall, ms: _ms, s: _s, past: _past, pts: _pts, pen: _pen, unread, ...rest } = it as Stroke & { unread?: Record<string, unknown> };
  const all: Record<string, unknown> = { ...unread, ...rest };
  for (const k in all) if (all[k] !== undefined) return all;
  return null;
}

export function writeInk(placed: Iterable<Placed>, gone: Iterable<readonly [string, Gone]> = []): string {
  const [pages, pens, takes, devices] = [new Names<string>(), new Names<Pen>(), new Names<string>(), new Names<string>()];
  const all = [...placed];
  const strokes = all.filter((p): p is Stroke => p.kind === 'stroke');
  const others = all.filter((p): p is Exclude<Placed, Stroke> => p.kind !== 'stroke');
  const wall = (strokes[0] ?? others[0])?.wall ?? 0;
  const stampOf = ({ stamp }: Placed): unknown[] => (stamp ? [takes.at(stamp.take, stamp.take), stamp.at] : []);
  const rows = strokes.map((s) => {
    const { pen } = s;
    const row: unknown[] = [s.id, pages.at(s.page, s.page), pens.at(penKey(pen), pen), s.wall - wall, s.pts.length, ...stampOf(s)];
    const extras = own(s);
    if (extras) row.push(extras);
    return row;
  });
  const more = others.map((o) => {
    const [kind, about] = o.kind === 'unknown' ? [o.of, o.fields] : [o.kind, own(o) ?? {}];
    return [o.id, pages.at(o.page, o.page), kind, o.wall - wall, o.pts.length, about, ...stampOf(o)];
  });
  const list: Placed[] = [...strokes, ...others];
  const pasts = list.flatMap((p, i) => (p.past ? [[i, p.past] as const] : []));
  const traces = [...gone].map(([key, { page, s, past }]) => [key, pages.at(page, page), s[0], s[1], devices.at(s[2], s[2]), s[3], ...(past ? [past] : [])]);
  const versions = runsOf(list, devices);
  const head = {
    v: VERSION, wall, pages: pages.list, pens: pens.list, takes: takes.list, strokes: rows,
    ...(more.length ? { others: more } : {}),
    ...(devices.list.length ? { devices: devices.list } : {}),
    ...(versions.length ? { versions } : {}),
    ...(pasts.length ? { pasts } : {}),
    ...(traces.length ? { gone: traces } : {}),
  };
  return `${asciiJson(head)}\n${list.map((s) => textOf(s.pts)).join('')}`;
}

type Run = [number, number, number, number[]?] | [0, number];

function runsOf(list: readonly Placed[], devices: Names<string>): Run[] {
  const runs: Run[] = [];
  if (!list.some((p) => p.s)) return runs;
  for (const p of list) {
    const last = runs.at(-1);
    if (!p.s) {
      if (last && last[0] === 0) last[1]++;
      else runs.push([0, 1]);
      continue;
    }
    const [ms, n, d, q] = p.s;
    const [device, off] = [devices.at(d, d), ms - freshMs(p)];
    const isFresh = off === 0 && n === 0;
    if (last && last[0] > 0 && last[1] === device && last[2]! + last[0] === q && isFresh === (last[3] === undefined)) {
      last[0]++;
      last[3]?.push(off, n);
    } else runs.push(isFresh ? [1, device, q] : [1, device, q, [off, n]]);
  }
  return runs;
}

export interface InkRead {
  readonly placed: Placed[];
  readonly gone: (readonly [string, Gone])[];
  /** How many things could not be read. */
  readonly lost: number;
}

/** What cannot be read is left out and counted in `lost`. @throws RecordError when the record as a whole cannot be read, NewerError. */
export function readInk(text: string): InkRead {
  const [top, points] = splitRecord(text);
  const json = parseJson(top, 'ink');
  const head = chunkHead.safeParse(json);
  if (versionOf(json) > VERSION) throw new NewerError('A part of the ink of this note was made by a newer Scrivo. Update Scrivo to see and change it; until then it is left as it is.');
  if (!head.success) throw new RecordError('A record of ink cannot be read.');
  const { wall, pages, pens, takes, devices = [] } = head.data;
  const isHybrid = versionOf(json) < 3;
  const versions = versionsOf(head.data.versions ?? [], devices, isHybrid);
  const pasts = new Map<number, Past>(head.data.pasts ?? []);
  const placed: Placed[] = [];
  let [lost, pos, n] = [0, 0, 0];
  const each = (raw: unknown, make: (pts: Uint8Array) => Placed | null) => {
    const bytes = Array.isArray(raw) ? (raw as unknown[])[SIZE] : null;
    // Without its size the points of all that follow cannot be found.
    if (typeof bytes !== 'number') throw new RecordError('A record of ink cannot be read (a stroke without its size).');
    const pts = binaryOf(points.slice(pos, pos + bytes));
    pos += bytes;
    const i = n++;
    try {
      const made = pts.length === bytes ? make(pts) : null;
      if (!made) return void lost++;
      const s = versions[i]?.(made);
      const past = pasts.get(i);
      placed.push(Object.freeze({ ...made, ...(s ? { s } : {}), ...(past ? { past } : {}) }));
    } catch (e) {
      if (!(e instanceof RangeError)) throw e;
      lost++;
    }
  };
  const stampOf = (take: unknown, when: unknown) => (typeof take === 'number' && typeof when === 'number' ? { take: takes[take], at: when } : null);
  for (const raw of head.data.strokes) {
    each(raw, (pts) => {
      const parsed = storedStroke.safeParse(raw);
      if (!parsed.success) return null;
      const [key, page, pen, since, , ...rest] = parsed.data;
      const about = measured(pts);
      const stamp = stampOf(rest[0], rest[1]);
      if (pages[page] === undefined || pens[pen] === undefined || (stamp && stamp.take === undefined) || about.n === 0) return null;
      const last = rest[rest.length - 1];
      const extras = typeof last === 'object' ? strokeKind.schema.safeParse(last) : null;
      // Extras that cannot be read cost the stroke its shape, not its ink, and go back as they came.
      const shown = extras?.success ? (extras.data as object) : last && typeof last === 'object' ? { unread: last } : {};
      const made: Stroke = { kind: 'stroke', id: key, page: pages[page], pen: pens[pen], stamp, wall: wall + since, pts, box: about.box, ms: about.ms, ...shown };
      return (head.data.v < 2 && areaInDisguise(made)) || made;
    });
  }
  for (const raw of head.data.others ?? []) {
    each(raw, (pts) => {
      const parsed = storedOther.safeParse(raw);
      if (!parsed.success) return null;
      const [key, page, of, since, , about, take, when] = parsed.data;
      const stamp = stampOf(take, when);
      if (pages[page] === undefined || (stamp && stamp.take === undefined)) return null;
      const base = { id: key, page: pages[page], stamp, wall: wall + since, pts };
      if (of === 'area') {
        const mine = areaKind.schema.safeParse(about);
        const outline = measured(pts);
        if (mine.success && placedSchema.safeParse(about).success && outline.n > 0) return { ...base, ...(mine.data as { fill: string }), kind: 'area', box: outline.box, ms: 0 };
      }
      const known = readPlaced(of, base, about);
      if (known) return known;
      const box = (Array.isArray(about.box) && about.box.length === 4 ? about.box : pts.length && of in KINDS ? measured(pts).box : [0, 0, 0, 0]) as unknown as Box;
      return { ...base, kind: 'unknown', of, fields: about, box, ms: 0 };
    });
  }
  const gone: (readonly [string, Gone])[] = [];
  for (const raw of head.data.gone ?? []) {
    const parsed = trace.safeParse(isHybrid ? withClock(raw) : raw);
    const s = parsed.success ? versionOfJson([parsed.data[2], parsed.data[3], devices[parsed.data[4]], parsed.data[5]]) : undefined;
    if (!parsed.success || pages[parsed.data[1]] === undefined || !s) continue;
    const past = pastSchema.safeParse(parsed.data[6]);
    gone.push([parsed.data[0], { page: pages[parsed.data[1]], s, ...(past.success ? { past: past.data } : {}) }]);
  }
  return { placed, gone, lost };
}

const measured = (pts: Uint8Array) => {
  const points = pointsOf({ pts });
  return { n: points.n, box: boxOf(points), ms: points.n ? points.t[points.n - 1] : 0 };
};

/** A trace of version 2, with its clock in two fields. */
function withClock(raw: unknown): unknown {
  if (!Array.isArray(raw) || typeof raw[2] !== 'number' || !Number.isFinite(raw[2])) return raw;
  const [key, page, h, ...rest] = raw as [unknown, unknown, number, ...unknown[]];
  const [ms, n] = ofHybrid(h, '', 0);
  return [key, page, ms, n, ...rest];
}

function versionsOf(runs: readonly (readonly unknown[])[], devices: readonly string[], isHybrid: boolean): ((it: Placed) => Version | undefined)[] {
  const out: ((it: Placed) => Version | undefined)[] = [];
  for (const r of runs as readonly Run[]) {
    const n = r[0] === 0 ? r[1] : r[0];
    for (let i = 0; i < n; i++) {
      if (r[0] === 0) out.push(() => undefined);
      else {
        const [, d, q, off] = r;
        const counter = q! + i;
        if (isHybrid) out.push((it) => versionOfJson([freshHybrid(it) + (off?.[i] ?? 0), devices[d], counter]));
        else out.push((it) => (devices[d] === undefined ? undefined : off ? versionOfJson([freshMs(it) + off[2 * i], off[2 * i + 1], devices[d], counter]) : [freshMs(it), 0, devices[d], counter]));
      }
    }
  }
  return out;
}
