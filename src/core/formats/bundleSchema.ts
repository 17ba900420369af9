/** What `note.json` of a bundle holds, as a JSON Schema (draft 7) for other programs: docs/bundle.schema.json, written by `npx tsx scripts/schema.ts`. */
import { z } from 'zod';
import { headerSchema } from '../note/schema';

const bundleNote = headerSchema.extend({
  format: z.literal('scrivo bundle'),
  v: z.number().int().min(1).max(3),
  rows: z
    .looseObject({ v: z.number().int().min(1), devices: z.array(z.string()), rows: z.array(z.tuple([z.string().describe('table'), z.string().describe('id'), z.record(z.string(), z.unknown()).nullable().describe('value; null where the row was taken away')]).rest(z.unknown())) })
    .optional()
    .describe('What the note is made of, with versions. Absent in version 1.'),
  gone: z.array(z.tuple([z.string(), z.string()]).rest(z.union([z.number(), z.string(), z.record(z.string(), z.number())]))).optional().describe('Things that were taken off the pages: id, page, version: ms since 1970, counter of the clock, device, counter of the device; before version 3 the clock was one number, ms times 4096 plus the counter.'),
  unknown: z.array(z.looseObject({ id: z.string(), page: z.string(), kind: z.literal('unknown'), of: z.string(), fields: z.record(z.string(), z.unknown()), wall: z.number(), pts: z.array(z.number().int().min(0).max(255)) })).optional().describe('Things that InkML has no words for, pictures and typed lines among them.'),
});

export const bundleJsonSchema = (): object => ({ title: 'note.json of a Scrivo bundle', ...z.toJSONSchema(bundleNote, { target: 'draft-7', unrepresentable: 'any' }) });
