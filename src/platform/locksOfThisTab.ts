/** Locks by name as browsers have them, within this tab: for a browser that has none (a page that came neither over https nor from this machine). */

type Task = (lock: Lock | null) => unknown;

const queues = new Map<string, (() => void)[]>();

/** Next in the queue of a name, which is free of who had it. */
function next(name: string): void {
  const queue = queues.get(name)!;
  if (queue.length) queue.shift()!();
  else queues.delete(name);
}

async function request(name: string, { ifAvailable, signal }: LockOptions, task: Task): Promise<unknown> {
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
      });
    });
  }
  try {
    return await task({ name, mode: 'exclusive' });
  } finally {
    next(name);
  }
}

export const locksOfThisTab = {
  request,
  query: () => Promise.resolve({ held: [...queues.keys()].map((name) => ({ name })) }),
} as unknown as Pick<LockManager, 'request' | 'query'>;
