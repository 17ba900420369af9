/** PDF files that are open, each in a worker of its own which reads and draws it. One that nobody has used for a while is let go of with its worker, and all of its memory comes back. */
import { proxy, type Remote } from 'comlink';
import type { Box } from '../../core/ink/stroke';
import { TooLongError, WorkerCall } from '../worker';
import type { LeafLink, LeafText, OutlineItem, PdfWork, ReadRange } from './pdfWork';

/** A page that takes longer to draw is none that anybody printed. */
const DRAWN_MS = 40_000;
/** A worker has one document. */
const DOC = 1;

/** The file cannot be read: a clause. */
export class PdfError extends Error {
  readonly name = 'PdfError';
}

/** It is locked, and wants a password. */
export class PdfPasswordError extends Error {
  readonly name = 'PdfPasswordError';

  /** @param wrong one was given, and it is not the one. */
  constructor(readonly wrong: boolean) {
    super(wrong ? 'that is not its password' : 'it asks for a password');
  }
}

export interface PdfSource {
  /** Bytes. */
  readonly length: number;
  readonly read: ReadRange;
}

export const sourceOf = (file: Blob): PdfSource => ({ length: file.size, read: async (from, to) => new Uint8Array(await file.slice(from, to).arrayBuffer()) });

/** Errors lose their class on the way out of the worker, and keep their name. */
function asTold(e: unknown, password: string | null): unknown {
  if (!(e instanceof Error) || e instanceof DOMException) return e;
  if (e.name === 'AbortError') return new DOMException('Stopped.', 'AbortError');
  if (e.name === 'PasswordException') return new PdfPasswordError(password !== null);
  if (e instanceof TooLongError) return new PdfError(`a page of it cannot be drawn, ${e.message}`);
  if (e.name === 'InvalidPDFException') return new PdfError('it is no PDF, or it is damaged beyond reading');
  return new PdfError(`it cannot be read (${e.message})`);
}

export class PdfFile {
  private constructor(
    private readonly worker: WorkerCall<PdfWork>,
    /** How many pages it has. */
    readonly pages: number,
    private readonly password: string | null,
  ) {}

  /** @throws PdfPasswordError, PdfError, and Error when there is no worker to be had. */
  static async open({ length, read }: PdfSource, password: string | null = null): Promise<PdfFile> {
    const worker = new WorkerCall<PdfWork>(() => new Worker(`${window.location.origin}/pdf/drawing.mjs`, { type: 'module' }));
    try {
      return new PdfFile(worker, await worker.call((w) => w.open(DOC, length, proxy(read), password)), password);
    } catch (e) {
      worker.end();
      throw asTold(e, password);
    }
  }

  private closed = false;

  private async ask<R>(what: (w: Remote<PdfWork>) => Promise<R>, limit?: number): Promise<R> {
    // A worker that is asked once more would come back without the document.
    if (this.closed) throw new DOMException('Stopped.', 'AbortError');
    try {
      return await this.worker.call(what, limit);
    } catch (e) {
      if (e instanceof TooLongError) this.closed = true;
      throw asTold(e, this.password);
    }
  }

  /** Width and height of pages `from` up to and without `to`, points, as they are shown. */
  sizes(from: number, to: number): Promise<{ w: number; h: number }[]> {
    return this.ask((w) => w.sizes(DOC, from, to));
  }

  /** A part of a page (mm) at `k` px per mm. What takes longer than `limit` (ms) is given up, and the file is closed. */
  draw(leaf: number, k: number, part: Box, limit = DRAWN_MS): Promise<ImageBitmap> {
    return this.ask((w) => w.draw(DOC, leaf, k, part), limit);
  }

  text(leaf: number): Promise<LeafText[]> {
    return this.ask((w) => w.text(DOC, leaf));
  }

  links(leaf: number): Promise<LeafLink[]> {
    return this.ask((w) => w.links(DOC, leaf));
  }

  outline(): Promise<OutlineItem[]> {
    return this.ask((w) => w.outline(DOC));
  }

  close(): void {
    this.closed = true;
    this.worker.end();
  }
}

/** So long a file stays open after its last use, ms. */
const STAYS_MS = 20_000;

interface Kept {
  readonly file: Promise<PdfFile>;
  using: number;
  timer: ReturnType<typeof setTimeout> | undefined;
}

/** Files by the hash of their content, opened when something of them is wanted. */
export class PdfShelf {
  private readonly kept = new Map<string, Kept>();

  /** @param find null when it is not here. */
  constructor(private readonly find: (hash: string) => Promise<PdfSource | null>) {}

  /** @throws PdfError, PdfPasswordError */
  async use<R>(hash: string, password: string | null, work: (pdf: PdfFile) => Promise<R>): Promise<R> {
    const kept = this.kept.get(hash) ?? this.take(hash, password);
    clearTimeout(kept.timer);
    kept.using++;
    try {
      return await work(await kept.file);
    } catch (e) {
      // Whatever is wrong with it, the next wish begins anew.
      if (this.kept.get(hash) === kept) this.kept.delete(hash);
      kept.file.then((f) => f.close(), () => undefined);
      throw e;
    } finally {
      if (--kept.using === 0 && this.kept.get(hash) === kept) kept.timer = setTimeout(() => this.drop(hash), STAYS_MS);
    }
  }

  private take(hash: string, password: string | null): Kept {
    const file = this.find(hash).then((source) => {
      if (!source) throw new PdfError('it is not on this device, or damaged');
      return PdfFile.open(source, password);
    });
    const kept: Kept = { file, using: 0, timer: undefined };
    this.kept.set(hash, kept);
    return kept;
  }

  private drop(hash: string): void {
    const kept = this.kept.get(hash);
    this.kept.delete(hash);
    clearTimeout(kept?.timer);
    kept?.file.then((f) => f.close(), () => undefined);
  }

  /** All of them are let go of. */
  clear(): void {
    for (const hash of [...this.kept.keys()]) this.drop(hash);
  }
}
