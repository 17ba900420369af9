/** Which notes are listed, in which order, and what a search finds. */
import { compareLoosely } from '../collation';
import type { NoteSummary } from '../note/schema';
import { pathTo, type Folder, type Place } from './folder';

export const SORTS = ['name', 'made', 'changed'] as const;
export type Sort = (typeof SORTS)[number];

/** Names by the alphabet, numbers in them by size; times newest first. */
export function sorted<T extends Pick<NoteSummary, 'title' | 'made' | 'changed'>>(headers: readonly T[], by: Sort): T[] {
  if (by === 'name') {
    return [...headers].sort((a, b) => compareLoosely(a.title, b.title) || b.changed - a.changed);
  }
  return [...headers].sort((a, b) => b[by] - a[by]);
}

/** Text without case and accents, for comparing. */
export const plain = (text: string): string => text.normalize('NFD').replace(/\p{M}/gu, '').toLowerCase();

export interface SearchText {
  readonly note: string;
  readonly text: string;
}

/** What a search looks through: title, names of the folders it lies in, tags, the words of its marks. */
export const searchTexts = (headers: readonly NoteSummary[], folders: ReadonlyMap<string, Folder>, places: Readonly<Record<string, Place>>): SearchText[] =>
  headers.map((h) => {
    const place = places[h.id];
    const path = pathTo(folders, place?.folder ?? null).map((f) => f.name);
    return { note: h.id, text: plain([h.title, ...path, ...(place?.tags ?? []), ...(h.marks ?? []).flatMap((m) => m.text ?? [])].join('\n')) };
  });

/** Notes in which every word of the query is found; null when nothing was asked. */
export function search(texts: readonly SearchText[], query: string): Set<string> | null {
  const words = plain(query).split(/\s+/).filter(Boolean);
  if (!words.length) return null;
  return new Set(texts.filter(({ text }) => words.every((w) => text.includes(w))).map((t) => t.note));
}

/** What a search is narrowed to. */
export interface Filter {
  /** Notes in it or in a folder of it; null for all. */
  readonly folder: string | null;
  readonly tag: string | null;
  /** Made within so many days; null for ever. */
  readonly days: number | null;
  readonly sound: 'any' | 'with' | 'without';
}
export const NO_FILTER: Filter = { folder: null, tag: null, days: null, sound: 'any' };

export function passes(h: Pick<NoteSummary, 'id' | 'made' | 'timeline'>, { folder, tag, days, sound }: Filter, folders: ReadonlyMap<string, Folder>, places: Readonly<Record<string, Place>>, now: number): boolean {
  const place = places[h.id];
  if (folder !== null && !pathTo(folders, place?.folder ?? null).some((f) => f.id === folder)) return false;
  if (tag !== null && !place?.tags?.includes(tag)) return false;
  if (days !== null && h.made < now - days * 86_400_000) return false;
  return sound === 'any' || h.timeline.length > 0 === (sound === 'with');
}
