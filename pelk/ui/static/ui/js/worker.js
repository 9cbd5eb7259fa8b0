// Keeps the pages that were opened at the barrow, the heap and the pots, under the name of who opened
// them, and what they are drawn with. The network always goes first: a kept page is only shown
// where there is none, and only to whom it was shown before.
const STATIC = "pelk-static-2", WHO = "pelk-who", PAGES = "pelk-pages-", OFFLINE = "/offline/";
const KEPT = /^\/(barrow\/\d+|cure\/\d+|pots\/\d+|today)\/$/;
self.addEventListener("install", (event) => {
  self.skipWaiting();
  event.waitUntil(caches.open(STATIC).then((cache) => cache.add(OFFLINE)).catch(() => {}));
});
self.addEventListener("activate", (event) => event.waitUntil((async () => {
  await caches.delete("pelk-barrow-1");
  await self.clients.claim();
})()));

async function whoNow() {
  const said = await (await caches.open(WHO)).match("/who");
  return said ? said.text() : "";
}
async function remember(request, answer) {
  const who = answer.headers.get("X-Pelk-Who");
  if (!who) return;
  await (await caches.open(WHO)).put("/who", new Response(who));
  const url = new URL(request.url);
  if (answer.ok && !answer.redirected && KEPT.test(url.pathname))
    await (await caches.open(PAGES + who)).put(request, answer.clone());
}
async function page(request) {
  try {
    const answer = await fetch(request);
    await remember(request, answer);
    return answer;
  } catch {
    const who = await whoNow();
    const kept = who && (await (await caches.open(PAGES + who)).match(request, { ignoreVary: true }));
    return kept || (await caches.match(OFFLINE)) || Response.error();
  }
}
async function drawn(request) {
  try {
    const answer = await fetch(request);
    if (answer.ok) await (await caches.open(STATIC)).put(request, answer.clone());
    return answer;
  } catch {
    return (await caches.match(request, { ignoreVary: true })) ?? Response.error();
  }
}
self.addEventListener("fetch", (event) => {
  const { request } = event, url = new URL(request.url);
  if (request.method !== "GET" || url.origin !== self.location.origin) return;
  if (request.mode === "navigate") event.respondWith(page(request));
  else if (url.pathname.startsWith("/static/")) event.respondWith(drawn(request));
});
