/** Ink on a dark page: every colour keeps its hue and the contrast it has on a light one, as far as dark paper allows. */
import { clampChroma, converter, formatHex, parse, wcagContrast } from 'culori';

/** Sheet and lines of a dark page. */
export const DARK_SHEET = '#10171f';

const toOklch = converter('oklch');
/** A shade of the hue; gray has none. */
const shade = (l: number, c: number, h: number | undefined): string => formatHex(clampChroma({ mode: 'oklch', l, c, h }, 'oklch'))!;

const known = new Map<string, string>();

/**
 * The colour that stands against `dark` as `color` stands against `light`: the same hue (OKLCH, B. Ottosson 2020), the same contrast ratio
 * (WCAG 2.2), and where that is more than white would have, white. Colours as `#rrggbb`.
 */
export function onDark(color: string, light: string, dark: string = DARK_SHEET): string {
  const key = `${color} ${light} ${dark}`;
  let found = known.get(key);
  if (found) return found;
  const source = toOklch(parse(color) ?? '#000000')!;
  const wanted = wcagContrast(color, light);
  let [low, high] = [toOklch(dark)!.l, 1];
  // Contrast with a dark sheet only grows with lightness, so halving finds it.
  for (let i = 0; i < 24; i++) {
    const mid = (low + high) / 2;
    if (wcagContrast(shade(mid, source.c, source.h), dark) < wanted) low = mid;
    else high = mid;
  }
  known.set(key, (found = shade(high, source.c, source.h)));
  return found;
}
