/** Copies of strokes, pages and notes under ids of their own. Stamps stay: a copy plays what the original plays. */
import type { Stroke } from '../ink/stroke';
import type { Shape } from '../ink/shapes/shape';
import type { Ink, Note } from './edit';
import type { Page } from './schema';

/** `page`: id of the page that a stroke's copy lies on. Groups and lines that hold on to a shape hold on to its copy. */
export function copiedStrokes(strokes: readonly Stroke[], page: (of: string) => string, newId: () => string): { copies: Stroke[]; ids: Map<string, string> } {
  const ids = new Map(strokes.map((s) => [s.id, newId()]));
  const groups = new Map<string, string>();
  const groupOf = (g: string) => groups.get(g) ?? groups.set(g, newId()).get(g)!;
  const copies = strokes.map((s): Stroke => {
    const held = (a: Shape['from']) => (a && ids.has(a.to) ? { ...a, to: ids.get(a.to)! } : undefined);
    const { from: _, to: __, ...plain } = s.shape ?? ({} as Shape);
    const [from, to] = [held(s.shape?.from), held(s.shape?.to)];
    return Object.freeze({
      ...s,
      id: ids.get(s.id)!,
      page: page(s.page),
      ...(s.group ? { group: groupOf(s.group) } : {}),
      ...(s.shape ? { shape: { ...plain, ...(from ? { from } : {}), ...(to ? { to } : {}) } } : {}),
    });
  });
  return { copies, ids };
}

/** A page and its ink once more. */
export function copiedPage(page: Page, strokes: readonly Stroke[], newId: () => string): { page: Page; strokes: Stroke[] } {
  const made = { ...page, id: newId() };
  return { page: made, strokes: copiedStrokes(strokes, () => made.id, newId).copies };
}

/** A note once more. Its takes are the same takes: their sound is stored once and kept as long as one of the notes has it. */
export function copiedNote({ header, ink }: Note, title: string, now: number, newId: () => string): Note {
  const pageIds = new Map(header.pages.map((p) => [p.id, newId()]));
  const { copies, ids } = copiedStrokes(Object.values(ink).flat(), (p) => pageIds.get(p)!, newId);
  const next: Record<string, Stroke[]> = {};
  for (const s of copies) (next[s.page] ??= []).push(s);
  const { demo: _, ...rest } = header;
  return {
    header: {
      ...rest,
      id: newId(),
      title,
      made: now,
      changed: now,
      pages: header.pages.map((p) => ({ ...p, id: pageIds.get(p.id)! })),
      ...(header.marks ? { marks: header.marks.map((m) => ({ ...m, id: newId() })) } : {}),
      ...(header.tags ? { tags: header.tags.flatMap((t) => (ids.has(t.stroke) ? [{ ...t, stroke: ids.get(t.stroke)! }] : [])) } : {}),
    },
    ink: next as Ink,
  };
}
