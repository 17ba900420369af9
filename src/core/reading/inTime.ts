/** What was written in the order of time: the words around a moment, so that a gap or a mark can be asked about by what stands beside it. */
import { toTimeline, type Timeline } from '../time/timeline';
import type { FoundWord } from './noteWords';

export interface WordInTime {
  readonly shown: string;
  /** When it was begun, ms of the timeline. */
  readonly at: number;
  /** Words of one line share it. */
  readonly line: string;
}

/** Words of all pages by when they were begun; those without sound are not among them. */
export const wordsInTime = (pages: readonly (readonly Pick<FoundWord, 'shown' | 'stamp' | 'line'>[])[], timeline: Timeline): WordInTime[] =>
  pages
    .flatMap((words, page) =>
      words.flatMap(({ shown, stamp, line }): WordInTime[] => {
        const at = toTimeline(timeline, stamp);
        return at === null ? [] : [{ shown, at, line: `${page} ${line}` }];
      }),
    )
    .sort((a, b) => a.at - b.at);

/** Words that are named at most, and no longer ago or ahead than this, ms. */
const MOST = 4;
const NEAR_MS = 120_000;

/** How many of the words, which are in order, were begun before `ms`. */
function countBefore(words: readonly WordInTime[], ms: number): number {
  let [low, high] = [0, words.length];
  while (low < high) {
    const mid = (low + high) >> 1;
    if (words[mid].at < ms) low = mid + 1;
    else high = mid;
  }
  return low;
}

/** The last words that were begun before a moment, of one line; empty where none are near. */
export function wordsBefore(words: readonly WordInTime[], ms: number): string {
  const end = countBefore(words, ms);
  const last = words[end - 1];
  if (!last || ms - last.at > NEAR_MS) return '';
  let from = end - 1;
  while (from > 0 && end - from < MOST && words[from - 1].line === last.line) from--;
  return words.slice(from, end).map((w) => w.shown).join(' ');
}

/** The first words that were begun at it or after it, of one line; empty where none are near. */
export function wordsAfter(words: readonly WordInTime[], ms: number): string {
  const from = countBefore(words, ms);
  const first = words[from];
  if (!first || first.at - ms > NEAR_MS) return '';
  let to = from + 1;
  while (to < words.length && to - from < MOST && words[to].line === first.line) to++;
  return words.slice(from, to).map((w) => w.shown).join(' ');
}

/** Without the dash of a list and the like before it, and the sign that ends it. */
const named = (text: string): string => `“${text.replace(/^[^\p{L}\p{N}(]+/u, '').replace(/[,;:.\s]+$/u, '') || text}”`;

/** What is to be found out about a gap (ms of the timeline); null where nothing near it was read. */
export function gapQuestion(words: readonly WordInTime[], { from, to }: { readonly from: number; readonly to: number }): string | null {
  // Nothing was begun in it but at its edges, which writers reach late.
  const middle = (from + to) / 2;
  const [before, after] = [wordsBefore(words, middle), wordsAfter(words, middle)];
  if (before && after) return `What was said between ${named(before)} and ${named(after)}?`;
  if (before) return `What was said after ${named(before)}?`;
  return after ? `What was said before ${named(after)}?` : null;
}

/** A mark is set up to so long before the words that it is about, ms: people press first and write then. */
const AHEAD_MS = 4000;

/** The words that a mark stands at; empty where nothing near it was read. */
export const wordsAt = (words: readonly WordInTime[], ms: number): string => wordsBefore(words, ms + AHEAD_MS) || wordsAfter(words, ms + AHEAD_MS);

export type Asking = 'missed' | 'ask' | 'key' | 'do';

/** What a mark without words of its own asks; null where nothing near it was read. */
export function markQuestion(words: readonly WordInTime[], kind: Asking, ms: number): string | null {
  const at = wordsAt(words, ms);
  if (!at) return null;
  if (kind === 'missed') return `What was missed at ${named(at)}?`;
  if (kind === 'ask') return `What is to be asked about ${named(at)}?`;
  return kind === 'do' ? `What is to be done about ${named(at)}?` : `What matters at ${named(at)}?`;
}
