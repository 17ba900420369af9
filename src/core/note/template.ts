/** A page of the writer's own that other pages begin as: its paper and the ink on it. */
import { z } from 'zod';
import { JsonRecord, splitRecord } from '../record';
import { binaryOf, textOf } from './binaryText';
import { contentsOfPlaced } from './contents';
import { copiedPlaced } from './copy';
import { noteOf, type Note } from './edit';
import type { Placed } from './kinds/kinds';
import { readInk, writeInk } from './records/inkChunk';
import { formSchema, newPage, type Page, type PageForm } from './schema';

const head = new JsonRecord<Omit<Template, 'placed'>>({ what: 'a template', version: 1, schema: z.looseObject({ id: z.string().min(1).max(64), name: z.string().min(1).max(60), made: z.number(), form: formSchema, contents: z.record(z.string().regex(/^[0-9a-f]{64}$/), z.string()).optional() }) });

export interface Template {
  readonly id: string;
  readonly name: string;
  readonly made: number;
  readonly form: PageForm;
  readonly placed: readonly Placed[];
  /** Pictures that it shows: base64 by their hash. It carries them along, since it belongs to no note that would keep them. */
  readonly contents?: Readonly<Record<string, string>>;
}

/** What the pictures of one template may take together, bytes: all templates are in memory together. */
export const MOST_CONTENTS = 8 << 20;

/** A sticker is kept as a template is, told by the beginning of its id; its form is as large as what is on it. */
export const STICKER = 'sticker-';
export const isSticker = ({ id }: Pick<Template, 'id'>): boolean => id.startsWith(STICKER);

/** A line of JSON, a line feed, and the ink as in a record of a note. */
export const writeTemplate = ({ placed, ...rest }: Template): string => `${head.write(rest)}\n${writeInk(placed)}`;

/** @throws RecordError when it cannot be read, NewerError. */
export function readTemplate(text: string): Template {
  const [top, ink] = splitRecord(text);
  const { id, name, made, form, contents } = head.read(top);
  return { id, name, made, form, placed: readInk(ink).placed, ...(contents ? { contents } : {}) };
}

/** As a note of one page, and back: so it travels as a bundle, which other programs can read. */
export const noteOfTemplate = ({ id, name, made, form, placed }: Template): Note =>
  noteOf({ v: 2, id, title: name, made, changed: made, pages: [newPage(id, form)], takes: [], timeline: [] }, placed.length ? { [id]: placed.map((s) => ({ ...s, page: id })) } : {});
export const templateOfNote = ({ header, ink }: Note, contents: ReadonlyMap<string, Uint8Array>): Template => templateOf(header.pages[0], ink[header.pages[0].id] ?? [], header.title.slice(0, 60) || 'Template', header.id, header.made, contents);

/** The pictures it carries. */
export const contentsOfTemplate = ({ contents }: Template): Map<string, Uint8Array> => new Map(Object.entries(contents ?? {}).map(([hash, text]) => [hash, binaryOf(atob(text))]));

/** What is kept of a page: no sound belongs to it. `contents`: of the note it is taken from. */
export function templateOf({ w, h, paper }: Page, placed: readonly Placed[], name: string, id: string, made: number, contents: ReadonlyMap<string, Uint8Array> = new Map()): Template {
  const carried = [...new Set(placed.flatMap(contentsOfPlaced))].flatMap((hash) => (contents.has(hash) ? [[hash, btoa(textOf(contents.get(hash)!))]] : []));
  return { id, name, made, form: { w, h, paper }, ...(carried.length ? { contents: Object.fromEntries(carried) as Record<string, string> } : {}), placed: placed.map(({ second: _, s: __, past: ___, ...it }) => Object.freeze({ ...it, stamp: null }) as Placed) };
}

/** A page that begins as a template, dated `now`, ms. */
export function pageFrom(template: Template, now: number, newId: () => string): { page: Page; placed: Placed[] } {
  const page = newPage(newId(), template.form);
  return { page, placed: copiedPlaced(template.placed, () => page.id, newId).copies.map((s) => Object.freeze({ ...s, stamp: null, wall: now })) };
}
