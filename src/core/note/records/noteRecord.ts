/** The small record of a note: what lists show of it. What it is made of lies in its rows and its ink. */
import { z } from 'zod';
import { JsonRecord } from '../../record';
import { LAST_MS } from '../limits';
import { headerSchema, linkSchema, markSchema, pageSchema, stretchSchema, summaryOf, takeSchema, type NoteHeader, type NoteSummary } from '../schema';

/** A note that is here must be listed, whatever some clock or file said of it. */
const time = z.number().transform((v) => Math.min(LAST_MS, Math.max(0, v)));
const summarySchema = z.looseObject({
  id: z.string().min(1).max(64),
  title: z.string().max(500),
  made: time,
  changed: time,
  /** Empty while the note is being written: then its extent has it. */
  state: z.string().max(64).optional(),
  demo: z.boolean().optional(),
  readOnly: z.boolean().optional(),
  takes: z.array(takeSchema),
  timeline: z.array(stretchSchema),
  marks: z.array(markSchema).optional(),
  links: z.array(linkSchema).optional(),
  contents: z.array(z.string()).optional(),
  kept: z.number().int().min(1).optional(),
  pages: z.number().int().min(1),
  first: pageSchema,
  tagged: z.boolean(),
  leadsTo: z.array(z.string()).optional(),
});

/** Before version 2 the record was the whole header. */
const lead = (old: unknown): unknown => {
  const header = headerSchema.safeParse(old);
  return header.success ? { ...summaryOf(header.data as unknown as NoteHeader), v: 2 } : old;
};

export const noteRecord = new JsonRecord<NoteSummary>({ what: 'the note', version: 2, schema: summarySchema, up: { 1: lead } });

/** How many records of ink and of rows a note has: with it a note is opened without a walk through the keys of all notes. */
export interface Extent {
  readonly ink: number;
  readonly rows: number;
  /** The state of the note as all its records have it together (`state.ts`); absent where an older program wrote last. */
  readonly state?: string;
}
/** A million records of 128 strokes are none: what claims more would be looked for one by one. */
const count = z.number().int().min(0).max(1_000_000);
const extentRecord = new JsonRecord<Extent>({ what: 'the extent of a note', version: 2, schema: z.looseObject({ ink: count, rows: count, state: z.string().max(64).optional() }), up: { 1: (old: unknown) => ({ ink: Number(old), rows: 0 }) } });
export const writeExtent = (extent: Extent): string => extentRecord.write(extent);
/** Null when there is none that can be read: then the records are looked for. */
export function readExtent(text: string | null): Extent | null {
  if (text === null) return null;
  try {
    return extentRecord.peek(text).value;
  } catch {
    return null;
  }
}

/** A whole header as it was stored before version 2; null for a record of today. @throws RecordError */
export function oldHeader(text: string): NoteHeader | null {
  const json = JSON.parse(text) as { v?: number };
  return (json.v ?? 1) > 1 ? null : (headerSchema.parse(json) as unknown as NoteHeader);
}
