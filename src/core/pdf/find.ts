/** Finding words in the text of a page: where they stand, whatever case and accents, also across the pieces that a PDF cuts its lines into. */
import type { Box } from '../ink/stroke';

export interface TextRun {
  readonly text: string;
  readonly box: Box;
  /** A line ends after it. */
  readonly ends: boolean;
}

export interface Hit {
  /** Where it stands, one box a line. */
  readonly boxes: readonly Box[];
  /** The line around it. */
  readonly around: string;
}

/** Without case, accents and the ligatures of printers; one letter may become two, so places are kept. */
function plain(text: string): { plain: string; at: number[] } {
  let out = '';
  const at: number[] = [];
  for (let i = 0; i < text.length; i++) {
    const c = text[i].normalize('NFKD').replace(/\p{M}/gu, '').toLowerCase();
    for (let k = 0; k < c.length; k++) at.push(i);
    out += c;
  }
  return { plain: out, at };
}

/** So much of a line stands around what was found. */
const AROUND = 40;

export function findIn(runs: readonly TextRun[], wanted: string): Hit[] {
  const needle = plain(wanted).plain.replace(/\s+/g, ' ').trim();
  if (!needle) return [];
  let all = '';
  const from: { run: number; start: number }[] = [];
  runs.forEach((r, run) => {
    from.push({ run, start: all.length });
    // A word cut at the end of a line goes on in the next.
    all += r.ends ? (/\p{L}-$/u.test(r.text) ? r.text.slice(0, -1) : `${r.text} `) : r.text;
  });
  const { plain: text, at } = plain(all.replace(/\s/g, ' '));
  const hits: Hit[] = [];
  for (let i = text.indexOf(needle); i >= 0; i = text.indexOf(needle, i + needle.length)) {
    const [a, b] = [at[i], at[i + needle.length - 1] + 1];
    const boxes: Box[] = [];
    for (let k = 0; k < from.length; k++) {
      const { run, start } = from[k];
      const { text: words, box } = runs[run];
      const [l, r] = [Math.max(a, start), Math.min(b, start + words.length)];
      if (l >= r || !words.length) continue;
      const w = (box[2] - box[0]) / words.length;
      boxes.push([box[0] + (l - start) * w, box[1], box[0] + (r - start) * w, box[3]]);
    }
    hits.push({ boxes, around: `${a > AROUND ? '… ' : ''}${all.slice(Math.max(0, a - AROUND), b + AROUND).trim()}${b + AROUND < all.length ? ' …' : ''}` });
  }
  return hits;
}
