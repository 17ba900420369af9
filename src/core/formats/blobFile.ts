/** A file in the making that is never in memory as a whole: what has been written lies in blobs, which a browser can put on disk. */

/** What a file holds, in memory or where a browser put it. */
export type Content = Uint8Array | Blob;

export const bytesOf = async (content: Content): Promise<Uint8Array> => (content instanceof Blob ? new Uint8Array(await content.arrayBuffer()) : content);
export const sizeOf = (content: Content): number => (content instanceof Blob ? content.size : content.length);

interface Part {
  readonly at: number;
  readonly blob: Blob;
}

export class BlobFile {
  /** In order, side by side. */
  private parts: Part[] = [];

  /** Writes at a place, over what is there. */
  write(data: Uint8Array, at: number): void {
    const end = at + data.length;
    const mine: Part = { at, blob: new Blob([data as Uint8Array<ArrayBuffer>]) };
    const last = this.parts.at(-1);
    // As nearly always: it goes on at the end.
    if (!last || last.at + last.blob.size <= at) return void this.parts.push(mine);
    this.parts = this.parts.flatMap((p) => {
      const past = p.at + p.blob.size;
      if (past <= at || p.at >= end) return [p];
      return [
        ...(p.at < at ? [{ at: p.at, blob: p.blob.slice(0, at - p.at) }] : []),
        ...(past > end ? [{ at: end, blob: p.blob.slice(end - p.at) }] : []),
      ];
    });
    this.parts.push(mine);
    this.parts.sort((a, b) => a.at - b.at);
  }

  /** @throws Error when a place was never written. */
  blob(type: string): Blob {
    let end = 0;
    for (const { at, blob } of this.parts) {
      if (at !== end) throw new Error('a part of the file is missing');
      end = at + blob.size;
    }
    return new Blob(this.parts.map((p) => p.blob), { type });
  }
}
