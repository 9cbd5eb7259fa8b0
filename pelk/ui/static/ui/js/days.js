// A day is typed in the yard's order and said in words beside its field; a button opens the
// device's own calendar. A day half typed is nothing yet: it is held back until it is whole or left.
(function () {
  const monthFirst = document.documentElement.lang === "en-US";
  const DIGITS = /^(\d{1,2})[/.-](\d{1,2})[/.-](\d{4}|\d{2})(?:\s+(\d{1,2}:\d{2}))?$/;
  const ISO = /^(\d{4})-(\d{2})-(\d{2})(?:[ T](\d{1,2}:\d{2}))?$/;
  // 1/12/20 may be on its way to 1/12/2031.
  const ON_ITS_WAY = /[/.-](19|20)$/;
  const two = (n) => String(n).padStart(2, "0");
  const held = new WeakSet();

  // The parts of what was typed; nothing where that is no day. The server reads more: names of months.
  function read(text) {
    let [, a, b, c, hour] = text.trim().match(DIGITS) ?? [];
    let [year, month, day] = monthFirst ? [c, a, b] : [c, b, a];
    if (!year) [, year, month, day, hour] = text.trim().match(ISO) ?? [];
    if (!year) return null;
    if (year.length === 2) year = `20${year}`;
    const at = new Date(+year, month - 1, +day, 12);
    const stands = at.getDate() === +day && at.getMonth() === month - 1;
    return stands ? { at, iso: `${year}-${two(month)}-${two(day)}`, hour } : null;
  }
  function write(iso) {
    const [, year, month, day, hour] = iso.match(ISO);
    const said = monthFirst ? [month, day, year] : [day, month, year];
    return said.join("/") + (hour ? ` ${hour}` : "");
  }
  function say(field, typed) {
    const words = (how) => new Intl.DateTimeFormat(document.documentElement.lang, how).format(typed.at);
    field.closest(".day-field").querySelector(".day-says").textContent = typed
      ? `${words({ weekday: "short" })} ${words({ day: "numeric", month: "short", year: "numeric" })}` : "";
  }

  document.addEventListener("input", (event) => {
    const field = event.target;
    if (!field.matches(".day-in")) return;
    const typed = read(field.value);
    say(field, typed);
    if ((typed && !ON_ITS_WAY.test(field.value)) || !field.value || event.detail === "left") {
      held.delete(field);
    } else {
      held.add(field);
      event.stopPropagation();
    }
  }, { capture: true });
  document.addEventListener("change", (event) => {
    const field = event.target;
    if (held.delete(field)) field.dispatchEvent(new CustomEvent("input", { bubbles: true, detail: "left" }));
  }, { capture: true });

  document.addEventListener("click", (event) => {
    const opener = event.target.closest("[data-calendar]");
    if (!opener) return;
    const calendar = opener.nextElementSibling, field = opener.closest(".day-field").querySelector(".day-in");
    const typed = read(field.value);
    calendar.value = !typed ? "" : typed.iso + (calendar.type === "date" ? "" : `T${(typed.hour ?? "12:00").padStart(5, "0")}`);
    // Where the calendar cannot be opened from here, its field is what is left to type in.
    try { calendar.showPicker(); } catch { field.focus(); }
  });
  // What is chosen there is typed into the field.
  for (const kind of ["input", "change"]) {
    document.addEventListener(kind, (event) => {
      const calendar = event.target;
      if (!calendar.matches(".day-pick > input")) return;
      event.stopPropagation();
      const field = calendar.closest(".day-field").querySelector(".day-in");
      field.value = calendar.value ? write(calendar.value) : "";
      field.dispatchEvent(new Event(kind, { bubbles: true }));
    }, { capture: true });
  }
})();
