/** The shapes of marks: told apart without colour. Paths in a box of 24. `solid`: filled, else drawn as a line. */
import { MARK_WORDS } from '../core/review/markWords';
import type { MarkKind } from '../core/note/schema';

export const MARK_SHAPES: Record<MarkKind, { readonly name: string; readonly path: string; readonly solid: boolean }> = {
  missed: { name: MARK_WORDS.missed, path: 'M12 4a8 8 0 1 0 .01 0z', solid: false },
  key: { name: MARK_WORDS.key, path: 'M12 2.5L21.500 12L12 21.500L2.500 12z', solid: true },
  ask: { name: MARK_WORDS.ask, path: 'M12 4L21 20H3z', solid: false },
  do: { name: MARK_WORDS.do, path: 'M4.500 4.500h15v15h-15z', solid: true },
};
