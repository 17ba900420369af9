/** How large the system, or the browser, is asked to show text. The component library counts in px, so its sizes are multiplied. */
const USUAL_PX = 16;
/** Larger text no longer fits a phone; the browser's own zoom goes on from there (WCAG 2.2, 1.4.4: to 200 per cent). */
const MOST = 2;
/** Words below the symbols of one row. */
const MOST_IN_ROW = 1.4;
const LEAST = 0.85;

const asked = (): number => {
  if (typeof document === 'undefined' || typeof getComputedStyle === 'undefined') return 1;
  const px = parseFloat(getComputedStyle(document.documentElement).fontSize);
  return Number.isFinite(px) ? px / USUAL_PX : 1;
};

/** Read once: browsers apply a change of it to pages that are loaded afterwards. */
export const textScale = Math.min(MOST, Math.max(LEAST, asked()));

/** A size of text in px, as large as it is asked to be. */
export const textPx = (px: number): number => Math.round(px * textScale * 10) / 10;

/** The same of a word in a row that has to hold so many of them. */
export const rowPx = (px: number): number => Math.round(px * Math.min(MOST_IN_ROW, textScale) * 10) / 10;
