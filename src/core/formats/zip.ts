/** ZIP files (PKWARE APPNOTE): written entry by entry and read entry by entry, with limits, since a ZIP can claim anything. */
import { BlobReader, BlobWriter, configure, Uint8ArrayReader, Uint8ArrayWriter, ZipReader, ZipWriter, type FileEntry, type Writer } from '@zip.js/zip.js';
import type { Content } from './blobFile';

// Whoever packs much does so in a worker as a whole; workers of the package's own would only carry the bytes to and fro.
configure({ useWebWorkers: false });

/** It is no ZIP file, did not arrive whole, or a file in it is missing, damaged or too large. */
export class ZipError extends Error {
  readonly name = 'ZipError';
}

/** As the package takes its writers; those for blobs are declared apart from the others. */
type EntryWriter<T> = Writer<T> | (T extends Blob ? BlobWriter : never);

/** The earliest time that a ZIP can say. */
const EARLIEST = Date.UTC(1980, 0, 2);

/** How much a file may become in memory, all of what it holds together: a ZIP can claim any size for each. */
export class Allowance {
  constructor(private left: number) {}

  /** @throws ZipError */
  take(bytes: number): void {
    this.left -= bytes;
    if (!(this.left >= 0)) throw new ZipError('It holds more than a file of its size may.');
  }
}

export class ZipOut {
  private readonly writer = new ZipWriter(new BlobWriter('application/zip'), { extendedTimestamp: false });

  /** @param level 0 for what is packed already, to 9. `wall`: its time, ms since the epoch. */
  async add(name: string, content: Content, level: number, wall: number): Promise<void> {
    await this.writer.add(name, content instanceof Blob ? new BlobReader(content) : new Uint8ArrayReader(content), { level, lastModDate: new Date(Math.max(wall, EARLIEST)) });
  }

  close(): Promise<Blob> {
    return this.writer.close();
  }
}

export class ZipIn {
  private constructor(
    private readonly reader: ZipReader<Blob>,
    private readonly files: ReadonlyMap<string, FileEntry>,
  ) {}

  /** @throws ZipError */
  static async open(file: Blob): Promise<ZipIn> {
    const reader = new ZipReader(new BlobReader(file), { checkSignature: true });
    try {
      const entries = await reader.getEntries();
      // A file that lost its end can still end with a ZIP that lay in it, whose directory then looks like that of the whole.
      if (!entries.some((e) => e.offset === 0)) throw new ZipError('The file did not arrive whole.');
      return new ZipIn(reader, new Map(entries.flatMap((e) => (e.directory ? [] : [[e.filename, e as FileEntry]]))));
    } catch (e) {
      await reader.close().catch(() => undefined);
      throw e instanceof ZipError ? e : new ZipError('The file is no ZIP, or did not arrive whole.');
    }
  }

  get names(): string[] {
    return [...this.files.keys()];
  }

  has(name: string): boolean {
    return this.files.has(name);
  }

  /** What says it is larger than it may be is not unpacked at all, and what turns out larger not to its end. `allowance`: for this and others together. @throws ZipError */
  async read(name: string, largest: number, allowance?: Allowance): Promise<Uint8Array> {
    allowance?.take(this.files.get(name)?.uncompressedSize ?? 0);
    return this.unpacked(name, largest, new Uint8ArrayWriter());
  }

  /** As `read`; never in memory as a whole. */
  readBlob(name: string, largest: number): Promise<Blob> {
    return this.unpacked(name, largest, new BlobWriter());
  }

  private async unpacked<T>(name: string, largest: number, writer: EntryWriter<T>): Promise<T> {
    const entry = this.files.get(name);
    if (!entry || entry.encrypted || entry.uncompressedSize > largest) throw new ZipError('It is missing, locked or too large.');
    const stop = new AbortController();
    try {
      return await entry.getData(writer, { signal: stop.signal, onprogress: (n) => (n > largest ? void stop.abort() : undefined) });
    } catch {
      throw new ZipError('It is damaged.');
    }
  }

  async close(): Promise<void> {
    await this.reader.close().catch(() => undefined);
  }
}
