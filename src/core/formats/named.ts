/** What of a note has a name when it is handed on: headings, tags. */
import { compareNames } from '../collation';
import type { Note } from '../note/edit';
import type { NoteHeader, Page } from '../note/schema';
import { saidBy, type Said } from '../reading/said';
import type { Stamp } from '../time/timeline';

export interface Named {
  readonly title: string;
  readonly level: 1 | 2 | 3;
  /** Its place among the pages, from 0, and how far down it stands, mm. */
  readonly page: number;
  readonly y: number;
  /** Of those of ink: the sound when they were written. */
  readonly stamp: Stamp | null;
}

/** Headings in the order of the pages. One of ink is called by what it says (`said`, by page id), and by its place where it was not read. */
export function namesOf(note: Note, pages: readonly Page[], said: ReadonlyMap<string, Said> = new Map()): Named[] {
  const at = new Map(pages.map((p, i) => [p.id, i]));
  const out = (note.header.headings ?? []).flatMap((h): Named[] => {
    const page = at.get(h.page);
    if (page === undefined) return [];
    const ids = new Set(h.strokes);
    const ink = (note.ink[h.page] ?? []).filter((s) => ids.has(s.id)).sort((a, b) => a.wall - b.wall);
    const y = ink.length ? Math.min(...ink.map((s) => s.box[1])) : (h.y ?? 0);
    return [{ title: h.text ?? saidBy(said.get(h.page) ?? [], ids), level: h.level as 1 | 2 | 3, page, y, stamp: ink.find((s) => s.stamp)?.stamp ?? null }];
  });
  const sorted = out.sort((a, b) => a.page - b.page || a.y - b.y);
  let n = 0;
  return sorted.map((h) => (h.title ? h : { ...h, title: `Heading ${++n}, page ${h.page + 1}` }));
}

/** The tags of its moments, each once. */
export const tagsOf = ({ tags }: Pick<NoteHeader, 'tags'>): string[] => [...new Set((tags ?? []).flatMap((t) => t.names))].sort(compareNames);
