// Morphing swaps for htmx, without the eval of the shipped extension. The field at hand
// keeps its text and caret; an answer that typing has overtaken is dropped.
(function () {
  let typed = 0;
  const asked = new WeakMap();

  Idiomorph.defaults.ignoreActiveValue = true;
  // Where the new answer says "hold", the last good one stays, paler, under its note.
  Idiomorph.defaults.callbacks.beforeNodeMorphed = (old, fresh) => {
    if (!(fresh instanceof Element) || !fresh.hasAttribute("data-hold")) return true;
    if (!old.classList.contains("is-held")) {
      old.classList.add("is-held");
      const note = fresh.querySelector(".held");
      if (note) old.prepend(note);
    }
    return false;
  };
  htmx.defineExtension("morph", {
    isInlineSwap: (style) => style === "morph",
    handleSwap: (style, target, fragment) =>
      style === "morph" &&
      Idiomorph.morph(target, fragment.children, { morphStyle: "outerHTML" }),
  });
  document.addEventListener("input", () => { typed += 1; });
  document.addEventListener("htmx:beforeSend", (event) => {
    asked.set(event.detail.xhr, typed);
  });
  document.addEventListener("htmx:beforeSwap", (event) => {
    const { xhr, target } = event.detail;
    const overtaken = asked.get(xhr) !== typed;
    if (overtaken && target.matches("[data-drop-overtaken]")) event.detail.shouldSwap = false;
  });
})();
