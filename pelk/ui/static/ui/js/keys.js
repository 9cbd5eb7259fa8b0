// Keys that are the same on every page; single letters rest while something is typed, or switched off.
(function () {
  const OFF = "pelk-keys-off";
  const STATIONS = { t: "/today/", s: "/shelf/", b: "/bench/", w: "/barrow/", c: "/cure/", p: "/pots/", l: "/log/", h: "/pots/ph/" };
  let going = 0;
  const isTyping = (el) => el.closest?.("input:not([type=checkbox], [type=radio], [type=range]), textarea, select, [role=slider], [contenteditable]");
  const isOff = () => localStorage.getItem(OFF) === "1";

  function open(id) {
    const dialog = document.getElementById(id);
    if (!dialog || dialog.open || document.querySelector("dialog:modal")) return false;
    dialog.showModal();
    (dialog.querySelector("[type=search]") ?? dialog.querySelector(".why-x")).focus();
    return true;
  }
  document.addEventListener("keydown", (event) => {
    if ((event.ctrlKey || event.metaKey) && event.key.toLowerCase() === "k") {
      if (open("jump")) event.preventDefault();
      return;
    }
    if (event.ctrlKey || event.metaKey || event.altKey || isOff() || isTyping(event.target)) return;
    if (document.querySelector("dialog:modal")) return;
    if (event.key === "?") {
      if (open("keys")) event.preventDefault();
    } else if (event.key === "g") {
      going = Date.now();
    } else if (going && Date.now() - going < 1500 && STATIONS[event.key]) {
      location.href = STATIONS[event.key];
    } else {
      going = 0;
    }
  });

  // The list under the words: arrows walk it, Enter opens the first.
  document.addEventListener("keydown", (event) => {
    const box = event.target.closest?.(".jump-in"), step = { ArrowDown: 1, ArrowUp: -1 }[event.key];
    if (!box) return;
    const links = [...box.querySelectorAll(".jump-list a")], at = links.indexOf(event.target);
    if (step && links.length) {
      event.preventDefault();
      const to = at + step;
      (to < 0 ? box.querySelector("input") : links[Math.min(to, links.length - 1)]).focus();
    } else if (event.key === "Enter" && at < 0 && links.length) {
      event.preventDefault();
      links[0].click();
    }
  });
  document.addEventListener("click", (event) => {
    if (event.target.closest("[data-jump]") && open("jump")) event.preventDefault();
    if (event.target.closest("[data-close]")) event.target.closest("dialog").close();
    const toggle = event.target.closest("[data-keys-off]");
    if (toggle) localStorage.setItem(OFF, toggle.checked ? "1" : "");
  });
  for (const toggle of document.querySelectorAll("[data-keys-off]")) toggle.checked = isOff();
})();
