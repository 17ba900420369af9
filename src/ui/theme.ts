/** Paper and harbour: the two themes of the interface. Contrast of every pair in use is checked in theme.test.ts (WCAG 2.2). */
import { configureFonts, MD3DarkTheme, MD3LightTheme, type MD3Theme } from 'react-native-paper';

export const SANS = '"Atkinson Hyperlegible", "Segoe UI", sans-serif';
export const SERIF = 'Literata, Georgia, serif';

const fonts = configureFonts({
  config: Object.fromEntries(
    Object.entries(MD3LightTheme.fonts).map(([name, f]) => [name, { ...f, fontFamily: /^(display|headline|titleLarge)/.test(name) ? SERIF : SANS }]),
  ),
});

export const lightTheme: MD3Theme = {
  ...MD3LightTheme,
  roundness: 3,
  fonts,
  colors: {
    ...MD3LightTheme.colors,
    primary: '#1F7A6D',
    onPrimary: '#FFFFFF',
    primaryContainer: '#CFE8E2',
    onPrimaryContainer: '#0C3F38',
    secondary: '#16324F',
    onSecondary: '#FFFFFF',
    secondaryContainer: '#DCE4EC',
    onSecondaryContainer: '#16324F',
    tertiary: '#8A5A00',
    onTertiary: '#FFFFFF',
    tertiaryContainer: '#FBE6BF',
    onTertiaryContainer: '#4A3000',
    error: '#B5382A',
    onError: '#FFFFFF',
    errorContainer: '#FADCD7',
    onErrorContainer: '#6B1A10',
    background: '#FBF8F1',
    onBackground: '#16324F',
    surface: '#FBF8F1',
    onSurface: '#16324F',
    surfaceVariant: '#EFE9DB',
    onSurfaceVariant: '#43566A',
    outline: '#6D7C8B',
    outlineVariant: '#D5CFC0',
    elevation: { level0: 'transparent', level1: '#F6F1E6', level2: '#F3EDE0', level3: '#F0E9DA', level4: '#EFE7D7', level5: '#EDE5D3' },
  },
};

export const darkTheme: MD3Theme = {
  ...MD3DarkTheme,
  roundness: 3,
  fonts,
  colors: {
    ...MD3DarkTheme.colors,
    primary: '#63C3B3',
    onPrimary: '#06302A',
    primaryContainer: '#14534A',
    onPrimaryContainer: '#CFEFE8',
    secondary: '#A9C2DC',
    onSecondary: '#0E2338',
    secondaryContainer: '#24405C',
    onSecondaryContainer: '#DCE8F4',
    tertiary: '#F0B64A',
    onTertiary: '#3B2600',
    tertiaryContainer: '#5B3E05',
    onTertiaryContainer: '#FBE6BF',
    error: '#F2978A',
    onError: '#4E0F07',
    errorContainer: '#7A2418',
    onErrorContainer: '#FADCD7',
    background: '#15202B',
    onBackground: '#E7EDF3',
    surface: '#15202B',
    onSurface: '#E7EDF3',
    surfaceVariant: '#223140',
    onSurfaceVariant: '#B7C4D1',
    outline: '#8798A9',
    outlineVariant: '#35475A',
    elevation: { level0: 'transparent', level1: '#1A2733', level2: '#1E2C3A', level3: '#223140', level4: '#243444', level5: '#273849' },
  },
};

/** A window this wide or wider gets the side bars. */
export const WIDE = 1000;
