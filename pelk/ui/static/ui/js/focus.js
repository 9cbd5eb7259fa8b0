// Where the focus goes: into a drawer, back to what opened it, and on to the next row.
(function () {
  const OPENER = "pelk-opener", WAS_OPEN = "pelk-was-open";
  const drawer = () => document.querySelector("dialog.drawer");

  // 1. What can be found again after the page was answered: by id, name, address, row.
  function traceOf(el) {
    if (!el || el === document.body) return null;
    const row = el.closest("[data-row], li, tr"), list = row?.parentElement;
    const alike = list ? [...document.querySelectorAll(list.localName)] : [];
    return {
      id: el.id, name: el.getAttribute("name"), value: el.getAttribute("value"), href: el.getAttribute("href"),
      unfolds: el.dataset.unfolds, undo: "undo" in el.dataset, redo: "redo" in el.dataset, tag: el.localName,
      row: row?.id, kind: list?.localName, list: alike.indexOf(list), at: list ? [...list.children].indexOf(row) : -1,
    };
  }
  const quoted = (text) => CSS.escape(text);
  function again(trace) {
    if (!trace) return null;
    const find = (selector) => document.querySelector(selector);
    if (trace.id && find(`#${quoted(trace.id)}`)) return find(`#${quoted(trace.id)}`);
    if (trace.undo || trace.redo) return [find("[data-undo]"), find("[data-redo]")].find((b) => b && !b.disabled);
    if (trace.name && trace.value !== null) {
      const same = find(`${trace.tag}[name="${quoted(trace.name)}"][value="${quoted(trace.value)}"]`);
      if (same) return same;
    }
    if (trace.href) {
      const same = find(`a[href="${quoted(trace.href)}"]`);
      if (same) return same;
    }
    // It is gone with its row: the row that stands there now, else the last one.
    const rows = trace.kind ? [...(document.querySelectorAll(trace.kind)[trace.list]?.children ?? [])] : [];
    const row = (trace.row && document.getElementById(trace.row)) || rows[Math.min(trace.at, rows.length - 1)];
    return row?.querySelector("a[href], button, input:not([type=hidden])") ?? find("#main h1 input, #main h1");
  }
  function give(trace) {
    const to = again(trace);
    if (!to) return;
    if (!to.matches("a[href], button, input, select, textarea, summary")) to.setAttribute("tabindex", "-1");
    to.focus();
  }
  const isLost = () => !document.activeElement || document.activeElement === document.body;

  // 2. Drawers are dialogs: they hold the focus, and hand it back to what opened them.
  document.addEventListener("click", (event) => {
    const opener = event.target.closest("a[href], button, summary");
    if (opener && !opener.closest("dialog")) sessionStorage.setItem(OPENER, JSON.stringify(traceOf(opener)));
  }, { capture: true });
  document.addEventListener("cancel", (event) => {
    if (!event.target.matches("dialog.drawer")) return;
    event.preventDefault();
    event.target.querySelector(".why-x").click();
  }, { capture: true });
  function settle() {
    const open = drawer();
    if (!open) {
      if (sessionStorage.getItem(WAS_OPEN) && isLost()) give(JSON.parse(sessionStorage.getItem(OPENER)));
      sessionStorage.removeItem(WAS_OPEN);
      return;
    }
    sessionStorage.setItem(WAS_OPEN, "1");
    if (open.matches(":modal")) return;
    open.close();
    open.showModal();
    (open.querySelector("[aria-invalid=true]") ?? open.querySelector(".why-x")).focus();
  }

  // 3. What a swap takes away with the focus on it gives the focus on.
  let held = null;
  document.addEventListener("htmx:afterSwap", settle);
  document.addEventListener("htmx:beforeRequest", () => { held = traceOf(document.activeElement) ?? held; });
  document.addEventListener("htmx:afterSettle", () => {
    settle();
    if (isLost() && held) give(held);
    held = null;
    hear();
  });

  // 4. One short sentence is read out, where an answer has one and it is another.
  let heard = "";
  function hear() {
    const said = document.querySelector("[data-heard]")?.dataset.heard ?? "", line = document.getElementById("heard");
    if (!line || !said || said === heard) return;
    heard = said;
    line.textContent = said;
  }
  heard = document.querySelector("[data-heard]")?.dataset.heard ?? "";

  window.pelkFocus = { traceOf, give };
  settle();
  if (isLost()) document.querySelector("#main [aria-invalid=true]")?.focus();
})();
