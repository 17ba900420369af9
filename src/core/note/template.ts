/** A page of the writer's own that other pages begin as: its paper and the ink on it. */
import { z } from 'zod';
import type { Stroke } from '../ink/stroke';
import { copiedStrokes } from './copy';
import type { Note } from './edit';
import { readChunk, RecordError, writeChunk } from './records';
import { formSchema, newPage, type Page, type PageForm } from './schema';

const headSchema = z.object({ v: z.literal(1), id: z.string().min(1).max(64), name: z.string().min(1).max(60), made: z.number(), form: formSchema });

export interface Template {
  readonly id: string;
  readonly name: string;
  readonly made: number;
  readonly form: PageForm;
  readonly strokes: readonly Stroke[];
}

/** A line of JSON, a line feed, and the ink as in a record of a note. */
export const writeTemplate = ({ id, name, made, form, strokes }: Template): string => `${JSON.stringify({ v: 1, id, name, made, form })}\n${writeChunk(strokes)}`;

/** @throws RecordError when it cannot be read. */
export function readTemplate(text: string): Template {
  const end = text.indexOf('\n');
  let json: unknown = null;
  try {
    json = JSON.parse(text.slice(0, Math.max(0, end)));
  } catch {
    // Told below.
  }
  const head = headSchema.safeParse(json);
  if (!head.success) throw new RecordError('A template cannot be read.');
  const { id, name, made, form } = head.data;
  return { id, name, made, form, strokes: readChunk(text.slice(end + 1)).strokes };
}

/** As a note of one page, and back: so it travels as a bundle, which other programs can read. */
export const noteOfTemplate = ({ id, name, made, form, strokes }: Template): Note => {
  const page = newPage(id, form);
  return { header: { v: 1, id, title: name, made, changed: made, pages: [page], takes: [], timeline: [] }, ink: strokes.length ? { [id]: strokes.map((s) => ({ ...s, page: id })) } : {} };
};
export const templateOfNote = ({ header, ink }: Note): Template => templateOf(header.pages[0], ink[header.pages[0].id] ?? [], header.title.slice(0, 60) || 'Template', header.id, header.made);

/** What is kept of a page: no sound belongs to it. */
export function templateOf({ w, h, paper }: Page, strokes: readonly Stroke[], name: string, id: string, made: number): Template {
  return { id, name, made, form: { w, h, paper }, strokes: strokes.map((s) => Object.freeze({ ...s, stamp: null, second: undefined })) };
}

/** A page that begins as a template, dated `now`, ms. */
export function pageFrom(template: Template, now: number, newId: () => string): { page: Page; strokes: Stroke[] } {
  const page = newPage(newId(), template.form);
  return { page, strokes: copiedStrokes(template.strokes, () => page.id, newId).copies.map((s) => Object.freeze({ ...s, stamp: null, wall: now })) };
}
