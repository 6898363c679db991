// Keeps the pages of a job and of the walk that were opened, for a garage without a connection. Nothing else is kept.
const PAGES = "tally-pages-1";
const KEPT = /^\/car\/\d+\/(fit\/job\/\d+\/\d+\/|walk\/)$/;

self.addEventListener("install", () => self.skipWaiting());
self.addEventListener("activate", (event) => event.waitUntil(self.clients.claim()));
self.addEventListener("message", (event) => {
  if (event.data === "forget") event.waitUntil(forget());
});

const forget = async () => {
  for (const name of await caches.keys()) await caches.delete(name);
};

const wanted = (request) => {
  const url = new URL(request.url);
  return request.method === "GET" && url.origin === self.location.origin && (KEPT.test(url.pathname) || url.pathname.startsWith("/static/"));
};

const nothing = () =>
  new Response(
    '<!doctype html><html lang="en"><meta name="viewport" content="width=device-width"><title>No connection</title><p>No connection, and this page was not opened before.</p>',
    { status: 503, headers: { "Content-Type": "text/html; charset=utf-8" } },
  );

const answer = async (request) => {
  const cache = await caches.open(PAGES);
  try {
    const response = await fetch(request);
    if (response.ok && !response.redirected && response.type === "basic") await cache.put(request, response.clone());
    return response;
  } catch (error) {
    const known = await cache.match(request, { ignoreVary: true });
    if (known) return known;
    if (request.mode === "navigate") return nothing();
    throw error;
  }
};

self.addEventListener("fetch", (event) => {
  if (wanted(event.request)) event.respondWith(answer(event.request));
});
