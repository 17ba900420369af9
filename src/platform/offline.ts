/** Keeps the application at hand without a network, where the browser can. */
export function keepOffline(): void {
  if (typeof navigator === 'undefined' || !navigator.serviceWorker) return;
  navigator.serviceWorker
    .register('/offline.js')
    .then(() => navigator.serviceWorker.ready)
    .then(({ active }) => active?.postMessage('keep the rest'))
    // Without it the application works as long as its server can be reached, and that is told when it cannot.
    .catch(() => undefined);
}
