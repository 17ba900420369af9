/** Locks by name as browsers have them, within one tab: for a browser that has none (a page that came neither over https nor from this machine). */

export type Locks = Pick<LockManager, 'request' | 'query'>;
type Task = (lock: Lock | null) => unknown;

export function makeTabLocks(): Locks {
  /** Who waits for each name that is held. */
  const queues = new Map<string, (() => void)[]>();

  const request = async (name: string, ...rest: readonly [Task] | readonly [LockOptions, Task]): Promise<unknown> => {
    const [{ ifAvailable, signal }, task] = rest.length === 1 ? [{} as LockOptions, rest[0]] : rest;
    signal?.throwIfAborted();
    const queue = queues.get(name);
    if (queue && ifAvailable) return task(null);
    if (!queue) queues.set(name, []);
    else {
      await new Promise<void>((resolve, reject) => {
        queue.push(resolve);
        signal?.addEventListener('abort', () => {
          const at = queue.indexOf(resolve);
          if (at < 0) return;
          queue.splice(at, 1);
          reject(signal.reason);
        }, { once: true });
      });
    }
    try {
      return await task({ name, mode: 'exclusive' });
    } finally {
      const next = queues.get(name)!.shift();
      if (next) next();
      else queues.delete(name);
    }
  };
  return { request, query: () => Promise.resolve({ held: [...queues.keys()].map((name) => ({ name })) }) } as unknown as Locks;
}
