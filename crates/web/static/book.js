// Scores as a class shouts them: what is entered is kept in this browser until the server has it, whatever happens to the connection, and the
// field is free for the next one at once. Works without scripts too, a page an entry.
(() => {
  "use strict";
  const form = document.getElementById("enter");
  if (!form) return;
  const field = form.querySelector("#called"), waiting = document.getElementById("waiting");
  const what = form.querySelector("input[name=piece], input[name=lift]");
  const store = "book:" + form.dataset.day;
  const LONGEST_MS = 12 * 3600 * 1000;
  let busy = false, pause = 0;

  // What nobody has sent for half a day stays on no device.
  for (const name of Object.keys(localStorage).filter((name) => name.startsWith("book:"))) {
    if (read(name).every((entry) => Date.now() - entry.at > LONGEST_MS)) localStorage.removeItem(name);
  }
  show();
  send();

  field.addEventListener("keydown", (event) => {
    if (event.key === "Enter" && !event.shiftKey && !event.isComposing) { event.preventDefault(); form.requestSubmit(); }
  });
  form.addEventListener("submit", (event) => {
    event.preventDefault();
    const text = field.value.trim();
    if (!text) return;
    const entry = { key: key(), text, what: what.name, n: what.value, at: Date.now() };
    write([...queue(), entry]);
    field.value = "";
    field.rows = 1;
    field.focus();
    show();
    send();
  });
  document.addEventListener("click", (event) => {
    const name = event.target.closest("[data-call]")?.dataset.call;
    if (!name) return;
    field.value = name + " ";
    field.focus();
  });
  // Another version is one touch.
  document.addEventListener("change", (event) => event.target.closest(".doneas")?.requestSubmit());
  window.addEventListener("online", () => { pause = 0; send(); });

  function read(name) {
    try { return JSON.parse(localStorage.getItem(name)) ?? []; } catch { return []; }
  }
  function queue() { return read(store); }
  function write(entries) {
    if (entries.length) localStorage.setItem(store, JSON.stringify(entries)); else localStorage.removeItem(store);
  }
  function key() {
    return [...crypto.getRandomValues(new Uint8Array(16))].map((byte) => byte.toString(16).padStart(2, "0")).join("");
  }
  function show(why) {
    const left = queue();
    waiting.hidden = left.length === 0 || (!why && busy);
    waiting.textContent = left.length === 0 ? "" : (why ?? "") + " Waiting here: " + left.map((entry) => entry.text.replace(/\n/g, ", ")).join("; ");
  }

  // One after the other; an entry leaves the queue when the server has said what became of it.
  async function send() {
    if (busy) return;
    const [entry] = queue();
    if (!entry) return;
    busy = true;
    let why = null;
    try {
      const answer = await fetch(form.action, {
        method: "POST",
        body: new URLSearchParams({ text: entry.text, [entry.what]: entry.n, key: entry.key }),
        headers: { "HX-Request": "true", "HX-Boosted": "true" },
        signal: AbortSignal.timeout(10000),
      });
      const page = new DOMParser().parseFromString(await answer.text(), "text/html");
      const book = page.getElementById("book");
      if (answer.ok || answer.status === 422) {
        write(queue().filter((other) => other.key !== entry.key));
        pause = 0;
        // What was entered on another lift or piece of the day is kept, and shown there.
        if (book && entry.what === what.name && entry.n === what.value) put(book);
        // Lines that were not understood come back to be put right, unless the next one is being typed.
        const left = page.getElementById("called")?.value ?? "";
        if (answer.status === 422 && left && !field.value) { field.value = left; field.rows = left.split("\n").length; }
      } else if (answer.status === 401) {
        why = "You are not signed in any more: sign in in another tab, and what waits goes on its way.";
      } else if (answer.status === 409) {
        write(queue().filter((other) => other.key !== entry.key));
        field.value = field.value || entry.text;
        why = "The day's text has changed: load the page again before you enter it.";
        waiting.hidden = false; waiting.textContent = why;
      } else {
        why = "The server could not take it just now.";
      }
    } catch {
      why = "The server does not answer.";
    }
    busy = false;
    if (why) {
      pause = Math.min((pause || 500) * 2, 15000);
      show(why);
      setTimeout(send, pause);
    } else {
      show();
      send();
    }
  }

  function put(book) {
    const here = document.getElementById("book"), open = [...here.querySelectorAll("details[open]")].map((one) => one.closest("tr")?.id);
    here.replaceWith(document.importNode(book, true));
    for (const id of open) { const again = id && document.querySelector("#" + id + " details"); if (again) again.open = true; }
    window.htmx?.process(document.getElementById("book"));
  }
})();
