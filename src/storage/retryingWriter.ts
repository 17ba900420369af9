/** Writes a little later and never twice at a time; what fails is told, kept and tried again. */
export type SaveState = 'saved' | 'saving' | 'failed';

/** How long after a failed write the next try is made, ms. */
const RETRY_MS = 3000;

export class RetryingWriter {
  private timer: ReturnType<typeof setTimeout> | null = null;
  private writing: Promise<void> | null = null;
  private stopped = false;
  onState: (state: SaveState, error?: unknown) => void = () => undefined;

  /**
   * @param wait how long a change waits for others, ms.
   * @param write writes what waits; when it throws, what it could not write waits again.
   * @param waits whether anything waits.
   */
  constructor(
    private readonly wait: number,
    private readonly write: () => Promise<void>,
    private readonly waits: () => boolean,
  ) {}

  schedule(ms = this.wait): void {
    this.onState('saving');
    this.later(ms);
  }

  private later(ms: number): void {
    if (this.timer || this.stopped) return;
    this.timer = setTimeout(() => {
      this.timer = null;
      // What fails is told through onState and tried again.
      this.flush().catch(() => undefined);
    }, ms);
  }

  /** Writes all that waits, now. @throws what writing throws. */
  async flush(): Promise<void> {
    while (this.writing) await this.writing.catch(() => undefined);
    if (!this.waits()) return;
    if (this.timer) clearTimeout(this.timer);
    this.timer = null;
    this.writing = this.write();
    try {
      await this.writing;
    } catch (e) {
      this.onState('failed', e);
      this.later(RETRY_MS);
      throw e;
    } finally {
      this.writing = null;
    }
    if (this.waits()) this.schedule();
    else this.onState('saved');
  }

  stop(): void {
    this.stopped = true;
    if (this.timer) clearTimeout(this.timer);
    this.timer = null;
  }
}
