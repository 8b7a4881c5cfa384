// What helps while a day is typed: ways to go on, and changes made in place, so that the text box keeps its caret and what can be undone in it.
// Everything here works without scripts too, by whole pages.
(() => {
  "use strict";
  const form = document.getElementById("read");
  if (!form) return;
  const text = form.querySelector("#text");
  const reading = document.getElementById("reading");
  const behind = document.getElementById("behind");
  const offer = document.getElementById("offer");
  const list = document.getElementById("offers");
  const here = form.getAttribute("action").replace(/\/read$/, "");

  inPlace();
  goingOn();
  files();

  async function ask(path, fields, signal) {
    const answer = await fetch(here + path, {
      method: "POST", body: new URLSearchParams(fields), headers: { "HX-Request": "true" }, signal,
    });
    if (!answer.ok && answer.status !== 422) throw new Error(answer.statusText);
    return answer.text();
  }

  // As if it were typed: the browser can undo it, and whoever listens to the text box hears of it.
  function type(from, to, words) {
    text.focus();
    text.setSelectionRange(from, to);
    const typed = words === "" ? document.execCommand("delete") : document.execCommand("insertText", false, words);
    if (!typed) {
      text.setRangeText(words, from, to, "end");
      text.dispatchEvent(new Event("input", { bubbles: true }));
    }
  }

  function inPlace() {
    let busy = false;
    const act = { correct: putRight, apply: takeSuggestion, take: takePlain };
    form.addEventListener("submit", (event) => {
      const action = event.submitter?.getAttribute("formaction") ?? "";
      const what = action === here + "/plainly" ? writePlainly : act[action];
      if (!what) return;
      event.preventDefault();
      what(event.submitter);
    });

    // At the caret a part begins, or its line goes on with the part above.
    text.addEventListener("keydown", (event) => {
      const what = event.altKey && !event.ctrlKey && { ArrowDown: "split", ArrowUp: "join" }[event.key];
      if (!what) return;
      event.preventDefault();
      const line = text.value.slice(0, text.selectionStart).split("\n").length;
      const fields = new FormData(form);
      fields.append("put", what + "|" + line + "|");
      send(fields, null);
    });

    function putRight(button) {
      send(new FormData(form, button), button.closest("[data-line]")?.dataset.line);
    }

    async function send(fields, line) {
      if (busy) return;
      busy = true;
      text.dispatchEvent(new Event("htmx:abort"));
      const before = text.value;
      try {
        reading.innerHTML = await ask("/correct", fields);
        behind.hidden = true;
        form.dispatchEvent(new Event("lantern:put-right"));
        const place = line && reading.querySelector('[data-line="' + line + '"] summary');
        (place || text).focus();
      } catch {
        behind.textContent = "Nothing was put right: the server does not answer. Your text is kept in this browser; try again in a moment.";
        behind.hidden = false;
      }
      busy = false;
      // What was typed meanwhile is read with what was put right.
      if (text.value !== before) text.dispatchEvent(new Event("input", { bubbles: true }));
    }
    // A reading that was asked for before a correction would take it back: it is not waited for, and the next one waits. The draft does not.
    document.addEventListener("htmx:before:request", (event) => {
      if (busy && (event.target === text || event.detail?.ctx?.sourceElement === text)) event.preventDefault();
    });

    function takeSuggestion(button) {
      const [line, column, found, ...rest] = button.value.split("|");
      const lines = text.value.split("\n");
      const start = lines.slice(0, line - 1).reduce((sum, above) => sum + above.length + 1, 0)
        + Array.from(lines[line - 1] ?? "").slice(0, column - 1).join("").length;
      const stands = text.value.slice(start, start + found.length).toLowerCase() === found.toLowerCase();
      if (!stands) return;
      type(start, start + found.length, rest.join("|"));
      document.getElementById("draft").textContent = "Replaced " + found + " with " + rest.join("|") + "; not saved yet.";
    }

    async function writePlainly(button) {
      try {
        offer.innerHTML = await ask("/plainly", new FormData(form, button));
        const keep = offer.querySelector("[data-keep]");
        keep.hidden = false;
        keep.addEventListener("click", () => { offer.replaceChildren(); text.focus(); });
        (offer.querySelector('[formaction="take"]') ?? keep).focus();
      } catch {
        behind.textContent = "Nothing was written plainly: the server does not answer. Your text is kept in this browser.";
        behind.hidden = false;
      }
    }

    function takePlain() {
      const plain = offer.querySelector("[name=plain]").value;
      offer.replaceChildren();
      // What was put right is said in the text now.
      form.elements.corrections.value = "";
      type(0, text.value.length, plain);
      text.setSelectionRange(0, 0);
    }
  }

  // A file is put into the text box, to be looked at first; it is not kept. Plain text needs no server.
  function files() {
    const picked = document.getElementById("file");
    const status = document.getElementById("draft");
    const plain = (file) => file.type.startsWith("text/") || /\.(txt|md|csv|json)$/i.test(file.name);
    // UTF-16 by its mark, UTF-8, or one byte a letter.
    const decoded = (bytes) => {
      const mark = bytes[0] * 256 + bytes[1];
      if (mark === 0xfffe || mark === 0xfeff) return new TextDecoder(mark === 0xfffe ? "utf-16le" : "utf-16be").decode(bytes);
      try { return new TextDecoder("utf-8", { fatal: true }).decode(bytes); } catch { return new TextDecoder("windows-1252").decode(bytes); }
    };
    const open = async (file) => {
      status.textContent = "Opening " + file.name + " ...";
      try {
        let words = plain(file) ? decoded(new Uint8Array(await file.arrayBuffer())) : null;
        if (words === null) {
          const answer = await fetch(here + "/file", { method: "POST", body: file, headers: { "Content-Type": "application/octet-stream" } });
          if (!answer.ok) throw new Error(answer.status === 413 ? "it is too large" : "the server could not read it");
          const opened = await answer.json();
          if (opened.why) throw new Error(opened.why);
          words = opened.text;
        }
        type(0, text.value.length, words);
        status.textContent = "From " + file.name + "; not saved yet.";
      } catch (error) {
        const why = error instanceof TypeError ? "the server does not answer" : error.message;
        status.textContent = "";
        behind.textContent = file.name + " was not opened: " + why + ". Your text is as it was.";
        behind.hidden = false;
      }
    };
    picked.addEventListener("change", () => {
      if (picked.files.length) open(picked.files[0]);
      picked.value = "";
    });
    text.addEventListener("drop", (event) => {
      const file = event.dataTransfer?.files[0];
      if (file) { event.preventDefault(); open(file); }
    });
  }

  // Ways to go on with the line at the caret.
  function goingOn() {
    let asked = null, wait = null, at = -1;
    const options = () => [...list.children];
    const close = () => {
      asked?.abort();
      clearTimeout(wait);
      list.hidden = true;
      list.replaceChildren();
      at = -1;
      text.removeAttribute("aria-activedescendant");
    };
    const line = () => {
      const caret = text.selectionStart;
      const start = text.value.lastIndexOf("\n", caret - 1) + 1;
      const next = text.value.slice(caret, caret + 1);
      return { start, caret, typed: text.value.slice(start, caret), inWord: /[\p{L}\p{N}]/u.test(next) };
    };
    const look = async (empty) => {
      const { start, typed, inWord, caret } = line();
      if (text.selectionEnd !== caret || inWord || (!empty && !typed.trim())) return close();
      asked?.abort();
      asked = new AbortController();
      const above = text.value.slice(0, Math.max(start - 1, 0)).split("\n").pop();
      try {
        const found = await ask("/go-on", { line: typed, above }, asked.signal);
        const now = line();
        if (now.caret !== caret || now.typed !== typed || document.activeElement !== text) return;
        list.innerHTML = found;
        at = -1;
        list.hidden = !list.children.length;
        if (!list.hidden) place(start, typed);
      } catch (error) {
        if (error.name !== "AbortError") close();
      }
    };
    const place = (start, typed) => {
      const style = getComputedStyle(text);
      const pen = document.createElement("canvas").getContext("2d");
      pen.font = style.fontSize + " " + style.fontFamily;
      const row = text.value.slice(0, start).split("\n").length;
      const left = parseFloat(style.paddingLeft) + pen.measureText(typed).width - text.scrollLeft;
      const high = parseFloat(style.lineHeight);
      const below = text.offsetTop + parseFloat(style.paddingTop) + row * high;
      list.style.top = below + "px";
      // Above the line where there is no room below it.
      if (list.getBoundingClientRect().bottom > innerHeight) list.style.top = below - high - list.offsetHeight + "px";
      list.style.left = Math.max(0, Math.min(left - 40, text.clientWidth - list.offsetWidth)) + "px";
    };
    const mark = (to) => {
      at = (to + options().length) % options().length;
      options().forEach((option, n) => option.setAttribute("aria-selected", String(n === at)));
      text.setAttribute("aria-activedescendant", options()[at].id);
    };
    const take = (option) => {
      const { caret } = line();
      const { typed, text: words } = option.dataset;
      close();
      // What stands there already stays: undone, the caret is where it was.
      const goesOn = words.startsWith(typed);
      type(goesOn ? caret : caret - typed.length, caret, goesOn ? words.slice(typed.length) : words);
    };
    text.addEventListener("input", (event) => {
      close();
      // Only what somebody types is gone on with: not what was pasted, taken or brought back.
      if (event.inputType === "insertText" && event.data?.length === 1) wait = setTimeout(look, 120, false);
    });
    text.addEventListener("keydown", (event) => {
      if (event.ctrlKey && event.key === " ") { event.preventDefault(); look(true); return; }
      if (list.hidden || event.ctrlKey || event.metaKey || event.altKey) return;
      const keys = {
        ArrowDown: () => mark(at + 1),
        ArrowUp: () => mark(at < 0 ? -1 : at - 1),
        Tab: () => !event.shiftKey && take(options()[Math.max(at, 0)]),
        Enter: () => at >= 0 && take(options()[at]),
        Escape: close,
      };
      const act = keys[event.key];
      if (act && act() !== false) event.preventDefault();
    });
    list.addEventListener("pointerdown", (event) => {
      const option = event.target.closest("li");
      if (option) { event.preventDefault(); take(option); }
    });
    text.addEventListener("blur", close);
    text.addEventListener("click", close);
  }
})();
