/** Things by id in numbered chunks, and which of the chunks have changed. */
export class Chunks<T> {
  private readonly chunks = new Map<number, Map<string, T>>();
  private readonly chunkOf = new Map<string, number>();
  private readonly dirty = new Set<number>();
  private last = 0;

  /** @param size things in a chunk. */
  constructor(private readonly size: number) {}

  get isDirty(): boolean {
    return this.dirty.size > 0;
  }

  /** One more than the highest number. */
  get count(): number {
    return this.chunks.size ? this.last + 1 : 0;
  }

  has(id: string): boolean {
    return this.chunkOf.has(id);
  }

  /** A chunk as it is on disk; gives what it held before. */
  load(chunk: number, entries: readonly (readonly [string, T])[]): ReadonlyMap<string, T> {
    const before = this.chunks.get(chunk) ?? new Map<string, T>();
    this.chunks.set(chunk, new Map(entries));
    this.last = Math.max(this.last, chunk);
    for (const [id] of entries) this.chunkOf.set(id, chunk);
    return before;
  }

  /** What comes back after it was taken away goes where it was, so that one record changes and not two. */
  put(id: string, it: T): void {
    let chunk = this.chunkOf.get(id);
    if (chunk === undefined) {
      chunk = this.last;
      if ((this.chunks.get(chunk)?.size ?? 0) >= this.size) chunk = ++this.last;
      this.chunkOf.set(id, chunk);
    }
    let list = this.chunks.get(chunk);
    if (!list) this.chunks.set(chunk, (list = new Map()));
    list.set(id, it);
    this.dirty.add(chunk);
  }

  drop(id: string): void {
    const chunk = this.chunkOf.get(id);
    if (chunk !== undefined && this.chunks.get(chunk)?.delete(id)) this.dirty.add(chunk);
  }

  /** Nothing waits to be written. */
  clean(): void {
    this.dirty.clear();
  }

  /** These chunks, or all, have to be written. */
  soil(chunks: Iterable<number> = this.chunks.keys()): void {
    for (const k of chunks) this.dirty.add(k);
  }

  /** The changed chunks with what is in them; an empty one too, since it has to be written over. */
  drain(): (readonly [chunk: number, entries: readonly (readonly [string, T])[]])[] {
    const out = [...this.dirty].map((k) => [k, [...(this.chunks.get(k) ?? [])]] as const);
    this.dirty.clear();
    return out;
  }
}
