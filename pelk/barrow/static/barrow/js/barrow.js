// The card at the barrow: two people on one load, and a dead spot in the yard.
// A tick that cannot be sent is kept on the phone, shown as done, and sent later in order.
(function () {
  const KEY = "pelk ticks", EVERY_MS = 8000, LATER_MS = 4000;
  const card = () => document.getElementById("card");
  const kept = () => JSON.parse(localStorage.getItem(KEY) || "[]");
  const keep = (ticks) => localStorage.setItem(KEY, JSON.stringify(ticks));

  // 1. Show what is kept here on top of what the server last said.
  function show() {
    const ticks = kept(), note = document.querySelector("[data-kept]");
    for (const tick of ticks) {
      for (const form of document.querySelectorAll(`#card .picks form[action="${tick.url}"]`)) {
        const data = new FormData(form);
        if (data.get("load") !== tick.load || data.get("step") !== tick.step) continue;
        const done = tick.done === "1", button = form.querySelector("button");
        form.closest("li").classList.toggle("on", done);
        button.setAttribute("aria-pressed", String(done));
        button.value = done ? "0" : "1";
      }
    }
    if (!note) return;
    note.hidden = !ticks.length;
    note.textContent = ticks.length === 1
      ? "No signal. One tick is kept on this phone and sent when there is signal again."
      : `No signal. ${ticks.length} ticks are kept on this phone and sent when there is signal again.`;
  }
  document.addEventListener("htmx:sendError", (event) => {
    const { elt, requestConfig } = event.detail;
    if (!elt.matches("#card form")) return;
    const { load, step, done } = Object.fromEntries(Object.entries(requestConfig.parameters));
    keep([...kept(), { url: elt.getAttribute("action"), load, step, done }]);
    show();
  });

  // 2. Send them again, the oldest first; a tick taken twice changes nothing.
  let sending = false;
  async function send() {
    if (sending || !kept().length) return;
    sending = true;
    const token = document.querySelector("[name=csrfmiddlewaretoken]")?.value;
    try {
      for (const tick of kept()) {
        const { url, ...fields } = tick;
        const answer = await fetch(url, {
          method: "POST", body: new URLSearchParams(fields),
          headers: { "X-CSRFToken": token }, redirect: "manual",
        });
        // Signed out or broken: they stay here until it works. Gone (404) is gone.
        if (answer.type !== "opaqueredirect" && answer.status !== 404) break;
        keep(kept().slice(1));
      }
    } catch { /* still no signal */ }
    sending = false;
    if (!kept().length) refresh();
    show();
  }

  // 3. What the other one ticked meanwhile.
  function refresh() {
    const at = card()?.dataset.card;
    if (at) htmx.ajax("GET", at, { target: "#card", swap: "morph" });
  }
  addEventListener("online", send);
  setInterval(send, LATER_MS);
  setInterval(() => {
    if (document.visibilityState === "visible" && navigator.onLine && !kept().length) refresh();
  }, EVERY_MS);
  document.addEventListener("htmx:afterSettle", show);

  // 4. The page itself must open in the dead spot too.
  navigator.serviceWorker?.register("/barrow/worker.js", { scope: "/barrow/" });
  show();
  send();
})();
