/** How large the system, or the browser, is asked to show text. The component library counts in px, so its sizes are multiplied. */
const USUAL_PX = 16;
/** Larger text than this no longer fits the controls of a phone; the browser's own zoom goes on from there. */
const MOST = 1.6;
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
