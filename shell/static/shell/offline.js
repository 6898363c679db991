// Ticks, torques and readings survive a lost connection: kept here, shown as waiting, sent in order when it is back.
import * as waiting from "./waiting.js";

const user = document.body.dataset.user ?? "";
const able = "serviceWorker" in navigator && "indexedDB" in window && window.isSecureContext;
const forms = [...document.querySelectorAll("form[data-offline]")];

const forget = async () => {
  for (const name of await caches.keys()) await caches.delete(name);
};

const reached = async () => {
  if (navigator.onLine === false) return false;
  try {
    return (await fetch("/ping/", { cache: "no-store", signal: AbortSignal.timeout(4000) })).ok;
  } catch {
    return false;
  }
};

let stopped = "";

const token = () => JSON.parse(document.body.getAttribute("hx-headers") ?? "{}")["X-CSRFToken"] ?? "";

const line = (row) => {
  const item = document.createElement("li");
  const words = document.createElement("span");
  const typed = row.typed ? `: ${row.typed}` : "";
  words.textContent = `${row.label}${typed}, ${row.clash ? `meanwhile ${row.clash}` : row.refused ? `not accepted: ${row.refused}` : "waiting"}`;
  item.append(words);
  const button = (text, act) => {
    const made = document.createElement("button");
    Object.assign(made, { type: "button", className: "btn btn-line", textContent: text });
    made.setAttribute("aria-label", `${text}: ${row.label}`);
    made.addEventListener("click", act);
    item.append(made);
  };
  if (row.clash) button("Keep mine", async () => { await waiting.keep({ ...row, clash: "", force: true }); await send(); });
  if (row.clash || row.refused) button("Drop mine", async () => { await waiting.drop(row.id); await show(); await send(); });
  return item;
};

const show = async () => {
  const rows = await waiting.all(user);
  let box = document.querySelector("#waiting");
  if (!rows.length) return box?.remove();
  if (!box) {
    box = Object.assign(document.createElement("section"), { id: "waiting", className: "waiting" });
    box.setAttribute("role", "status");
    box.setAttribute("aria-label", "Waiting for the connection");
    document.querySelector("#main").prepend(box);
  }
  const head = Object.assign(document.createElement("b"), { textContent: `${rows.length} ${rows.length === 1 ? "entry waits" : "entries wait"} for the connection${stopped ? `; ${stopped}` : ""}` });
  const list = document.createElement("ul");
  list.append(...rows.map(line));
  box.replaceChildren(head, list);
};

// One run at a time; asked meanwhile, it runs again. Unanswered, it comes back sooner at first: the server counts each key once.
let sending = false, again = false, pause = 500, timer = 0;
const LONGEST = 15000;
const send = async () => {
  if (sending) { again = true; return; }
  if (navigator.onLine === false) return;
  sending = true;
  again = false;
  window.clearTimeout(timer);
  let kept = 0, unanswered = false;
  try {
    for (const row of await waiting.all(user)) {
      if (row.clash || row.refused) break;
      const headers = { "X-CSRFToken": token(), "X-Tally-Key": row.key, "X-Tally-User": user, ...(row.force ? { "X-Tally-Force": "1" } : {}) };
      const answer = await fetch(row.url, { method: "POST", headers, body: new URLSearchParams(row.body), redirect: "manual", signal: AbortSignal.timeout(LONGEST) }).catch(() => null);
      unanswered = answer === null;
      if (unanswered) break;
      const said = await answer.json().catch(() => ({ state: "later" }));
      unanswered = said.state === "later";
      if (said.state === "kept") { await waiting.drop(row.id); kept += 1; }
      else if (said.state === "clash") await waiting.keep({ ...row, clash: said.now });
      else if (said.state === "refused") await waiting.keep({ ...row, refused: said.why });
      if (said.state === "signed_out") stopped = "sign in again to send them";
      if (said.state !== "kept") break;
    }
  } finally {
    sending = false;
  }
  await show();
  if (kept && !(await waiting.all(user)).length) { window.location.reload(); return; }
  pause = unanswered ? Math.min(2 * pause, LONGEST) : 500;
  if (again) await send();
  else if (unanswered) timer = window.setTimeout(send, pause);
};

const typedIn = (form) => [...form.querySelectorAll("input:not([type=hidden]), select, textarea")].filter((el) => el.value && (el.type !== "checkbox" || el.checked) && !el.closest("details:not([open])")).map((el) => el.value).join(", ");

// A torque step goes on to its next fastener without the server.
const nextFastener = (form) => {
  const order = (form.dataset.order ?? "").split(",").filter(Boolean);
  const lug = form.querySelector("input[name=lug]");
  if (!lug || !order.length) return false;
  const following = order[order.indexOf(lug.value) + 1];
  if (following === undefined) return false;
  lug.value = following;
  const place = order.indexOf(following) + 1;
  form.dataset.offline = form.dataset.offline.replace(/\d+ of (\d+)$/, `${place} of $1`);
  document.querySelectorAll(".nut-circle .nut, .nut-circle text").forEach((el) => {
    const number = el.tagName === "text" ? el.textContent : el.nextElementSibling?.textContent;
    el.classList.toggle("done", Number(number) < place);
    el.classList.toggle("now", Number(number) === place);
  });
  const read = form.querySelector("input[name=read]");
  read.value = "";
  read.focus();
  return true;
};

const later = async (form) => {
  const body = [...new FormData(form)].filter(([name, value]) => typeof value === "string" && !["csrfmiddlewaretoken", "once"].includes(name));
  await waiting.add({
    user, key: crypto.randomUUID(), url: form.getAttribute("action") || window.location.pathname + window.location.search, body,
    label: form.dataset.offline, typed: typedIn(form), at: new Date().toISOString(),
  });
  await show();
  if (nextFastener(form)) return;
  if (form.dataset.next) window.location.assign(form.dataset.next);
  else form.querySelectorAll("button").forEach((button) => { button.disabled = true; });
};

const watch = (form) => {
  form.addEventListener("submit", async (event) => {
    if (form.dataset.passed) return;
    event.preventDefault();
    const rows = await waiting.all(user);
    if (!rows.length && (await reached())) {
      form.dataset.passed = "1";
      form.requestSubmit(event.submitter ?? undefined);
      return;
    }
    await later(form);
    if (rows.length && (await reached())) await send();
  });
};

// Asked for so that the worker keeps it; read to its end, as an answer stored nowhere else is under way until somebody has.
const through = (address) => fetch(address, { credentials: "same-origin" }).then((answer) => answer.arrayBuffer()).catch(() => null);

// The worker keeps this page too, with its styles and scripts, once it stands between the page and the server.
const ready = async () => {
  if (!navigator.serviceWorker.controller) {
    await new Promise((resolve) => navigator.serviceWorker.addEventListener("controllerchange", resolve, { once: true }));
  }
  const needed = performance.getEntriesByType("resource").map((entry) => entry.name).filter((name) => new URL(name).pathname.startsWith("/static/"));
  const cache = await caches.open("tally-pages-1");
  for (const address of [window.location.href, ...needed]) {
    if (address === window.location.href || !(await cache.match(address, { ignoreVary: true }))) await through(address);
  }
  await ahead();
  document.body.dataset.ready = "1";
};

// Pages that come next are fetched while there is a connection.
const ahead = async () => {
  const cache = await caches.open("tally-pages-1");
  for (const address of (document.querySelector("[data-ahead]")?.dataset.ahead ?? "").split(" ").filter(Boolean)) {
    if (!(await cache.match(address, { ignoreVary: true }))) await through(address);
  }
};

// A browser store that does not answer must not keep anybody signed in.
const within = (work, ms) => Promise.race([work.catch(() => null), new Promise((resolve) => setTimeout(resolve, ms, null))]);

const emptied = async () => {
  await waiting.clear(user);
  await forget();
  for (const worker of await navigator.serviceWorker.getRegistrations()) await worker.unregister();
};

const leaving = (form) => {
  form.addEventListener("submit", async (event) => {
    if (form.dataset.passed) return;
    event.preventDefault();
    const rows = (await within(waiting.all(user), 3000)) ?? [];
    if (rows.length && !form.dataset.warned) {
      form.dataset.warned = "1";
      await show();
      form.querySelector("button").textContent = `${rows.length} waiting would be lost: ${form.dataset.leave === undefined ? "sign out" : "remove"} all the same`;
      return;
    }
    await within(emptied(), 5000);
    form.dataset.passed = "1";
    form.submit();
  });
};

if (able && !user) forget();
if (able && user) {
  document.querySelectorAll("form[action$='/sign-out/'], form[data-leave]").forEach(leaving);
  waiting.all(user).then((rows) => { if (rows.length || forms.length) return show().then(send); });
  window.addEventListener("online", () => { pause = 500; send(); });
  if (forms.length) {
    forms.forEach(watch);
    navigator.serviceWorker.register("/worker.js", { scope: "/" }).then(() => navigator.serviceWorker.ready).then(ready).catch(() => null);
  }
}
