/** What the worker that makes files to hand on can be asked for. */
import type { Document } from '../../core/formats/blocks';
import type { PdfBook } from '../../core/formats/pdf/document';
import type { Passed, SoundTags } from '../../core/formats/sound';
import type { Portions } from '../../core/formats/webmFile';
import type { Span } from '../../core/film/course';
import type { Placed } from '../../core/note/kinds/kinds';
import type { Page } from '../../core/note/schema';
import type { Timeline } from '../../core/time/timeline';

export type SoundFormat = Passed | 'wav' | 'mp3' | 'flac';

type Progress = (share: number) => void | Promise<void>;

export interface FilmPlan {
  readonly title: string;
  /** ms since the epoch. */
  readonly date: number;
  readonly pages: readonly Page[];
  readonly ink: Readonly<Record<string, readonly Placed[]>>;
  readonly timeline: Timeline;
  /** What of the timeline is shown, in order, ms, and how fast. */
  readonly kept: readonly Span[];
  readonly speed: number;
  readonly as: 'mp4' | 'webm';
  /** px. */
  readonly w: number;
  readonly h: number;
  /** What is seen: the whole page, or its width where it is being written. */
  readonly view: 'page' | 'line';
  /** Beside a page that does not fill the frame. */
  readonly desk: string;
}

export interface FilmSources {
  /** What lies behind a page, at so many px to the mm; null where there is nothing. */
  backdrop(page: string, k: number): Promise<ImageBitmap | null>;
  /** Bytes of a picture. */
  content(hash: string): Promise<Uint8Array | null>;
  /** What is heard, at the speed it was spoken, from 0 on. */
  readonly sound: Portions;
  readonly head: Uint8Array;
}

export interface HandingWork {
  docx(document: Document): Promise<Blob>;
  /** Sources one by one: functions pass by themselves. */
  film(plan: FilmPlan, backdrop: FilmSources['backdrop'], content: FilmSources['content'], sound: Portions, head: Uint8Array, progress: Progress): Promise<Blob>;
  pdf(book: PdfBook, progress: Progress): Promise<Uint8Array>;
  /** `length` of all of it, ms. Null when there is no sound. */
  sound(format: SoundFormat, next: Portions, head: Uint8Array, tags: SoundTags, length: number, progress: Progress): Promise<Blob | null>;
}
