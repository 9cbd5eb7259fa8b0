// The card at the barrow: two people on one load, and a dead spot in the yard.
// A tick that cannot be sent waits in the outbox, is shown as done, and is sent later in order.
(function () {
  const EVERY_MS = 8000;
  const card = () => document.getElementById("card");
  const key = (url, load, step) => `tick ${url} ${load} ${step}`;

  // 1. Show what is kept here on top of what the server last said.
  function show() {
    for (const { url, fields } of outbox.kept()) {
      for (const form of document.querySelectorAll(`#card .picks form[action="${url}"]`)) {
        const data = new FormData(form);
        if (data.get("load") !== fields.load || data.get("step") !== fields.step) continue;
        const done = fields.done === "1", button = form.querySelector("button");
        form.closest("li").classList.toggle("on", done);
        button.setAttribute("aria-pressed", String(done));
        button.value = done ? "0" : "1";
      }
    }
  }
  document.addEventListener("htmx:sendError", (event) => {
    const { elt, requestConfig } = event.detail;
    if (!elt.matches("#card form")) return;
    const { load, step, done } = Object.fromEntries(Object.entries(requestConfig.parameters));
    const url = elt.getAttribute("action");
    outbox.add({ url, fields: { load, step, done }, key: key(url, load, step), says: "A tick" });
    show();
  });

  // 2. What the other one ticked meanwhile.
  function refresh() {
    const at = card()?.dataset.card;
    if (at) htmx.ajax("GET", at, { target: "#card", swap: "morph" });
  }
  let waited = outbox.kept().length;
  outbox.on(() => {
    const now = outbox.kept().length;
    if (waited && !now) refresh();
    waited = now;
  });
  setInterval(() => {
    if (document.visibilityState === "visible" && navigator.onLine && !outbox.kept().length) refresh();
  }, EVERY_MS);
  document.addEventListener("htmx:afterSettle", show);
  show();
})();
