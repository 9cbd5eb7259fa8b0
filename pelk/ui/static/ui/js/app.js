// What only the page knows: theme, a screen that stays awake, keys.
document.addEventListener("click", (event) => {
  if (!event.target.closest("[data-theme]")) return;
  const root = document.documentElement, name = root.dataset.bsTheme === "dark" ? "light" : "dark";
  root.dataset.bsTheme = name;
  try { localStorage.setItem("pelk-theme", name); } catch { /* private window */ }
});
document.addEventListener("alpine:init", () => {
  Alpine.data("awake", () => ({
    held: false,
    async init() {
      if (!("wakeLock" in navigator)) return;
      try {
        await navigator.wakeLock.request("screen");
        this.held = true;
      } catch { /* low battery, hidden tab: no lock, no harm */ }
    },
  }));
});

// What stands in a drawer or beside its own button is no edit until that is pressed.
document.addEventListener("input", (event) => {
  if (event.target.closest("[data-own]")) event.stopPropagation();
}, { capture: true });

// What folds on a phone: the page remembers it, so that an answer does not close it again.
document.addEventListener("click", (event) => {
  const opener = event.target.closest("[data-unfolds]");
  if (!opener) return;
  const open = document.body.classList.toggle(`open-${opener.dataset.unfolds}`);
  opener.setAttribute("aria-expanded", open);
});

document.addEventListener("click", (event) => {
  if (event.target.closest("[data-print]")) window.print();
});

// Pages kept for the dead spot belong to who is signed in: they go with the sign-out.
// What they wrote and could not send stays, under their name, until they are here again.
document.addEventListener("submit", (event) => {
  if (!event.target.matches("[action$='/sign-out/']") || !("caches" in window)) return;
  caches.delete(`pelk-pages-${document.body.dataset.who}`);
  caches.delete("pelk-who");
});
if (document.body.dataset.who) navigator.serviceWorker?.register("/worker.js", { scope: "/" });
