/** Pens and colours in words, and what is offered of them. */
import { SWATCHES, TINTS } from '../../../core/ink/inks';
import type { PenKind, PenSetting } from '../../../core/ink/pen';

export const KIND_WORDS: Record<PenKind, string> = {
  ball: 'Ballpoint',
  fountain: 'Fountain pen',
  chisel: 'Calligraphy',
  brush: 'Brush',
  pencil: 'Pencil',
  felt: 'Felt pen',
  highlighter: 'Highlighter',
};

/** The widths worth having, mm. */
const FINE = [0.2, 0.25, 0.3, 0.35, 0.4, 0.5, 0.6, 0.7, 0.8, 1, 1.2, 1.5, 2];
const BROAD = [0.5, 0.7, 1, 1.2, 1.5, 2, 2.5, 3, 4];
const HIGHLIGHTS = [2, 3, 4, 5, 6, 8];
export const widthsOf = (kind: PenKind): readonly number[] => (kind === 'highlighter' ? HIGHLIGHTS : kind === 'chisel' || kind === 'brush' ? BROAD : FINE);

/** The width on offer nearest to `width`, mm. */
export const nearestWidth = (kind: PenKind, width: number): number => widthsOf(kind).reduce((a, b) => (Math.abs(b - width) < Math.abs(a - width) ? b : a));

const rgb = (color: string): number[] => [1, 3, 5].map((i) => parseInt(color.slice(i, i + 2), 16));

/** The name of a colour on offer, or the code of any other. */
export function colorName(color: string): string {
  const c = rgb(color);
  const near = [...SWATCHES, ...TINTS].find((s) => rgb(s.color).every((v, i) => Math.abs(v - c[i]) <= 12));
  return near?.name ?? color;
}

/** What a screen reader calls a pen, and its tooltip. */
export function penWords(pen: PenSetting): string {
  const line = pen.line ? `, ${pen.line}` : '';
  const kind = KIND_WORDS[pen.kind].toLowerCase();
  return `${pen.name ? `${pen.name}: ` : ''}${colorName(pen.color)} ${kind}${line}, ${pen.width} mm`;
}
