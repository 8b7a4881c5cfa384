// Small helps on top of pages that work without them: drafts, files, keys.
(() => {
  "use strict";
  const form = document.getElementById("read");
  if (form) drafts(form);
  keys();
  helpers();

  // What is typed is kept in this browser until it is saved, whatever happens to the connection.
  function drafts(form) {
    const text = form.querySelector("textarea");
    const status = document.getElementById("draft");
    const key = "draft:" + form.dataset.draft;
    const stored = text.value;
    const fromServer = !document.querySelector(".notice") || location.search.includes("saved=");
    if (location.search.includes("saved=")) localStorage.removeItem(key);
    const draft = fromServer ? read(key) : null;
    if (draft && draft.text !== stored) {
      // A turn after loading, when htmx listens too, so that the reading is asked for like after typing.
      window.addEventListener("load", () => setTimeout(() => {
        text.value = draft.text;
        text.dispatchEvent(new Event("input", { bubbles: true }));
        status.textContent = "Draft from " + draft.at + " brought back; not saved yet.";
      }));
    }
    const fit = () => { text.rows = text.value.split("\n").length + 2; };
    fit();
    text.addEventListener("input", () => {
      fit();
      if (text.value === stored) { localStorage.removeItem(key); status.textContent = ""; return; }
      const at = new Date().toTimeString().slice(0, 5);
      localStorage.setItem(key, JSON.stringify({ text: text.value, at }));
      status.textContent = "Draft kept in this browser.";
    });
    const file = document.getElementById("file");
    file.addEventListener("change", async () => {
      if (!file.files.length) return;
      text.value = await file.files[0].text();
      text.dispatchEvent(new Event("input", { bubbles: true }));
      file.value = "";
    });
  }

  function helpers() {
    document.querySelectorAll("[data-print]").forEach((button) => button.addEventListener("click", () => window.print()));
    document.querySelectorAll("input[type=file][data-into]").forEach((file) => file.addEventListener("change", async () => {
      if (!file.files.length) return;
      document.getElementById(file.dataset.into).value = await file.files[0].text();
      file.value = "";
    }));
  }

  function read(key) {
    try { return JSON.parse(localStorage.getItem(key)); } catch { return null; }
  }

  function keys() {
    document.addEventListener("keydown", (event) => {
      if (event.ctrlKey || event.metaKey || event.altKey) return;
      if (/^(INPUT|TEXTAREA|SELECT)$/.test(event.target.tagName)) return;
      if (event.key === "?") document.getElementById("keys").showModal();
      if (event.key === "/") {
        const search = document.querySelector("input[type=search]");
        if (search) { event.preventDefault(); search.focus(); } else { location.href = "/movements"; }
      }
      const step = document.querySelector('.rail a[data-key="' + CSS.escape(event.key) + '"]');
      if (step) step.click();
    });
  }
})();
