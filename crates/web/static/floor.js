// A class while it runs, for every screen of it: control, wall and phone. What time alone changes is worked out here, so that the clock goes on without a
// server; what people change comes from there, and what is tapped here waits in this browser until the server has it.
(() => {
  "use strict";
  const root = document.querySelector("[data-floor]");
  if (!root) return;
  const $ = (id) => document.getElementById(id);
  let shown = JSON.parse($("class").textContent);
  // A browser without a server loads the page as it was when it had one: what has happened since then was kept beside it, without a word of what anybody spares.
  const beside = "class:" + (root.dataset.day ?? root.dataset.live);
  const LONGEST_MS = 12 * 3600 * 1000;
  let known = null;
  try { known = JSON.parse(localStorage.getItem(beside)); } catch { /* nothing was kept */ }
  if (known && (known.shown.name !== shown.name || known.shown.made_ms < shown.made_ms || Date.now() - known.kept > LONGEST_MS)) known = null;
  if (known) shown = known.shown;
  // A device keeps what a screen showed for half a day, and of the classes that are run from it one.
  for (const name of Object.keys(localStorage).filter((name) => name.startsWith("class:") && name !== beside)) {
    let old = root.dataset.day && /^class:\d{4}-/.test(name);
    try { old ||= Date.now() - JSON.parse(localStorage.getItem(name)).kept > LONGEST_MS; } catch { old = true; }
    if (old) localStorage.removeItem(name);
  }
  // A class that is over for the server too is kept no longer: neither what happened, nor its page.
  function forget() {
    localStorage.removeItem(beside);
    navigator.serviceWorker?.controller?.postMessage({ forget: location.href });
  }
  function remember() {
    const at = { now: now(), speed: beat.speed };
    try { localStorage.setItem(beside, JSON.stringify({ kept: Date.now(), at, shown }, (name, value) => name === "mark" ? null : value)); } catch { /* a full store keeps less */ }
  }

  // --- What time it is for the class. The answer that came quickest tells best.
  const beat = { at: performance.now(), now: known ? known.at.now + (Date.now() - known.kept) * known.at.speed : Date.now(), speed: known?.at.speed ?? 1, slack: Infinity };
  const now = () => beat.now + (performance.now() - beat.at) * beat.speed;
  async function setClock() {
    try {
      const sent = performance.now();
      const told = await (await fetch("/time", { cache: "no-store" })).json();
      const back = performance.now(), slack = (back - sent) / 2;
      // What was told long ago counts for less: clocks drift.
      const stale = (back - beat.at) / 60000 * 2;
      if (slack <= beat.slack + stale || told.speed !== beat.speed) {
        Object.assign(beat, { at: (sent + back) / 2, now: told.now_ms, speed: told.speed, slack });
      }
      return true;
    } catch { return false; }
  }

  // --- Where the class stands: the same walk as in the core's `Course`.
  const following = (n) => shown.phases.findIndex((phase, at) => at > n && phase.ms > 0);
  function stand() {
    let { phase: n, into_ms: into } = shown;
    if (shown.state === "running") into += Math.max(0, now() - shown.at_ms);
    for (let next = following(n); next >= 0 && shown.state === "running"; next = following(n)) {
      if (into < shown.phases[n].ms || shown.phases[next].waits) break;
      into -= shown.phases[n].ms;
      n = next;
    }
    const phase = shown.phases[n];
    const same = (other) => other && other.block === phase.block && other.group === phase.group;
    let since = into, until = phase.ms - into, first = 0;
    for (let at = n - 1; same(shown.phases[at]); at--) since += shown.phases[at].ms;
    for (let at = n + 1; same(shown.phases[at]); at++) until += shown.phases[at].ms;
    // Seconds of the piece, its count-in left out.
    for (let at = n - 1; shown.phases[at]?.block === phase.block; at--) if (shown.phases[at].kind !== "ready") first += shown.phases[at].ms;
    const left = shown.phases.slice(n + 1).reduce((sum, one) => sum + one.ms, 0) + Math.max(0, phase.ms - into);
    return { n, phase, into, since, until, piece: phase.kind === "ready" ? 0 : first + into, waits: into > phase.ms && following(n) >= 0, next: shown.phases.findIndex((other, at) => at > n && other.ms > 0 && !same(other)), left };
  }
  const minutes = (ms, up) => {
    const s = up ? Math.floor(Math.max(0, ms) / 1000) : Math.ceil(Math.max(0, ms) / 1000);
    return Math.floor(s / 60) + ":" + String(s % 60).padStart(2, "0");
  };
  // The time of day as the gym tells it, where the gym is.
  const hour = (ms) => new Date(ms).toLocaleTimeString("en-GB", { hour: shown.twelve ? "numeric" : "2-digit", minute: "2-digit", hour12: shown.twelve, timeZone: shown.zone });
  function clockOf(at) {
    if (shown.state === "before" || shown.state === "closed") return shown.booked_ms ? hour(now()).replace(/ .*/, "") : "0:00";
    // What comes next waits for the coach: how long it has waited.
    if (at.waits) return "+" + minutes(at.into - at.phase.ms, true);
    return at.phase.clock === "up" ? minutes(at.since, true) : minutes(at.until, false);
  }
  const clockIs = (at) => at.phase.clock === "up" ? "since the start" : "left";

  // --- Live: the whole class whenever something about it changes.
  let source = null, alive = true, grace = 0;
  function listen() {
    source = new EventSource(root.dataset.live);
    source.addEventListener("class", (event) => {
      const told = JSON.parse(event.data);
      if (!told) return;
      // Another class is on the wall now, with a board of its own.
      if (told.name !== shown.name && root.dataset.floor === "wall") return location.reload();
      shown = told;
      alive = true;
      remember();
      clearTimeout(grace);
      draw();
      flush();
      view.changed?.();
    });
    source.onerror = () => {
      // A connection ends now and then, and comes again at once: only a longer silence is said.
      clearTimeout(grace);
      grace = setTimeout(() => { alive = false; status(); }, 2500);
      if (source.readyState === EventSource.CLOSED) setTimeout(listen, 1500);
    };
  }

  // --- What is tapped waits here until the server has it, and arrives once.
  const store = "floor:" + (root.dataset.day ?? "");
  const queue = () => { try { return (JSON.parse(localStorage.getItem(store)) ?? []).filter((one) => Date.now() - one.kept < LONGEST_MS); } catch { return []; } };
  const keep = (all) => { if (all.length) localStorage.setItem(store, JSON.stringify(all)); else localStorage.removeItem(store); };
  const key = () => [...crypto.getRandomValues(new Uint8Array(16))].map((byte) => byte.toString(16).padStart(2, "0")).join("");
  let busy = false, pause = 0, trouble = "";
  function tell(path, fields) {
    keep([...queue(), { path, fields: { ...fields, key: key() }, kept: Date.now() }]);
    trouble = "";
    draw();
    remember();
    flush();
  }
  async function flush() {
    if (busy) return;
    const [first] = queue();
    if (!first) {
      if (alive && shown.state === "closed") forget();
      return status();
    }
    busy = true;
    let again = false;
    try {
      const answer = await fetch("/days/" + root.dataset.day + first.path, {
        method: "POST", body: new URLSearchParams(first.fields), headers: { "X-Floor": "1" }, signal: AbortSignal.timeout(8000),
      });
      // What the server has, and what it will never take, waits no longer.
      if (answer.ok || (answer.status >= 400 && answer.status < 500 && answer.status !== 401 && answer.status !== 408 && answer.status !== 429)) {
        keep(queue().filter((one) => one.fields.key !== first.fields.key));
        pause = 0;
        if (!answer.ok) trouble = "Not taken: " + (new DOMParser().parseFromString(await answer.text(), "text/html").querySelector("main p")?.textContent ?? answer.status);
      } else {
        again = true;
        if (answer.status === 401) trouble = "You are not signed in any more: sign in in another tab, and what waits goes on its way.";
      }
    } catch { again = true; }
    busy = false;
    if (again) { alive = false; pause = Math.min((pause || 400) * 2, 10000); setTimeout(flush, pause); } else flush();
    status();
  }
  window.addEventListener("online", () => { pause = 0; flush(); });

  function status() {
    const line = $("status");
    if (!line) return;
    const waits = queue().length;
    const words = [];
    if (trouble) words.push(trouble);
    if (!alive) words.push("The server does not answer: the clock goes on here" + (root.dataset.floor === "control" ? ", and what you tap is kept." + (outlives() ? "" : " Do not reload this page, nor let the device sleep.") : "."));
    if (waits) words.push(waits + " waiting to be sent.");
    if (asleep) words.push(asleep);
    line.textContent = words.join(" ");
    line.hidden = words.length === 0;
    const slack = $("slack");
    if (slack) slack.textContent = Number.isFinite(beat.slack) ? "clock within " + Math.max(1, Math.round(beat.slack)) + " ms" + (beat.speed === 1 ? "" : ", " + beat.speed + " times as quick") : "";
  }

  // --- The page can be loaded again without a server, where the browser takes the connection for a safe one.
  const outlives = () => Boolean(navigator.serviceWorker?.controller);
  navigator.serviceWorker?.register("/worker.js").then(async () => {
    const { active } = await navigator.serviceWorker.ready;
    if (!outlives()) await new Promise((done) => navigator.serviceWorker.addEventListener("controllerchange", done, { once: true }));
    // The page and its files came before there was anybody to keep them.
    for (const file of document.querySelectorAll("script[src], link[rel=stylesheet]")) fetch(file.src || file.href);
    if (shown.state !== "closed") active.postMessage({ keep: location.href });
  }).catch(() => { /* said when it matters */ });
  if (!window.isSecureContext && root.dataset.floor === "control") put("loose", "Not over HTTPS: without a server a reload or sleep would lose the class here.");

  // --- The screen stays awake, where the browser lets it.
  let asleep = "";
  async function stayAwake() {
    if (!navigator.wakeLock) { asleep = root.dataset.floor === "control" ? "This browser may let the screen sleep: set it to stay on." : ""; return status(); }
    try { await navigator.wakeLock.request("screen"); asleep = ""; } catch { asleep = ""; }
  }
  document.addEventListener("visibilitychange", () => { if (!document.hidden) stayAwake(); });

  // --- Sound, made here: off until somebody switches it on, since a browser asks for a touch first.
  let ear = null, volume = Number(localStorage.getItem("floor-volume") ?? 0);
  function beep(high, long) {
    if (!ear || !volume) return;
    const tone = ear.createOscillator(), gain = ear.createGain(), at = ear.currentTime, last = long ? 0.7 : 0.16;
    tone.frequency.value = high ? 880 : 523;
    gain.gain.setValueAtTime(volume / 100, at);
    gain.gain.exponentialRampToValueAtTime(0.001, at + last);
    tone.connect(gain).connect(ear.destination);
    tone.start(at);
    tone.stop(at + last);
  }
  const loud = $("volume");
  function listens() {
    const Audio = window.AudioContext ?? window.webkitAudioContext;
    if (!Audio) return put("loudness", "no sound in this browser");
    ear ??= new Audio();
    // A browser that was not touched since the page came makes no sound.
    put("loudness", !volume ? "off at 0" : ear.state === "suspended" ? "touch the screen once to hear it" : "");
  }
  if (loud) {
    loud.value = volume;
    loud.addEventListener("input", () => {
      volume = Number(loud.value);
      localStorage.setItem("floor-volume", volume);
      listens();
      beep(true, false);
    });
    if (volume) listens();
    for (const touch of ["pointerdown", "keydown"]) document.addEventListener(touch, () => { if (volume) ear?.resume().then(listens); }, { once: true });
  }
  let counted = "";
  function cues(at) {
    const left = Math.ceil(at.until / 1000), timed = ["ready", "work", "last_minute", "lift", "rest"].includes(at.phase.kind);
    const mark = at.n + ":" + left;
    if (shown.state !== "running" || !timed || mark === counted) return;
    counted = mark;
    if (left >= 1 && left <= 3) beep(false, false);
    if (left === 0 || at.into < 300) beep(true, true);
  }

  // --- Drawing. `draw` after a change, `tick` ten times a second; a phase is announced when it begins.
  const view = { control, wall, phone }[root.dataset.floor]();
  let announced = -1, waited = false;
  function draw() { view.draw(stand()); tick(); status(); }
  function tick() {
    const at = stand();
    if (at.n !== announced || at.waits !== waited) {
      [announced, waited] = [at.n, at.waits];
      view.draw(at);
      if ($("announce")) $("announce").textContent = shown.state === "running" ? at.phase.say : "";
    }
    const text = clockOf(at);
    if ($("clock").textContent !== text) { $("clock").textContent = text; $("clock").dataset.n = text.length; }
    root.dataset.kind = shown.state === "running" ? at.phase.kind : shown.state;
    root.dataset.phase = shown.blocks[at.phase.block].key + ":" + at.phase.n;
    // By how much this screen's idea of the time differs from the device's.
    root.dataset.offset = Math.round(now() - Date.now());
    cues(at);
    view.tick?.(at);
  }

  function put(id, text) { const node = $(id); if (node && node.textContent !== text) node.textContent = text; }
  function list(id, lines, make) {
    const node = $(id);
    if (!node) return;
    // Whoever goes by keyboard stays on the name that they were on.
    const { id: one, lifter } = node.contains(document.activeElement) ? document.activeElement.dataset : {};
    node.replaceChildren(...lines.map((line, n) => make ? make(line, n) : Object.assign(document.createElement("li"), { textContent: line })));
    if (one || lifter) [...node.querySelectorAll("[data-id], [data-lifter]")].find((made) => one ? made.dataset.id === one : made.dataset.lifter === lifter)?.focus();
  }
  function element(tag, className, text) {
    const made = document.createElement(tag);
    if (className) made.className = className;
    if (text !== undefined) made.textContent = text;
    return made;
  }
  const flame = (n) => document.importNode($("flame" + n).content, true);
  /// The piece that runs, or the next one to come.
  function pieceAt(at) {
    const ahead = shown.blocks.findIndex((block, n) => n >= at.phase.block && block.kind === "conditioning" && !block.without);
    const block = shown.blocks[ahead] ?? shown.blocks.findLast((block) => block.kind === "conditioning");
    return block && shown.pieces.find((piece) => piece.part === block.part);
  }
  const runs = (at) => shown.blocks[at.phase.block].kind === "conditioning";
  const liftAt = (at) => shown.blocks[at.phase.block].kind === "strength" ? shown.lifts.find((lift) => lift.part === shown.blocks[at.phase.block].part) : null;
  /// Whose turn it is: turns divide a set.
  const turnOf = (at) => at.phase.turns > 1 && at.phase.kind === "lift" ? Math.min(at.phase.turns - 1, Math.floor(at.into / at.phase.ms * at.phase.turns)) : -1;

  function shared(at) {
    const { phase } = at;
    put("block", shown.state === "closed" ? "" : shown.blocks[phase.block].label + (runs(at) && pieceAt(at) ? ", aim " + pieceAt(at).aim : ""));
    put("title", shown.state === "before" ? shown.name : shown.state === "closed" ? "The class is over" : phase.title);
    put("clockis", shown.state === "before" || shown.state === "closed" ? "" : at.waits ? "over: waits for the coach" : clockIs(at));
    list("cue", shown.state === "closed" ? [] : phase.cue);
    for (const node of document.querySelectorAll(".nextup")) node.hidden = shown.state === "closed";
    const next = shown.phases[at.next];
    put("next", next ? shown.blocks[next.block].label === next.title ? next.title : shown.blocks[next.block].label + ": " + next.title : "the end");
  }

  // --- The coach's page.
  function control() {
    const late = (at) => {
      if (!shown.booked_ms) return 0;
      const begins = shown.state === "before" ? Math.max(now(), shown.booked_ms[0]) : now();
      return begins + at.left - shown.booked_ms[1];
    };
    const fields = (at) => ({ block: shown.blocks[at.phase.block].key, n: at.phase.n, at_ms: Math.round(now()) });
    const phaseFields = (n) => ({ block: shown.blocks[shown.phases[n].block].key, n: shown.phases[n].n, at_ms: Math.round(now()) });
    // What is told is seen at once; what comes from the server then stands.
    function does(what, more = {}) {
      const at = stand();
      const goes = (n) => Object.assign(shown, { phase: n, into_ms: 0, at_ms: now(), state: "running" });
      const stays = (state) => Object.assign(shown, { phase: at.n, into_ms: at.into, at_ms: now(), state });
      if (what === "start" || what === "resume") stays("running");
      if (what === "pause") stays("paused");
      if (what === "close") stays("closed");
      if (what === "next" && at.next >= 0) goes(at.next);
      if (what === "longer") { stays(shown.state); at.phase.ms += 60000; }
      tell("/floor", { what, ...fields(at), ...more });
    }
    const starts = () => shown.phases.findIndex((phase, n) => n > stand().n && phase.waits && phase.ms > 0);
    const acts = {
      run: () => does({ before: "start", running: "pause", paused: "resume", closed: "reopen" }[shown.state]),
      longer: () => does("longer", { seconds: 60 }),
      back: () => does("back"),
      undo: () => { if (shown.last) tell("/floor", { what: "undo", of_ms: shown.last.at_ms, at_ms: Math.round(now()) }); },
      next: () => does("next"),
      piece: () => { const n = starts(); if (n >= 0) tell("/floor", { what: "go_to", ...phaseFields(n) }); },
      again: () => $("sure").showModal(),
      here: async () => {
        $("here-trouble").hidden = true;
        try {
          const answer = await fetch("/days/" + root.dataset.day + "/floor/here");
          if (!answer.ok) throw answer.status;
          $("here-names").innerHTML = await answer.text();
          htmx.process($("here-names"));
          $("here-box").showModal();
        } catch { trouble = "Who is here can be said when the server answers again."; status(); }
      },
      really: () => {
        $("sure").close();
        const at = stand(), first = shown.phases.findIndex((phase) => phase.block === at.phase.block);
        tell("/floor", { what: "go_to", ...phaseFields(first) });
      },
      close: () => {
        const open = shown.pieces.flatMap((piece) => piece.people.filter((person) => !person.done && !waitingScore(person, piece)).map((person) => person.name));
        if (!open.length) return does("close");
        put("closing-who", "No score yet: " + [...new Set(open)].join(", ") + ".");
        $("closing").showModal();
      },
      closed: () => { $("closing").close(); does("close"); },
    };
    document.addEventListener("click", (event) => {
      const act = event.target.closest("[data-act]");
      if (act) { event.preventDefault(); acts[act.dataset.act](); return; }
      const cut = event.target.closest("[data-cut]");
      if (cut) { tell("/floor", { what: cut.dataset.with ? "with" : "without", block: cut.dataset.cut, at_ms: Math.round(now()) }); return; }
      const lifter = event.target.closest("[data-lifter]");
      if (lifter) { lifts(lifter.dataset); return; }
      const tile = event.target.closest("[data-id]");
      if (tile) tapped(Number(tile.dataset.id));
    });
    document.addEventListener("keydown", (event) => {
      if (event.ctrlKey || event.metaKey || event.altKey || event.target.closest("input, textarea, select, dialog")) return;
      const act = { " ": "run", ArrowRight: "next", ArrowLeft: "back", "+": "longer", p: "piece" }[event.key];
      if (!act || (event.key === " " && event.target.closest("button, a"))) return;
      event.preventDefault();
      acts[act]();
    });

    // Who is here, and who came too: it counts once the server has it, since it forms the class again.
    $("here-box").addEventListener("click", (event) => { if (event.target.closest("[data-close]")) $("here-box").close(); });
    $("here-box").addEventListener("submit", async (event) => {
      event.preventDefault();
      let kept = false;
      try { kept = (await fetch(event.target.action, { method: "POST", body: new URLSearchParams(new FormData(event.target)), headers: { "X-Floor": "1" }, signal: AbortSignal.timeout(8000) })).ok; } catch { /* said below */ }
      if (kept) return $("here-box").close();
      $("here-trouble").hidden = false;
      put("here-trouble", "Not kept: the server does not answer. The ticks stay; try again.");
    });

    // What is being written is nobody's to write over.
    let noting = false;
    $("note").addEventListener("input", () => { noting = true; });
    $("noted").addEventListener("submit", (event) => {
      event.preventDefault();
      noting = false;
      tell("/note", { note: $("note").value });
    });

    // A tap is a finish; holding a name, or the other button of a mouse, opens what else there is.
    let held = false, hold = 0;
    document.addEventListener("pointerdown", (event) => {
      held = false;
      clearTimeout(hold);
      if (event.target.closest("[data-id]")) hold = setTimeout(() => { held = true; }, 550);
    });
    document.addEventListener("pointerup", () => clearTimeout(hold));
    document.addEventListener("contextmenu", (event) => {
      const tile = event.target.closest("[data-id]");
      if (!tile) return;
      event.preventDefault();
      const piece = pieceAt(stand()), person = piece?.people.find((one) => one.id === Number(tile.dataset.id));
      if (person) options(person, piece);
    });
    function tapped(id) {
      const at = stand(), piece = pieceAt(at), person = piece?.people.find((one) => one.id === id);
      if (!person) return;
      if (waitingScore(person, piece)) return;
      if (person.done) return options(person, piece);
      if (!runs(at) || !["running", "paused"].includes(shown.state) || at.phase.kind === "ready") return options(person, piece);
      if (held) { held = false; return options(person, piece); }
      if (piece.tap === "finish") {
        const seconds = Math.floor(at.piece / 1000) - person.start_s;
        // Who has not started has no time yet.
        if (seconds < 1) return options(person, piece);
        scored(piece, id, minutes(seconds * 1000, true));
      } else if (piece.tap === "round") {
        person.rounds = (person.rounds ?? 0) + 1;
        tell("/floor", { what: "round", n: piece.part, member: id, rounds: person.rounds, at_ms: Math.round(now()) });
      } else if (piece.tap === "split") {
        const [interval, seconds] = intervalOf(at, person), splits = new Map(person.splits);
        if (at.phase.kind === "rest" || seconds < 1 || interval >= piece.intervals || splits.has(interval)) return options(person, piece);
        splits.set(interval, seconds);
        person.splits = [...splits].sort(([a], [b]) => a - b);
        tell("/floor", { what: "split", n: piece.part, member: id, interval, seconds, at_ms: Math.round(now()) });
        if (person.splits.length === piece.intervals) scored(piece, id, called(person.splits));
      } else if (piece.tap === "out") {
        scored(piece, id, intervalOf(at, person)[0] + "+0");
      } else {
        options(person, piece);
      }
    }
    // Which interval it is for somebody, from 0, and how many seconds of it are gone. Whoever starts later does the same by a clock of their own.
    function intervalOf(at, person) {
      const of = shown.phases.filter((phase) => phase.block === at.phase.block && phase.kind !== "ready");
      const works = of.filter((phase) => ["work", "last_minute"].includes(phase.kind)), first = works.filter((phase) => phase.group === works[0].group);
      const each = first.reduce((sum, phase) => sum + phase.ms, 0) / 1000, mine = Math.max(0, at.piece / 1000 - person.start_s);
      if (works.length === of.length) return [Math.floor(mine / each), Math.floor(mine % each)];
      const until = of.slice(0, of.indexOf(at.phase) + 1).filter((phase) => works.includes(phase));
      return [new Set(until.map((phase) => phase.group)).size - 1, Math.floor(at.since / 1000)];
    }
    const called = (splits) => splits.map(([, seconds]) => minutes(seconds * 1000, true)).join(" ");
    // Until the server's own word is here, what was sent stands: nobody is tapped twice.
    const sent = new Map();
    const waitingScore = (person, piece) => {
      const last = sent.get(piece.n + ":" + person.id);
      if (last && !person.done && Date.now() - last.at < 15000) return last.text;
      return queuedScore(person, piece);
    };
    const queuedScore = (person, piece) => queue().find((one) => one.path === "/floor/score" && Number(one.fields.member) === person.id && Number(one.fields.piece) === piece.n)?.fields.text;

    // A set is made, missed or hard: it goes to the book as it was planned, or as it was.
    function lifts({ lifter, lift, planned, done }) {
      Object.assign($("lifter").dataset, { lifter, lift, planned });
      put("lifter-name", lifter);
      put("lifter-set", planned ? "planned " + planned : "by feel");
      put("lifter-done", done ? "Today: " + done : "");
      $("lifter-load").value = planned ? planned.replace(" x ", "x") : "";
      $("lifter").showModal();
    }
    $("lifter").addEventListener("submit", (event) => {
      const { lifter, lift, planned } = $("lifter").dataset, said = event.submitter?.value;
      if (said === "close") return;
      const load = said === "own" || !/^\d+ x /.test(planned) ? $("lifter-load").value.trim() : planned.replace(" x ", "x");
      if (load) tell("/book", { lift, text: lifter + " " + load + (said === "own" ? "" : said), sure: "1" });
    });
    function scored(piece, member, text) {
      sent.set(piece.n + ":" + member, { text, at: Date.now() });
      tell("/floor/score", { piece: piece.n, member, text });
    }

    // What else a coach does to a person in class.
    function options(person, piece) {
      const box = $("person");
      box.dataset.member = person.id;
      box.dataset.piece = piece.n;
      put("person-name", person.name);
      put("person-is", person.done ? person.done.score : person.version + (person.rounds ? ", " + person.rounds + " rounds" : ""));
      $("person-back").hidden = !person.done;
      $("person-back").dataset.result = person.done?.id ?? "";
      $("person-fewer").hidden = !(piece.tap === "round" && person.rounds > 0);
      // The rest of the work in an easier version: `Onward::finish_s` of the core, by its figures.
      const at = stand(), mine = Math.max(0, at.piece / 1000 - person.start_s), live = runs(at) && at.phase.kind !== "ready" && !person.done && piece.tap === "finish";
      list("person-easier", live ? person.easier : [], ([name, { whole_s, each_s, least_s, early, late }]) => {
        const left = Math.max(whole_s + each_s * mine, mine + least_s) - mine, at = (of) => minutes((mine + of * left) * 1000, true);
        const made = element("button", "button", name + " from here: about " + at(1) + " (" + at(early) + " to " + at(late) + ")");
        made.value = "easier:" + name;
        return made;
      });
      $("person-score").value = person.done ? "" : person.splits.length ? called(person.splits) : person.rounds ? person.rounds + "+0" : "";
      box.showModal();
    }
    $("person").addEventListener("submit", (event) => {
      const box = $("person"), member = Number(box.dataset.member), piece = shown.pieces[Number(box.dataset.piece)];
      const act = event.submitter?.value, person = piece.people.find((one) => one.id === member);
      if (act === "back") sent.delete(piece.n + ":" + member);
      if (act === "back") tell("/floor/unscore", { id: $("person-back").dataset.result });
      if (act === "score" && $("person-score").value.trim()) scored(piece, member, $("person-score").value.trim());
      if (act?.startsWith("easier:")) tell("/book/version", { piece: piece.n, member, version: act.slice(7), at_s: Math.max(0, Math.round(stand().piece / 1000 - person.start_s)) });
      if (act === "fewer") {
        person.rounds = Math.max(0, (person.rounds ?? 0) - 1);
        tell("/floor", { what: "round", n: piece.part, member, rounds: person.rounds, at_ms: Math.round(now()) });
      }
    });

    function tile(person, piece, at) {
      const made = element("button", "tile");
      made.type = "button";
      made.dataset.id = person.id;
      const score = person.done?.score ?? waitingScore(person, piece);
      made.append(element("b", "", person.name), flame(person.flame), element("span", "is", ""), element("span", "way"));
      if (person.mark) made.append(element("span", "mark " + (person.mark.startsWith("limit") ? "kept" : "look"), person.mark));
      made.dataset.done = score ?? "";
      return made;
    }
    const order = (piece) => [...piece.people].sort((a, b) => (a.start_s + a.expected_s[1]) - (b.start_s + b.expected_s[1]) || a.name.localeCompare(b.name));

    return {
      draw(at) {
        shared(at);
        const { state } = shown;
        put("run", { before: "Start the class", running: "Pause", paused: "Go on", closed: "Not over yet" }[state]);
        const n = starts(), waits = n >= 0 ? shown.phases[n] : null;
        $("piece-now").hidden = !waits || state === "before" || state === "closed";
        if (waits) put("piece-now", (waits.kind === "ready" ? "Piece starts now: " : "Now: ") + shown.blocks[waits.block].label);
        $("again").hidden = !runs(at) || state === "before" || state === "closed";
        for (const id of ["longer", "back", "next-key"]) $(id).disabled = state === "closed" || state === "before";
        $("here").hidden = !shown.here || state === "closed";
        if (shown.here) put("here", "Who is here: " + (shown.here[0] === shown.here[1] ? "all " + shown.here[1] : shown.here[0] + " of " + shown.here[1]));
        $("after").hidden = state !== "closed";
        list("headline", shown.headline);
        if (!noting && !queue().some((one) => one.path === "/note")) $("note").value = shown.note;
        $("close").hidden = state === "before" || state === "closed";
        // What was done last never happened: the clock goes on as if it had not.
        const slip = { pause: "the pause", resume: "going on", longer: "the minute", next: "the skip", back: "the step back", go_to: "the start", without: "leaving out", with: "taking in", close: "closing", reopen: "opening" }[shown.last?.what.what];
        $("undo").hidden = !slip;
        put("undo", "Undo " + slip);
        put("say", state === "running" || state === "paused" ? at.phase.say : "");
        const piece = pieceAt(at), lift = liftAt(at);
        $("people").hidden = !piece || Boolean(lift);
        $("racks").hidden = !lift;
        if (piece) {
          put("aim", "aim " + piece.aim + (piece.cap_s ? ", cap " + minutes(piece.cap_s * 1000, true) : ""));
          put("taps", state === "before" || state === "closed" ? "A tap on a name opens it." : piece.tap === "finish" ? "A tap on a name is a finish; hold it for more." : piece.tap === "round" ? "A tap on a name is a round; hold it for more." : piece.tap === "split" ? "A tap on a name is the time of this interval; hold it for more." : piece.tap === "out" ? "A tap on a name: out in this interval; hold it for more." : "A tap on a name opens it.");
          list("tiles", order(piece), (person) => tile(person, piece, at));
          list("heats", piece.heats, (heat) => element("li", "", heat.label + ": " + heat.names.join(", ")));
        }
        if (lift) list("rack-list", lift.racks, (rack) => rackOf(rack, at));
        list("hourlist", shown.blocks.map((block, n) => ({ block, n })), ({ block, n }) => {
          const made = element("li", n === at.phase.block ? "now" : n < at.phase.block ? "past" : "", "");
          made.append(element("span", "", block.label), element("span", "n", block.without ? "left out" : minutes(shown.phases.filter((phase) => phase.block === n).reduce((sum, phase) => sum + phase.ms, 0), true)));
          if (block.spare && n > at.phase.block && state !== "closed") {
            const cut = element("button", "button is-small", block.without ? "Take it in again" : "Leave it out");
            cut.type = "button";
            cut.dataset.cut = block.key;
            if (block.without) cut.dataset.with = "1";
            made.append(cut);
          }
          return made;
        });
      },
      tick(at) {
        const over = late(at), ends = now() + at.left;
        put("ends", shown.state === "closed" ? "" : "ends " + hour(shown.state === "before" && shown.booked_ms ? Math.max(now(), shown.booked_ms[0]) + at.left : ends));
        put("left", shown.state === "closed" ? "" : minutes(at.left, false) + " left");
        const falls = shown.blocks.filter((block, n) => block.spare && !block.without && n > at.phase.block).map((block) => block.label.toLowerCase());
        put("late", over > 60000 && over < 3 * 3600000 && shown.state !== "closed" ? Math.round(over / 60000) + " min over the hour" + (falls.length ? ": " + falls.join(" or ") + " can fall out" : "") : "");
        const piece = pieceAt(at), live = runs(at) && at.phase.kind !== "ready", t = at.piece / 1000;
        for (const tile of $("tiles").children) {
          const person = piece?.people.find((one) => one.id === Number(tile.dataset.id));
          if (!person) continue;
          const score = tile.dataset.done, mine = t - person.start_s;
          const last = person.splits.at(-1);
          const is = score ? score : last ? minutes(last[1] * 1000, true) + " in " + (last[0] + 1) : person.rounds != null ? person.rounds + (person.rounds === 1 ? " round" : " rounds") : "about " + minutes(person.expected_s[1] * 1000, true);
          const slow = !score && live && piece.tap === "finish" && mine > person.expected_s[2];
          const [label, way] = tile.querySelectorAll(".is, .way");
          if (label.textContent !== is) label.textContent = is;
          tile.className = "tile" + (score ? " done" : "") + (slow ? " slow" : "");
          way.textContent = slow ? "behind what was expected" : "";
          way.style.setProperty("--gone", live && !score ? Math.min(1, Math.max(0, mine / person.expected_s[1])) : 0);
        }
      },
    };
  }

  function rackOf(rack, at) {
    const made = element("li", "rack"), turn = turnOf(at);
    made.append(element("b", "", rack.name));
    rack.people.forEach((person, n) => {
      const load = person.loads[Math.min(at.phase.set ?? 0, person.loads.length - 1)];
      const line = element(person.call ? "button" : "span", n === turn ? "turn" : "", person.name + (load ? "  " + load : "") + (person.done.length ? "  ✓ " + person.done.length : ""));
      if (person.why) line.append(element("small", "", "  " + person.why));
      if (person.call) Object.assign(line, { type: "button" }), Object.assign(line.dataset, { lifter: person.call, lift: rack.lift, planned: load ?? "", done: person.done.join(", ") });
      made.append(line);
    });
    return made;
  }

  // --- A member's phone: the same clock, and what of the class is theirs.
  function phone() {
    // A guest has chosen nobody yet.
    let own = JSON.parse($("own").textContent) ?? { lifts: [], pieces: [] };
    return {
      async changed() {
        if (!root.dataset.own) return;
        try { const answer = await fetch(root.dataset.own); if (answer.ok) { own = await answer.json(); draw(); } } catch { /* what was known stands */ }
      },
      draw(at) { shared(at); },
      tick(at) {
        const block = shown.blocks[at.phase.block], lift = own.lifts.find((one) => block.kind === "strength" && one.part === block.part);
        const piece = own.pieces.find((one) => block.kind === "conditioning" && one.part === block.part);
        const live = shown.state === "running" || shown.state === "paused";
        $("mine").hidden = !live || !(lift || piece);
        if (lift) {
          const n = Math.min(at.phase.set ?? 0, lift.sets.length - 1);
          put("mine-is", at.phase.kind === "rest" ? "My next set" : "My set");
          put("mine-now", lift.sets[n] ?? "by feel");
          put("mine-then", lift.sets[n + 1] ? "then " + lift.sets[n + 1] : "");
          lines(lift.why ? [lift.why] : []);
        } else if (piece) {
          const mine = at.piece / 1000 - piece.start_s, ahead = piece.checkpoints.filter(([at]) => at > mine);
          put("mine-is", mine < 0 ? "I start in " + minutes(-mine * 1000, false) : "My next checkpoint");
          put("mine-now", ahead.length ? minutes(ahead[0][0] * 1000, true) + " " + ahead[0][1] : "to the end");
          put("mine-then", ahead[1] ? "then " + minutes(ahead[1][0] * 1000, true) + " " + ahead[1][1] : "");
          lines([...piece.advice, ...piece.behind]);
        }
      },
    };
    function lines(all) {
      if ($("advice").dataset.is === all.join()) return;
      $("advice").dataset.is = all.join();
      list("advice", all);
    }
  }

  // --- The wall.
  function wall() {
    let turn = -2;
    return {
      draw(at) {
        shared(at);
        const piece = pieceAt(at), lift = liftAt(at), { state } = shown;
        root.dataset.state = state;
        const live = state === "running" || state === "paused";
        $("ahead").hidden = live;
        $("now").hidden = !live;
        $("way").hidden = !piece || !(runs(at) || shown.blocks[at.phase.block].kind === "brief" && shown.blocks[at.phase.block].part != null);
        $("rackwall").hidden = !lift;
        $("cue").hidden = !$("way").hidden;
        if (piece) {
          list("rows", piece.rows, (row, n) => {
            const made = element("li", "", "");
            made.dataset.row = n;
            made.append(element("span", "", row), element("span", "lamps"));
            return made;
          });
          const done = piece.people.filter((person) => person.done).sort((a, b) => (a.done.seconds ?? 0) - (b.done.seconds ?? 0));
          list("finished", done.slice(-12), (person) => element("li", "", person.name + " " + person.done.score));
          const heat = piece.heats.findLast((heat) => heat.start_s * 1000 <= at.piece);
          put("heat", piece.heats.length ? (heat?.label ?? "") + (heat?.names.length ? ": " + heat.names.join(", ") : "") : "");
        }
        if (lift) list("rackwall", lift.racks, (rack) => rackOf(rack, at));
        put("score", state === "closed" && piece ? piece.people.length + " in the book" : "");
        turn = -2;
        root.dataset.lamps = "";
      },
      tick(at) {
        const piece = pieceAt(at), lift = liftAt(at);
        if (lift && turnOf(at) !== turn) { turn = turnOf(at); list("rackwall", lift.racks, (rack) => rackOf(rack, at)); }
        put("stands", shown.state === "paused" ? "The clock stands" : "");
        if (piece && !$("way").hidden) lamps(piece, at.piece / 1000);
        if (shown.state === "closed") put("until", "That was it. Well worked.");
        if (shown.state === "before" && shown.booked_ms) put("until", now() < shown.booked_ms[0] ? "starts at " + hour(shown.booked_ms[0]) : "about to start");
        // Nothing stands on the same spot for an evening.
        const step = Math.floor(now() / 60000) % 8;
        root.style.setProperty("--dx", [0, 3, 6, 3, 0, -3, -6, -3][step] + "px");
        root.style.setProperty("--dy", [3, 6, 3, 0, -3, -6, -3, 0][step] + "px");
      },
    };
  }
  /// Where each version should be by now.
  function lamps(piece, t) {
    const places = new Map();
    for (const lantern of piece.lanterns) {
      const place = lantern.path.findLast(([at]) => at <= t) ?? lantern.path[0];
      if (!place) continue;
      const over = t >= lantern.ends_s, row = over ? "end" : place[1] >= 0 ? place[2] : 0;
      const said = lantern.name + (over ? "" : lantern.path.at(-1)[1] > 1 ? " " + place[1] : "");
      places.set(lantern, { row, said });
    }
    const mark = [...places.values()].map(({ row, said }) => row + said).join("|");
    if (root.dataset.lamps === mark) return;
    root.dataset.lamps = mark;
    for (const row of [...document.querySelectorAll("#rows .lamps"), $("atend")]) row?.replaceChildren();
    for (const [lantern, { row, said }] of places) {
      const where = row === "end" ? $("atend") : document.querySelector(`#rows [data-row="${piece.row_of[row] ?? row}"] .lamps`);
      if (!where) continue;
      const lamp = element("span", "lamp");
      lamp.append(flame(lantern.flame), element("small", "", said));
      where.append(lamp);
    }
  }

  draw();
  listen();
  stayAwake();
  (async () => { for (let n = 0; n < 5; n++) await setClock(); draw(); })();
  // Before and after a class the wall shows a board, which is made anew now and then.
  if (root.dataset.floor === "wall") setInterval(() => { if (alive && ["before", "closed"].includes(shown.state)) location.reload(); }, 60000);
  setInterval(setClock, 20000);
  setInterval(tick, 100);
})();
