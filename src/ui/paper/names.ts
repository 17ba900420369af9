import { RULED_WIDTHS, sizeName, type Size } from '../../core/note/paper';
import { type PaperKind , PageForm } from '../../core/note/schema';

export const PAPER_WORDS: Readonly<Record<PaperKind, string>> = {
  plain: 'Plain', ruled: 'Ruled', squared: 'Squared', dotted: 'Dotted', isometric: 'Isometric', cornell: 'Cornell', columns: 'Two columns', staves: 'Music', week: 'Week', cover: 'Cover',
};

export const mm = (v: number): string => `${Math.round(v * 10) / 10} mm`;

/** `8.7 mm, wide`; the distance and its usual name where it has one. */
export function spacingWords(spacing: number): string {
  const named = Object.entries(RULED_WIDTHS).find(([, w]) => Math.abs(w - spacing) < 0.05);
  return named ? `${mm(spacing)}, ${named[0]}` : mm(spacing);
}

const sizeWords = (size: Size): string => `${sizeName(size) ?? `${Math.round(size.w)} × ${Math.round(size.h)} mm`}${size.w > size.h ? ' lying' : ''}`;

/** A paper in a few words, such as `Ruled, 8 mm, A4`. */
export const formWords = (form: PageForm): string => [PAPER_WORDS[form.paper.kind], ...(form.paper.kind === 'plain' || form.paper.kind === 'cover' ? [] : [spacingWords(form.paper.spacing)]), sizeWords(form)].join(', ');
