/**
 * The one place for the colours of the interface: ink and paper, sea green for actions, amber for the reading line, brick for recording and
 * danger. The style sheets take theirs from here (`cssColors.ts`). Colours that a note can have are in the core: inks in `ink/inks.ts`, papers in
 * `note/paper.ts`.
 */
import { SHEET } from '../core/note/paper';

/** Colours by name; what lies on a page has these in both themes, since the page is paper. */
export const HUES = {
  navy: '#16324F', green: '#1F7A6D', amber: '#D98E04', brass: '#8A5A00', brick: '#B5382A', slate: '#4D5F70', plum: '#6B3F73', teal: '#0F6A80', sand: '#7A6A45', white: '#FFFFFF', sheet: SHEET.toUpperCase(),
} as const;

export const palettes = {
  light: {
    // The green of actions, as dark as it has to be to be read on sand.
    primary: '#1A6E62',
    onPrimary: HUES.white,
    primaryContainer: '#CFE8E2',
    onPrimaryContainer: '#0C3F38',
    secondary: HUES.navy,
    onSecondary: HUES.white,
    secondaryContainer: '#DCE4EC',
    onSecondaryContainer: HUES.navy,
    tertiary: HUES.brass,
    onTertiary: HUES.white,
    tertiaryContainer: '#FBE6BF',
    onTertiaryContainer: '#4A3000',
    error: HUES.brick,
    onError: HUES.white,
    errorContainer: '#FADCD7',
    onErrorContainer: '#6B1A10',
    background: '#FBF8F1',
    onBackground: HUES.navy,
    surface: '#FBF8F1',
    onSurface: HUES.navy,
    surfaceVariant: '#EFE9DB',
    onSurfaceVariant: '#43566A',
    outline: '#6D7C8B',
    outlineVariant: '#D5CFC0',
    elevation: { level0: 'transparent', level1: '#F6F1E6', level2: '#F3EDE0', level3: '#F0E9DA', level4: '#EFE7D7', level5: '#EDE5D3' },
  },
  dark: {
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
} as const;

export type Theme = keyof typeof palettes;

/** Under the pages and the deck; the empty part of sliders; the loudness on the timeline. */
const GROUND = {
  light: { desk: '#E9E3D5', track: '#B9B1A0', wave: '#5F7A94', ruler: '#DFE6EC' },
  dark: { desk: '#101A24', track: '#4A5D70', wave: '#8FA8BF', ruler: '#DFE6EC' },
} as const;

/** Takes are told apart by a pattern of two shades each; the first is plain green. */
const TAKES = [['#3568A8', '#CFDCEE'], ['#8A4F9E', '#E7D6EE'], ['#A0522D', '#F0DCCF'], ['#55677A', '#DFE5EA']] as const;

/** Marks, by the part of the palette that each has. */
export const MARK_ROLES = { missed: 'error', key: 'primary', ask: 'tertiary', do: 'secondary' } as const;

/** A colour with less of it, 0..1. */
const sheer = (hex: string, alpha: number): string => `${hex}${Math.round(255 * alpha).toString(16).padStart(2, '0')}`;

/** Under what lies over the screen. */
export const shadow = (alpha: number): string => sheer(GROUND.dark.desk, alpha);

/** What is drawn on the timeline. */
export function timelineColors(theme: Theme) {
  const c = palettes[theme];
  return { wave: GROUND[theme].wave, writing: c.onBackground, gap: c.error, pause: sheer(theme === 'dark' ? c.tertiary : HUES.amber, 0.2), repeat: sheer(c.primary, theme === 'dark' ? 0.35 : 0.28) };
}

/** The colours that style sheets name. */
export function cssColors(theme: Theme): Readonly<Record<string, string>> {
  const c = palettes[theme];
  const { navy, green, amber, brass, white, sheet } = HUES;
  return {
    navy, green, amber, brass, white, sheet,
    paper: sheet,
    outline: palettes.light.outline,
    'night-edge': palettes.dark.outlineVariant,
    ...Object.fromEntries(TAKES.flatMap(([strong, pale], i) => [[`take-${i + 1}`, strong], [`take-${i + 1}-pale`, pale]])),
    ink: c.onBackground, sea: c.primary, quiet: c.onSurfaceVariant, bg: c.background, card: c.elevation.level1, edge: c.outlineVariant,
    chip: c.tertiaryContainer, 'chip-ink': c.onTertiaryContainer, danger: c.error, 'danger-ink': c.onErrorContainer, ask: c.tertiary, do: c.secondary,
    desk: GROUND[theme].desk, track: GROUND[theme].track, ruler: GROUND[theme].ruler,
  };
}
