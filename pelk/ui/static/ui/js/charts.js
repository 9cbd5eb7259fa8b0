// Charts: pointing at one reads its numbers; it is saved as SVG, its numbers as CSV.
(function () {
  const KEPT = ["fill", "stroke", "stroke-width", "stroke-dasharray", "opacity", "font-family", "font-size", "font-weight", "text-anchor", "paint-order"];
  const figureOf = (el) => el.closest(".charted");
  const tableOf = (figure) => figure.querySelector(".numbers table");
  const seen = (figure) => [...figure.querySelectorAll("svg.chart")].find((svg) => svg.getClientRects().length);

  // 1. What lies under the finger or the mouse.
  function point(event) {
    const svg = event.target.closest?.(".charted svg.chart:not(.dots)"), figure = svg && figureOf(svg);
    const line = figure?.querySelector(".chart-at"), table = figure && tableOf(figure);
    if (!line || !table?.querySelector("[data-share]")) return;
    const box = svg.getBoundingClientRect(), wide = svg.viewBox.baseVal.width;
    const left = Number(svg.dataset.left) || 0, right = Number(svg.dataset.right) || wide;
    const share = ((event.clientX - box.left) / box.width * wide - left) / (right - left);
    const far = (row) => Math.abs(Number(row.dataset.share) - share);
    const row = [...table.tBodies[0].rows].reduce((near, other) => (far(other) < far(near) ? other : near));
    const heads = [...table.tHead.rows[0].cells].map((cell) => cell.textContent.trim());
    line.textContent = [...row.cells].map((cell, i) => (i ? `${heads[i]} ${cell.textContent.trim()}` : cell.textContent.trim())).join("; ");
  }
  document.addEventListener("pointermove", point);
  document.addEventListener("pointerdown", point);

  // 2. Saved as it looks, with its own styles; its numbers as they stand in the table.
  function asSvg(svg) {
    const copy = svg.cloneNode(true), here = [svg, ...svg.querySelectorAll("*")], there = [copy, ...copy.querySelectorAll("*")];
    here.forEach((el, i) => {
      const style = getComputedStyle(el);
      for (const name of KEPT) there[i].setAttribute(name, style.getPropertyValue(name));
      if (el.localName === "use") {
        const drawn = document.querySelector(el.getAttribute("href"));
        if (drawn && !copy.querySelector(el.getAttribute("href"))) copy.prepend(drawn.cloneNode(true));
      }
    });
    copy.setAttribute("xmlns", "http://www.w3.org/2000/svg");
    return new XMLSerializer().serializeToString(copy);
  }
  function asCsv(table) {
    const cell = (text) => (/[",\n]/.test(text) ? `"${text.replaceAll('"', '""')}"` : text);
    return [...table.rows].map((row) => [...row.cells].map((c) => cell(c.textContent.trim())).join(",")).join("\r\n");
  }
  document.addEventListener("click", (event) => {
    const button = event.target.closest("[data-save]"), figure = button && figureOf(button);
    if (!figure) return;
    const kind = button.dataset.save, name = figure.querySelector("[data-numbers]").dataset.numbers;
    const text = kind === "svg" ? asSvg(seen(figure)) : asCsv(tableOf(figure));
    const link = document.createElement("a");
    link.href = URL.createObjectURL(new Blob([text], { type: kind === "svg" ? "image/svg+xml" : "text/csv" }));
    link.download = `${name}.${kind}`;
    link.click();
    setTimeout(() => URL.revokeObjectURL(link.href), 1000);
  });
})();
