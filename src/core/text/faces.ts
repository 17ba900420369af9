/** How typed text can look. */
import { ADVANCES } from './advances';

export const FACES = ['sans', 'serif', 'typewriter', 'hand'] as const;
export type Face = (typeof FACES)[number];

/** Their families, as style sheets and drawings name them. */
export const FAMILIES: Readonly<Record<Face, string>> = { sans: 'Atkinson Hyperlegible', serif: 'Literata', typewriter: 'Courier Prime', hand: 'Patrick Hand' };
/** What a program shows that does not have them. */
const GENERIC: Readonly<Record<Face, string>> = { sans: 'sans-serif', serif: 'serif', typewriter: 'monospace', hand: 'cursive' };

export interface Look {
  readonly face: Face;
  /** Points; 1 pt = 25.4 / 72 mm. */
  readonly size: number;
  /** `#rrggbb`. */
  readonly color: string;
  readonly bold?: true;
  readonly slant?: true;
  /** Colour of a text highlighter behind it. */
  readonly marked?: string;
  /** The name of the link that it is a part of (`letters` of a link). */
  readonly link?: string;
}

export const MM_PER_PT = 25.4 / 72;
export const isSameLook = (a: Look, b: Look): boolean => a.face === b.face && a.size === b.size && a.color === b.color && a.bold === b.bold && a.slant === b.slant && a.marked === b.marked && a.link === b.link;

/** The hand has one cut only. */
export const hasCuts = (face: Face): boolean => face !== 'hand';
const cutOf = ({ face, bold, slant }: Pick<Look, 'face' | 'bold' | 'slant'>) => (hasCuts(face) ? { weight: bold ? 700 : 400, slant: slant ? 'italic' : 'normal' } : { weight: 400, slant: 'normal' });

/** As a style sheet says it (CSS Fonts 4, `font`), at a size of `px`. */
export function cssFont(look: Look, px: number): string {
  const { weight, slant } = cutOf(look);
  return `${slant} ${weight} ${px}px "${FAMILIES[look.face]}", ${GENERIC[look.face]}`;
}

/** The files of a face, the first that has a letter sets it: names under `public/fonts`, without an ending. */
export function fontFiles(look: Look): string[] {
  const { weight, slant } = cutOf(look);
  const of = FAMILIES[look.face].toLowerCase().replaceAll(' ', '-');
  return ['latin', 'latin-ext'].map((subset) => `${of}-${subset}-${weight}-${slant}`);
}

/** What a face's cut is called among files. */
export const faceName = (look: Look): string => fontFiles(look)[0];

const tables = new Map<string, { readonly em: number; readonly by: ReadonlyMap<number, number> }>();
const tableBy = new WeakMap<Look, { readonly em: number; readonly by: ReadonlyMap<number, number> }>();
function tableOf(look: Look) {
  const known = tableBy.get(look);
  if (known) return known;
  const { weight, slant } = cutOf(look);
  const name = `${look.face} ${weight} ${slant}`;
  let table = tables.get(name);
  if (!table) {
    const { em, runs } = ADVANCES[name];
    const by = new Map<number, number>();
    for (const [first, ...widths] of runs) widths.forEach((w, i) => by.set(first + i, w));
    tables.set(name, (table = { em, by }));
  }
  tableBy.set(look, table);
  return table;
}

/** What no face of ours has is set by the system's; such letters are taken to be so wide, in their size, and twice that where they fill a square (UAX 11, East Asian Wide). */
const FOREIGN = 0.5;
const isWide = (code: number): boolean => code >= 0x1100 && (code <= 0x115f || (code >= 0x2e80 && code <= 0xa4cf) || (code >= 0xac00 && code <= 0xd7a3) || (code >= 0xf900 && code <= 0xfaff) || (code >= 0xfe30 && code <= 0xfe6f) || (code >= 0xff00 && code <= 0xff60) || code >= 0x1f300);

/** Of a letter (code point), mm. */
export function advanceOf(look: Look, code: number): number {
  const { em, by } = tableOf(look);
  const own = by.get(code);
  const share = own !== undefined ? own / em : code < 0x20 || (code >= 0x300 && code < 0x370) || code === 0x200b || code === 0x200d || code === 0xfe0f ? 0 : isWide(code) ? 2 * FOREIGN : FOREIGN;
  return share * look.size * MM_PER_PT;
}
