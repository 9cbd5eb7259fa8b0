// What is written in a dead spot waits on this phone, under its author's name alone, and is sent
// in order when there is signal. Nothing is dropped: what is not taken stays, and is shown.
const outbox = (function () {
  const who = document.body.dataset.who || "", yard = document.body.dataset.yard || "";
  const KEY = `pelk outbox ${who}`, EVERY_MS = 4000, PATIENCE_MS = 5000;
  const listeners = [];
  const kept = () => (who ? JSON.parse(localStorage.getItem(KEY) || "[]") : []);
  function keep(items) {
    localStorage.setItem(KEY, JSON.stringify(items));
    for (const each of listeners) each();
  }

  // What was written in another yard of one's own waits until that one is open again.
  const isHere = (item) => !item.yard || item.yard === yard;

  // Whether the server can be reached: a phone says "on line" of a network that leads nowhere.
  async function reaches() {
    if (!navigator.onLine) return false;
    try {
      return (await fetch("/health/live", { cache: "no-store", signal: AbortSignal.timeout(PATIENCE_MS) })).ok;
    } catch { return false; }
  }

  // The same thing written twice is one thing: the newer word stands in its place.
  function add(item) {
    item = { yard, yardName: document.body.dataset.yardName, ...item };
    const items = kept(), at = items.findIndex((each) => each.key === item.key && !each.asks);
    if (at < 0) items.push(item);
    else items[at] = item;
    keep(items);
  }

  let sending = false;
  async function send() {
    if (sending || !who) return;
    sending = true;
    let sent = 0;
    try {
      for (const item of kept().filter((each) => !each.asks && isHere(each))) {
        const token = document.querySelector("[name=csrfmiddlewaretoken]")?.value;
        const answer = await fetch(item.url, {
          method: "POST", body: new URLSearchParams(item.fields),
          headers: { "X-CSRFToken": token, "X-Pelk-Author": who, "X-Pelk-Yard": item.yard || "" }, redirect: "manual",
        });
        // Signed out, another person, or broken: it stays, and so does all that follows it.
        if (answer.type !== "opaqueredirect" && answer.status !== 200 && answer.status !== 404) break;
        const items = kept(), at = items.findIndex((each) => each.key === item.key && !each.asks);
        // Taken: gone from here. Asked about, or about something that went: shown, never dropped.
        if (answer.type === "opaqueredirect") items.splice(at, 1);
        else items[at] = { ...item, asks: answer.status === 404 ? "gone" : "asked" };
        keep(items);
        sent += 1;
      }
    } catch { /* still no signal */ }
    sending = false;
    return sent;
  }

  function say() {
    const note = document.querySelector("[data-outbox-note]");
    if (!note) return;
    const items = kept(), waits = items.filter((each) => !each.asks && isHere(each));
    const asks = items.filter((each) => each.asks && isHere(each)), away = items.filter((each) => !isHere(each));
    note.hidden = !items.length;
    note.replaceChildren();
    if (waits.length) {
      const many = waits.length > 1;
      note.append(`No signal. ${waits.length} ${many ? "things you wrote are" : "thing you wrote is"} kept on this `
        + `phone and sent when there is signal again.`);
    }
    if (away.length) {
      const line = document.createElement("p");
      line.append(`${away.length} written in ${away[0].yardName || "another yard"}: kept on this phone, sent when that yard is open.`);
      note.append(line);
    }
    for (const item of asks) {
      const line = document.createElement("p"), look = document.createElement("a"), drop = document.createElement("button");
      look.href = `${item.url}?${new URLSearchParams(item.fields)}`;
      look.textContent = "look at it";
      drop.type = "button";
      drop.className = "btn btn-line";
      drop.textContent = "Leave it";
      drop.addEventListener("click", () => keep(kept().filter((each) => each.key !== item.key)));
      line.append(`${item.says} was not taken${item.asks === "gone" ? ": what it is about is gone" : ""}: `, look, " ", drop);
      note.append(line);
    }
  }

  // Forms that may be written without signal: first the network, then the phone.
  document.addEventListener("submit", async (event) => {
    const form = event.target, by = event.submitter;
    if (!who || !form.matches("[data-outbox]") || (by && by.hasAttribute("formaction"))) return;
    if (form.dataset.goes) { delete form.dataset.goes; return; }
    event.preventDefault();
    if (form.dataset.asks) return;
    form.dataset.asks = "1";
    const isReached = await reaches();
    delete form.dataset.asks;
    if (isReached) {
      form.dataset.goes = "1";
      form.requestSubmit(by);
      return;
    }
    const fields = Object.fromEntries(new FormData(form));
    delete fields.csrfmiddlewaretoken;
    if ("taken_at" in fields && !fields.taken_at) {
      const now = new Date();
      fields.taken_at = new Date(now - now.getTimezoneOffset() * 60000).toISOString().slice(0, 16);
    }
    add({ url: form.getAttribute("action") || location.pathname, fields, key: fields.once || crypto.randomUUID(),
      says: form.dataset.outbox });
    form.reset();
    // What is written next on this page is another thing: under the old key it would be taken for this one.
    if (form.elements.once) form.elements.once.value = crypto.randomUUID();
  });

  listeners.push(say);
  addEventListener("online", send);
  setInterval(send, EVERY_MS);
  document.addEventListener("DOMContentLoaded", () => { say(); send(); });
  return { add, kept, send, on: (each) => listeners.push(each) };
})();
