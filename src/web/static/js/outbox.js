// What is typed is never lost: every change waits here until the server has answered it. It is kept over a reload of the
// page, sent again by itself in the order it was made, and counts once however often it is sent.

import { signedIn, signInAgain } from "./outbox/again.js";
import { draw as drawStrip } from "./outbox/strip.js";
import { byId, say, words } from "./outbox/words.js";

export { signInAgain };

const QUICK = 1000; // [ms] to the first new try; doubled each time
const SLOWEST = 15000;
const BUSY_AFTER = 300;
const MOST_FAILURES = 3; // of the server itself, before a change is set aside so that the others go on
const MOST_LETTERS = 900_000; // of one change
const HELD = { 400: "long", 403: "right", 404: "gone", 413: "long" }; // sending these again would not help

const place = document.body.dataset.outbox; // the job's own; pages that are of no job have none
const KEY = `outbox ${place}`;
const token = () =>
  [...crypto.getRandomValues(new Uint8Array(12))].map((byte) => byte.toString(16).padStart(2, "0")).join("");
const page = token();

let waiting = load();
let cause = ""; // why the first of them waits
let timer = 0;
let tries = 0;
let going = false; // an attempt is on its way
let ours = false; // the request that begins now is an attempt, not a new change
const settled = new Map(); // by token: what to do when a change is answered
export const hooks = { extra: () => ({}), kept: () => {}, refused: [], waits: () => {} };

function load() {
  try {
    return place ? JSON.parse(sessionStorage.getItem(KEY) ?? "[]") : [];
  } catch {
    return [];
  }
}
function keep() {
  try {
    if (waiting.length) sessionStorage.setItem(KEY, JSON.stringify(waiting));
    else sessionStorage.removeItem(KEY);
  } catch {
    // the browser's own store is full or closed: the changes wait in the page alone, and leaving it warns
  }
}

// One request at a time, in the order they were asked for: each knows what the one before it showed.
let last = Promise.resolve();
export function inTurn(ask) {
  last = last.then(() => busyAfterAWhile(ask)).catch(() => {}); // what went wrong is said where requests fail
  return last;
}
async function busyAfterAWhile(ask) {
  const busy = setTimeout(() => document.body.classList.add("busy"), BUSY_AFTER);
  try {
    return await ask();
  } finally {
    clearTimeout(busy);
    document.body.classList.remove("busy");
  }
}

// Asks for what can be as long as what a page shows; it changes nothing, so it does not wait in the outbox.
export function ask(address, values, options) {
  ours = true;
  const asked = htmx.ajax("POST", address, {
    ...options,
    values,
    headers: JSON.parse(document.body.getAttribute("hx-headers")),
  });
  ours = false;
  return asked;
}

export const isEmpty = () => !waiting.length;
export const shownVersion = () => byId("seen-version")?.value ?? byId("version")?.value ?? "0";

// Takes a change; resolves once it is answered: true if it was kept, false if it was refused.
export function submit({ address, values, source = "", target = "", swap = "none" }) {
  const size = Object.values(values).reduce((sum, value) => sum + String(value).length, 0);
  if (size > MOST_LETTERS) {
    say(words("long"));
    return Promise.resolve(false);
  }
  const entry = {
    once: token(),
    page,
    address,
    source,
    target,
    swap,
    values: { version: shownVersion(), ...values },
  };
  const before = waiting.findLast((each) => !each.held);
  const same =
    before && before !== inFlight && before.address === address && before.values.path === values.path;
  if (same && (timer || cause) && values.path && "value" in values) {
    before.values.value = values.value; // typed on in the same place before the first was sent
    entry.once = before.once;
  } else waiting.push(entry);
  keep();
  if (timer || cause === "out") hooks.waits(entry);
  const answered = new Promise((resolve) =>
    settled.set(entry.once, [...(settled.get(entry.once) ?? []), resolve]),
  );
  pump();
  return answered;
}

let inFlight = null;
async function pump() {
  const entry = waiting.find((each) => !each.held);
  if (!entry || going || timer || cause === "out") return draw();
  going = true;
  await inTurn(() => attempt(entry));
  going = false;
  draw();
  if (!timer) pump();
}

let answer = null;
async function attempt(entry) {
  inFlight = entry;
  answer = null;
  const values = { ...entry.values, ...hooks.extra(entry), once: entry.once, page: entry.page };
  ours = true;
  const asked = htmx.ajax("POST", entry.address, {
    source: byId(entry.source) ?? document.body,
    target: entry.target || document.body,
    swap: entry.swap,
    values,
    headers: JSON.parse(document.body.getAttribute("hx-headers")),
  });
  ours = false;
  await asked.catch(() => {});
  inFlight = null;
  take(entry, answer);
}
document.addEventListener("htmx:afterRequest", ({ detail }) => {
  if (inFlight && detail.xhr && detail.requestConfig?.verb === "post") answer = detail.xhr;
});

function take(entry, xhr) {
  const status = xhr?.status ?? 0;
  if (status >= 200 && status < 300) {
    const kept =
      !/class="(wrong|conflict)"/.test(xhr.responseText) || xhr.responseText.includes('id="strip"');
    done(entry);
    tries = 0;
    cause = "";
    if (kept) hooks.kept(entry);
    else for (const tell of hooks.refused) tell(entry, xhr.responseText);
    for (const resolve of settled.get(entry.once) ?? []) resolve(kept);
    settled.delete(entry.once);
    return;
  }
  hooks.waits(entry);
  tries += 1;
  cause = causeOf(status, xhr);
  const held =
    HELD[status] && cause !== "forged"
      ? HELD[status]
      : status >= 500 && cause === "down" && tries > MOST_FAILURES
        ? "failed"
        : "";
  if (held) {
    entry.held = held;
    tries = 0;
    for (const resolve of settled.get(entry.once) ?? []) resolve(false);
  } else if (cause === "out") signInAgain();
  else later(Math.min(QUICK * 2 ** (tries - 1), SLOWEST));
  keep();
}
function causeOf(status, xhr) {
  if (status === 0) return navigator.onLine ? "silent" : "offline";
  if (status === 401) return "out";
  const trouble = xhr.getResponseHeader("X-Trouble");
  return trouble || HELD[status] || "down";
}
function done(entry) {
  waiting = waiting.filter((each) => each.once !== entry.once);
  keep();
}
function later(wait) {
  timer = setTimeout(again, wait);
}
export function again() {
  clearTimeout(timer);
  timer = 0;
  if (cause === "out") cause = "silent"; // perhaps signed in again elsewhere: one try tells
  pump();
}
addEventListener("online", again);
document.addEventListener("visibilitychange", () => document.hidden || !waiting.length || again());

// ---- every post of the page goes through here

document.addEventListener("htmx:configRequest", (event) => {
  const { verb, path, parameters, elt, target } = event.detail;
  if (verb !== "post" || ours || !place) return;
  event.preventDefault();
  const swap = elt.getAttribute("hx-swap") ?? "none";
  const values = Object.fromEntries(Object.entries(parameters));
  submit({ address: path, values, source: elt.id, target: target?.id ? `#${target.id}` : "", swap });
});

// ---- what the strip says

const draw = () => drawStrip({ waiting, cause, tries });
document.addEventListener("click", ({ target }) => {
  if (target.closest("#outbox-again")) {
    for (const entry of waiting) delete entry.held;
    tries = 0;
    again();
  }
  if (target.closest("#outbox-sign-in")) signInAgain();
  const drop = target.closest("[data-drop]");
  if (drop) {
    done({ once: drop.dataset.drop });
    draw();
  }
});

addEventListener("beforeunload", (event) => {
  if (!waiting.length) return;
  keep();
  event.preventDefault();
});

// ---- what a page of a job that was asked for and did not come says

for (const failure of ["htmx:responseError", "htmx:sendError", "htmx:timeout"]) {
  document.addEventListener(failure, ({ detail }) => {
    const { verb, path } = detail.requestConfig ?? {};
    if (verb === "get" && !path.includes("/understand/")) say(words("notShown")); // of a line that is being typed nothing is said
    if (detail.xhr?.status === 401) signInAgain();
  });
}

signedIn.push(again);

// ---- after a reload: what waits stands in its field again, and is sent

for (const { values } of waiting) {
  const field =
    values.path &&
    document.querySelector(
      `[data-path="${CSS.escape(values.path)}"], #f-${CSS.escape(values.path.replaceAll("/", "-"))}`,
    );
  if (field && "value" in values) field.value = values.value;
}
if (waiting.length) {
  cause = "silent";
  addEventListener("load", again, { once: true });
}
draw();
