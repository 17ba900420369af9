/** Contrast of the pairs in use, by the formula of WCAG 2.2 (relative luminance and contrast ratio, definitions section). */
import { FOLDER_TINTS } from './folderLooks';
import { palettes } from './palette';

const channel = (v: number) => (v <= 0.04045 ? v / 12.92 : ((v + 0.055) / 1.055) ** 2.4);
const luminance = (hex: string) => {
  const [r, g, b] = [1, 3, 5].map((i) => channel(parseInt(hex.slice(i, i + 2), 16) / 255));
  return 0.2126 * r + 0.7152 * g + 0.0722 * b;
};
const contrast = (a: string, b: string) => {
  const [hi, lo] = [luminance(a), luminance(b)].sort((x, y) => y - x);
  return (hi + 0.05) / (lo + 0.05);
};

test('the formula gives 21 for black on white and 4.5 where the standard says so', () => {
  expect(contrast('#000000', '#ffffff')).toBeCloseTo(21, 5);
  // #767676 on white is the usual example of just enough: 4.54.
  expect(contrast('#767676', '#ffffff')).toBeCloseTo(4.54, 2);
});

test.each(Object.entries(palettes))('%s: text reads at 4.5 to 1 or better (WCAG 2.2, 1.4.3 AA)', (_, c) => {
  const pairs: [string, string][] = [
    [c.onPrimary, c.primary],
    [c.onSecondary, c.secondary],
    [c.onError, c.error],
    [c.onBackground, c.background],
    [c.onSurfaceVariant, c.background],
    [c.onSurfaceVariant, c.surfaceVariant],
    [c.onErrorContainer, c.errorContainer],
    [c.onSecondaryContainer, c.secondaryContainer],
    [c.onTertiaryContainer, c.tertiaryContainer],
    [c.primary, c.background],
    [c.error, c.surfaceVariant],
  ];
  for (const [fore, back] of pairs) expect([fore, back, contrast(fore, back) >= 4.5]).toEqual([fore, back, true]);
});

test('white emblems can be told from every folder colour, at 4.5 to 1 or better (WCAG 2.2, 1.4.11 asks for 3)', () => {
  for (const tint of Object.values(FOLDER_TINTS)) expect(contrast('#FFFFFF', tint)).toBeGreaterThanOrEqual(4.5);
});
