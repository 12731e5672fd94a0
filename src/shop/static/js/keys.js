// One letter per frequent act. Elements say which: data-key="l"; the next action carries data-next. A key that
// leads to another page wants Alt beside it, so that no single key leaves the work; data-stays says that a
// link stays on its page.
(() => {
  const typing = (el) => el && (el.matches("textarea, select") ||
    el.matches("input") && !["radio", "checkbox", "button", "submit"].includes(el.type));

  const press = (el) => {
    if (el.matches("details")) { el.open = !el.open; el.querySelector("input, select")?.focus(); }
    else if (el.matches("input[type=radio]")) { el.checked = true; el.dispatchEvent(new Event("input", {bubbles: true})); el.dispatchEvent(new Event("change", {bubbles: true})); }
    else el.click();
  };

  const move = (step) => {
    const rows = [...document.querySelectorAll("[data-row]")];
    if (!rows.length) return;
    const at = rows.indexOf(document.activeElement);
    rows[Math.min(Math.max(at + step, 0), rows.length - 1)].focus();
  };

  document.addEventListener("keydown", (event) => {
    if (event.ctrlKey || event.metaKey || document.querySelector("dialog[open]")) return;
    if (event.altKey) {
      const link = document.querySelector(`a[data-key="${CSS.escape(event.key.toLowerCase())}"]`);
      if (link) { link.click(); event.preventDefault(); }
      return;
    }
    const here = document.activeElement;
    if (event.key === "Escape") { here?.blur(); return; }
    if (typing(here)) {
      if (!here.matches("#entry [data-field]") || event.key.length !== 1) return;
      const line = here.closest(".line");
      const letter = /[a-z]/i.test(event.key) && (line.querySelector(`[data-direction="${event.key.toLowerCase()}"]`) ||
        !here.value && document.querySelector(`.bar [data-key="${event.key.toLowerCase()}"]`));
      const even = event.key === "0" && !here.value && !line.querySelector("[data-direction]:checked") &&
        line.querySelector("[data-key='0']");
      if (letter || even) { press(letter || even); event.preventDefault(); }
      return;
    }
    if (event.key === "Enter") {
      if (here && here.matches("a, button, summary")) return;
      const next = document.querySelector("[data-next]");
      if (next) { next.click(); event.preventDefault(); }
      return;
    }
    const field = document.querySelector("#entry .line.open [data-field]");
    if (field && event.key === "/") { field.focus(); return; }
    if (event.key === "/") { document.getElementById("find")?.focus(); event.preventDefault(); return; }
    if (event.key === "?") { document.getElementById("keys")?.showModal(); return; }
    if (event.key === "j" || event.key === "k") { move(event.key === "j" ? 1 : -1); return; }
    if (field && /^[0-9.]$/.test(event.key) && !(event.key === "0" && document.querySelector("#entry .line.open [data-key='0']"))) {
      field.focus();
      return;
    }
    const key = `[data-key="${CSS.escape(event.key.toLowerCase())}"]:is(:not(a), [data-stays])`;
    const shown = (css) => [...document.querySelectorAll(css)].find((one) => !one.closest(".line:not(.open)"));
    const found = shown(`.line.open ${key}`) || shown(`#work ${key}`) || shown(key);
    if (found) { press(found); event.preventDefault(); }
  });

  const showEntry = () => {
    const wrong = document.querySelector("#screen .field.wrong :is(input, select, textarea), #screen .choices.wrong input");
    if (wrong) wrong.focus();
    else if (!typing(document.activeElement)) document.querySelector("#screen [autofocus]")?.focus();
    document.querySelector("[data-selected]")?.select();
    const at = document.activeElement;
    (at?.matches("input, select, textarea") ? at : document.querySelector(".active"))?.scrollIntoView({block: "nearest"});
  };
  // What a page offers in a field is replaced by the first key.
  const offered = "[data-offered]";
  document.addEventListener("focusin", (event) => { if (event.target.matches(offered)) event.target.select(); });
  document.addEventListener("mousedown", (event) => {
    const field = event.target.closest(offered);
    if (!field || field === document.activeElement) return;
    field.focus();
    event.preventDefault();  // the caret of this click would take the selection away
  });
  document.addEventListener("toggle", (event) => {
    if (event.target.open) event.target.querySelector("input:not([type=hidden]), select, textarea")?.focus();
  }, true);
  document.addEventListener("DOMContentLoaded", () => {
    showEntry();
    if (document.activeElement.matches(offered)) document.activeElement.select();
  });
  document.addEventListener("htmx:afterSettle", showEntry);

  document.addEventListener("click", (event) => {
    const spot = event.target.closest("a.spot-link");
    if (spot) document.querySelector(`${spot.getAttribute("href")} input`)?.focus();
    if (event.target.closest("[data-print]")) window.print();
    const opener = event.target.closest("[data-open]");
    if (opener) document.getElementById(opener.dataset.open)?.showModal();
    const menu = document.querySelector(".who[open]");
    if (menu && !menu.contains(event.target)) menu.open = false;
  });
})();
