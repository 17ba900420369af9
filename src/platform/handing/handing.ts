/** Files to hand on, made in a worker that goes when it is done: what it took of memory goes with it. */
import { proxy, transfer } from 'comlink';
import type { Document } from '../../core/formats/blocks';
import type { PdfBook } from '../../core/formats/pdf/document';
import type { SoundTags } from '../../core/formats/sound';
import type { Portions } from '../../core/formats/webmFile';
import { WorkerCall } from '../worker';
import type { FilmPlan, FilmSources, HandingWork, SoundFormat } from './handingWork';

export interface HandingOptions {
  readonly signal: AbortSignal;
  progress(share: number): void;
}

async function once<R>({ signal }: HandingOptions, ask: (call: WorkerCall<HandingWork>) => Promise<R>): Promise<R> {
  signal.throwIfAborted();
  const call = new WorkerCall<HandingWork>(() => new Worker(new URL('./handing.worker', window.location.href)));
  const stop = () => call.end();
  signal.addEventListener('abort', stop, { once: true });
  try {
    return await ask(call);
  } finally {
    signal.removeEventListener('abort', stop);
    call.end();
  }
}

/** @throws Error with a clause that says why it cannot be made */
export const pdfOf = (book: PdfBook, options: HandingOptions): Promise<Uint8Array> => once(options, (call) => call.call((w) => w.pdf(book, proxy(options.progress))));

export const soundAs = (format: SoundFormat, next: Portions, head: Uint8Array, tags: SoundTags, length: number, options: HandingOptions): Promise<Blob | null> =>
  once(options, (call) => call.call((w) => w.sound(format, proxy(next), head, tags, length, proxy(options.progress))));

export const docxOf = (document: Document, options: HandingOptions): Promise<Blob> => once(options, (call) => call.call((w) => w.docx(document)));

export function filmFrom(plan: FilmPlan, { backdrop, content, sound, head }: FilmSources, options: HandingOptions): Promise<Blob> {
  const handed = async (page: string, k: number) => {
    const bitmap = await backdrop(page, k);
    return bitmap && transfer(bitmap, [bitmap]);
  };
  return once(options, (call) => call.call((w) => w.film(plan, proxy(handed), proxy(content), proxy(sound), head, proxy(options.progress))));
}
