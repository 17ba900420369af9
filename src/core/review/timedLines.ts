/** Lines, written and typed, and drawings of a page with the moment each was begun. */
import type { Box } from '../ink/stroke';
import type { Grouping } from '../ink/words/grouping';
import type { Note } from '../note/edit';
import { inSight, type Placed } from '../note/kinds/kinds';
import { boxOfLine, linesOf, momentOf } from '../note/kinds/typed';
import type { Page } from '../note/schema';
import { saidBy, type Said } from '../reading/said';
import { heardAt } from '../time/heardAt';

export interface TimedLine {
  readonly what: 'Line' | 'Drawing';
  /** mm. */
  readonly box: Box;
  readonly ids: readonly string[];
  /** The first of its strokes that has sound; the first of all where none has. */
  readonly first: Placed;
  /** What stands in it, where it is typed, or its handwriting was read. */
  readonly text?: string;
  readonly typed: boolean;
  /** All of its text is known: every word of it was read. */
  readonly whole: boolean;
  /** Where that is heard; null without sound. */
  readonly heard: ReturnType<typeof heardAt>;
}

/** From top to bottom. `said`: what of the page was read. */
export function timedLines(note: Note, page: Page, grouping: Grouping, said: Said = []): TimedLine[] {
  const byId = new Map(inSight(note.ink[page.id] ?? []).map((s) => [s.id, s]));
  const read = new Set(said.flatMap((w) => w.strokes));
  const rows = [
    ...grouping.lines.map((l) => ({ box: l.box, ids: l.words.flatMap((w) => grouping.words[w].strokes), what: 'Line' as const })),
    ...grouping.drawings.map((d) => ({ box: d.box, ids: d.strokes, what: 'Drawing' as const })),
  ];
  const out = rows.flatMap((row): TimedLine[] => {
    const strokes = row.ids.flatMap((id) => byId.get(id) ?? []).sort((a, b) => a.wall - b.wall);
    if (!strokes.length) return [];
    const text = row.what === 'Line' && said.length ? saidBy(said, new Set(row.ids)) : '';
    const is = { ...row, ...(text ? { text } : {}), typed: false, whole: text !== '' && row.ids.every((id) => read.has(id)) };
    for (const s of strokes) {
      const heard = heardAt(note, s);
      if (heard) return [{ ...is, first: s, heard }];
    }
    return [{ ...is, first: strokes[0], heard: null }];
  });
  for (const it of byId.values()) {
    // A line that wraps has several; each begins with its own first letter.
    if (it.kind !== 'typed' || !it.text) continue;
    linesOf(it).forEach(({ from, to }, i) => {
      const box = boxOfLine(it, i);
      const first = { ...it, ...momentOf(it, from), box };
      out.push({ what: 'Line', box, ids: [it.id], first, text: it.text.slice(from, to).trim(), typed: true, whole: true, heard: heardAt(note, first) });
    });
  }
  return out.sort((a, b) => a.box[1] + a.box[3] - b.box[1] - b.box[3]);
}
