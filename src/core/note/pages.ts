/** Changes of a note's pages as edits: adding, moving, copying, deleting, their paper; headings and bookmarks. */
import { boxAround, type Box, type Stroke } from '../ink/stroke';
import { copiedPage } from './copy';
import type { Edit, Note } from './edit';
import { newPage, type NoteHeader, type Page, type PageForm } from './schema';

/** A new page at a place among the others, 0 for the first. */
export function addPage({ header }: Note, at: number, form: PageForm, id: string): Edit {
  return { header: { pages: [...header.pages.slice(0, at), newPage(id, form), ...header.pages.slice(at)] } };
}

/** Moves pages so that they stand together before the page that is at `to` now (its number of pages for the end), in the order they have. */
export function reorderPages({ header }: Note, ids: readonly string[], to: number): Edit {
  const chosen = new Set(ids);
  const stay = (p: Page) => !chosen.has(p.id);
  const { pages } = header;
  return { header: { pages: [...pages.slice(0, to).filter(stay), ...pages.filter((p) => chosen.has(p.id)), ...pages.slice(to).filter(stay)] } };
}

/** Each of the pages once more, right after itself. */
export function duplicatePages({ header, ink }: Note, ids: readonly string[], newId: () => string): Edit {
  const put: Stroke[] = [];
  const pages = header.pages.flatMap((p) => {
    if (!ids.includes(p.id)) return [p];
    const copy = copiedPage(p, ink[p.id] ?? [], newId);
    put.push(...copy.strokes);
    return [p, copy.page];
  });
  return { put, header: { pages } };
}

/** Pages go with their ink. A note has a page at all times: when all go, a blank one of the first one's paper takes their place. */
export function deletePages({ header, ink }: Note, ids: readonly string[], fresh: string): Edit {
  const gone = new Set(ids);
  const kept = header.pages.filter((p) => !gone.has(p.id));
  return {
    cut: header.pages.filter((p) => gone.has(p.id)).flatMap((p) => (ink[p.id] ?? []).map((s) => ({ id: s.id, page: p.id }))),
    header: {
      pages: kept.length ? kept : [newPage(fresh, header.pages[0])],
      ...(header.bookmarks ? { bookmarks: header.bookmarks.filter((b) => !gone.has(b)) } : {}),
      ...(header.headings ? { headings: header.headings.filter((h) => !gone.has(h.page)) } : {}),
    },
  };
}

/** Another paper for one page, or for all. Ink stays where it stands; what would lie beyond a smaller sheet is kept and comes back with a larger one. */
export function changePaper({ header }: Note, page: string | null, { w, h, paper }: PageForm): Edit {
  return { header: { pages: header.pages.map((p) => (page === null || p.id === page ? { ...p, w, h, paper } : p)) } };
}

/** Pages with their ink, headings and takes, as they come into another note at its end. */
export function bringPages(into: Note, from: Note, ids: readonly string[], newId: () => string): Edit {
  const put: Stroke[] = [];
  const pages = from.header.pages
    .filter((p) => ids.includes(p.id))
    .map((p) => {
      const copy = copiedPage(p, from.ink[p.id] ?? [], newId);
      put.push(...copy.strokes);
      return copy.page;
    });
  const used = new Set(put.flatMap((s) => s.stamp?.take ?? []));
  const has = new Set(into.header.takes.map((t) => t.id));
  const brought = from.header.takes.filter((t) => used.has(t.id) && !has.has(t.id)).map((t) => ({ ...t, name: `${t.name} of ${from.header.title}`.slice(0, 200) }));
  return {
    put,
    header: {
      pages: [...into.header.pages, ...pages],
      ...(brought.length ? { takes: [...into.header.takes, ...brought], timeline: [...into.header.timeline, ...brought.filter((t) => t.ms > 0).map((t) => ({ take: t.id, from: 0, to: t.ms }))] } : {}),
    },
  };
}

export function toggleBookmark({ header }: Note, page: string): Edit {
  const { bookmarks = [] } = header;
  return { header: { bookmarks: bookmarks.includes(page) ? bookmarks.filter((b) => b !== page) : [...bookmarks, page] } };
}

/** Ink becomes a heading; a heading it was part of before makes way. */
export function setHeading({ header }: Note, page: string, strokes: readonly string[], level: 1 | 2 | 3): Edit {
  const rest = (header.headings ?? []).filter((h) => !h.strokes.some((s) => strokes.includes(s)));
  return { header: { headings: [...rest, { page, strokes: [...strokes], level }] } };
}

export function dropHeading({ header }: Note, strokes: readonly string[]): Edit {
  return { header: { headings: (header.headings ?? []).filter((h) => !h.strokes.some((s) => strokes.includes(s))) } };
}

export interface OutlineEntry {
  readonly page: string;
  /** Number of the page, from 1. */
  readonly number: number;
  readonly level: number;
  readonly strokes: readonly Stroke[];
  readonly box: Box;
}

/** The headings whose ink still stands, in the order of the pages and down each page. */
export function outlineOf({ header, ink }: Note): OutlineEntry[] {
  const numbers = new Map(header.pages.map((p, i) => [p.id, i + 1]));
  return (header.headings ?? [])
    .flatMap(({ page, strokes, level }: NonNullable<NoteHeader['headings']>[number]): OutlineEntry[] => {
      const ids = new Set(strokes);
      const there = (ink[page] ?? []).filter((s) => ids.has(s.id));
      const box = boxAround(there);
      const number = numbers.get(page);
      return box && number ? [{ page, number, level, strokes: there, box }] : [];
    })
    .sort((a, b) => a.number - b.number || a.box[1] - b.box[1] || a.box[0] - b.box[0]);
}
