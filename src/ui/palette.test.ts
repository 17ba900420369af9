/** Contrast of the pairs in use, by the formula of WCAG 2.2 (relative luminance and contrast ratio, definitions section). */
import { readdirSync, readFileSync, statSync } from 'node:fs';
import path from 'node:path';
import { FOLDER_TINTS } from './folderLooks';
import { cssColors, palettes, type Theme } from './palette';

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
    [c.primary, c.surfaceVariant],
    [c.primary, c.elevation.level2],
    [c.primary, c.elevation.level5],
    [c.error, c.surfaceVariant],
  ];
  for (const [fore, back] of pairs) expect([fore, back, contrast(fore, back) >= 4.5]).toEqual([fore, back, true]);
});

test('white emblems can be told from every folder colour, at 4.5 to 1 or better (WCAG 2.2, 1.4.11 asks for 3)', () => {
  for (const tint of Object.values(FOLDER_TINTS)) expect(contrast('#FFFFFF', tint)).toBeGreaterThanOrEqual(4.5);
});

const SRC = path.resolve(__dirname, '..');
const filesIn = (p: string): string[] => (statSync(p).isDirectory() ? readdirSync(p).flatMap((n) => filesIn(path.join(p, n))) : [p]);
const sources = filesIn(SRC).filter((f) => /\.(css|tsx?)$/.test(f) && !/\.test\.tsx?$/.test(f));
/** A page of its own, far from the interface. */
const REPLAY = 'platform/handing/replay/player.css';
/** Where colours may be: those of the interface, of inks, of papers, the sheet that dark pages have, and the replay page. */
const PLACES = ['ui/palette.ts', 'core/ink/inks.ts', 'core/note/paper.ts', 'core/ink/darkPage.ts', REPLAY];

test('colours are said in the palette, or among inks and papers, and nowhere else', () => {
  // Black and white are what contrast is measured against.
  const colored = sources.filter((f) => !PLACES.includes(path.relative(SRC, f)) && /#(?!000000|ffffff)[0-9a-f]{6}\b|\brgba?\(\d/i.test(readFileSync(f, 'utf8')));
  expect(colored.map((f) => path.relative(SRC, f))).toEqual([]);
});

test.each(['light', 'dark'] as const)('every colour that a style sheet names is there (%s)', (theme: Theme) => {
  // Set where they are used: by the surface and by sliders.
  const own = ['margin', 'paper', 'print', 'done', 'share'];
  const sheets = sources.filter((f) => f.endsWith('.css') && path.relative(SRC, f) !== REPLAY).map((f) => readFileSync(f, 'utf8')).join('\n');
  const named = new Set([...sheets.matchAll(/var\(--([\w-]+)/g)].map((m) => m[1]));
  const known = Object.keys(cssColors(theme));
  expect([...named].filter((n) => !known.includes(n) && !own.includes(n))).toEqual([]);
  expect(known.filter((n) => !named.has(n))).toEqual([]);
});
