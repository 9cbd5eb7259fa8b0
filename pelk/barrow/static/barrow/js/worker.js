// Keeps the cards that were opened, and what they are drawn with, for a yard without signal.
// The network always goes first: a kept card is only shown where there is none.
const CACHE = "pelk-barrow-1";
self.addEventListener("install", () => self.skipWaiting());
self.addEventListener("activate", (event) => event.waitUntil(self.clients.claim()));
self.addEventListener("fetch", (event) => {
  const { request } = event, url = new URL(request.url);
  const isCard = request.mode === "navigate" && /^\/barrow\/\d+\/$/.test(url.pathname);
  const isStatic = url.pathname.startsWith("/static/");
  if (request.method !== "GET" || !(isCard || isStatic)) return;
  event.respondWith(
    fetch(request)
      .then(async (answer) => {
        if (answer.ok && !answer.redirected) (await caches.open(CACHE)).put(request, answer.clone());
        return answer;
      })
      .catch(async () => (await caches.match(request, { ignoreVary: true })) ?? Response.error()),
  );
});
