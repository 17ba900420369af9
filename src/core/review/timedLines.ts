/** Lines, written and typed, and drawings of a page with the moment each was begun. */
import type { Box } from '../ink/stroke';
import type { Grouping } from '../ink/words/grouping';
import type { Note } from '../note/edit';
import { inSight, type Placed } from '../note/kinds/kinds';
import { boxOfLine, linesOf, momentOf } from '../note/kinds/typed';
import type { Page } from '../note/schema';
import { heardAt } from '../time/heardAt';

export interface TimedLine {
  readonly what: 'Line' | 'Drawing';
  /** mm. */
  readonly box: Box;
  readonly ids: readonly string[];
  /** The first of its strokes that has sound; the first of all where none has. */
  readonly first: Placed;
  /** What stands in it, where it is typed. */
  readonly text?: string;
  /** Where that is heard; null without sound. */
  readonly heard: ReturnType<typeof heardAt>;
}

/** From top to bottom. */
export function timedLines(note: Note, page: Page, grouping: Grouping): TimedLine[] {
  const byId = new Map(inSight(note.ink[page.id] ?? []).map((s) => [s.id, s]));
  const rows = [
    ...grouping.lines.map((l) => ({ box: l.box, ids: l.words.flatMap((w) => grouping.words[w].strokes), what: 'Line' as const })),
    ...grouping.drawings.map((d) => ({ box: d.box, ids: d.strokes, what: 'Drawing' as const })),
  ];
  const out = rows.flatMap((row): TimedLine[] => {
    const strokes = row.ids.flatMap((id) => byId.get(id) ?? []).sort((a, b) => a.wall - b.wall);
    if (!strokes.length) return [];
    for (const s of strokes) {
      const heard = heardAt(note, s);
      if (heard) return [{ ...row, first: s, heard }];
    }
    return [{ ...row, first: strokes[0], heard: null }];
  });
  for (const it of byId.values()) {
    // A line that wraps has several; each begins with its own first letter.
    if (it.kind !== 'typed' || !it.text) continue;
    linesOf(it).forEach(({ from, to }, i) => {
      const box = boxOfLine(it, i);
      const first = { ...it, ...momentOf(it, from), box };
      out.push({ what: 'Line', box, ids: [it.id], first, text: it.text.slice(from, to).trim(), heard: heardAt(note, first) });
    });
  }
  return out.sort((a, b) => a.box[1] + a.box[3] - b.box[1] - b.box[3]);
}
