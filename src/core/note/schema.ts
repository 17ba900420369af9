/** What a note is, and the Zod schemas that every record read from outside must pass. */
import { z } from 'zod';
import { PEN_KINDS } from '../ink/pen';
import { SHAPE_NAMES } from '../ink/shapes/shape';
import type { Stroke } from '../ink/stroke';
import type { Stretch, Timeline } from '../time/timeline';
import { LAST_MS, LONGEST_MS } from './limits';

const id = z.string().min(1).max(64);
const ms = z.number().min(0).max(LONGEST_MS);
const time = z.number().min(0).max(LAST_MS);

const color = z.string().regex(/^#[0-9a-f]{6}$/i);
const unit = z.number().min(0).max(1);

export const penSchema = z.object({
  kind: z.enum(PEN_KINDS),
  color,
  width: z.number().min(0.05).max(50),
  opacity: unit.optional(),
  line: z.enum(['dashed', 'dotted']).optional(),
  angle: z.number().min(-360).max(360).optional(),
});

export const penSettingSchema = penSchema.extend({
  id,
  name: z.string().max(40),
  response: z.number().min(-1).max(1),
  steadiness: unit,
  straight: z.boolean(),
});

const place = z.tuple([z.number(), z.number()]);
const anchor = z.object({ to: id, u: unit });
/** How many places of a shape are given, by its name; polygons have three and more, bent lines two. */
const CORNERS: Partial<Record<(typeof SHAPE_NAMES)[number], number>> = { line: 2, arrow: 2, curve: 4, circle: 3, ellipse: 3, square: 4, rectangle: 4, diamond: 4, triangle: 3 };
const shapeSchema = z
  .object({ name: z.enum(SHAPE_NAMES), at: z.array(place).min(2).max(64), heads: z.enum(['start', 'end', 'both']).optional(), from: anchor.optional(), to: anchor.optional(), sides: z.literal(true).optional() })
  .refine((s) => s.at.length === CORNERS[s.name] || (s.name === 'polygon' && s.at.length >= 3) || s.name === 'elbow', 'a shape with the wrong number of corners');

/** What only some strokes have. What a later version adds stays with the stroke. */
/** What may be said of everything that lies on a page. */
export const placedSchema = z.looseObject({
  group: id.optional(),
  on: id.optional(),
  lift: z.number().int().min(-1e9).max(1e9).optional(),
  locked: z.boolean().optional(),
  /** Written while listening: its stamp is the moment that was being heard. */
  second: z.literal(true).optional(),
});
export const extrasSchema = placedSchema.extend({ shape: shapeSchema.optional(), fill: color.optional() });
export type Extras = Pick<Stroke, 'shape' | 'fill' | 'group' | 'on' | 'lift' | 'locked' | 'second'>;

export const PAPER_KINDS = ['plain', 'ruled', 'squared', 'dotted', 'isometric', 'cornell', 'columns', 'staves', 'week', 'cover'] as const;
export type PaperKind = (typeof PAPER_KINDS)[number];

const paperSchema = z.looseObject({
  kind: z.enum(PAPER_KINDS),
  /** Distance between lines, squares, dots, or the lines of a staff, mm. */
  spacing: z.number().min(1).max(50),
  /** From the top edge to the first line, mm. */
  top: z.number().min(0).max(500),
  /** An upright line so far from the left edge, mm; none when absent or 0. */
  margin: z.number().min(0).max(500).optional(),
  /** Colours of the sheet and of its lines, where they are not the usual ones. */
  sheet: color.optional(),
  line: color.optional(),
});

/** What a sheet is before anything is written on it; width and height in mm. */
export const formSchema = z.looseObject({ w: z.number().min(20).max(5000), h: z.number().min(20).max(5000), paper: paperSchema });
/**
 * A page has besides what may lie behind its ruling, by the hash of its content: a picture, or of a PDF the page `leaf`, from 0. `password`: what opens
 * a PDF that is locked.
 */
const backdropSchema = z.looseObject({ content: z.string().max(200), leaf: z.number().int().min(0).max(1e6).optional(), password: z.string().max(500).optional() });
/** A page that grows to every side (`board.ts`): where its upper left corner lies by now, mm. */
const boardSchema = z.looseObject({ x: z.number().min(-1e4).max(1e4), y: z.number().min(-1e4).max(1e4) });
export const sheetSchema = formSchema.extend({ backdrop: backdropSchema.optional(), board: boardSchema.optional() });
export const pageSchema = sheetSchema.extend({ id });

export const takeSchema = z.looseObject({
  id,
  name: z.string().max(200),
  /** Wall clock at its start, ms since the epoch. */
  wall: time,
  /** Length of its sound, ms. While it is being recorded: as far as is known. */
  ms,
  state: z.enum(['recording', 'done']),
  /** Where its parts (Record or Resume to Pause or Stop) begin: take time and wall clock, ms. */
  parts: z.array(z.object({ at: ms, wall: time })),
  /** So many ms of sound after its end were lost when the program ended in the middle of it, as far as is known. */
  lost: ms.optional(),
  /** It came from a file: what is written while it plays counts as written while it was recorded. */
  brought: z.literal(true).optional(),
  /** Hash of the film that this is the sound of, and its media type. */
  film: z.object({ content: z.string().regex(/^[0-9a-f]{64}$/), type: z.string().max(100) }).optional(),
});

export const stretchSchema = z.looseObject({ take: id, from: ms, to: ms });

export const MARK_KINDS = ['missed', 'key', 'ask', 'do'] as const;

export const markSchema = z.looseObject({
  id,
  kind: z.enum(MARK_KINDS),
  /** The moment it stands for: where it was pressed, put back by what the writer is late by, and since then perhaps moved. */
  take: id,
  at: ms,
  wall: time,
  text: z.string().max(300).optional(),
});

/** Of ink, or of a text where there is no ink that says it: the outline of a PDF. `y`: how far down the page it stands, mm. */
export const headingSchema = z
  .looseObject({ page: id, strokes: z.array(id), level: z.number().int().min(1).max(3), text: z.string().min(1).max(300).optional(), y: z.number().min(-1000).max(10_000).optional() })
  .refine((h) => h.strokes.length > 0 || h.text !== undefined);
export const linkSchema = z.looseObject({ take: id, note: id });

/** Where things were taken over from: a place of a page of a note (mm), or an address of the web. */
export const originSchema = z.looseObject({
  /** What was taken over. */
  placed: z.array(id).max(20_000),
  note: id.optional(),
  page: id.optional(),
  box: z.tuple([z.number(), z.number(), z.number(), z.number()]).readonly().optional(),
  url: z.string().max(4000).optional(),
});

/** Where a word, a thing or a typed line leads: a page of its note, another note (a page of it, or a moment of its sound), a moment of its own sound, or an address of the web. */
export const refSchema = z.looseObject({
  placed: z.array(id).min(1).max(20_000),
  /** Not the whole typed lines, but those letters of them that bear this name in their look. */
  letters: id.optional(),
  to: z.discriminatedUnion('is', [
    z.looseObject({ is: z.literal('page'), page: id }),
    z.looseObject({ is: z.literal('note'), note: id, page: id.optional(), take: id.optional(), at: z.number().min(0).optional() }),
    z.looseObject({ is: z.literal('moment'), take: id, at: z.number().min(0) }),
    z.looseObject({ is: z.literal('web'), url: z.string().min(1).max(4000) }),
  ]),
});

/** What the writer says that a word is. */
export const writtenSchema = z.looseObject({ strokes: z.array(id).min(1).max(2000), text: z.string().max(500) });

/**
 * A note as its screens see it: worked out from its rows (`tables.ts`), and written beside them into bundles, so that other programs need not
 * know how rows are put together. It was the whole of a record before version 2.
 */
export const headerSchema = z.looseObject({
  v: z.number().int().min(1),
  id,
  title: z.string().max(500),
  made: time,
  changed: time,
  /** True for the notes that came with the demo. */
  demo: z.boolean().optional(),
  pages: z.array(pageSchema).min(1),
  takes: z.array(takeSchema),
  timeline: z.array(stretchSchema),
  marks: z.array(markSchema).optional(),
  /** Runs of takes where nothing was written and nothing is needed. */
  settled: z.array(stretchSchema).optional(),
  /** The writer's own tags of moments, by the first stroke of each. */
  tags: z.array(z.object({ stroke: id, names: z.array(z.string().min(1).max(40)).min(1) })).optional(),
  /** Pages the writer comes back to. */
  bookmarks: z.array(id).optional(),
  /** The writer's own headings: ink that names what follows it, and how deep it stands. */
  headings: z.array(headingSchema).optional(),
  /** Locked against change; it can still be listened to. */
  readOnly: z.boolean().optional(),
  /** Takes of other notes that ink of this one was stamped by: pasted ink whose sound stays where it was recorded. */
  links: z.array(linkSchema).optional(),
  /** Where what was taken over came from. */
  origins: z.array(originSchema).optional(),
  /** Links from what lies on its pages. */
  refs: z.array(refSchema.extend({ id })).optional(),
  /** Words as the writer says they are. */
  written: z.array(writtenSchema).optional(),
  /** Things to do that are done, by the first stroke of their line, their typed line or their mark. */
  ticked: z.array(id).optional(),
  /** Hashes of the pictures and files that it needs. */
  contents: z.array(z.string()).optional(),
});

type Shown<T> = Readonly<T extends object ? { [K in keyof T as string extends K ? never : K]: T[K] } : T>;
export type Paper = Shown<z.infer<typeof paperSchema>>;
export type Backdrop = Shown<z.infer<typeof backdropSchema>>;
export interface PageForm {
  readonly w: number;
  readonly h: number;
  readonly paper: Paper;
}
export interface Page extends PageForm {
  readonly id: string;
  readonly backdrop?: Backdrop;
  readonly board?: { readonly x: number; readonly y: number };
  /** Of a sheet that was cut from a board and is no page of a note: the part of the board that it shows, mm. Its ruling goes on from there. */
  readonly ruled?: readonly [number, number, number, number];
}
export type Take = Shown<z.infer<typeof takeSchema>>;
export type Mark = Shown<z.infer<typeof markSchema>>;
export type MarkKind = Mark['kind'];
export type Heading = Shown<z.infer<typeof headingSchema>>;
export type NoteLink = Shown<z.infer<typeof linkSchema>>;
export type Origin = Shown<z.infer<typeof originSchema>>;
/** Ids of what is touched, and where it leads. */
export interface Ref {
  readonly id: string;
  readonly placed: readonly string[];
  readonly letters?: string;
  readonly to: RefTarget;
}
export type RefTarget = { readonly is: 'page'; readonly page: string } | { readonly is: 'note'; readonly note: string; readonly page?: string; readonly take?: string; readonly at?: number } | { readonly is: 'moment'; readonly take: string; readonly at: number } | { readonly is: 'web'; readonly url: string };

export interface NoteHeader {
  readonly v: number;
  readonly id: string;
  readonly title: string;
  readonly made: number;
  /** For display: when it was changed last, by some clock, ms. */
  readonly changed: number;
  /** Of the versions of all it is made of (`state.ts`): two copies with the same one are the same. Absent before it is worked out. */
  readonly state?: string;
  readonly demo?: boolean;
  readonly pages: readonly Page[];
  readonly takes: readonly Take[];
  readonly timeline: Timeline;
  readonly marks?: readonly Mark[];
  readonly settled?: readonly Stretch[];
  readonly tags?: readonly { readonly stroke: string; readonly names: readonly string[] }[];
  readonly bookmarks?: readonly string[];
  readonly headings?: readonly Heading[];
  readonly readOnly?: boolean;
  readonly links?: readonly NoteLink[];
  readonly written?: readonly { readonly strokes: readonly string[]; readonly text: string }[];
  readonly ticked?: readonly string[];
  readonly origins?: readonly Origin[];
  readonly refs?: readonly Ref[];
  readonly contents?: readonly string[];
  /** So much lost against a change of another device and waits for somebody to choose (`kept.ts`). */
  readonly kept?: number;
}

/** What lists show of a note that is not open. */
export interface NoteSummary extends Pick<NoteHeader, 'id' | 'title' | 'made' | 'changed' | 'state' | 'demo' | 'readOnly' | 'takes' | 'timeline' | 'marks' | 'links' | 'contents' | 'kept'> {
  readonly pages: number;
  readonly first: Page;
  /** Moments of it have tags. */
  readonly tagged: boolean;
  /** Notes that its links lead to, each as often as one does. */
  readonly leadsTo?: readonly string[];
}

export function summaryOf({ id: note, title, made, changed, state, demo, readOnly, takes, timeline, marks, links, contents, kept, pages, tags, refs }: NoteHeader): NoteSummary {
  const leadsTo = (refs ?? []).flatMap(({ to }) => (to.is === 'note' ? [to.note] : []));
  return { id: note, title, made, changed, ...(state === undefined ? {} : { state }), ...(demo ? { demo } : {}), ...(readOnly ? { readOnly } : {}), takes, timeline, ...(marks ? { marks } : {}), ...(links ? { links } : {}), ...(contents ? { contents } : {}), ...(kept ? { kept } : {}), pages: pages.length, first: pages[0], tagged: Boolean(tags?.length), ...(leadsTo.length ? { leadsTo } : {}) };
}

/** Of what note something was made that is kept beside it: its text, its picture, what is unfinished in it. */
export interface MadeOf {
  readonly state?: string;
  readonly changed: number;
}
export const madeOf = ({ state, changed }: MadeOf): MadeOf => ({ ...(state ? { state } : {}), changed });
/** Whether it is still right. Of a note whose state is not known, since no program of today has written it, the time of its last change has to tell. */
export const isOf = (made: MadeOf | undefined, note: MadeOf): boolean => made !== undefined && (note.state ? made.state === note.state : made.changed === note.changed);

export const NEW_PAPER: Paper = { kind: 'ruled', spacing: 8, top: 24 };
/** ISO 216: A4 is 210 mm x 297 mm. */
export const A4 = { w: 210, h: 297 } as const;

export const NEW_FORM: PageForm = { ...A4, paper: NEW_PAPER };

/** What a finger writes on at the width of a phone: there its lines stand 7.5 mm apart on the glass (390 px wide, 96 px to the inch). */
export const SMALL_FORM: PageForm = { w: 105, h: 148, paper: { ...NEW_PAPER, spacing: 9, top: 16 } };

/** A page like another one; like a board, a sheet of its paper. */
export const newPage = (pageId: string, { w, h, paper, board }: PageForm & Pick<Page, 'board'> = NEW_FORM): Page => ({ id: pageId, ...(board ? A4 : { w, h }), paper });
