// The entry line of the Bench: a combobox whose list says what the typed words may mean.
// Enter takes the marked choice; without one it sends the words, which stay until they are in.
// Without this file the same list comes with the page that Enter brings.
(function () {
  const LOOK_AFTER = 90;
  let timer = 0, asked = 0;
  const boxOf = (field) => field?.closest?.("[data-entry]");
  const options = (box) => [...box.querySelectorAll("[role=option]")];
  const marked = (box) => box.querySelector("[role=option][aria-selected=true]");

  function mark(box, option) {
    for (const other of options(box)) other.setAttribute("aria-selected", String(other === option));
    const field = box.querySelector("[role=combobox]");
    if (option) field.setAttribute("aria-activedescendant", option.id);
    else field.removeAttribute("aria-activedescendant");
    option?.scrollIntoView({ block: "nearest" });
  }
  function show(box, html) {
    const list = box.querySelector("[data-entry-list]");
    list.innerHTML = html;
    htmx.process(list);
    box.querySelector("[role=combobox]").setAttribute("aria-expanded", String(options(box).length > 0));
    mark(box, marked(box));
  }
  function look(box, field) {
    const text = field.value, mine = ++asked;
    if (!text.trim()) { show(box, ""); return; }
    const form = field.form;
    const query = new URLSearchParams({
      box: box.dataset.entry, text, way: form.elements.way?.value ?? "parts",
      said: box.querySelector("[name$=_said]").value, here: form.getAttribute("hx-post"),
    });
    fetch(`${box.dataset.look}?${query}`, { headers: { "HX-Request": "true" } })
      .then((answer) => (answer.ok ? answer.text() : ""))
      // An answer that more typing has overtaken says nothing any more.
      .then((html) => { if (mine === asked && field.isConnected && field.value === text) show(box, html); })
      .catch(() => { /* offline: Enter asks again */ });
  }
  document.addEventListener("input", (event) => {
    const field = event.target, box = boxOf(field);
    if (!box || !field.matches("[role=combobox]")) return;
    // Another text has its words answered anew.
    box.querySelector("[name$=_said]").value = "";
    clearTimeout(timer);
    timer = setTimeout(() => look(box, field), LOOK_AFTER);
  }, { capture: true });
  document.addEventListener("keydown", (event) => {
    const field = event.target, box = boxOf(field);
    if (!box || !field.matches("[role=combobox]")) return;
    const all = options(box), at = all.indexOf(marked(box));
    const step = { ArrowDown: 1, ArrowUp: -1 }[event.key];
    if (step && all.length) {
      event.preventDefault();
      mark(box, all[(at + step + all.length) % all.length] ?? all[0]);
    } else if (event.key === "Enter" && at >= 0 && all[at].value !== "enter") {
      event.preventDefault();
      all[at].click();
    } else if (event.key === "Escape" && all.length) {
      event.preventDefault();
      event.stopPropagation();
      show(box, "");
    }
  });
  // After it went in, the hand stays where it was: the next one is typed at once.
  document.addEventListener("htmx:afterSettle", (event) => {
    const option = event.detail.requestConfig?.elt, kind = option?.closest?.("[data-entry]")?.dataset.entry;
    if (kind && document.activeElement === document.body) document.getElementById(`add-${kind}`)?.focus();
  });
})();
