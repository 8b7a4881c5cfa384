// Small helps on top of pages that work without them: drafts, files, keys.
(() => {
  "use strict";
  const form = document.getElementById("read");
  if (form) drafts(form);
  unsavedElsewhere();
  keys();
  helpers();
  once();
  inPlace();
  groups();
  device();
  // A page that came of a refusal has the address of what it shows, so that it can be loaded again.
  const address = document.querySelector("[data-address]");
  if (address) history.replaceState(null, "", address.dataset.address);
  // After the page is drawn: before, it would be laid out once more.
  requestAnimationFrame(() => setTimeout(() => document.querySelector(".rail [aria-current=page]")?.scrollIntoView({ inline: "center", block: "nearest" })));
  if (document.body.dataset.tour && (kept("tour") || document.querySelector("[data-begin-tour]"))) import(document.body.dataset.tour).then((tour) => tour.show());

  // A form that is on its way is not sent again by a second click; the page that answers has a form of its own.
  function once() {
    document.addEventListener("submit", (event) => {
      const form = event.target;
      if (form.method !== "post" || form.matches("[hx-boost]")) return;
      if ("sent" in form.dataset) { event.preventDefault(); return; }
      // After every other listener, so that what is kept back by one of them is not taken for sent.
      setTimeout(() => { if (!event.defaultPrevented) form.dataset.sent = ""; });
      setTimeout(() => delete form.dataset.sent, 4000);
    });
    window.addEventListener("pageshow", () => document.querySelectorAll("form[data-sent]").forEach((form) => delete form.dataset.sent));
  }

  // A decision changes the page around it: what is open stays open, and whoever works by keyboard stays where they were.
  function inPlace() {
    let form = null;
    document.addEventListener("htmx:before:swap", (event) => {
      const source = event.detail.ctx?.sourceElement;
      form = source?.matches?.("[hx-boost]") ? source : null;
    });
    document.addEventListener("htmx:after:swap", (event) => {
      if (!form) return;
      // A line that was written anew is shown again as a line; of what is gone, the way back is nearest.
      const written = event.detail.ctx.response?.status < 400 && form.closest("details.hand:not(.own)");
      if (written) { written.open = false; written.querySelector("summary").focus({ preventScroll: true }); }
      if (document.activeElement === document.body) document.querySelector("#done button")?.focus({ preventScroll: true });
    });
    document.addEventListener("htmx:error", (event) => {
      if (!event.detail.ctx?.sourceElement?.matches?.("[hx-boost]")) return;
      const note = document.createElement("p");
      note.className = "notice bad";
      note.setAttribute("role", "alert");
      note.textContent = "The server did not answer, so nothing was changed. Try again in a moment.";
      document.getElementById("done").replaceChildren(note);
    });
  }

  // What is typed is kept in this browser until it is saved, whatever happens to the connection. A draft knows the text and the
  // revision that it began from, so that it never takes the place of what somebody else has saved since.
  function drafts(form) {
    const text = form.querySelector("#text");
    const status = document.getElementById("draft");
    const behind = document.getElementById("behind");
    const key = "draft:" + form.dataset.draft;
    const revision = Number(form.dataset.revision);
    const saved = location.search.includes("saved=");
    const unsaved = "unsaved" in form.dataset;
    let stored = text.value, draftRevision = revision, draftBase = stored;
    if (saved) { localStorage.removeItem(key); history.replaceState(null, "", location.pathname); }
    const keep = () => {
      const now = new Date();
      const at = now.toISOString().slice(0, 10) + " " + now.toTimeString().slice(0, 5);
      const corrections = form.elements.corrections?.value;
      const writer = form.elements.writer.value;
      localStorage.setItem(key, JSON.stringify({ text: text.value, at, revision: draftRevision, base: draftBase, corrections, writer }));
      soon();
    };
    // What stands still for a few seconds is saved by itself, as long as nobody else has saved, whose text a click compares, and no class has begun,
    // whose screens would follow half a line.
    const KEPT_BACK = {
      409: "Somebody else has saved this day meanwhile. Save, and both are compared.",
      423: "A class of this day has begun and follows its text: save when it is whole.",
    };
    let pause = null, keptBack = Boolean(document.querySelector(".theirs"));
    function soon(after = 4000) {
      clearTimeout(pause);
      if (!keptBack && kept("saving") !== "off") pause = setTimeout(byItself, after);
    }
    async function byItself() {
      // Several days in one text are not this day's.
      if ("sent" in form.dataset || !text.value.trim() || form.querySelector("#reading [name^=on]")) return;
      const body = new URLSearchParams(new FormData(form));
      body.set("while_typing", "true");
      const stands = () => text.value + "\0" + (form.elements.corrections?.value ?? "");
      const [sent, before] = [text.value, stands()];
      let answer;
      try {
        answer = await fetch(form.getAttribute("action"), { method: "POST", body, redirect: "error" });
      } catch {
        soon(8000);
        return;
      }
      if ("sent" in form.dataset) return;
      keptBack = answer.status in KEPT_BACK;
      if (keptBack) status.textContent = KEPT_BACK[answer.status];
      if (answer.status >= 500) soon(8000);
      if (!answer.ok) return;
      draftRevision = (await answer.json()).revision;
      form.elements.revision.value = draftRevision;
      draftBase = stored = sent;
      if (stands() === before) { localStorage.removeItem(key); status.textContent = "Saved while you type."; } else keep();
      if (document.getElementById("hour")) htmx.ajax("GET", form.getAttribute("action").replace(/read$/, "strip"), { target: "#hour", swap: "outerHTML" });
    }
    const draft = unsaved || saved ? null : read(key);
    if (unsaved) {
      // A suggestion that was taken, or a save that did not go through: part of the draft, and an address that can be reloaded.
      const before = read(key);
      if (before && before.base !== undefined && before.revision === revision) draftBase = before.base;
      stored = null;
      keep();
      history.replaceState(null, "", "/days/" + location.pathname.split("/")[2] + "/read");
    }
    const same = (draft) => draft.text === stored && (draft.corrections ?? "") === (form.elements.corrections?.value ?? "");
    if (draft && same(draft)) localStorage.removeItem(key);
    else if (draft && (draft.revision === undefined || draft.revision < revision)) offer(draft);
    else if (draft) bringBack(draft, "Draft from " + draft.at + " brought back; not saved yet.");

    // A turn after loading, when htmx listens too, so that the reading is asked for like after typing.
    function bringBack(draft, words) {
      if (draft.revision !== undefined) { draftRevision = draft.revision; draftBase = draft.base; form.elements.revision.value = draft.revision; }
      // The window that began it goes on: what it has saved itself is no conflict.
      if (draft.writer) form.elements.writer.value = draft.writer;
      const show = () => setTimeout(() => {
        text.value = draft.text;
        if (draft.corrections !== undefined) form.elements.corrections.value = draft.corrections;
        text.dispatchEvent(new Event("input", { bubbles: true }));
        status.textContent = words;
      });
      if (document.readyState === "complete") show(); else window.addEventListener("load", show);
    }

    // Somebody has saved since: theirs is shown, and nothing is decided without a click.
    function offer(draft) {
      const note = document.createElement("p");
      note.className = "notice bad";
      note.setAttribute("role", "alert");
      note.textContent = "Somebody has saved this day since your draft from " + draft.at + ". Theirs is below. ";
      const button = (words, act) => {
        const made = document.createElement("button");
        made.type = "button"; made.className = "button is-small"; made.textContent = words;
        made.addEventListener("click", () => { note.remove(); act(); });
        note.append(made, " ");
      };
      button("Show my draft", () => bringBack(draft, "Your draft; saving compares it with theirs."));
      button("Drop my draft", () => localStorage.removeItem(key));
      form.querySelector(".headline").after(note);
    }

    const fit = () => { text.rows = text.value.split("\n").length + 2; };
    fit();
    text.addEventListener("input", () => {
      fit();
      if (text.value === stored) { clearTimeout(pause); localStorage.removeItem(key); status.textContent = ""; return; }
      keep();
      status.textContent = "Draft kept in this browser.";
    });
    // What was put right in place is not saved yet either.
    form.addEventListener("lantern:put-right", () => { stored = null; keep(); });
    const late = behind.textContent;
    const show = (event) => {
      if (event.target !== text && event.detail?.ctx?.sourceElement !== text) return;
      behind.textContent = late;
      behind.hidden = false;
    };
    document.addEventListener("htmx:error", show);
    // A reading that came takes back that there was none, and nothing else that was said there; that goes when somebody types.
    document.addEventListener("htmx:after:swap", () => { if (behind.textContent === late) behind.hidden = true; });
    text.addEventListener("input", () => { if (behind.textContent !== late) behind.hidden = true; });
  }

  // On the other steps of a day: what is typed and not saved is not in the plan, and says so.
  function unsavedElsewhere() {
    const day = /^\/days\/(\d{4}-\d{2}-\d{2})/.exec(location.pathname);
    if (!day || form || !document.querySelector(".rail")) return;
    if (location.search.includes("saved=")) { localStorage.removeItem("draft:" + day[1]); history.replaceState(null, "", location.pathname); }
    const draft = read("draft:" + day[1]);
    if (!draft) return;
    const note = document.createElement("p");
    note.className = "notice bad";
    note.setAttribute("role", "status");
    const link = document.createElement("a");
    link.href = location.pathname.replace(/[^/]+$/, "read");
    link.textContent = "Read";
    note.append("The text on ", link, " was changed in this browser and is not saved: this page is of the saved one.");
    document.getElementById("main").before(note);
  }

  function helpers() {
    document.addEventListener("click", (event) => { if (event.target.closest("[data-print]")) window.print(); });
    // What was sent is sent again, if it was.
    document.querySelectorAll("[data-again]").forEach((again) => { again.hidden = false; again.addEventListener("click", () => location.reload()); });
    document.querySelectorAll("input[type=file][data-into]").forEach((file) => file.addEventListener("change", async () => {
      if (!file.files.length) return;
      const into = document.getElementById(file.dataset.into);
      // A spreadsheet is read by the server, which keeps nothing of it.
      if (file.dataset.by && !/\.(csv|tsv|txt|json)$/i.test(file.files[0].name)) {
        const answer = await fetch(file.dataset.by, { method: "POST", body: file.files[0] });
        const read = answer.ok ? await answer.json() : { why: "The file could not be read." };
        if (read.why) { alert(read.why); } else { into.value = read.text; }
      } else {
        into.value = await file.files[0].text();
      }
      file.value = "";
    }));
  }

  function kept(key) {
    try { return localStorage.getItem(key) ?? ""; } catch { return ""; }
  }

  // A group of choices is one stop of the Tab key, at what is chosen; arrows go through it.
  function groups() {
    const all = (group) => [...group.querySelectorAll("button:not([hidden])")];
    const enter = () => document.querySelectorAll("[data-group]").forEach((group) => {
      const buttons = all(group), now = group.contains(document.activeElement) ? document.activeElement : group.querySelector("[aria-pressed=true]") ?? buttons[0];
      buttons.forEach((button) => { button.tabIndex = button === now ? 0 : -1; });
    });
    enter();
    document.addEventListener("htmx:after:swap", enter);
    document.addEventListener("keydown", (event) => {
      const group = event.target.closest?.("[data-group]");
      const step = { ArrowRight: 1, ArrowDown: 1, ArrowLeft: -1, ArrowUp: -1 }[event.key];
      if (!group || !step || event.target.tagName !== "BUTTON") return;
      event.preventDefault();
      const buttons = all(group), next = buttons[(buttons.indexOf(event.target) + step + buttons.length) % buttons.length];
      next.focus();
      enter();
    });
  }

  // What is chosen for this device alone.
  function device() {
    const section = document.querySelector("[data-device]");
    if (!section) return;
    section.hidden = false;
    section.querySelectorAll("input").forEach((input) => {
      input.checked = kept(input.name) === input.value;
      input.addEventListener("change", () => {
        if (input.value) localStorage.setItem(input.name, input.value); else localStorage.removeItem(input.name);
        if (input.name === "look") document.documentElement.dataset.look = input.value;
      });
    });
  }

  function read(key) {
    try { return JSON.parse(localStorage.getItem(key)); } catch { return null; }
  }

  function keys() {
    document.addEventListener("keydown", (event) => {
      const control = event.ctrlKey || event.metaKey;
      const button = form && control && !event.altKey && { s: "[type=submit]", Enter: "[name=then][value=pace]" }[event.key];
      if (button) { event.preventDefault(); form.querySelector(button).click(); }
      if (event.key === "Escape") document.querySelectorAll("details.why[open], details.enter[open], details.put-right[open], details.more[open]").forEach((open) => {
        const inside = open.contains(document.activeElement);
        open.open = false;
        if (inside) open.querySelector("summary").focus();
      });
      if (control || event.altKey || kept("keys") === "off") return;
      if (/^(INPUT|TEXTAREA|SELECT)$/.test(event.target.tagName)) return;
      if (event.key === "?") document.getElementById("keys").showModal();
      if (event.key === "/") {
        const search = document.querySelector("input[type=search]");
        if (search) { event.preventDefault(); search.focus(); } else { location.href = "/search"; }
      }
      const step = document.querySelector('.rail [data-key="' + CSS.escape(event.key) + '"]');
      if (step) step.click();
    });
  }
})();
