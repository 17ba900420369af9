/** Pages of a PDF as pages of a note: their measures, and which of them were asked for. */

/** ISO 32000-1, 8.3.2.3: the unit of default user space is 1/72 inch. */
export const MM_PER_POINT = 25.4 / 72;

/** Sheets are kept to 1/100 mm, and to what a page of a note can be, mm. */
const [LEAST_MM, MOST_MM] = [20, 3000];

/** A page's width and height in points, upright as it is shown, as those of a sheet, mm. */
export function sheetOf(wPt: number, hPt: number): { w: number; h: number } {
  const side = (pt: number) => Math.min(MOST_MM, Math.max(LEAST_MM, Math.round(pt * MM_PER_POINT * 100) / 100));
  return { w: side(wPt), h: side(hPt) };
}

/**
 * Pages by their numbers, as people write them: `1-3, 7`, `5-`; empty for all. Gives indices from 0, in the order they were named, each once.
 * @returns null when it names none, or something else than pages.
 */
export function namedPages(text: string, count: number): number[] | null {
  if (!text.trim()) return Array.from({ length: count }, (_, i) => i);
  const out = new Set<number>();
  for (const part of text.split(',')) {
    const m = /^\s*(\d+)\s*(?:([-–])\s*(\d*)\s*)?$/.exec(part);
    if (!m) return null;
    const from = Number(m[1]);
    const to = m[2] ? (m[3] ? Number(m[3]) : count) : from;
    if (from < 1 || to > count || from > to) return null;
    for (let n = from; n <= to; n++) out.add(n - 1);
  }
  return [...out];
}

/** Headings have three levels; deeper ones of an outline count as the third. */
export const headingLevel = (depth: number): 1 | 2 | 3 => Math.min(3, Math.max(1, depth)) as 1 | 2 | 3;
