// Places on the floor are dragged, or moved by arrow keys in steps of half a metre; the server keeps them.
(() => {
  "use strict";
  const scale = 50;
  let held = null;
  const spotOf = (event) => event.target.closest?.("[data-sketch] [data-place]");
  const at = (spot) => spot.transform.baseVal.consolidate().matrix;
  const move = (spot, x, y) => spot.setAttribute("transform", "translate(" + x + " " + y + ")");
  const keep = (spot) => {
    const svg = spot.closest("[data-sketch]"), form = document.getElementById(svg.dataset.sketch);
    form.elements.key.value = spot.dataset.place;
    form.elements.x.value = at(spot).e / scale;
    form.elements.y.value = Number(svg.dataset.depth) - at(spot).f / scale;
    delete spot.dataset.moved;
    form.requestSubmit();
  };
  document.addEventListener("pointerdown", (event) => {
    const spot = spotOf(event);
    if (!spot) return;
    held = { spot, x: event.clientX, y: event.clientY, e: at(spot).e, f: at(spot).f };
    spot.setPointerCapture(event.pointerId);
  });
  document.addEventListener("pointermove", (event) => {
    if (!held) return;
    const svg = held.spot.ownerSVGElement, ratio = svg.viewBox.baseVal.width / svg.getBoundingClientRect().width;
    const [x, y] = [(event.clientX - held.x) * ratio, (event.clientY - held.y) * ratio];
    if (Math.abs(x) + Math.abs(y) > 8) held.spot.dataset.moved = "";
    move(held.spot, held.e + x, held.f + y);
  });
  document.addEventListener("pointerup", () => {
    if (held && "moved" in held.spot.dataset) keep(held.spot);
    held = null;
  });
  document.addEventListener("keydown", (event) => {
    const spot = spotOf(event);
    if (!spot) return;
    const step = { ArrowLeft: [-25, 0], ArrowRight: [25, 0], ArrowUp: [0, -25], ArrowDown: [0, 25] }[event.key];
    if (step) { event.preventDefault(); move(spot, at(spot).e + step[0], at(spot).f + step[1]); spot.dataset.moved = ""; }
    if (event.key === "Enter" && "moved" in spot.dataset) { event.preventDefault(); keep(spot); }
  });
})();
