/** The pens at hand, until the pen cup brings the writer's own. */
import type { Pen } from '../../core/ink/stroke';

export const PENS: readonly { readonly name: string; readonly pen: Pen }[] = [
  { name: 'Navy ballpoint, 0.4 mm', pen: { kind: 'ball', color: '#16324f', width: 0.4 } },
  { name: 'Green fountain pen, 0.5 mm', pen: { kind: 'fountain', color: '#14665b', width: 0.5 } },
  { name: 'Red felt pen, 0.7 mm', pen: { kind: 'felt', color: '#b5382a', width: 0.7 } },
];
