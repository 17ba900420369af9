/** One way to call a worker: its functions as promises (comlink). A worker that cannot be had, or dies, fails what waits for it and is made anew. */
import { wrap, type Remote } from 'comlink';

/** A worker was not done in time. */
export class TooLongError extends Error {
  readonly name = 'TooLongError';

  constructor(ms: number) {
    super(`it is not done after ${Math.round(ms / 1000)} seconds`);
  }
}

export class WorkerCall<T> {
  private now: { readonly worker: Worker; readonly api: Remote<T>; readonly dead: Promise<never>; readonly die: (e: Error) => void } | null = null;

  /** `make` names the worker in place, since the bundler looks for that. */
  constructor(private readonly make: () => Worker) {}

  get possible(): boolean {
    return typeof Worker !== 'undefined';
  }

  /**
   * @param limit ms; a worker that is not done by then is ended: files can claim any amount of work.
   * @throws what the worker's function throws, Error when there is no worker to be had, and TooLongError
   */
  async call<R>(ask: (api: Remote<T>) => Promise<R>, limit = Infinity): Promise<R> {
    const now = (this.now ??= this.start());
    if (limit === Infinity) return Promise.race([ask(now.api), now.dead]);
    let timer: ReturnType<typeof setTimeout> | undefined;
    const late = new Promise<never>((_, reject) => {
      timer = setTimeout(() => {
        if (this.now === now) this.end();
        reject(new TooLongError(limit));
      }, limit);
    });
    try {
      return await Promise.race([ask(now.api), late, now.dead]);
    } finally {
      clearTimeout(timer);
    }
  }

  private start() {
    const worker = this.make();
    let die: (e: Error) => void = () => undefined;
    const dead = new Promise<never>((_, reject) => {
      die = reject;
      worker.onerror = (e) => {
        // Who waits is told, and says it; a worker ended while it was being loaded fails at that, and nobody waits for it.
        e.preventDefault();
        if (this.now?.worker === worker) this.end();
        reject(new Error(e.message || 'the worker could not be started'));
      };
    });
    // Without anybody waiting there is nobody to tell.
    dead.catch(() => undefined);
    return { worker, api: wrap<T>(worker), dead, die };
  }

  /** The worker goes, and its memory with it; who waits for it is told it was stopped. */
  end(): void {
    this.now?.worker.terminate();
    this.now?.die(new DOMException('Stopped.', 'AbortError'));
    this.now = null;
  }
}
