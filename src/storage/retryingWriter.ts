/** Writes a little later and never twice at a time; what fails is told, kept and tried again. */
import { isQuotaError } from './databases';
import { letReserveGo } from './reserve';

export type SaveState = 'saved' | 'saving' | 'failed';

/** How long after a failed write the next try is made, ms. */
const RETRY_MS = 3000;
/** The room of the reserve is back after a moment, ms. */
const RESERVE_MS = 700;

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
    this.writing = this.attempt();
    try {
      await this.writing;
    } finally {
      this.writing = null;
    }
    if (this.waits()) this.schedule();
    else this.onState('saved');
  }

  private async attempt(): Promise<void> {
    try {
      await this.write();
    } catch (e) {
      // Once, while there is a reserve, a full disk is none.
      const reserve = isQuotaError(e) && (await letReserveGo());
      if (!reserve) this.onState('failed', e);
      this.later(reserve ? RESERVE_MS : RETRY_MS);
      throw e;
    }
  }

  stop(): void {
    this.stopped = true;
    if (this.timer) clearTimeout(this.timer);
    this.timer = null;
  }
}
