import { RULED_WIDTHS, sizeName, type Size } from '../../core/note/paper';
import { type PaperKind , PageForm } from '../../core/note/schema';

export const PAPER_WORDS: Readonly<Record<PaperKind, string>> = {
  plain: 'Plain', ruled: 'Ruled', squared: 'Squared', dotted: 'Dotted', isometric: 'Isometric', cornell: 'Cornell', columns: 'Two columns', staves: 'Music', week: 'Week', cover: 'Cover',
};

/** Sheets and lines that are offered; the first ones are the usual. */
export const SHEET_TINTS = [
  { color: undefined, name: 'White' },
  { color: '#fbf3dc', name: 'Cream' },
  { color: '#f2f6ea', name: 'Pale green' },
  { color: '#eaf2f8', name: 'Pale blue' },
  { color: '#f6ecf0', name: 'Pale rose' },
] as const;
export const COVER_TINTS = [
  { color: undefined, name: 'Navy' },
  { color: '#1f7a6d', name: 'Green' },
  { color: '#b5382a', name: 'Brick' },
  { color: '#8a5a00', name: 'Amber' },
  { color: '#6b3f73', name: 'Plum' },
  { color: '#4d5f70', name: 'Slate' },
] as const;
export const LINE_TINTS = [
  { color: undefined, name: 'Blue grey' },
  { color: '#a9c4d8', name: 'Blue' },
  { color: '#b9cfae', name: 'Green' },
  { color: '#d8b4a6', name: 'Red' },
  { color: '#9aa3ab', name: 'Grey' },
] as const;

export const mm = (v: number): string => `${Math.round(v * 10) / 10} mm`;

/** `8.7 mm, wide`; the distance and its usual name where it has one. */
export function spacingWords(spacing: number): string {
  const named = Object.entries(RULED_WIDTHS).find(([, w]) => Math.abs(w - spacing) < 0.05);
  return named ? `${mm(spacing)}, ${named[0]}` : mm(spacing);
}

const sizeWords = (size: Size): string => `${sizeName(size) ?? `${Math.round(size.w)} × ${Math.round(size.h)} mm`}${size.w > size.h ? ' lying' : ''}`;

/** A paper in a few words, such as `Ruled, 8 mm, A4`. */
export const formWords = (form: PageForm): string => [PAPER_WORDS[form.paper.kind], ...(form.paper.kind === 'plain' || form.paper.kind === 'cover' ? [] : [spacingWords(form.paper.spacing)]), sizeWords(form)].join(', ');
