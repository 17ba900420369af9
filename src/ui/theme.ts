/** Paper and harbour: the two themes of the interface. Contrast of every pair in use is checked in palette.test.ts (WCAG 2.2). */
import { configureFonts, MD3DarkTheme, MD3LightTheme, type MD3Theme } from 'react-native-paper';
import { palettes } from './palette';
import { textPx, textScale } from './textScale';

const SANS = '"Atkinson Hyperlegible", "Segoe UI", sans-serif';
const SERIF = 'Literata, Georgia, serif';

/** Text that names no size has this one, px (React Native for Web); at the usual scale it stays unsaid, so that text within text has the size around it. */
const USUAL_TEXT_PX = 14;

const fonts = configureFonts({
  config: Object.fromEntries(
    Object.entries(MD3LightTheme.fonts).map(([name, f]) => [name, { ...f, ...('fontSize' in f ? { fontSize: textPx(f.fontSize), lineHeight: textPx(f.lineHeight) } : textScale === 1 ? {} : { fontSize: textPx(USUAL_TEXT_PX) }), fontFamily: /^(display|headline|titleLarge)/.test(name) ? SERIF : SANS }]),
  ),
});

export const lightTheme: MD3Theme = { ...MD3LightTheme, roundness: 3, fonts, colors: { ...MD3LightTheme.colors, ...palettes.light } };
export const darkTheme: MD3Theme = { ...MD3DarkTheme, roundness: 3, fonts, colors: { ...MD3DarkTheme.colors, ...palettes.dark } };

/** A window this wide or wider gets the side bars. */
export const WIDE = 1000;
