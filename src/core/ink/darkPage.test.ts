/** Ink on a dark page. The contrast is computed here from the definition in WCAG 2.2, apart from the package that the code uses. */
import * as fc from 'fast-check';
import { SHEET } from '../note/paper';
import { DARK_SHEET, onDark } from './darkPage';

/** WCAG 2.2, "relative luminance" and "contrast ratio". */
const luminance = (hex: string): number => {
  const [r, g, b] = [1, 3, 5].map((i) => parseInt(hex.slice(i, i + 2), 16) / 255).map((c) => (c <= 0.04045 ? c / 12.92 : ((c + 0.055) / 1.055) ** 2.4));
  return 0.2126 * r + 0.7152 * g + 0.0722 * b;
};
const contrast = (a: string, b: string): number => {
  const [x, y] = [luminance(a), luminance(b)].sort((p, q) => q - p);
  return (x + 0.05) / (y + 0.05);
};
/** Hue in degrees from the angle in the plane of a and b of OKLab (B. Ottosson, 2020); null for what is nearly gray. */
const hue = (hex: string): number | null => {
  const [r, g, b] = [1, 3, 5].map((i) => parseInt(hex.slice(i, i + 2), 16) / 255).map((c) => (c <= 0.04045 ? c / 12.92 : ((c + 0.055) / 1.055) ** 2.4));
  const [l, m, s] = [0.4122214708 * r + 0.5363325363 * g + 0.0514459929 * b, 0.2119034982 * r + 0.6806995451 * g + 0.1073969566 * b, 0.0883024619 * r + 0.2817188376 * g + 0.6299787005 * b].map(Math.cbrt);
  const [x, y] = [1.9779984951 * l - 2.428592205 * m + 0.4505937099 * s, 0.0259040371 * l + 0.7827717662 * m - 0.808675766 * s];
  return Math.hypot(x, y) < 0.03 ? null : (Math.atan2(y, x) * 180) / Math.PI;
};

test('the formula of this test gives the published end points: black on white 21, #767676 on white 4.54 (WCAG 2.2, understanding 1.4.3)', () => {
  expect(contrast('#000000', '#ffffff')).toBeCloseTo(21, 6);
  expect(contrast('#767676', '#ffffff')).toBeCloseTo(4.54, 2);
});

test('every colour keeps its contrast, as far as white has it, and its hue', () => {
  const most = contrast('#ffffff', DARK_SHEET);
  expect(most).toBeGreaterThan(15);
  fc.assert(
    fc.property(fc.integer({ min: 0, max: 0xffffff }), (n) => {
      const color = `#${n.toString(16).padStart(6, '0')}`;
      const dark = onDark(color, SHEET);
      const wanted = Math.min(contrast(color, SHEET), most);
      // A step of one in a channel is the finest there is; on a dark sheet it is up to a tenth of the contrast of the faintest ink.
      expect(contrast(dark, DARK_SHEET) / wanted).toBeGreaterThan(0.93);
      expect(contrast(dark, DARK_SHEET) / wanted).toBeLessThan(1.07);
      const [from, to] = [hue(color), hue(dark)];
      if (from !== null && to !== null) expect(Math.abs(((from - to + 540) % 360) - 180)).toBeLessThan(12);
    }),
    { numRuns: 300 },
  );
});

test('inks that differ on white differ on dark', () => {
  const inks = ['#16324f', '#14665b', '#b5382a', '#4a4a4a', '#f2c94c', '#2456a6', '#7a3b8f', '#000000'];
  const dark = inks.map((c) => onDark(c, SHEET));
  for (let i = 0; i < inks.length; i++) for (let j = 0; j < i; j++) expect(dark[i]).not.toBe(dark[j]);
});
