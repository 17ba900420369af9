/** Paper and harbour: the two themes of the interface. Contrast of every pair in use is checked in palette.test.ts (WCAG 2.2). */
import { configureFonts, MD3DarkTheme, MD3LightTheme, type MD3Theme } from 'react-native-paper';
import { palettes } from './palette';
import { textPx } from './textScale';

const SANS = '"Atkinson Hyperlegible", "Segoe UI", sans-serif';
const SERIF = 'Literata, Georgia, serif';

const fonts = configureFonts({
  config: Object.fromEntries(
    Object.entries(MD3LightTheme.fonts).map(([name, f]) => [name, { ...f, ...('fontSize' in f ? { fontSize: textPx(f.fontSize), lineHeight: textPx(f.lineHeight) } : {}), fontFamily: /^(display|headline|titleLarge)/.test(name) ? SERIF : SANS }]),
  ),
});

export const lightTheme: MD3Theme = { ...MD3LightTheme, roundness: 3, fonts, colors: { ...MD3LightTheme.colors, ...palettes.light } };
export const darkTheme: MD3Theme = { ...MD3DarkTheme, roundness: 3, fonts, colors: { ...MD3DarkTheme.colors, ...palettes.dark } };

/** A window this wide or wider gets the side bars. */
export const WIDE = 1000;
