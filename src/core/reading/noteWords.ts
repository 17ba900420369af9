/** The words of a page that can be looked for: written and typed, in the order in which one reads. */
import type { Grouping } from '../ink/words/grouping';
import { unionBox, type Box } from '../ink/stroke';
import { boxesOfLetters } from '../note/links';
import type { Placed } from '../note/kinds/kinds';
import { boxOfCell, momentOfCell, shownText } from '../note/kinds/table';
import { momentOf } from '../note/kinds/typed';
import type { Stamp } from '../time/timeline';
import { folded } from './alphabet';
import { shownWord, textLines, wordKey, type Listed, type PageText, type Written } from './pageText';
import { searchable, type SearchWord } from './search';

export interface FoundWord extends SearchWord {
  /** As it is shown. */
  readonly shown: string;
  readonly box: Box;
  /** Of its ink, or of the typed line that it stands in. */
  readonly ids: readonly string[];
  /** Which line of the page; words of one line stand together. */
  readonly line: number;
  /** When it was begun; null without sound. */
  readonly stamp: Stamp | null;
}

const bare = (text: string): string => folded(text).replace(/^[^\p{L}\p{N}]+|[^\p{L}\p{N}%°]+$/gu, '');

export function foundWords(placed: readonly Placed[], grouping: Grouping | undefined, text: PageText | undefined, written: ReadonlyMap<string, Written>): FoundWord[] {
  const out: FoundWord[] = [];
  const by = new Map(placed.map((it) => [it.id, it]));
  let line = 0;
  for (const { words } of grouping ? textLines(grouping) : []) {
    for (const i of words) {
      const word = grouping!.words[i];
      const shown = shownWord(word, text, written);
      if (!shown) continue;
      const read = text?.words[shown.key];
      const { corrected } = shown;
      out.push(searchable({
        text: bare(shown.text), others: corrected ? [] : (read?.readings ?? []).slice(1).map((r) => bare(r.text)), sure: corrected ? [1] : (read?.readings ?? []).map((r) => r.confidence),
        ...(read && !corrected ? { logs: read.logs } : {}), shown: shown.text, box: word.box, ids: word.strokes, line, stamp: by.get(word.strokes[0])?.stamp ?? null,
      }));
    }
    line++;
  }
  for (const it of placed) {
    if (it.kind === 'table') {
      it.cells.forEach((row, r) =>
        row.forEach((cell, c) => {
          if (!cell) return;
          for (const [shown] of shownText(it, r, c).matchAll(/\S+/g)) out.push(searchable({ text: bare(shown), others: [], sure: [1], shown, box: boxOfCell(it, r, c), ids: [it.id], line, stamp: momentOfCell(it, r, c).stamp }));
          line++;
        }),
      );
      continue;
    }
    if (it.kind !== 'typed') continue;
    for (const m of it.text.matchAll(/\S+/g)) {
      const boxes = boxesOfLetters(it, m.index, m.index + m[0].length);
      if (boxes.length) out.push(searchable({ text: bare(m[0]), others: [], sure: [1], shown: m[0], box: boxes.reduce(unionBox), ids: [it.id], line, stamp: momentOf(it, m.index).stamp }));
    }
    line++;
  }
  return out;
}

/** What can be looked for, as it is kept with what was read of the page. */
export const listed = (words: readonly FoundWord[]): Listed[] => words.map((w) => ({ key: w.logs === undefined ? null : wordKey(w.ids), shown: w.shown, box: w.box, id: w.ids[0], line: w.line, stamp: w.stamp }));

/** And back. */
export function foundIn({ list = [], words }: PageText): FoundWord[] {
  return list.map(({ key, shown, box, id, line, stamp }): FoundWord => {
    const read = key === null ? undefined : words[key];
    const others = (read?.readings ?? []).filter((r) => r.text !== shown);
    return searchable({ text: bare(shown), others: others.map((r) => bare(r.text)), sure: [1, ...others.map((r) => r.confidence)], ...(read ? { logs: read.logs } : {}), shown, box, ids: [id], line, stamp });
  });
}
