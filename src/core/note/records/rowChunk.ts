/** Rows of a note in one record: about a hundred together, since one record a row would be read eight times slower. */
import { z } from 'zod';
import { asciiJson, JsonRecord } from '../../record';
import type { Row } from '../tables';
import { ofHybrid, pastSchema, versionOfJson } from '../version';

export interface PlacedRow extends Row {
  readonly table: string;
  readonly id: string;
}

/** A table could be called what every object has already: no row can lie there. */
const tableName = z.string().refine((t) => !(t in {}));
/**
 * Table, id, value (null for a trace); then the clock's ms and counter, number of the device and its counter where it has a version; then what was known before it, and
 * the last value of what was taken away, where they are kept. Version 1 had the clock as one number.
 */
const storedRow = z.tuple([tableName, z.string(), z.record(z.string(), z.unknown()).nullable()]).rest(z.unknown());
const versionTail = z.tuple([z.number(), z.number(), z.number().int().min(0), z.number()]).rest(z.unknown());
const lastSchema = z.record(z.string(), z.unknown());
type Stored = { devices: string[]; rows: unknown[] };
const schema = z.looseObject({ devices: z.array(z.string()), rows: z.array(z.unknown()) });
/** A row of version 1 has clock, device, counter where one of today has ms, counter of the clock, device, counter. */
const lead = (old: unknown): unknown => {
  const read = schema.safeParse(old);
  if (!read.success) return old;
  const now = (row: unknown): unknown => {
    if (!Array.isArray(row) || row.length < 6) return row;
    const [table, id, v, h, d, q, ...rest] = row as unknown[];
    if (typeof h !== 'number' || !Number.isFinite(h)) return row;
    const [ms, n] = ofHybrid(h, '', 0);
    return [table, id, v, ms, n, d, q, ...rest];
  };
  return { ...read.data, rows: read.data.rows.map(now) };
};
const chunk = new JsonRecord<Stored>({ what: 'rows of a note', version: 2, schema, up: { 1: lead } });

export function writeRows(rows: Iterable<PlacedRow>): string {
  const devices: string[] = [];
  const list = [...rows].map(({ table, id, v, s, past, last }) => {
    const row: unknown[] = [table, id, last ? null : v];
    if (s) {
      let d = devices.indexOf(s[2]);
      if (d < 0) d = devices.push(s[2]) - 1;
      row.push(s[0], s[1], d, s[3]);
      if (past || last) row.push(past ?? {});
      if (last) row.push(last);
    }
    return row;
  });
  return asciiJson({ v: chunk.version, devices, rows: list });
}

/** Rows that cannot be read are left out and counted in `lost`. @throws RecordError when the record as a whole cannot be read. */
export function readRows(text: string): { rows: PlacedRow[]; lost: number; newer: boolean } {
  const { value, newer } = chunk.peek(text);
  const rows: PlacedRow[] = [];
  let lost = 0;
  for (const raw of value.rows) {
    const parsed = storedRow.safeParse(raw);
    const tail = parsed.success && parsed.data.length > 3 ? versionTail.safeParse(parsed.data.slice(3)) : null;
    const version = tail?.success ? versionOfJson([tail.data[0], tail.data[1], value.devices[tail.data[2]], tail.data[3]]) : undefined;
    if (!parsed.success || (tail && !version)) {
      lost++;
      continue;
    }
    const [past, last] = [pastSchema.safeParse(tail?.data?.[4]), lastSchema.safeParse(tail?.data?.[5])];
    const [table, id, v] = parsed.data;
    rows.push({ table, id, v: v && Object.freeze(v), s: version ?? null, ...(past.success && Object.keys(past.data).length ? { past: past.data } : {}), ...(last.success && !v ? { last: Object.freeze(last.data) } : {}) });
  }
  return { rows, lost, newer };
}
