/** What the handwriting of a page says, as far as it was read or put right: for lists, for screen readers, and for what is handed on. */
import type { Grouping } from '../ink/words/grouping';
import type { Box } from '../ink/stroke';
import { shownWord, textLines, type PageText, type Written } from './pageText';

/** A word in the order in which one reads. */
export interface SaidWord {
  readonly strokes: readonly string[];
  readonly text: string;
  /** mm. */
  readonly box: Box;
  /** Words of one line stand together; counts from 0 on the page. */
  readonly line: number;
  /** Another paragraph begins with its line. */
  readonly begins: boolean;
}
export type Said = readonly SaidWord[];

export const saidOn = (grouping: Grouping, text: PageText | undefined, written: ReadonlyMap<string, Written>): Said =>
  textLines(grouping).flatMap((l, line) =>
    l.words.flatMap((i): SaidWord[] => {
      const word = grouping.words[i];
      const shown = shownWord(word, text, written);
      return shown ? [{ strokes: word.strokes, text: shown.text, box: word.box, line, begins: l.begins }] : [];
    }),
  );

/** What these strokes say: the words that are among them with most of their strokes. Empty where nothing of it was read. */
export function saidBy(said: Said, strokes: ReadonlySet<string>): string {
  return said
    .filter((w) => 2 * w.strokes.filter((id) => strokes.has(id)).length > w.strokes.length)
    .map((w) => w.text)
    .join(' ');
}

/** Of what a page says, what these things on it say. */
export function saidHere(said: Said, placed: readonly { readonly id: string }[]): Said {
  const here = new Set(placed.map((it) => it.id));
  return said.filter((w) => w.strokes.some((id) => here.has(id)));
}

/** So long a title is at most that is made of a line, signs. */
const TITLE = 60;

/** What a note that nobody has named may be called: its first heading that was read, else its first line of two words at least; null where nothing is known. */
export function titleOf(headings: readonly string[], pages: readonly Said[]): string | null {
  const lines = pages.flatMap((said) => {
    const by = new Map<number, string[]>();
    for (const w of said) by.set(w.line, [...(by.get(w.line) ?? []), w.text]);
    return [...by.values()].filter((words) => words.length > 1).map((words) => words.join(' '));
  });
  const text = (headings.find((h) => h.trim()) ?? lines[0])?.trim();
  if (!text) return null;
  return text.length <= TITLE ? text : text.slice(0, text.lastIndexOf(' ', TITLE) + 1 || TITLE).trim();
}

/** So much is told of a page, signs. */
const TOLD = 400;

/** What a page says, in a sentence or two, for who does not see it; empty where nothing was read. */
export function describe(said: Said): string {
  const text = said.map((w) => w.text).join(' ');
  return text.length <= TOLD ? text : `${text.slice(0, text.lastIndexOf(' ', TOLD))} …`;
}
