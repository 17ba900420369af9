/**
 * The one way a note changes: an edit goes in, the changed note and the edit that takes it back come out.
 * Undo, saving and following another tab all ride on it.
 */
import { strokeOrder, type Stroke } from '../ink/stroke';
import type { NoteHeader } from './schema';

/** Strokes of each page, by page id, in stroke order. */
export type Ink = Readonly<Record<string, readonly Stroke[]>>;

export interface Note {
  readonly header: NoteHeader;
  readonly ink: Ink;
}

export type HeaderPatch = Partial<Pick<NoteHeader, 'title' | 'pages' | 'takes' | 'timeline' | 'changed' | 'links' | 'marks' | 'settled' | 'tags' | 'bookmarks' | 'headings' | 'readOnly'>>;

export interface Edit {
  /** Strokes to add; one whose id is there already takes its place. */
  readonly put?: readonly Stroke[];
  /** Strokes to take away. Ids that are not there are passed over. */
  readonly cut?: readonly { readonly id: string; readonly page: string }[];
  readonly header?: HeaderPatch;
}

export function applyEdit(note: Note, edit: Edit): { note: Note; inverse: Edit } {
  const put: Stroke[] = [];
  const cut: { id: string; page: string }[] = [];
  const pages = new Map<string, { put: Stroke[]; cut: Set<string> }>();
  const at = (page: string) => {
    let p = pages.get(page);
    if (!p) pages.set(page, (p = { put: [], cut: new Set() }));
    return p;
  };
  for (const c of edit.cut ?? []) at(c.page).cut.add(c.id);
  for (const s of edit.put ?? []) at(s.page).put.push(s);

  let ink = note.ink;
  if (pages.size) {
    const next: Record<string, readonly Stroke[]> = { ...ink };
    for (const [page, change] of pages) {
      const before = ink[page] ?? [];
      const incoming = new Set(change.put.map((s) => s.id));
      let kept: readonly Stroke[] = before;
      if (change.cut.size || before.some((s) => incoming.has(s.id))) {
        const stay: Stroke[] = [];
        const replaced = new Set<string>();
        for (const s of before) {
          if (incoming.has(s.id)) {
            put.push(s);
            replaced.add(s.id);
          } else if (change.cut.has(s.id)) put.push(s);
          else stay.push(s);
        }
        for (const s of change.put) if (!replaced.has(s.id)) cut.push({ id: s.id, page });
        kept = stay;
      } else for (const s of change.put) cut.push({ id: s.id, page });
      next[page] = insertInOrder(kept, change.put);
    }
    ink = next;
  }

  let header = note.header;
  let back: HeaderPatch | undefined;
  if (edit.header) {
    const from: Record<string, unknown> = {};
    for (const key of Object.keys(edit.header) as (keyof HeaderPatch)[]) from[key] = header[key];
    back = from as HeaderPatch;
    header = { ...header, ...edit.header };
  }
  const inverse: Edit = { ...(put.length ? { put } : {}), ...(cut.length ? { cut } : {}), ...(back ? { header: back } : {}) };
  return { note: { header, ink }, inverse };
}

function insertInOrder(list: readonly Stroke[], add: readonly Stroke[]): readonly Stroke[] {
  if (!add.length) return list;
  const last = list.at(-1);
  const sorted = add.length > 1 ? [...add].sort(strokeOrder) : add;
  if (!last || strokeOrder(last, sorted[0]) < 0) return [...list, ...sorted];
  if (add.length > 1) return [...list, ...sorted].sort(strokeOrder);
  let [lo, hi] = [0, list.length];
  while (lo < hi) {
    const mid = (lo + hi) >> 1;
    if (strokeOrder(list[mid], add[0]) < 0) lo = mid + 1;
    else hi = mid;
  }
  return [...list.slice(0, lo), add[0], ...list.slice(lo)];
}

export const isEmptyEdit = (e: Edit): boolean => !e.put?.length && !e.cut?.length && !e.header;

export function countStrokes(ink: Ink): number {
  let n = 0;
  for (const page of Object.values(ink)) n += page.length;
  return n;
}
