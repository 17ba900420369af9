/**
 * What the text of a note says about where it belongs: the words that set it apart from other notes, and the folder whose notes have most of them. Words are weighed
 * by how often they stand in the note, against in how many notes they stand at all (K. Spärck Jones, Journal of Documentation 28, 1972).
 */
import { compareNames } from '../collation';
export interface NoteTerms {
  readonly note: string;
  readonly folder: string | null;
  /** How often each word stands in it, by the folded word. */
  readonly counts: ReadonlyMap<string, number>;
  /** How each is written, by the folded word. */
  readonly shown: ReadonlyMap<string, string>;
}

/** Words shorter than this name nothing. */
const LEAST = 4;

/** @param words as they are shown, and folded */
export function termsOf(note: string, folder: string | null, words: readonly { readonly text: string; readonly shown: string }[]): NoteTerms {
  const [counts, shown] = [new Map<string, number>(), new Map<string, string>()];
  for (const { text, shown: as } of words) {
    if (text.length < LEAST || !/^\p{L}+(['-]\p{L}+)*$/u.test(text)) continue;
    counts.set(text, (counts.get(text) ?? 0) + 1);
    if (!shown.has(text)) shown.set(text, as.replace(/^[^\p{L}]+|[^\p{L}]+$/gu, ''));
  }
  return { note, folder, counts, shown };
}

/** How much a word tells that stands in `df` of `n` notes: the common logarithm of how rare it is. */
export const idf = (n: number, df: number): number => Math.log10(n / df);

function notesWith(notes: readonly NoteTerms[]): ReadonlyMap<string, number> {
  const df = new Map<string, number>();
  for (const { counts } of notes) for (const word of counts.keys()) df.set(word, (df.get(word) ?? 0) + 1);
  return df;
}

/** Notes that a word has to be told from, at least: of fewer nothing is known. */
const FEW = 2;

/** Words that set a note apart from the others, the most telling first, as they are written. */
export function wordsApart(of: NoteTerms, others: readonly NoteTerms[], most = 6): string[] {
  const all = [of, ...others.filter((o) => o.note !== of.note && o.counts.size > 0)];
  if (all.length <= FEW) return [];
  const df = notesWith(all);
  return [...of.counts]
    .map(([word, tf]) => ({ word, score: (1 + Math.log10(tf)) * idf(all.length, df.get(word)!) * Math.min(1, word.length / 7) }))
    .filter(({ score }) => score > 0)
    .sort((a, b) => b.score - a.score || compareNames(a.word, b.word))
    .slice(0, most)
    .map(({ word }) => of.shown.get(word) ?? word);
}

/** Less alike than this and it is chance. */
const ALIKE = 0.12;

/** The folder whose notes are most alike in their words (cosine of the weighed words); null where none is, or the note lies there. */
export function folderByText(of: NoteTerms, others: readonly NoteTerms[]): string | null {
  const rest = others.filter((o) => o.note !== of.note && o.counts.size > 0);
  const all = [of, ...rest];
  if (all.length <= FEW) return null;
  const df = notesWith(all);
  const weigh = (counts: ReadonlyMap<string, number>): Map<string, number> => new Map([...counts].map(([w, tf]) => [w, (1 + Math.log10(tf)) * idf(all.length, df.get(w)!)]));
  const norm = (v: ReadonlyMap<string, number>): number => Math.hypot(...v.values());
  const sums = new Map<string, Map<string, number>>();
  for (const { folder, counts } of rest) {
    if (folder === null) continue;
    const sum = sums.get(folder) ?? new Map<string, number>();
    for (const [w, c] of counts) sum.set(w, (sum.get(w) ?? 0) + c);
    sums.set(folder, sum);
  }
  const own = weigh(of.counts);
  let best: { folder: string; alike: number } | null = null;
  for (const [folder, sum] of sums) {
    const theirs = weigh(sum);
    let dot = 0;
    for (const [w, v] of own) dot += v * (theirs.get(w) ?? 0);
    const alike = dot / (norm(own) * norm(theirs) || 1);
    if (alike > (best?.alike ?? ALIKE)) best = { folder, alike };
  }
  return best && best.folder !== of.folder ? best.folder : null;
}
