// Holes on a sheet or an impact on a butt: tap them in turn, drag to refine, arrow keys for 1/16 in, page keys
// for the next hole.
(() => {
  const step = (sheet) => +(sheet.dataset.step || 1 / 16);
  const form = () => document.getElementById("shot");
  const holes = (sheet) => [...sheet.querySelectorAll("[data-hole]")];
  const field = (hole, axis) => form()?.elements[`${hole.dataset.hole}_${axis}`];
  let chosen = 0;
  let dragging = null;

  const inches = (sheet, event) => {
    const point = new DOMPoint(event.clientX, event.clientY).matrixTransform(sheet.getScreenCTM().inverse());
    return [Math.round(point.x * 32) / 32, Math.round(point.y * 32) / 32];
  };

  function put(sheet, hole, x, y) {
    hole.setAttribute("cx", x);
    hole.setAttribute("cy", y);
    hole.classList.add("placed");
    field(hole, "x").value = x;
    field(hole, "y").value = -y;
    const run = sheet.querySelector("[data-run]");
    holes(sheet).forEach((from, at) => {
      run?.setAttribute(`x${at + 1}`, from.getAttribute("cx"));
      run?.setAttribute(`y${at + 1}`, from.getAttribute("cy"));
    });
    sheet.classList.toggle("both", holes(sheet).every((one) => one.classList.contains("placed")));
    form().dispatchEvent(new Event("input", {bubbles: true}));
  }

  document.addEventListener("pointerdown", (event) => {
    const sheet = event.target.closest?.("[data-sheet]");
    if (!sheet || !form()) return;
    event.preventDefault();
    sheet.focus({preventScroll: true});
    const placed = holes(sheet);
    const touched = placed.indexOf(event.target.closest("[data-hole].placed"));
    const missing = placed.findIndex((one) => !one.classList.contains("placed"));
    if (touched >= 0) chosen = touched;
    else chosen = missing >= 0 ? missing : placed.length - 1;
    dragging = placed[chosen];
    put(sheet, dragging, ...inches(sheet, event));
  });
  document.addEventListener("pointermove", (event) => {
    const sheet = dragging?.closest("[data-sheet]");
    if (sheet) put(sheet, dragging, ...inches(sheet, event));
  });
  document.addEventListener("pointerup", () => { dragging = null; });

  document.addEventListener("keydown", (event) => {
    const sheet = document.activeElement?.closest?.("[data-sheet]");
    const turn = {PageDown: 1, PageUp: -1}[event.key];
    if (sheet && turn) {
      event.preventDefault();
      const count = holes(sheet).length;
      chosen = (chosen + turn + count) % count;
      return;
    }
    const way = {ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, -1], ArrowDown: [0, 1]}[event.key];
    if (!sheet || !way) return;
    event.preventDefault();
    const placed = holes(sheet);
    for (const one of placed.filter((hole) => !hole.classList.contains("placed"))) {
      put(sheet, one, 0, 0);
      chosen = placed.indexOf(one);
    }
    const hole = placed[Math.min(chosen, placed.length - 1)];
    put(sheet, hole, +hole.getAttribute("cx") + way[0] * step(sheet), +hole.getAttribute("cy") + way[1] * step(sheet));
  });
})();
