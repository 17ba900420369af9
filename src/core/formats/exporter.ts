/** What an exporter is: a format that notes, or parts of them, are handed on in. Each is one file, and an entry in the list of `store/handOn.ts`. */
import type { z } from 'zod';
import type { Heard } from '../audio/heard';
import type { Note } from '../note/edit';
import type { Placed } from '../note/kinds/kinds';
import type { Content } from './blobFile';

/** What is handed on. Sound and contents are read when an exporter asks for them. */
export interface Leaving {
  readonly note: Note;
  /** What was chosen on one page, where it is not the whole note. */
  readonly chosen: readonly Placed[];
  /** WebM by take id. */
  takes(): Promise<ReadonlyMap<string, Content>>;
  /** What is known of the sound of its takes, by their ids. */
  heard(): Promise<ReadonlyMap<string, Heard>>;
  /** Bytes of pictures and files by hash, and of files that this version does not know by name. */
  contents(): Promise<{ readonly contents: ReadonlyMap<string, Uint8Array>; readonly others: ReadonlyMap<string, Uint8Array> }>;
}

export interface Exporter<O extends object = object> {
  /** As it is offered to the user. */
  readonly name: string;
  /** Of its files, without the dot, and their media type. */
  readonly extension: string;
  readonly type: string;
  /** What can be chosen, with what holds when nothing is. */
  readonly options: z.ZodType<O>;
  /** @throws Error with a clause that says why it cannot be made. */
  write(what: Leaving, options: O): Promise<Blob>;
}

/** A name for a file that every system takes. */
export const fileName = (title: string, { extension }: Pick<Exporter, 'extension'>): string => `${title.replace(/[^\p{L}\p{N} _-]+/gu, '').trim() || 'note'}.${extension}`;
