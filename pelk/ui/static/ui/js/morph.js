// Morphing swaps for htmx, without the eval of the shipped extension. The field at hand
// keeps its text and caret, and whatever was changed since a request was sent keeps its
// value when the answer comes. Requests go one after the other (hx-sync), and the answer to
// typing that more typing has overtaken is dropped: its own answer is on the way.
(function () {
  let typed = 0;
  // When each field was last changed by hand, and when each request was sent: counts of `typed`.
  const touched = new WeakMap();
  const asked = new WeakMap();
  let answering = 0;
  // Answers that follow others by themselves (data-follows) are dropped once anything was sent since.
  let round = 0;
  const rounds = new WeakMap();

  // "keep": the page's own stays (a long list that the fragment leaves out).
  // "hold": the last good answer stays, paler, under its note.
  Idiomorph.defaults.callbacks.beforeNodeMorphed = (old, fresh) => {
    if (!(fresh instanceof Element)) return true;
    if (fresh.hasAttribute("data-keep")) return false;
    if (!fresh.hasAttribute("data-hold")) return true;
    if (!old.classList.contains("is-held")) {
      old.classList.add("is-held");
      const note = fresh.querySelector(".held");
      if (note) old.prepend(note);
    }
    return false;
  };
  // What a grower unfolded, or marked in a list, stays so.
  Idiomorph.defaults.callbacks.beforeAttributeUpdated = (name, node, change) =>
    !(name === "open" && change === "remove" && node.matches("details"))
    && !(name === "aria-selected" && node.closest("[data-entry]"));

  // A field changed since the request was sent is written into the answer as it stands.
  // Rows are known by their id, not by their number: that changes when one goes.
  function twinOf(field, fragment) {
    const row = field.closest("[data-row]"), column = field.name.split("-").at(-1);
    if (row) return fragment.querySelector(`#${CSS.escape(row.id)} [name$="-${CSS.escape(column)}"]`);
    if (field.id) return fragment.querySelector(`#${CSS.escape(field.id)}`);
    const named = fragment.querySelectorAll(`[name="${CSS.escape(field.name)}"]`);
    return [...named].find((other) => field.type !== "radio" || other.value === field.value);
  }
  function carry(field, twin) {
    if (field.matches("select")) {
      for (const option of twin.options) option.toggleAttribute("selected", option.value === field.value);
    } else if (field.matches("[type=checkbox], [type=radio]")) {
      twin.toggleAttribute("checked", field.checked);
    } else if (field.matches("textarea")) {
      twin.textContent = field.value;
    } else {
      twin.setAttribute("value", field.value);
    }
  }
  function keepTouched(target, fragment) {
    for (const field of target.querySelectorAll("input, select, textarea")) {
      if (!((touched.get(field) ?? 0) > answering)) continue;
      const twin = twinOf(field, fragment);
      if (twin) carry(field, twin);
    }
  }

  htmx.defineExtension("morph", {
    isInlineSwap: (style) => style === "morph",
    handleSwap: (style, target, fragment) => {
      if (style !== "morph") return false;
      keepTouched(target, fragment);
      // The field at hand is no other than the rest: changed since, it is in the answer by now.
      const nodes = Idiomorph.morph(target, fragment.children, { morphStyle: "outerHTML" });
      // The target itself is not handed back to be set up again: it bears a passing class, so htmx
      // would take it for changed, and forget its lock and the requests that wait on it.
      return [...nodes].flatMap((node) => (node === target ? [...node.children] : [node]));
    },
  });
  document.addEventListener("input", (event) => {
    typed += 1;
    touched.set(event.target, typed);
  }, { capture: true });
  document.addEventListener("htmx:beforeSend", (event) => {
    const { xhr, requestConfig } = event.detail;
    asked.set(xhr, typed);
    if (!requestConfig.elt.matches("[data-follows]")) round += 1;
    rounds.set(xhr, round);
  });
  document.addEventListener("htmx:beforeSwap", (event) => {
    const { xhr, requestConfig } = event.detail;
    answering = asked.get(xhr) ?? typed;
    const overtaken = answering !== typed;
    const isTyping = requestConfig.elt.matches("[data-drop-overtaken]") && !requestConfig.parameters.action;
    const isLate = requestConfig.elt.matches("[data-follows]") && (overtaken || rounds.get(xhr) !== round);
    if (isLate || (overtaken && isTyping)) event.detail.shouldSwap = false;
  });
})();
