// For what is shared from a telephone, and for this origin alone: while there is no network, it shows a page that says so. All else goes
// to the server as if it were not there, and nothing that is read is kept.
const SHELF = 'ypomna-1';
const PAGE = '/offline';

self.addEventListener('install', event => {
  event.waitUntil(caches.open(SHELF).then(shelf => shelf.addAll([PAGE, '/build/app.css', '/build/offline.js'])));
});
self.addEventListener('activate', event => {
  event.waitUntil(caches.keys().then(names => Promise.all(names.filter(name => name !== SHELF).map(name => caches.delete(name)))));
});
self.addEventListener('fetch', event => {
  const { request } = event;
  if (self.navigator.onLine || new URL(request.url).origin !== self.location.origin || request.method !== 'GET') return;
  if (request.mode === 'navigate') event.respondWith(caches.match(PAGE));
  else if (['/build/app.css', '/build/offline.js'].includes(new URL(request.url).pathname))
    event.respondWith(caches.match(new URL(request.url).pathname));
});
