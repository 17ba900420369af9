/** Whether one word becomes another by at most so many letters put in, left out or changed (edit distance, V. I. Levenshtein, Soviet Physics Doklady 10, 1966). */
export function mistakesWithin(a: string, b: string, most: number): boolean {
  if (Math.abs(a.length - b.length) > most) return false;
  let row = Array.from({ length: b.length + 1 }, (_, i) => i);
  for (let i = 1; i <= a.length; i++) {
    const next = [i];
    let least = i;
    for (let k = 1; k <= b.length; k++) {
      next.push(Math.min(row[k] + 1, next[k - 1] + 1, row[k - 1] + Number(a[i - 1] !== b[k - 1])));
      if (next[k] < least) least = next[k];
    }
    if (least > most) return false;
    row = next;
  }
  return row[b.length] <= most;
}
