// The Bench's own hands: undo and redo, dragging boundaries and rows, adding by name.
// What a change means is the server's business; here it is only sent.
(function () {
  const bench = () => document.getElementById("bench");
  const PAST_MOST = 200;
  const KEY = `bench ${location.pathname}`;
  // What was typed before the page was left or loaded anew is one undo away.
  let past = JSON.parse(sessionStorage.getItem(KEY) || "[]"), at = past.length - 1, sending = false;
  // What is typed and not kept waits on this device until it is, whatever happens to the page.
  const DRAFT = `bench draft ${location.pathname}${location.search}`;

  // 1. Undo and redo: every answered state of the form is kept as it would be sent.
  function stateOf(form) {
    const kept = new URLSearchParams(new FormData(form));
    for (const name of ["csrfmiddlewaretoken", "action", "why_open", "add_part_said", "add_dose_said", "add_part_open", "add_dose_open", "way_was", "slot", "version", "once", "base", "over"]) kept.delete(name);
    // What only stands in an open drawer is no state of the recipe.
    for (const name of [...kept.keys()]) if (/^(fit|area)_|-was$/.test(name)) kept.delete(name);
    return kept.toString();
  }
  function remember() {
    const form = bench();
    // While an older state is on its way back, the newer one still stands in the form.
    if (!form || sending) return;
    const now = stateOf(form);
    if (now !== past[at]) {
      past = [...past.slice(0, at + 1), now].slice(-PAST_MOST);
      at = past.length - 1;
      try { sessionStorage.setItem(KEY, JSON.stringify(past)); } catch { /* full: the page still has them */ }
    }
    show();
  }
  function versionNow() {
    return bench()?.querySelector("[data-version]")?.value;
  }
  function keepDraft() {
    const form = bench();
    if (!form || sending) return;
    if (stateOf(form) === first) { localStorage.removeItem(DRAFT); return; }
    try { localStorage.setItem(DRAFT, JSON.stringify({ state: stateOf(form), version: versionNow(), named: nameOf(first) })); } catch { /* full */ }
  }
  const nameOf = (state) => new URLSearchParams(state).get("name");
  // A recipe that was renamed meanwhile keeps its new name, unless the draft had one of its own.
  function renamed(draft) {
    const state = new URLSearchParams(draft.state);
    if (state.get("name") === draft.named) state.set("name", nameOf(first));
    return state.toString();
  }
  function say(text, word, deed) {
    const note = document.querySelector("[data-draft]"), button = document.querySelector("[data-draft-do]");
    note.hidden = !text;
    document.querySelector("[data-draft-says]").textContent = text;
    button.textContent = word;
    button.onclick = deed;
  }
  // A draft of another version than this page's is old: the recipe was kept since.
  function bringBack() {
    const draft = JSON.parse(localStorage.getItem(DRAFT) || "null");
    if (!draft || draft.version !== versionNow() || draft.state === first) {
      localStorage.removeItem(DRAFT);
      return;
    }
    past = [...past.slice(0, at + 1), renamed(draft)].slice(-PAST_MOST);
    at = past.length - 2;
    go(1);
    say("What you had not kept is back.", "Discard it", () => {
      localStorage.removeItem(DRAFT);
      say("", "");
      go(-1);
    });
  }
  function show() {
    document.querySelector("[data-undos]")?.removeAttribute("hidden");
    const undo = document.querySelector("[data-undo]"), redo = document.querySelector("[data-redo]");
    if (undo) undo.disabled = at <= 0;
    if (redo) redo.disabled = at >= past.length - 1;
  }
  function go(step) {
    const to = at + step, form = bench();
    if (!form || sending || to < 0 || to >= past.length) return;
    at = to;
    sending = true;
    const token = form.querySelector("[name=csrfmiddlewaretoken]").value;
    const body = new URLSearchParams(past[at]);
    body.set("action", "restore");
    body.set("slot", slotNow());
    body.set("base", form.querySelector("[name=base]").value);
    fetch(form.getAttribute("action"), {
      method: "POST",
      headers: { "HX-Request": "true", "HX-Target": "bench", "X-CSRFToken": token },
      body,
    })
      .then((answer) => answer.text())
      .then((html) => {
        const fresh = new DOMParser().parseFromString(html, "text/html").getElementById("bench");
        if (!fresh) return;
        const kept = pelkFocus.traceOf(document.activeElement);
        document.activeElement?.blur();
        Idiomorph.morph(form, fresh, { morphStyle: "outerHTML" });
        for (const child of bench().children) htmx.process(child);
        htmx.trigger(document.body, "bench-read");
        show();
        if (kept) pelkFocus.give(kept);
      })
      .finally(() => { sending = false; keepDraft(); });
  }
  document.addEventListener("click", (event) => {
    if (event.target.closest("[data-undo]")) go(-1);
    if (event.target.closest("[data-redo]")) go(1);
  });
  document.addEventListener("keydown", (event) => {
    if (!(event.ctrlKey || event.metaKey) || !bench()) return;
    const key = event.key.toLowerCase();
    if (key === "z" || key === "y") {
      event.preventDefault();
      go(key === "y" || event.shiftKey ? 1 : -1);
    }
  });
  for (const step of ["htmx:afterSwap", "htmx:afterSettle"]) document.addEventListener(step, (event) => {
    if (event.target.closest?.("#bench") || event.target.querySelector?.("#bench")) remember();
    keepDraft();
  });
  document.addEventListener("input", (event) => {
    if (event.target.closest("#bench")) keepDraft();
  });
  // Typing is sent without the button that was pressed last: htmx would send that again.
  document.addEventListener("htmx:configRequest", (event) => {
    const { elt, triggeringEvent, formData } = event.detail;
    if (elt === bench() && triggeringEvent?.type === "input") formData.delete("action");
  });
  // Kept, it is no draft any more: the page leaves for its address.
  document.addEventListener("htmx:beforeOnLoad", (event) => {
    if (!event.detail.xhr.getResponseHeader("HX-Redirect")) return;
    sending = true;
    localStorage.removeItem(DRAFT);
  });
  // No connection: nothing is lost, and the same is tried again.
  document.addEventListener("htmx:sendError", (event) => {
    const elt = event.detail.requestConfig.elt;
    keepDraft();
    const again = () => { say("", ""); htmx.trigger(elt, elt.matches("button") ? "click" : "input"); };
    say("No connection. What you typed is safe on this device.", "Try again", again);
  });
  window.addEventListener("online", () => {
    const button = document.querySelector("[data-draft-do]");
    if (button?.textContent === "Try again") button.click();
  });

  // 2. A number that was changed by hand is told like typing.
  function write(input, value) {
    input.value = String(Number(value.toPrecision(4)));
    input.dispatchEvent(new Event("input", { bubbles: true }));
  }
  function partsBeside(handle) {
    const below = Number(handle.dataset.boundary);
    const inputs = document.querySelectorAll("[data-part]");
    const locked = (i) => inputs[i].closest("tr").querySelector("[name$=-lock]")?.checked;
    if (locked(below - 1) || locked(below)) return null;
    const one = (input) => Number(input.dataset.one) || 1;
    const numbers = [...inputs].map((input) => Number(input.value.replace(",", ".")) * one(input));
    if (numbers.some((n) => !(n > 0))) return null;
    return { inputs, one, numbers, below, sum: numbers.reduce((a, b) => a + b, 0) };
  }
  function moveBoundary(held, share) {
    const { inputs, one, numbers, below, sum } = held;
    const both = numbers[below - 1] + numbers[below], least = Math.min(0.005 * sum, both / 10);
    const upper = Math.min(Math.max(numbers[below - 1] + share * sum, least), both - least);
    // Both at once: percents that still come to a hundred leave the others alone.
    const [above, under] = [inputs[below - 1], inputs[below]];
    above.value = String(Number((upper / one(above)).toPrecision(4)));
    write(under, (both - Number(above.value) * one(above)) / one(under));
  }

  // A slider moves its number, and the curves with it.
  document.addEventListener("input", (event) => {
    const field = event.target.dataset.slides && document.getElementById(event.target.dataset.slides);
    if (!field) return;
    event.stopPropagation();
    field.value = event.target.value;
    field.dispatchEvent(new Event("input", { bubbles: true }));
  }, { capture: true });

  // 3. Boundaries of the cutaway: mouse, touch, arrow keys.
  let drag = null;
  document.addEventListener("pointerdown", (event) => {
    const handle = event.target.closest(".cut-handle"), held = handle && partsBeside(handle);
    if (!held) return;
    const svg = handle.ownerSVGElement, box = svg.getBoundingClientRect();
    const tall = (Number(svg.dataset.base) - Number(svg.dataset.top)) * box.height / svg.viewBox.baseVal.height;
    drag = { handle, held, from: event.clientY, tall, pointer: event.pointerId };
    event.preventDefault();
    handle.focus();
  });
  document.addEventListener("pointermove", (event) => {
    if (drag?.handle) drag.handle.setAttribute("transform", `translate(0 ${event.clientY - drag.from})`);
  });
  document.addEventListener("pointerup", (event) => {
    if (!drag) return;
    const { handle, held, from, tall } = drag;
    drag = null;
    handle.removeAttribute("transform");
    if (Math.abs(event.clientY - from) > 1) moveBoundary(held, (event.clientY - from) / tall);
  });
  document.addEventListener("keydown", (event) => {
    const step = { ArrowUp: -1, ArrowDown: 1, PageUp: -5, PageDown: 5 }[event.key];
    const handle = event.target.closest?.(".cut-handle");
    if (handle && step) {
      event.preventDefault();
      const held = partsBeside(handle);
      if (held) moveBoundary(held, step / 100);
    }
  });

  // 4. Rows: arrow keys on the grip, or drag it.
  function send(action) {
    const form = bench();
    htmx.ajax("POST", form.getAttribute("action"), { source: form, target: form, swap: "morph", values: { action } });
  }
  document.addEventListener("keydown", (event) => {
    const grip = event.target.closest?.("[data-grip]");
    const step = { ArrowUp: -1, ArrowDown: 1 }[event.key];
    if (!grip || !step) return;
    event.preventDefault();
    const to = Number(grip.dataset.at) + step;
    if (to < 0 || to >= document.querySelectorAll(`[data-grip=${grip.dataset.grip}]`).length) return;
    send(`move-${grip.dataset.grip}:${grip.dataset.at}:${to}`);
    const kind = grip.dataset.grip;
    document.addEventListener("htmx:afterSettle", () => {
      document.querySelector(`[data-grip=${kind}][data-at="${to}"]`)?.focus();
    }, { once: true });
  });
  let carried = null;
  document.addEventListener("pointerdown", (event) => {
    const grip = event.target.closest("[data-grip]");
    if (grip) carried = { grip, from: event.clientY, moved: false };
  });
  document.addEventListener("pointermove", (event) => {
    if (carried && Math.abs(event.clientY - carried.from) > 6) {
      carried.moved = true;
      carried.grip.closest("tr").classList.add("carried");
    }
  });
  document.addEventListener("pointerup", (event) => {
    if (!carried) return;
    const { grip, moved } = carried;
    carried = null;
    grip.closest("tr").classList.remove("carried");
    if (!moved) return;
    const grips = [...document.querySelectorAll(`[data-grip=${grip.dataset.grip}]`)];
    const to = grips.filter((other) => {
      const box = other.closest("tr").getBoundingClientRect();
      return other !== grip && box.top + box.height / 2 < event.clientY;
    }).length;
    document.addEventListener("click", (click) => { click.preventDefault(); click.stopPropagation(); }, { capture: true, once: true });
    setTimeout(() => {
      if (to !== Number(grip.dataset.at)) send(`move-${grip.dataset.grip}:${grip.dataset.at}:${to}`);
    });
  });

  // 5. The runway is drawn for its slot; the server is told which one the page has.
  const WIDE = matchMedia("(min-width: 1180px)"), NARROW = matchMedia("(max-width: 899.98px)"), PRINT = matchMedia("print");
  function slotNow() {
    return WIDE.matches ? "only-xl" : NARROW.matches ? "only-s" : "only-m";
  }
  function tellSlot() {
    const field = document.querySelector("[data-slot]"), before = field?.value;
    // Paper is no slot: what is being printed stays as it is.
    if (!field || PRINT.matches) return;
    field.value = slotNow();
    if (before && before !== field.value) htmx.trigger(document.body, "bench-read");
  }
  for (const media of [WIDE, NARROW]) media.addEventListener("change", tellSlot);

  // 6. Escape closes the tab at hand.
  document.addEventListener("keydown", (event) => {
    const open = event.key === "Escape" && event.target.closest?.(".tabs details[open]");
    if (!open) return;
    open.open = false;
    open.querySelector("summary").focus();
  });

  tellSlot();
  const first = bench() ? stateOf(bench()) : "";
  remember();
  if (bench()) bringBack();
})();
