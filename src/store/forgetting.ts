/**
 * Whoever keeps something readable of notes in memory says here how it is let go of. Closing the lock and deleting for good ask all of them; what is kept on disk of a
 * note is in `storage/recordKinds.ts`.
 */
import type { Thunk } from './thunk';

/** What is to be forgotten: these notes with their takes, or everything (null). */
export interface Scope {
  readonly notes: ReadonlySet<string> | null;
  readonly takes: readonly string[];
}

export const isIn = ({ notes }: Scope, note: string | null | undefined): boolean => notes === null || (note !== null && note !== undefined && notes.has(note));

/** Lets go of what is kept beside the state, in this module or that; or of a part of the state, on the side of the screen it is dispatched to. */
type Keeper = { readonly forget: (of: Scope) => void } | { readonly onSide: (of: Scope) => Thunk };
const keepers = new Map<string, Keeper>();

/** @param what for whoever reads the list: what is kept. */
export const keepsReadable = (what: string, keeper: Keeper): void => void keepers.set(what, keeper);

/** For tests: what is registered. */
export const whatIsKept = (): readonly string[] => [...keepers.keys()];

/** Nothing readable of these notes stays in memory, on either side of the screen. */
export const forget =
  (of: Scope): Thunk =>
  (dispatch, _, { other }) => {
    for (const keeper of keepers.values()) {
      if ('forget' in keeper) keeper.forget(of);
      else for (const side of other ? [dispatch, other.dispatch] : [dispatch]) side(keeper.onSide(of));
    }
  };
