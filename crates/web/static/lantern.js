// Small helps on top of pages that work without them: drafts, files, keys.
(() => {
  "use strict";
  const form = document.getElementById("read");
  if (form) drafts(form);
  keys();
  helpers();
  document.querySelectorAll("[data-sketch]").forEach(sketch);

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

  // Places on the floor are dragged, or moved by arrow keys in steps of half a metre; the server keeps them.
  function sketch(svg) {
    const scale = 50, depth = Number(svg.dataset.depth);
    const at = (spot) => spot.transform.baseVal.consolidate().matrix;
    const move = (spot, x, y) => spot.setAttribute("transform", "translate(" + x + " " + y + ")");
    const keep = (spot) => {
      const form = document.createElement("form");
      form.method = "post";
      form.action = svg.dataset.sketch;
      const fields = { action: "place", piece: svg.dataset.piece, key: spot.dataset.place, x: at(spot).e / scale, y: depth - at(spot).f / scale };
      for (const [name, value] of Object.entries(fields)) {
        const field = document.createElement("input");
        field.type = "hidden"; field.name = name; field.value = value;
        form.append(field);
      }
      document.body.append(form);
      form.submit();
    };
    svg.querySelectorAll("[data-place]").forEach((spot) => {
      let from = null, moved = false;
      spot.addEventListener("pointerdown", (event) => {
        from = { x: event.clientX, y: event.clientY, e: at(spot).e, f: at(spot).f };
        moved = false;
        spot.setPointerCapture(event.pointerId);
      });
      spot.addEventListener("pointermove", (event) => {
        if (!from) return;
        const ratio = svg.viewBox.baseVal.width / svg.getBoundingClientRect().width;
        const [x, y] = [(event.clientX - from.x) * ratio, (event.clientY - from.y) * ratio];
        moved = moved || Math.abs(x) + Math.abs(y) > 8;
        move(spot, from.e + x, from.f + y);
      });
      spot.addEventListener("pointerup", () => { from = null; if (moved) keep(spot); });
      spot.addEventListener("keydown", (event) => {
        const step = { ArrowLeft: [-25, 0], ArrowRight: [25, 0], ArrowUp: [0, -25], ArrowDown: [0, 25] }[event.key];
        if (step) { event.preventDefault(); move(spot, at(spot).e + step[0], at(spot).f + step[1]); moved = true; }
        if (event.key === "Enter" && moved) { event.preventDefault(); keep(spot); }
      });
    });
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
