// Five steps through the demo, for whoever is here the first time. Without scripts the same stands under Help.
const STEPS = [
  ["/days$", "The week. Each card is a day as the coach wrote it.", "Open Monday's text", "/read"],
  ["/read$", "The text on the left is untouched; on the same lines stands what was understood. Change a number, or misspell a movement, and look.", "See who does which version", "/versions"],
  ["/versions$", "The headline counts who finishes inside the window, as written and with the versions. Give somebody another one: a click, kept.", "See how it will go", "/pace"],
  ["/pace$", "Everybody's finish, from a good day to a slow one. A name opens when to break and what to aim at.", "See whether it fits the hour", "/hour"],
  ["/hour$", "Every block with its minutes. From here come the board, the cards and the run sheet; Floor runs the class.", "Done", ""],
];

export function show() {
  const begin = document.querySelector("[data-begin-tour]");
  if (begin && localStorage.getItem("tour") === null) {
    begin.hidden = false;
    begin.querySelector("[data-yes]").addEventListener("click", () => { localStorage.setItem("tour", "on"); begin.hidden = true; step(); });
    begin.querySelector("[data-no]").addEventListener("click", () => { localStorage.setItem("tour", ""); begin.hidden = true; });
  }
  if (localStorage.getItem("tour") === "on") step();
}

function step() {
  const at = STEPS.findIndex(([path]) => new RegExp(path).test(location.pathname));
  if (at < 0) return;
  const [, words, next, to] = STEPS[at];
  const first = document.querySelector(".daycard a[href$='/hour']")?.getAttribute("href").replace(/\/hour$/, "");
  const day = /^\/days\/[^/]+/.exec(location.pathname)?.[0] ?? first;
  const note = document.createElement("aside");
  note.className = "tour";
  note.setAttribute("aria-label", "Tour");
  const count = document.createElement("b");
  count.textContent = (at + 1) + " of " + STEPS.length;
  const said = document.createElement("p");
  said.textContent = words;
  const on = document.createElement(to ? "a" : "button");
  on.className = "button is-lit";
  on.textContent = next;
  const end = () => { localStorage.setItem("tour", ""); note.remove(); };
  if (to) on.href = day + to; else on.addEventListener("click", end);
  note.append(count, said, on);
  if (to) {
    const stop = document.createElement("button");
    stop.className = "button is-small";
    stop.textContent = "End the tour";
    stop.addEventListener("click", end);
    note.append(stop);
  }
  document.body.append(note);
}
