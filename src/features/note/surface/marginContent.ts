/** Fills the time margin: the lines of all pages in reach, and beside them the marks and gaps of what was being written then. */
import { gapLength } from '../../../core/review/gaps';
import { toTimeline } from '../../../core/time/timeline';
import type { Said } from '../../../core/reading/said';
import type { Grouping } from '../../../core/ink/words/grouping';
import type { Note } from '../../../core/note/edit';
import type { Page } from '../../../core/note/schema';
import type { Placed } from '../../../core/note/kinds/kinds';
import { marginLines, type MarginLine, type MarginView, type Sign } from './margin';
import type { Layout } from './layout';
import type { SurfaceState } from './state';

/** Nobody reads lines that are so small, px per mm. */
const FAR = 0.8;

/** `lastBy`: what was being written at a moment of the timeline, ms. */
export function fillMargin(margin: MarginView, layout: Layout, state: SurfaceState, lastBy: (ms: number) => Placed | null): void {
  const { note, mode, words, said } = state;
  const { pages, scale, board } = layout;
  margin.clear();
  // A board seen from far has more lines than there is room for.
  if (board && scale < FAR) return;
  // It is wider than the view: beside it stand the lines that are in sight.
  const [from, , to] = board ? layout.sightOf(board) : [-Infinity, 0, Infinity];
  // One list for all pages in reach, in mm of the sheet, so that times at a page's edge keep clear of each other.
  const lines = pages.flatMap((view) => {
    const found = view.near ? words[view.page.id] : undefined;
    const shift = view.y / scale;
    return found ? linesOf(note, view.page, found.grouping, said[view.page.id]).filter((l) => l.right > from && l.left < to).map((l) => ({ ...l, y: l.y + shift, top: l.top + shift, bottom: l.bottom + shift })) : [];
  });
  margin.show(lines, scale, mode === 'listen');
  margin.showSigns(signsOf(lines, state, lastBy), scale);
}

/** Worked out once for what they are worked out from: of a board they are asked for whenever it has been moved. */
const known = new WeakMap<Grouping, { readonly by: readonly unknown[]; readonly lines: MarginLine[] }>();
function linesOf(note: Note, page: Page, grouping: Grouping, said: Said | undefined): MarginLine[] {
  const by = [note.ink[page.id], note.header.timeline, note.header.takes, said];
  const had = known.get(grouping);
  if (had?.by.every((v, i) => v === by[i])) return had.lines;
  const lines = marginLines(note, page, grouping, said);
  known.set(grouping, { by, lines });
  return lines;
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
