/** What an exporter is: a format that notes, or parts of them, are handed on in. Each is one file, and an entry in the list of `store/handOn.ts`. */
import type { z } from 'zod';
import type { Heard } from '../audio/heard';
import type { Grouping } from '../ink/words/grouping';
import type { Note } from '../note/edit';
import type { Placed } from '../note/kinds/kinds';
import type { Page } from '../note/schema';
import type { Said } from '../reading/said';
import type { Content } from './blobFile';
import type { Portions } from './webmFile';

/** What is handed on. Sound and contents are read when an exporter asks for them. */
export interface Leaving {
  readonly note: Note;
  /** What was chosen on one page, where it is not the whole note. */
  readonly chosen: readonly Placed[];
  /** The pages that are handed on, in order. */
  readonly pages: readonly Page[];
  /** WebM by take id. */
  takes(): Promise<ReadonlyMap<string, Content>>;
  /** The packets of a take. */
  sound(take: string): Promise<Portions>;
  /** What is known of the sound of its takes, by their ids. */
  heard(): Promise<ReadonlyMap<string, Heard>>;
  /** Bytes of pictures and files by hash, and of files that this version does not know by name. */
  contents(): Promise<{ readonly contents: ReadonlyMap<string, Uint8Array>; readonly others: ReadonlyMap<string, Uint8Array> }>;
  /** Words and lines of a page. */
  words(page: Page): Promise<Grouping>;
  /** What of a page's handwriting was read or put right; nothing is read for it. */
  said(page: Page): Promise<Said>;
}

export interface Work {
  readonly signal: AbortSignal;
  /** Share done, 0..1. */
  progress(share: number): void;
}

/** A file that is handed on: `name` as it is called. */
export interface Handed {
  readonly name: string;
  readonly type: string;
  readonly blob: Blob;
  /** What is in it, in words, where it is no picture. */
  readonly shown?: string;
}

/** What can be chosen of a format, as the sheet shows it: always, of several pages, or of a single note. */
export type Field = { readonly key: string; readonly label: string; readonly when?: 'pages' | 'alone' } & ({ readonly is: 'switch' } | { readonly is: 'choice'; readonly choices: readonly { readonly value: string; readonly label: string }[] });

/** How what comes out is shown before it is saved. */
export type Preview = 'pdf' | 'picture' | 'text' | 'sound';

export interface Exporter<O extends object = object> {
  /** As it is offered to the user, and in a few words what it is for. */
  readonly name: string;
  readonly use: string;
  /** Of its files, without the dot, and their media type. */
  readonly extension: string;
  readonly type: string;
  readonly preview: Preview;
  /** What can be chosen, with what holds when nothing is. */
  readonly options: z.ZodType<O>;
  fields(note: Note): readonly Field[];
  /** Whether pages can be chosen, and whether what is selected on one can be handed on alone. */
  readonly paged: boolean;
  readonly parts?: true;
  /** Of this note it takes long: it is made when it is saved, and not before. */
  slow?(note: Note): boolean;
  /** Why it cannot be made of this note, as a sentence; null when it can. */
  obstacle?(note: Note): string | null;
  /** @throws Error with a clause that says why it cannot be made. */
  write(what: Leaving, options: O, work: Work): Promise<readonly Handed[]>;
}

/** So much sound is packed while one waits, ms. */
const QUICK_MS = 20 * 60_000;
export const hasLongSound = ({ header }: Note): boolean => header.takes.reduce((sum, t) => sum + t.ms, 0) > QUICK_MS;

/** Names that a system keeps for itself (Windows: CON, PRN, AUX, NUL, COM1.., LPT1..). */
const TAKEN = /^(con|prn|aux|nul|com\d|lpt\d)$/i;
/** So long a name may be at most, with some left for what is put behind it: file systems take 255 bytes. */
const LONGEST = 80;

/** A name for a file that every system takes. */
export function plainName(title: string): string {
  const name = title.normalize('NFC').replace(/[^\p{L}\p{N}\p{M} _-]+/gu, '').replace(/\s+/g, ' ').trim();
  const short = [...name].slice(0, LONGEST).join('').trim();
  return !short || TAKEN.test(short) ? `note ${short}`.trim() : short;
}

export const fileName = (title: string, { extension }: Pick<Exporter, 'extension'>): string => `${plainName(title)}.${extension}`;

/** Several names, each its own: a second of the same gets a number, whatever the case of its letters. */
export function ownNames(names: readonly string[]): string[] {
  const used = new Set<string>();
  return names.map((name) => {
    const dot = name.lastIndexOf('.');
    const [stem, end] = dot > 0 ? [name.slice(0, dot), name.slice(dot)] : [name, ''];
    let own = name;
    for (let n = 2; used.has(own.toLowerCase()); n++) own = `${stem} ${n}${end}`;
    used.add(own.toLowerCase());
    return own;
  });
}
