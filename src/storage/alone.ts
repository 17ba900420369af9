/** One at a time over all tabs. Without locks in the browser there is no telling tabs apart, and one works as ever. */
export const alone = <T>(what: 'contents' | 'learned' | 'settings' | 'templates' | 'vault', task: () => Promise<T>): Promise<T> =>
  globalThis.navigator?.locks ? (navigator.locks.request(`scrivo/${what}`, task) as Promise<T>) : task();
