/** How well a text was read: errors by sign and by word, as a share of what was written (edit distance: V. I. Levenshtein, Soviet Physics Doklady 10, 1966). */

/** Least number of insertions, deletions and substitutions that make `got` of `want`. */
export function mistakes(want: readonly string[], got: readonly string[]): number {
  let row = Array.from({ length: got.length + 1 }, (_, i) => i);
  for (let i = 1; i <= want.length; i++) {
    const next = [i];
    for (let k = 1; k <= got.length; k++) next.push(Math.min(row[k] + 1, next[k - 1] + 1, row[k - 1] + Number(want[i - 1] !== got[k - 1])));
    row = next;
  }
  return row[got.length];
}

/** Character error rate. */
export const cer = (want: string, got: string): number => mistakes([...want], [...got]) / [...want].length;

/** Word error rate. */
export const wer = (want: string, got: string): number => mistakes(want.split(/\s+/), got.split(/\s+/)) / want.split(/\s+/).length;

/**
 * Average precision of a ranking: the mean, over all that is relevant, of the precision where each of it stands; what is not in the ranking counts as 0 (C. D. Manning,
 * P. Raghavan and H. Schütze, Introduction to Information Retrieval, 2008, section 8.4, equation 8.8; the mean of it over queries is the mean average precision).
 */
export function averagePrecision(ranking: readonly boolean[], relevant: number): number {
  let [hits, sum] = [0, 0];
  ranking.forEach((is, i) => {
    if (is) sum += ++hits / (i + 1);
  });
  return sum / relevant;
}
