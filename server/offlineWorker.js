/* Keeps the application at hand without a network. The server puts the list of its files, and a version made of it, in front of this text. */
/* global VERSION, FILES, LATER */
const CACHE = `scrivo ${VERSION}`;

self.addEventListener('install', (event) => {
  event.waitUntil(
    (async () => {
      const cache = await caches.open(CACHE);
      // `reload`: what the browser kept of an older version must not come in.
      await cache.addAll(FILES.map((path) => new Request(path, { cache: 'reload' })));
      await self.skipWaiting();
    })(),
  );
});

self.addEventListener('activate', (event) => {
  event.waitUntil(
    (async () => {
      for (const name of await caches.keys()) if (name.startsWith('scrivo ') && name !== CACHE) await caches.delete(name);
      await self.clients.claim();
    })(),
  );
});

/** The speech model is large: it comes in after the application is ready, and costs only gaps when it does not. */
self.addEventListener('message', (event) => {
  if (event.data !== 'keep the rest') return;
  event.waitUntil(
    (async () => {
      const cache = await caches.open(CACHE);
      for (const path of LATER) if (!(await cache.match(path))) await cache.add(path).catch(() => undefined);
    })(),
  );
});

self.addEventListener('fetch', (event) => {
  const { request } = event;
  const url = new URL(request.url);
  if (request.method !== 'GET' || url.origin !== self.location.origin) return;
  const page = request.mode === 'navigate';
  const path = page ? '/' : url.pathname;
  if (!FILES.includes(path) && !LATER.includes(path)) return;
  event.respondWith(
    (async () => {
      const cache = await caches.open(CACHE);
      const kept = await cache.match(path);
      // The page itself is asked for anew, so that a new version comes in; a network that does not answer must not hold it up.
      // An error, or the page of a network that wants a login, is not the application: then the one that was kept serves.
      const own = (answer) => (answer.ok && !answer.redirected && answer.type === 'basic' && answer.headers.get('cross-origin-opener-policy') === 'same-origin' ? answer : kept);
      if (kept && page) return Promise.race([fetch(request).then(own).catch(() => kept), new Promise((resolve) => setTimeout(() => resolve(kept), 3000))]);
      return kept ?? fetch(request);
    })(),
  );
});
