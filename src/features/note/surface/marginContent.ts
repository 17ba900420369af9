/** Fills the time margin: the lines of all pages in reach, and beside them the marks and gaps of what was being written then. */
import { gapLength } from '../../../core/review/gaps';
import { toTimeline } from '../../../core/time/timeline';
import type { Placed } from '../../../core/note/kinds/kinds';
import { marginLines, type MarginLine, type MarginView, type Sign } from './margin';
import type { Layout } from './layout';
import type { SurfaceState } from './state';

/** `lastBy`: what was being written at a moment of the timeline, ms. */
export function fillMargin(margin: MarginView, layout: Layout, state: SurfaceState, lastBy: (ms: number) => Placed | null): void {
  const { note, mode, words } = state;
  const { pages, scale, board } = layout;
  margin.clear();
  // A board is wider than the view: beside it stand the lines that are in sight.
  const [from, , to] = board ? layout.sightOf(board) : [-Infinity, 0, Infinity];
  // One list for all pages in reach, in mm of the sheet, so that times at a page's edge keep clear of each other.
  const lines = pages.flatMap((view) => {
    const found = view.near ? words[view.page.id] : undefined;
    const shift = view.y / scale;
    return found ? marginLines(note, view.page, found.grouping).filter((l) => l.right > from && l.left < to).map((l) => ({ ...l, y: l.y + shift, top: l.top + shift, bottom: l.bottom + shift })) : [];
  });
  margin.show(lines, scale, mode === 'listen');
  margin.showSigns(signsOf(lines, state, lastBy), scale);
}

/** Marks and gaps beside the line that was being written then, as far as that line is in reach. */
function signsOf(lines: readonly MarginLine[], { note, gaps, late, mode }: SurfaceState, lastBy: (ms: number) => Placed | null): Sign[] {
  const lineAt = (ms: number) => {
    const it = lastBy(ms);
    return it ? (lines.find((l) => l.ids.has(it.id)) ?? null) : null;
  };
  const out: Sign[] = [];
  for (const mark of note.header.marks ?? []) {
    const ms = toTimeline(note.header.timeline, mark);
    // A mark of the take that runs has no place on the timeline yet: it stands at the line that is being written.
    const line = ms === null ? null : lineAt(ms + late);
    if (ms !== null && line) out.push({ kind: mark.kind, line, ms, text: mark.text });
  }
  if (mode === 'listen') {
    for (const gap of gaps) {
      const line = lineAt(gap.from + late);
      if (line) out.push({ kind: 'gap', line, ms: gap.from, length: gapLength(gap) });
    }
  }
  return out;
}
