/** Which notes are listed, in which order, and what a search finds. */
import type { NoteSummary } from '../note/schema';
import { pathTo, type Folder, type Place } from './folder';

export const SORTS = ['name', 'made', 'changed'] as const;
export type Sort = (typeof SORTS)[number];

/** Names by the alphabet, numbers in them by size; times newest first. */
export function sorted<T extends Pick<NoteSummary, 'title' | 'made' | 'changed'>>(headers: readonly T[], by: Sort): T[] {
  if (by === 'name') {
    const { compare } = new Intl.Collator(undefined, { numeric: true, sensitivity: 'base' });
    return [...headers].sort((a, b) => compare(a.title, b.title) || b.changed - a.changed);
  }
  return [...headers].sort((a, b) => b[by] - a[by]);
}

/** Text without case and accents, for comparing. */
export const plain = (text: string): string => text.normalize('NFD').replace(/\p{M}/gu, '').toLowerCase();

export interface SearchText {
  readonly note: string;
  readonly text: string;
}

/** What a search looks through: title, names of the folders it lies in, tags. */
export const searchTexts = (headers: readonly NoteSummary[], folders: ReadonlyMap<string, Folder>, places: Readonly<Record<string, Place>>): SearchText[] =>
  headers.map((h) => {
    const place = places[h.id];
    const path = pathTo(folders, place?.folder ?? null).map((f) => f.name);
    return { note: h.id, text: plain([h.title, ...path, ...(place?.tags ?? [])].join('\n')) };
  });

/** Notes in which every word of the query is found; null when nothing was asked. */
export function search(texts: readonly SearchText[], query: string): Set<string> | null {
  const words = plain(query).split(/\s+/).filter(Boolean);
  if (!words.length) return null;
  return new Set(texts.filter(({ text }) => words.every((w) => text.includes(w))).map((t) => t.note));
}
