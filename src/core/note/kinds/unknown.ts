/** Something of a kind that a later version made: it keeps its place and its fields, is not shown, and goes back as it came. */
import { z } from 'zod';
import type { PlacedBase } from '../../ink/stroke';
import type { Kind } from './kind';

export interface Unknown extends PlacedBase {
  readonly kind: 'unknown';
  /** The name of its kind, its fields, and its packed points. */
  readonly of: string;
  readonly fields: Readonly<Record<string, unknown>>;
  readonly pts: Uint8Array;
}

export const unknownKind: Kind<Unknown> = {
  schema: z.looseObject({}),
  layer: () => 'thing',
  reach: () => 0,
  distance: () => Infinity,
  isCrossed: () => false,
  rubbed: () => null,
  kept: (it) => it,
  shareIn: () => 0,
  map: (it) => it,
  // Whatever it shows must still be there when a later version opens the note.
  contents: ({ fields }) => JSON.stringify(fields).match(/[0-9a-f]{64}/g) ?? [],
  isDecoration: () => true,
};
