// Nothing typed is lost. Drafts live in the browser until the server has them. A post that could not be
// sent, files too, waits in an outbox and is sent, once and in order, when the server answers again.
(() => {
  const AWAY = [502, 503, 504];
  const user = () => document.getElementById("screen")?.dataset.user || "";
  const secret = (name) => /password|csrf|token/i.test(name);
  const forms = () => document.querySelectorAll("form[data-keep]");

  // ---- the button that was pressed: its name and value are posted, also from outside its form
  const pressed = new WeakMap();
  document.addEventListener("submit", (event) => pressed.set(event.target, event.submitter), true);
  document.addEventListener("htmx:configRequest", (event) => {
    const button = pressed.get(event.detail.elt);
    if (button?.name && event.detail.elt.contains(button) === false) event.detail.formData.set(button.name, button.value);
  });

  // ---- drafts: what is typed and not sent, text only
  const draftKey = (keep) => `fennock:draft:${user()}:${keep}`;
  const drafted = (name) => !secret(name) && !/^key$|^seen$/.test(name);

  function remember(form) {
    const fields = [...new FormData(form)].filter(([name, value]) => drafted(name) && typeof value === "string");
    localStorage.setItem(draftKey(form.dataset.keep), JSON.stringify(fields));
  }

  // A form is put back once, when it appears: later it would bring back what was cleared. A part of it that
  // is exchanged is put back by itself.
  function restore(form) {
    if (form.dataset.restored) return;
    form.dataset.restored = "1";
    putBack(form, form);
  }

  function putBack(form, part) {
    const kept = localStorage.getItem(draftKey(form.dataset.keep));
    if (!kept) return;
    const values = new Map();
    for (const [name, value] of JSON.parse(kept)) values.set(name, [...(values.get(name) || []), value]);
    for (const field of form.elements) {
      if (!part.contains(field) || !field.name || !drafted(field.name) || ["hidden", "file"].includes(field.type) || !values.has(field.name)) continue;
      if (field.type === "checkbox" || field.type === "radio") field.checked = values.get(field.name).includes(field.value);
      else if (!field.value || field.tagName === "SELECT") field.value = values.get(field.name)[0];
      field.dispatchEvent(new Event("input", {bubbles: true}));
    }
  }

  const restoreAll = () => forms().forEach(restore);
  const restoreAfter = (event) => {
    const form = event.target.closest?.("form[data-keep]");
    if (form && form !== event.target && form.dataset.restored) putBack(form, event.target);
    restoreAll();
  };
  const forget = (keep) => keep && localStorage.removeItem(draftKey(keep));

  // ---- outbox: posts on their way, in IndexedDB, oldest first
  const opened = new Promise((resolve, reject) => {
    const asked = indexedDB.open("fennock", 1);
    asked.onupgradeneeded = () => asked.result.createObjectStore("outbox", {keyPath: "id", autoIncrement: true});
    asked.onsuccess = () => resolve(asked.result);
    asked.onerror = () => reject(asked.error);
  });

  const inStore = async (mode, act) => {
    const store = (await opened).transaction("outbox", mode).objectStore("outbox");
    return new Promise((resolve, reject) => {
      const asked = act(store);
      asked.onsuccess = () => resolve(asked.result);
      asked.onerror = () => reject(asked.error);
    });
  };

  const mine = async () => (await inStore("readonly", (store) => store.getAll())).filter((row) => row.user === user());
  const take = (row) => inStore("readwrite", (store) => store.delete(row.id));

  async function put(row) {
    const twin = (await mine()).find((one) => one.key && one.key === row.key);
    await inStore("readwrite", (store) => store.put(twin ? {...row, id: twin.id} : row));
  }

  // ---- the banner
  function banner(title, text, link) {
    const box = document.getElementById("offline");
    box.hidden = !title;
    box.querySelector("[data-title]").textContent = title || "";
    box.querySelector("[data-kept]").textContent = text || "";
    const to = box.querySelector("[data-link]");
    to.hidden = !link;
    to.href = link || "";
  }

  const away = (text) => banner("No connection.", text);

  // ---- what was not sent
  function fieldsOf(sender) {
    if (sender.matches("form")) return [...new FormData(sender, pressed.get(sender) || undefined)];
    const more = Object.entries(JSON.parse(sender.getAttribute("hx-vals") || "{}"));
    return [...more, ...[...(sender.files || [])].map((file) => [sender.name, file])];
  }

  async function couldNotSend(sender) {
    const isForm = sender.matches?.("form") && sender.method === "post";
    const isFile = sender.matches?.("input[type=file][hx-post]");
    if (!isForm && !isFile) { away("Nothing was lost. Trying again."); return; }
    const fields = fieldsOf(sender);
    if (fields.some(([name, value]) => /password/i.test(name) && value)) {
      away("A signature is never kept here: sign again when the server is back.");
      return;
    }
    await put({
      user: user(),
      url: isForm ? pressed.get(sender)?.getAttribute("formaction") || sender.action : sender.getAttribute("hx-post"),
      fields: fields.filter(([name]) => !secret(name)),
      key: (fields.find(([name]) => name === "key") || [])[1] || "",
      draft: sender.dataset.keep || "",
    });
    away("What you typed is kept here and is sent when the server is back.");
  }

  let trying = null;
  const later = (wait) => { trying ??= setTimeout(() => { trying = null; tryAgain(); }, wait); };

  async function tryAgain() {
    try {
      const ready = await fetch("/health/ready", {cache: "no-store"});
      if (!ready.ok) throw new Error("not yet");
      const {refused, elsewhere} = await sendAll();
      if (refused) banner("Not everything could be saved.", refused);
      else if (elsewhere) banner("Sent.", "What waited for another bow has been answered there.", elsewhere);
      else banner("");
    } catch {
      away("What you typed is kept here and is sent when the server is back.");
      later(2000);
    }
  }

  const jobOf = (url) => (new URL(url, location).pathname.match(/^\/jobs\/(\d+)\//) || [])[1] || "";

  // Sends everything in order; what the server refuses is said and its draft stays, and the rest goes on. Only
  // the answer of the job that is on the screen is shown there: that of another one is linked to.
  async function sendAll() {
    const refused = [];
    let last = null, elsewhere = "";
    for (const row of await mine()) {
      const answer = await send(row);
      if (AWAY.includes(answer.status)) throw new Error("away again");
      const login = new URL(answer.url).pathname;
      if (login.startsWith("/login")) { location.href = `${login}?next=${encodeURIComponent(location.pathname)}`; return {refused: "", elsewhere: ""}; }
      await take(row);
      if (answer.ok) forget(row.draft);
      else if (answer.status >= 500) refused.push(`The program failed at ${new URL(row.url, location).pathname}: what you typed stays in its form.`);
      if (answer.status >= 500) continue;
      if (jobOf(row.url) === jobOf(location.href)) last = await answer.text();
      else elsewhere = jobOf(row.url) ? `/jobs/${jobOf(row.url)}/` : "/";
    }
    if (last) show(last);
    return {refused: refused.join(" "), elsewhere};
  }

  function send(row) {
    const body = new FormData();
    for (const [name, value] of row.fields) body.append(name, value);
    body.set("csrfmiddlewaretoken", document.querySelector("meta[name=csrf-token]").content);
    return fetch(row.url, {method: "POST", body, headers: {"HX-Request": "true"}});
  }

  function show(html) {
    const screen = new DOMParser().parseFromString(html, "text/html").getElementById("screen");
    if (!screen) return;
    document.getElementById("screen").replaceWith(document.adoptNode(screen));
    htmx.process(document.body);
    restoreAll();
    document.querySelector("#screen [autofocus]")?.focus();
  }

  // ---- events
  document.addEventListener("input", (event) => {
    const form = event.target.closest?.("form[data-keep]");
    if (form) remember(form);
  });
  const failed = (event) => { couldNotSend(event.target); later(1500); };
  document.addEventListener("htmx:sendError", failed);
  document.addEventListener("htmx:timeout", failed);
  document.addEventListener("htmx:responseError", (event) => {
    const status = event.detail.xhr.status;
    if (AWAY.includes(status)) failed(event);
    else if (status >= 500) banner("Something went wrong in the program.", "It was not saved. What you typed is still here: try again, or tell a manager.");
    else if (status === 413) banner("That is too large.", "It was not saved.");
  });
  document.addEventListener("htmx:afterRequest", (event) => {
    const sent = event.detail.requestConfig?.elt;  // by now the form itself may be off the page
    if (sent?.matches?.("form") && event.detail.successful) forget(sent.dataset.keep);
  });
  document.addEventListener("htmx:afterSettle", restoreAfter);
  document.addEventListener("DOMContentLoaded", async () => {
    restoreAll();
    if (user() && (await mine()).length) tryAgain();
  });
  window.addEventListener("online", () => later(0));
})();
