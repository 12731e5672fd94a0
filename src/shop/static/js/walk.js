// A walk through rows of choices: a digit answers the row one is at and goes on to the next open one.
(() => {
  const rowsOf = (walk) => [...walk.querySelectorAll("[data-walk-row]")];
  const answered = (row) => row.querySelector("input[type=radio]:checked");
  const open = (walk) => rowsOf(walk).find((row) => !answered(row));
  const here = (walk) => document.activeElement?.closest("[data-walk-row]") || open(walk) || null;

  const mark = (walk, row) => {
    rowsOf(walk).forEach((one) => one.classList.toggle("at", one === row));
    document.querySelectorAll(".spot-link").forEach((spot) =>
      spot.classList.toggle("at", Boolean(row) && spot.getAttribute("href") === `#${row.id}`));
    row?.scrollIntoView({block: "nearest"});
  };

  const goOn = (walk) => {
    document.activeElement?.blur();
    const next = open(walk);
    mark(walk, next);
    if (!next) document.querySelector("[data-next]")?.focus();
  };

  const answer = (walk, row, choice) => {
    choice.checked = true;
    choice.dispatchEvent(new Event("change", {bubbles: true}));
    if (choice.value === "fine") { goOn(walk); return; }
    mark(walk, row);
    (row.querySelector(".which input") || row.querySelector(".note"))?.focus();
  };

  document.addEventListener("keydown", (event) => {
    const walk = document.querySelector("[data-walk]");
    const target = event.target;
    if (!walk || event.ctrlKey || event.metaKey || event.altKey) return;
    const inNote = target.matches?.("[data-walk] input[type=text]");
    if (inNote && event.key === "Enter" && open(walk)) { goOn(walk); event.preventDefault(); event.stopImmediatePropagation(); return; }
    if (inNote || !/^[1-9]$/.test(event.key) || target.matches?.("input[type=text], textarea, select")) return;
    const row = here(walk);
    const choice = row?.querySelectorAll("input[type=radio]")[Number(event.key) - 1];
    if (!choice) return;
    answer(walk, row, choice);
    event.preventDefault();
    event.stopImmediatePropagation();
  }, true);

  // An answer that wants a word, chosen by mouse or touch, opens its note as a key does.
  document.addEventListener("change", (event) => {
    const choice = event.target;
    const row = event.isTrusted && choice.matches?.("[data-walk] input[type=radio]") && choice.closest("[data-walk-row]");
    if (row && choice.value !== "fine") (row.querySelector(".which input") || row.querySelector(".note"))?.focus();
  });

  document.addEventListener("click", (event) => {
    const rest = event.target.closest?.("[data-rest]");
    const walk = rest && document.querySelector("[data-walk]");
    if (!walk) return;
    for (let row = open(walk); row; row = open(walk)) {
      const choice = row.querySelector(`input[type=radio][value="${rest.dataset.rest}"]`);
      choice.checked = true;
      choice.dispatchEvent(new Event("change", {bubbles: true}));
    }
    goOn(walk);
  });

  const begin = () => {
    const walk = document.querySelector("[data-walk]");
    if (walk) mark(walk, open(walk));
  };
  document.addEventListener("DOMContentLoaded", begin);
  document.addEventListener("htmx:afterSettle", begin);
})();
