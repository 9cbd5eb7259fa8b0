// Morphing swaps for htmx, without the eval of the shipped extension. The field at hand
// keeps its text and caret. Requests go one after the other (hx-sync), and the answer to
// typing that more typing has overtaken is dropped: its own answer is on the way.
(function () {
  let typed = 0;
  const asked = new WeakMap();

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
  // What a grower unfolded stays so.
  Idiomorph.defaults.callbacks.beforeAttributeUpdated = (name, node, change) =>
    !(name === "open" && change === "remove" && node.matches("details"));
  htmx.defineExtension("morph", {
    isInlineSwap: (style) => style === "morph",
    handleSwap: (style, target, fragment) => {
      if (style !== "morph") return false;
      // Only where someone types: a button that was pressed must change with the rest.
      const ignoreActiveValue = Boolean(document.activeElement?.matches("input, textarea"));
      const nodes = Idiomorph.morph(target, fragment.children, { morphStyle: "outerHTML", ignoreActiveValue });
      // The target itself is not handed back to be set up again: it bears a passing class, so htmx
      // would take it for changed, and forget its lock and the requests that wait on it.
      return [...nodes].flatMap((node) => (node === target ? [...node.children] : [node]));
    },
  });
  document.addEventListener("input", () => { typed += 1; });
  document.addEventListener("htmx:beforeSend", (event) => {
    asked.set(event.detail.xhr, typed);
  });
  document.addEventListener("htmx:beforeSwap", (event) => {
    const { xhr, requestConfig } = event.detail;
    const overtaken = asked.get(xhr) !== typed;
    const isTyping = requestConfig.elt.matches("[data-drop-overtaken]") && !requestConfig.parameters.action;
    if (overtaken && isTyping) event.detail.shouldSwap = false;
  });
})();
