// Nothing typed is lost. Drafts live in the browser until the server has them. A post that could not be
// sent, files too, waits in an outbox and is sent, once and in order, when the server answers again. One that
// the server refuses stays there until it is taken, or until a person throws it away.
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

  const rows = () => inStore("readonly", (store) => store.getAll());
  const mine = async () => (await rows()).filter((row) => row.user === user());
  const waiting = async () => (await mine()).filter((row) => !row.refused);
  const take = (row) => inStore("readwrite", (store) => store.delete(row.id));
  const change = (row, more) => inStore("readwrite", (store) => store.put({...row, ...more}));

  async function put(row) {
    const twin = (await mine()).find((one) => one.key && one.key === row.key);
    await inStore("readwrite", (store) => store.put(twin ? {...row, id: twin.id} : row));
  }

  // ---- the banner
  const box = () => document.getElementById("offline");

  function banner(title, text, link) {
    box().hidden = !title && !box().querySelector("[data-refused]").children.length;
    box().querySelector("[data-title]").textContent = title || "";
    box().querySelector("[data-kept]").textContent = text || "";
    const to = box().querySelector("[data-link]");
    to.hidden = !link;
    to.href = link || "";
  }

  const away = (text) => banner("No connection.", text);
  const KEPT = "What you typed is kept here and is sent when the server is back.";
  const NOT_KEPT = "This browser keeps nothing: leave this page open, and save again when the server is back.";

  // ---- what the server refused: said, one by one, until a person has decided
  const WHY = {
    403: "You may not do this.",
    409: "Somebody has worked on it meanwhile: look at it again.",
    413: "It is too large.",
    422: "Something in it has to be put right.",
  };
  const why = (status) => WHY[status] || (status >= 500 ? "The program failed." : "It cannot be done there any more.");

  function whatIsIn(row) {
    const values = row.fields.filter(([name, value]) => drafted(name) && value).map(([, value]) => value.name || value);
    return values.slice(0, 4).join(", ");
  }

  function refusedItem(row) {
    const item = document.querySelector("#refused-row").content.firstElementChild.cloneNode(true);
    const job = jobOf(row.url);
    item.querySelector("[data-what]").textContent = `${job ? `Job ${job}: ` : ""}${whatIsIn(row)} was not saved. ${row.refused}`;
    item.querySelector("[data-open]").href = job ? `/jobs/${job}/` : "/";
    item.querySelector("[data-again]").onclick = async () => { await change(row, {refused: ""}); tryAgain(); };
    item.querySelector("[data-discard]").onclick = async () => { await take(row); forget(row.draft); report(); };
    return item;
  }

  // Refused posts of this person, and how many of somebody else's wait on this device.
  async function report() {
    const all = await rows();
    const refused = all.filter((row) => row.user === user() && row.refused);
    const others = all.filter((row) => row.user !== user()).length;
    box().querySelector("[data-refused]").replaceChildren(...refused.map(refusedItem));
    if (refused.length) banner("Not everything could be saved.");
    else if (others && user()) banner(`${others} of another person's posts wait on this device.`, "They are sent when that person logs in here.");
    else banner("");
  }

  // What was put right in its form and saved, or saved there once more as it was, needs nobody's decision any more.
  async function settled(form) {
    const key = form.elements.key?.value, same = whatIsIn({fields: [...new FormData(form)]});
    const again = (row) => row.draft && row.draft === form.dataset.keep && whatIsIn(row) === same;
    const done = (await mine()).filter((row) => row.refused && ((key && row.key === key) || again(row)));
    for (const row of done) await take(row);
    if (done.length) report();
  }

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
    const row = {
      user: user(),
      url: isForm ? pressed.get(sender)?.getAttribute("formaction") || sender.action : sender.getAttribute("hx-post"),
      fields: fields.filter(([name]) => !secret(name)),
      key: (fields.find(([name]) => name === "key") || [])[1] || "",
      draft: sender.dataset.keep || "",
    };
    try {
      await put(row);
      away(KEPT);
    } catch {
      away(NOT_KEPT);
    }
  }

  let trying = null;
  const later = (wait) => { trying ??= setTimeout(() => { trying = null; tryAgain(); }, wait); };

  async function tryAgain() {
    try {
      const ready = await fetch("/health/ready", {cache: "no-store"});
      if (!ready.ok) throw new Error("not yet");
    } catch {
      away((await keeps()) ? KEPT : NOT_KEPT);
      later(2000);
      return;
    }
    try {
      const elsewhere = await sendAll();
      await report();
      if (elsewhere && box().hidden) banner("Sent.", "What waited for another bow has been answered there.", elsewhere);
    } catch (error) {
      if (!(await keeps())) { banner(""); return; }
      away(KEPT);
      later(2000);
    }
  }

  const jobOf = (url) => (new URL(url, location).pathname.match(/^\/jobs\/(\d+)\//) || [])[1] || "";

  const keeps = () => opened.then(() => true, () => false);

  // Sends everything in order; what the server refuses stays, and the rest goes on. Only the answer of the job
  // that is on the screen is shown there: the address of another one's is given back.
  async function sendAll() {
    let last = null, elsewhere = "";
    for (const row of await waiting()) {
      const answer = await send(row);
      if (AWAY.includes(answer.status)) throw new Error("away again");
      const login = new URL(answer.url).pathname;
      if (login.startsWith("/login")) { location.href = `${login}?next=${encodeURIComponent(location.pathname)}`; return ""; }
      if (answer.ok) { await take(row); forget(row.draft); }
      else await change(row, {refused: why(answer.status)});
      if (answer.status >= 500) continue;
      if (jobOf(row.url) === jobOf(location.href)) last = await answer.text();
      else elsewhere = jobOf(row.url) ? `/jobs/${jobOf(row.url)}/` : "/";
    }
    if (last) show(last);
    return elsewhere;
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
    if (!sent?.matches?.("form") || !event.detail.successful) return;
    forget(sent.dataset.keep);
    settled(sent).catch(() => {});
  });
  document.addEventListener("htmx:afterSettle", restoreAfter);
  document.addEventListener("DOMContentLoaded", async () => {
    restoreAll();
    if (!(await keeps()) || !user()) return;
    if ((await waiting()).length) tryAgain(); else report();
  });
  window.addEventListener("online", () => later(0));
})();
