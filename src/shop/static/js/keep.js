// Nothing typed is lost: drafts live in the browser until the server has them, and a post that
// could not be sent waits in an outbox and is sent, once, when the server answers again.
(() => {
  const user = () => document.getElementById("screen")?.dataset.user || "";
  const draftKey = (form) => `fennock:draft:${user()}:${form.dataset.keep}`;
  const outboxKey = () => `fennock:outbox:${user()}`;
  const outbox = () => JSON.parse(localStorage.getItem(outboxKey()) || "[]");
  const setOutbox = (list) => localStorage.setItem(outboxKey(), JSON.stringify(list));
  const secret = (name) => /password|csrf|^key$|^seen$/.test(name);
  const forms = () => document.querySelectorAll("form[data-keep]");

  function remember(form) {
    const fields = [...new FormData(form)].filter(([name, value]) => !secret(name) && typeof value === "string");
    localStorage.setItem(draftKey(form), JSON.stringify(fields));
  }

  function restore(form) {
    const kept = localStorage.getItem(draftKey(form));
    if (!kept || form.dataset.restored) return;
    form.dataset.restored = "1";
    const values = new Map();
    for (const [name, value] of JSON.parse(kept)) values.set(name, [...(values.get(name) || []), value]);
    for (const field of form.elements) {
      if (!field.name || secret(field.name) || ["hidden", "file"].includes(field.type) || !values.has(field.name)) continue;
      if (field.type === "checkbox" || field.type === "radio") field.checked = values.get(field.name).includes(field.value);
      else if (!field.value || field.tagName === "SELECT") field.value = values.get(field.name)[0];
      field.dispatchEvent(new Event("input", {bubbles: true}));
    }
  }

  const restoreAll = () => forms().forEach(restore);
  const forget = (form) => form.dataset.keep && localStorage.removeItem(draftKey(form));

  function banner(show, text) {
    const box = document.getElementById("offline");
    box.hidden = !show;
    if (text) box.querySelector("[data-kept]").textContent = text;
  }

  document.addEventListener("input", (event) => {
    const form = event.target.closest?.("form[data-keep]");
    if (form) remember(form);
  });

  function couldNotSend(event) {
    const form = event.target.matches?.("form") ? event.target : null;
    if (form && form.method === "post") {
      const body = new URLSearchParams(new FormData(form)).toString();
      const key = form.elements.key?.value;
      setOutbox([...outbox().filter((row) => row.key !== key), {url: form.action, body, key, draft: form.dataset.keep || ""}]);
      banner(true, "What you typed is kept here and is sent when the server is back.");
    } else banner(true, "Nothing was lost. Trying again.");
    setTimeout(tryAgain, 1500);
  }

  async function tryAgain() {
    try {
      const pulse = await fetch("/pulse", {cache: "no-store"});
      if (!pulse.ok) throw new Error("not yet");
      const waiting = outbox().length;
      await sendOutbox();
      if (!outbox().length) { banner(false); if (!waiting) return; }
    } catch { setTimeout(tryAgain, 2000); }
  }

  async function sendOutbox() {
    const [first] = outbox();
    if (!first) return;
    const body = new URLSearchParams(first.body);
    body.set("csrfmiddlewaretoken", document.querySelector("meta[name=csrf-token]").content);
    const answer = await fetch(first.url, {method: "POST", body, headers: {"HX-Request": "true"}});
    if (answer.status >= 500) throw new Error("not yet");
    if (new URL(answer.url).pathname.startsWith("/login")) { location.href = answer.url; return; }
    setOutbox(outbox().slice(1));
    if (answer.ok) localStorage.removeItem(`fennock:draft:${user()}:${first.draft}`);
    const page = new DOMParser().parseFromString(await answer.text(), "text/html");
    const screen = page.getElementById("screen");
    if (screen) { document.getElementById("screen").replaceWith(document.adoptNode(screen)); htmx.process(document.body); arrived(); }
    if (outbox().length) await sendOutbox();
  }

  function arrived() {
    restoreAll();
    document.querySelector("#screen [autofocus]")?.focus();
  }

  document.addEventListener("htmx:sendError", couldNotSend);
  document.addEventListener("htmx:timeout", couldNotSend);
  document.addEventListener("htmx:responseError", (event) => {
    if (event.detail.xhr.status >= 500) couldNotSend(event);
  });
  document.addEventListener("htmx:afterRequest", (event) => {
    const sent = event.detail.requestConfig?.elt;  // by now the form itself may be off the page
    if (sent?.matches?.("form") && event.detail.successful) forget(sent);
  });
  document.addEventListener("htmx:afterSettle", restoreAll);
  document.addEventListener("DOMContentLoaded", () => {
    restoreAll();
    if (outbox().length) tryAgain();
  });
  window.addEventListener("online", tryAgain);
})();
