// Keeps the app's own files on the device, so that the sheet opens while the server cannot be reached. Data is not kept here.
const SHELL = 'umbrastat-shell';

self.addEventListener('install', (event) => {
  event.waitUntil(
    caches
      .open(SHELL)
      .then((cache) => cache.add('/'))
      .then(() => self.skipWaiting()),
  );
});
self.addEventListener('activate', (event) => {
  event.waitUntil(self.clients.claim());
});

/** After a new build the document names other files; those of the old one are let go. */
async function dropOld(cache, answer) {
  const before = await cache.match('/');
  if (before && (await before.text()) !== (await answer.text()))
    for (const request of await cache.keys()) await cache.delete(request);
}

async function fresh(request, key) {
  const cache = await caches.open(SHELL);
  try {
    const answer = await fetch(request);
    if (answer.ok) {
      if (key === '/') await dropOld(cache, answer.clone());
      await cache.put(key, answer.clone());
    }
    return answer;
  } catch (error) {
    const kept = await cache.match(key);
    if (kept) return kept;
    throw error;
  }
}

async function kept(request) {
  const cache = await caches.open(SHELL);
  return (await cache.match(request)) ?? fresh(request, request);
}

self.addEventListener('fetch', (event) => {
  const { request } = event;
  const url = new URL(request.url);
  if (request.method !== 'GET' || url.origin !== self.location.origin || url.pathname.startsWith('/api')) return;
  // Every page is the same document; the files it names carry their hash and never change.
  if (request.mode === 'navigate') event.respondWith(fresh(request, '/'));
  else if (url.pathname.startsWith('/_expo/') || url.pathname.startsWith('/assets/')) event.respondWith(kept(request));
});
