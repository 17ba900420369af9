/** Changes of a note's pages as edits: adding, moving, copying, deleting, their paper; headings and bookmarks. */
import { boxAround, type Box } from '../ink/stroke';
import { keptIn, move } from '../ink/transform';
import { append } from '../time/editTimeline';
import { anchored, meets } from './anchors';
import { asBoard, BOARD_KINDS } from './board';
import { copiedPlaced, rowsAlong } from './copy';
import { drop, put, type Edit, type Note, type RowPut } from './edit';
import { mapPlaced, type Placed } from './kinds/kinds';
import { orderAt } from './order';
import { writingLines } from './paper';
import { newPage, type Page, type PageForm, type Paper } from './schema';
import { entriesOf, inTheirOrder, TABLE_NAMES, TABLES } from './tables';

/** Nothing is ruled over a page that was printed. Lines for tidying and for making room stand as on a plain sheet. */
const LEAF_PAPER: Paper = { kind: 'plain', spacing: 8, top: 24, sheet: '#ffffff' };
/** A heading of text counts as so high, mm. */
const TEXT_HIGH_MM = 6;

const pageRows = (note: Note) => inTheirOrder(note.rows, 'pages');
const pageRow = (id: string, { id: _, ...sheet }: Page, order: string): RowPut => put('pages', id, { ...sheet, order });

/** New pages at a place among the others, 0 for the first. */
export function addPages(note: Note, at: number, pages: readonly Page[]): Edit {
  const keys = orderAt(pageRows(note), at, pages.length);
  return { rows: pages.map((p, i) => pageRow(p.id, p, keys[i])) };
}

/** Moves pages so that they stand together before the page that is at `to` now (its number of pages for the end), in the order they have. */
export function reorderPages(note: Note, ids: readonly string[], to: number): Edit {
  const chosen = new Set(ids);
  const all = pageRows(note);
  const moved = all.filter((p) => chosen.has(p.id));
  const rest = all.filter((p) => !chosen.has(p.id));
  const keys = orderAt(rest, all.slice(0, to).filter((p) => !chosen.has(p.id)).length, moved.length);
  return { rows: moved.map(({ id, ...v }, i) => put('pages', id, { ...v, order: keys[i] })) };
}

/** Pages with all that goes along with them, under new ids; `order`: keys for them. */
function copiesOf(note: Note, ids: readonly string[], newId: () => string): { pages: Page[]; placed: Placed[]; rows: RowPut[] } {
  const chosen = note.header.pages.filter((p) => ids.includes(p.id));
  const to = new Map(chosen.map((p) => [p.id, newId()]));
  const { copies, ids: placedIds } = copiedPlaced(chosen.flatMap((p) => note.ink[p.id] ?? []), (p) => to.get(p)!, newId);
  return { pages: chosen.map((p) => ({ ...p, id: to.get(p.id)! })), placed: copies, rows: rowsAlong(note, to, placedIds, newId) };
}

/** Each of the pages once more, right after itself. */
export function duplicatePages(note: Note, ids: readonly string[], newId: () => string): Edit {
  const all = pageRows(note);
  const { pages, placed, rows } = copiesOf(note, ids, newId);
  const chosen = all.filter((p) => ids.includes(p.id));
  const made = pages.map((p, i) => pageRow(p.id, p, orderAt(all, all.indexOf(chosen[i]) + 1)[0]));
  return { put: placed, rows: [...made, ...rows] };
}

/** Pages go with their ink. A note has a page at all times: when all go, a blank one of the first one's paper takes their place. */
export function deletePages(note: Note, ids: readonly string[], fresh: string): Edit {
  const gone = new Set(ids);
  const { header, ink } = note;
  const all = header.pages.filter((p) => gone.has(p.id));
  const rows = TABLE_NAMES.flatMap((table) => {
    const page = TABLES[table].page;
    return page ? entriesOf(note.rows, table).flatMap(([id, v]) => (gone.has(page(id, v)) ? [drop(table, id)] : [])) : [];
  });
  return {
    cut: all.flatMap((p) => (ink[p.id] ?? []).map((s) => ({ id: s.id, page: p.id }))),
    rows: all.length < header.pages.length ? rows : [pageRow(fresh, newPage(fresh, header.pages[0]), orderAt([], 0)[0]), ...rows],
  };
}

/** Another paper for one page, or for all; without a size each keeps its own. Ink stays where it stands; what would lie beyond a smaller sheet is kept and comes back with a larger one. */
export function changePaper(note: Note, page: string | null, { w, h, paper }: Pick<PageForm, 'paper'> & Partial<PageForm>): Edit {
  // A board is as large as it has grown, and takes no paper that ends.
  const on = (v: Pick<Page, 'w' | 'h' | 'board'>) => (v.board || w === undefined || h === undefined ? { w: v.w, h: v.h } : { w, h });
  const takes = (v: Pick<Page, 'board'>) => !v.board || BOARD_KINDS.includes(paper.kind);
  return { rows: pageRows(note).filter((p) => (page === null || p.id === page) && takes(p)).map(({ id, ...v }) => put('pages', id, { ...v, ...on(v), paper })) };
}

/** A page grows to every side from now on. */
export function growPage(note: Note, page: string): Edit {
  return { rows: pageRows(note).flatMap(({ order, ...p }) => (p.id === page && !p.board && !p.backdrop ? [pageRow(p.id, asBoard(p), order)] : [])) };
}

/** A picture behind the ruling of a page, by the hash of its content; null takes it away. */
export function setBackdrop(note: Note, page: string, content: string | null): Edit {
  return {
    rows: pageRows(note)
      .filter((p) => p.id === page)
      .map(({ id, backdrop: _, ...v }) => put('pages', id, { ...v, ...(content ? { backdrop: { content } } : {}) })),
  };
}

/** The note without what opens the PDFs behind its pages: it leaves in the open, and where it comes to it is asked for. Everything else, versions too, stays. */
export function withoutPasswords(note: Note): Note {
  const bare = <V extends object | null | undefined>(v: V): V => {
    const { password, ...backdrop } = (v as Partial<Page> | null | undefined)?.backdrop ?? {};
    return password === undefined ? v : ({ ...v, backdrop } as V);
  };
  if (!note.header.pages.some((p) => p.backdrop?.password !== undefined) && ![...(note.rows.pages ?? [])].some(([, r]) => bare(r.last) !== r.last)) return note;
  const pages = new Map([...note.rows.pages].map(([id, row]) => [id, { ...row, v: bare(row.v), ...(row.last ? { last: bare(row.last) } : {}) }]));
  return { ...note, rows: { ...note.rows, pages }, header: { ...note.header, pages: note.header.pages.map(bare) } };
}

/** The pages of a PDF with what opens it. */
export const withPassword = (note: Note, content: string, password: string): Edit => ({
  rows: pageRows(note).flatMap(({ id, ...v }) => (v.backdrop?.content === content && v.backdrop.leaf !== undefined ? [put('pages', id, { ...v, backdrop: { ...v.backdrop, password } })] : [])),
});

/** Pages of a PDF as they are brought in. */
export interface Leaf {
  readonly leaf: number;
  readonly w: number;
  readonly h: number;
}
export interface LeafHeading {
  readonly leaf: number;
  readonly y: number;
  readonly title: string;
  readonly level: 1 | 2 | 3;
}

/** Pages of a PDF as pages of a note, at a place among the others, with its outline as headings. */
export function addLeaves(note: Note, at: number, backdrop: { readonly content: string; readonly password?: string }, leaves: readonly Leaf[], outline: readonly LeafHeading[], newId: () => string): Edit {
  const pages = leaves.map(({ leaf, w, h }): Page => ({ ...newPage(newId(), { w, h, paper: LEAF_PAPER }), backdrop: { ...backdrop, leaf } }));
  const of = new Map(pages.map((p) => [p.backdrop!.leaf, p.id]));
  const headings = outline.flatMap(({ leaf, y, title, level }) => {
    const page = of.get(leaf);
    return page ? [put('headings', newId(), { page, strokes: [], level, text: title, y })] : [];
  });
  return { rows: [...(addPages(note, at, pages).rows ?? []), ...headings] };
}

/** Pages with their ink, headings, bookmarks and tags, and the takes their stamps point to, as they come into another note at its end. */
export function bringPages(into: Note, from: Note, ids: readonly string[], newId: () => string): Edit {
  const { pages, placed, rows } = copiesOf(from, ids, newId);
  const used = new Set(placed.flatMap((s) => s.stamp?.take ?? []));
  return { put: placed, rows: [...(addPages(into, into.header.pages.length, pages).rows ?? []), ...rows, ...bringTakes(into, from.header.takes.filter((t) => used.has(t.id)), from.header.title, newId)] };
}

/** Between ink that was there and ink that comes below it, and at the edges of a page, mm. */
const BELOW_MM = 6;

/** Ink of another note below the last ink of this one, on a page of its own where it does not fit, with the takes its stamps point to. */
export function bringInk(into: Note, from: Note, chosen: readonly Placed[], newId: () => string): Edit {
  const box = boxAround(chosen);
  if (!box) return {};
  const { pages } = into.header;
  const last = pages.findLast((p) => into.ink[p.id]?.length && !p.board) ?? pages.find((p) => !p.board) ?? pages[0];
  const foot = boxAround(into.ink[last.id] ?? [])?.[3] ?? writingLines(last.paper).top - BELOW_MM;
  const fits = !last.board && foot + BELOW_MM + box[3] - box[1] <= last.h - BELOW_MM;
  const page = fits ? last : newPage(newId(), last);
  const top = fits ? foot + BELOW_MM : Math.max(BELOW_MM, writingLines(page.paper).top - (box[3] - box[1]));
  const [dx, dy] = keptIn(box, 0, top - box[1], [0, 0, page.w, page.h]);
  const { copies } = copiedPlaced(chosen.map((s) => mapPlaced(s, move(dx, dy), page.id)), () => page.id, newId);
  const used = new Set(chosen.flatMap((s) => s.stamp?.take ?? []));
  const added = fits ? [] : (addPages(into, pages.indexOf(last) + 1, [page]).rows ?? []);
  return { put: copies, rows: [...added, ...bringTakes(into, from.header.takes.filter((t) => used.has(t.id)), from.header.title, newId)] };
}

/** Takes of another note at the end of this one's, with all their sound at the end of its timeline. Those that it has are passed over. */
export function bringTakes(into: Note, takes: Note['header']['takes'], title: string, newId: () => string): RowPut[] {
  const has = new Set(into.header.takes.map((t) => t.id));
  const brought = takes.filter((t) => !has.has(t.id));
  const all = inTheirOrder(into.rows, 'takes');
  const keys = orderAt(all, all.length, brought.length);
  let stretches = inTheirOrder(into.rows, 'stretches');
  const rows: RowPut[] = [];
  brought.forEach(({ id, ...t }, i) => {
    rows.push(put('takes', id, { ...t, name: title ? `${t.name} of ${title}`.slice(0, 200) : t.name, state: 'done', order: keys[i] }));
    const laid = append(stretches, { take: id, from: 0, to: t.ms }, newId);
    rows.push(...laid);
    stretches = [...stretches, ...laid.map((r) => ({ ...(r.v as (typeof stretches)[number]), id: r.id }))];
  });
  return rows;
}

export function toggleBookmark(note: Note, page: string): Edit {
  return { rows: [note.rows.bookmarks?.get(page)?.v ? drop('bookmarks', page) : put('bookmarks', page, {})] };
}

/** Ink becomes a heading; a heading it was part of before makes way. */
export function setHeading(note: Note, page: string, strokes: readonly string[], level: 1 | 2 | 3, id: string): Edit {
  return { rows: [...(dropHeading(note, strokes).rows ?? []), put('headings', id, { page, strokes: [...strokes], level })] };
}

export function dropHeading(note: Note, strokes: readonly string[]): Edit {
  const ids = new Set(strokes);
  return { rows: entriesOf(note.rows, 'headings').flatMap(([id, h]) => (meets(h, ids) ? [drop('headings', id)] : [])) };
}

export interface OutlineEntry {
  /** Of its row. */
  readonly id: string;
  readonly page: string;
  /** Number of the page, from 1. */
  readonly number: number;
  readonly level: number;
  /** Empty where it is a text. */
  readonly placed: readonly Placed[];
  readonly text?: string;
  readonly box: Box;
}

/** Another level for a heading, or none: it is none any more. */
export function changeHeading(note: Note, id: string, level: 1 | 2 | 3 | null): Edit {
  const heading = entriesOf(note.rows, 'headings').find(([row]) => row === id)?.[1];
  return { rows: heading ? [level === null ? drop('headings', id) : put('headings', id, { ...heading, level })] : [] };
}

/** The headings whose ink still stands, and those of text, in the order of the pages and down each page. */
export function outlineOf({ header, rows, ink }: Pick<Note, 'header' | 'rows' | 'ink'>): OutlineEntry[] {
  const at = new Map(header.pages.map((p, i) => [p.id, { number: i + 1, w: p.w }]));
  return entriesOf(rows, 'headings')
    .flatMap(([id, h]): OutlineEntry[] => {
      const page = at.get(h.page);
      const there = anchored(ink, h) ?? (h.text === undefined ? null : { placed: [], box: [0, h.y ?? 0, page?.w ?? 0, (h.y ?? 0) + TEXT_HIGH_MM] as const });
      return there && page ? [{ id, page: h.page, number: page.number, level: h.level, ...(h.text === undefined ? {} : { text: h.text }), ...there }] : [];
    })
    .sort((a, b) => a.number - b.number || a.box[1] - b.box[1] || a.box[0] - b.box[0]);
}
