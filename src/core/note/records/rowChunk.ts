/** Rows of a note in one record: about a hundred together, since one record a row would be read eight times slower. */
import { z } from 'zod';
import { asciiJson, JsonRecord } from '../../record';
import type { Row } from '../tables';
import type { Past } from '../version';

export interface PlacedRow extends Row {
  readonly table: string;
  readonly id: string;
}

/** A table could be called what every object has already: no row can lie there. */
const tableName = z.string().refine((t) => !(t in {}));
/** Table, id, value (null for a trace); then clock, number of the device and its counter where it has a version; then what was known before it. */
const storedRow = z.tuple([tableName, z.string(), z.record(z.string(), z.unknown()).nullable()]).rest(z.unknown());
const versionTail = z.tuple([z.number(), z.number().int().min(0), z.number().int().min(0)]).rest(z.unknown());
const pastSchema = z.record(z.string(), z.number());
const chunk = new JsonRecord<{ devices: string[]; rows: unknown[] }>({ what: 'rows of a note', version: 1, schema: z.looseObject({ devices: z.array(z.string()), rows: z.array(z.unknown()) }) });

export function writeRows(rows: Iterable<PlacedRow>): string {
  const devices: string[] = [];
  const list = [...rows].map(({ table, id, v, s, past }) => {
    const row: unknown[] = [table, id, v];
    if (s) {
      let d = devices.indexOf(s[1]);
      if (d < 0) d = devices.push(s[1]) - 1;
      row.push(s[0], d, s[2]);
      if (past) row.push(past);
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
    const device = tail?.success ? value.devices[tail.data[1]] : undefined;
    if (!parsed.success || (tail && device === undefined)) {
      lost++;
      continue;
    }
    const past = tail?.success && tail.data.length > 3 ? pastSchema.safeParse(tail.data[3]) : null;
    const [table, id, v] = parsed.data;
    rows.push({ table, id, v: v && Object.freeze(v), s: tail?.success ? [tail.data[0], device!, tail.data[2]] : null, ...(past?.success ? { past: past.data as Past } : {}) });
  }
  return { rows, lost, newer };
}
