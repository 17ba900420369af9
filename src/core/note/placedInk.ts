/** What lies on the pages of a note, and what was taken off them. */
import type { Placed } from './kinds/kinds';
import type { Past, Version } from './version';

/** What lies on each page, by page id, in the order it was placed. */
export type Ink = Readonly<Record<string, readonly Placed[]>>;

/** The trace of something that was taken off a page. */
export interface Gone {
  readonly page: string;
  readonly s: Version;
  readonly past?: Past;
}
