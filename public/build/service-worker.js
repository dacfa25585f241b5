// Of this origin alone: where there is no network, it shows a page that says so. It answers nothing else, and keeps nothing that is read.
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
  if (new URL(request.url).origin !== self.location.origin || request.method !== 'GET') return;
  if (request.mode === 'navigate') event.respondWith(fetch(request).catch(() => caches.match(PAGE)));
  else if (['/build/app.css', '/build/offline.js'].includes(new URL(request.url).pathname))
    event.respondWith(fetch(request).catch(() => caches.match(request)));
});
