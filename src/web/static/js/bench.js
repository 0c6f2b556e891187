// The workbench: choosing a node, sending what is typed, keys, drag, folds, zoom; the server draws the regions.

import { hooks as news } from "./news.js";
import { ask as askLong, hooks as outbox, inTurn, submit } from "./outbox.js";
import { shownPieces, takePieces } from "./pieces.js";

const bench = document.getElementById("bench");
const byId = (id) => document.getElementById(id);
const large = () => byId("seen-unfolded").hasAttribute("data-folds"); // then folds are the server's: what is folded is not sent
const seen = () => ({ unfolded: byId("seen-unfolded").value, version: byId("seen-version").value, at: byId("seen-at").value, lens: byId("seen-lens").value });

// What the page shows of each region: its frame, and for an edit the digest of every piece. Only what differs comes back.
function regions(verb) {
  const frames = ["tree", "lens", "chain"].map((name) => `${name}@${byId(name)?.dataset.frame}`);
  return [...frames, ...(verb === "POST" ? shownPieces(bench) : [])].join(" ");
}
// What is asked of the job is read in its turn; what changes it goes through the outbox.
function send(verb, address, values) {
  if (verb === "POST") return submit({ address, values: { ...seen(), ...values }, source: "bench", target: "#bench" });
  return inTurn(() => ask(verb, address, { ...seen(), shown: regions(verb), ...values }));
}
const whole = { source: bench, target: bench, swap: "none" };
const ask = (verb, address, values) => htmx.ajax(verb, address, { ...whole, values });
// A line hangs where it was said; whatever else is sent is answered for the node that is shown by then.
outbox.extra = ({ values }) => ({ ...("line" in values || "text" in values ? {} : { at: seen().at }), lens: seen().lens, unfolded: seen().unfolded, shown: regions("POST") });

news.fetch = () => askLong(bench.dataset.region, { ...seen(), shown: regions("POST"), news: "1" }, whole);

// ---- what a swap must not lose: focus, what is half typed, folds, zoom; and what it changed

let kept = null;
let wanted = "";
let swapping = false; // a field that is swapped while something is half typed in it says it has changed: it has not
let before = { key: "", values: new Map() };
const folded = new Set(JSON.parse(sessionStorage.getItem("folded") ?? "[]"));

function values() {
  const map = new Map();
  for (const link of document.querySelectorAll("#chain details[id]")) {
    map.set(link.id, link.querySelector(".link-value")?.textContent.trim());
  }
  return map;
}

document.addEventListener("htmx:beforeSwap", ({ detail }) => {
  const active = document.activeElement;
  kept = active?.id ? { id: active.id, typed: active.matches("input:not([type=hidden]), textarea") && active.value !== active.dataset.sent ? active.value : null, from: active.defaultValue, caret: active.selectionStart } : null;
  before = { key: byId("chain")?.dataset.key, values: values() };
  const text = detail.serverResponse ?? "";
  wanted = text.match(/data-focus="([^"]+)"/)?.[1] ?? "";
  swapping = true;
  detail.serverResponse = takePieces(text);
});

function settle() {
  const chain = byId("chain");
  if (chain && chain.dataset.key === before.key && before.values.size) {
    for (const [id, value] of values()) {
      if (before.values.get(id) !== value) byId(id)?.closest(".link").classList.add("changed");
    }
  }
  before = { key: "", values: new Map() };
  mark();
  if (byId("drawing") !== fitted) zoomTo(zoom);
  const target = byId(wanted);
  if (target) {
    target.closest("details:not([open])")?.setAttribute("open", "");
    target.focus();
  } else if (kept && document.activeElement === document.body) {
    const again = byId(kept.id);
    again?.focus({ preventScroll: true });
    if (again && kept.typed !== null && kept.typed !== kept.from) {
      again.value = kept.typed;
      again.setSelectionRange?.(kept.caret, kept.caret);
    }
  }
  wanted = "";
  kept = null;
}
document.addEventListener("htmx:afterRequest", ({ detail }) => {
  swapping = false;
  if (detail.successful) settle();
});
document.addEventListener("pointerover", ({ target }) => target.closest?.(".link.changed")?.classList.remove("changed"));
document.addEventListener("click", ({ target }) => target.closest?.(".link.changed")?.classList.remove("changed"));

// ---- the chosen node

let shown = byId("seen-at").value;
let aimed = ""; // what was asked for and is not shown yet: keys go on from there
const here = () => aimed || seen().at;
function mark() {
  const at = byId("seen-at")?.value;
  if (at === aimed) aimed = "";
  for (const row of document.querySelectorAll('#rows .branch[aria-selected="true"]')) row.setAttribute("aria-selected", "false");
  byId(`row-${at}`)?.setAttribute("aria-selected", "true");
  const drawn = "#lens-body :is(.g, tr)";
  for (const each of document.querySelectorAll(`${drawn}.chosen`)) each.classList.remove("chosen");
  for (const each of document.querySelectorAll(`${drawn}[data-node="${CSS.escape(at)}"]`)) each.classList.add("chosen");
  // What is told in a block of its board is chosen there.
  const block = byId(`g-${byId(`row-${at}`)?.dataset.parent}-small`);
  if (block && !document.querySelector("#drawing .g.chosen")) block.classList.add("chosen");
  if (at !== shown) document.querySelector("#drawing .g.chosen .s-name")?.scrollIntoView({ block: "nearest", inline: "nearest" });
  shown = at;
  fold();
}

function choose(key, sheet) {
  const address = new URL(location);
  address.searchParams.set("at", key);
  history.replaceState(null, "", address);
  if (sheet) show(sheet);
  aimed = key;
  return send("GET", bench.dataset.region, { at: key });
}

document.addEventListener("click", (event) => {
  const { target } = event;
  const open = target.closest("[data-open]");
  const drawn = target.closest("#drawing .g, tr[data-node]");
  const row = target.closest("#rows .branch");
  if (open && !event.ctrlKey && !event.metaKey) {
    event.preventDefault();
    open.closest("details.menu")?.removeAttribute("open");
    choose(open.dataset.open, matchMedia("(max-width: 860px)").matches ? "right" : "");
  } else if (row && !target.closest("input, a, button")) choose(row.dataset.key, matchMedia("(max-width: 860px)").matches ? "right" : "");
  else if (drawn?.id.endsWith("-small") && !dragged) lens("schedule", drawn.dataset.node);
  else if (drawn && !target.closest("input, a, button") && !dragged) choose(drawn.dataset.node);
});

// ---- fields: sent when left or on Enter; a select at once

document.addEventListener("change", ({ target }) => {
  const path = target.dataset?.path;
  if (!path || swapping || !bench.contains(target)) return;
  const values = { path, value: target.value };
  target.dataset.sent = target.value;
  const since = target.dataset.version ?? target.dataset.since;
  if (since) values.version = since;
  delete target.dataset.since;
  const { id } = target;
  send("POST", bench.dataset.edit, values).then((kept) => byId(id)?.toggleAttribute("data-refused", !kept));
});
// Judged by what the page showed when one began to type: another's change that came since is a conflict, not overwritten.
document.addEventListener("input", ({ target }) => {
  if (target.dataset?.path) target.dataset.since ??= seen().version;
});
document.addEventListener("click", ({ target }) => {
  const mine = target.closest("[data-mine]");
  if (mine) {
    const input = byId(mine.dataset.mine) ?? byId(mine.dataset.mine.replace(/^f/, "c")); // in the chain, or the schedule
    send("POST", bench.dataset.edit, { path: input.dataset.path, value: input.value, version: mine.dataset.version });
  }
  if (target.closest("[data-theirs]")) send("GET", bench.dataset.region, { shown: "" });
  if (target.closest("[data-unsay]")) byId("note-general").replaceChildren();
  const pin = target.closest("[data-pin]");
  if (pin) {
    const { pin: key, device, size, sets, material } = pin.dataset;
    send("POST", bench.dataset.edit.replace(/edit\/$/, "pin/"), { key, device, size, sets, material });
  }
});

// ---- acts

function act(name, values = {}) {
  document.querySelector(".act-menu[open]")?.removeAttribute("open");
  return send("POST", bench.dataset.act, { act: name, key: values.key ?? here(), ...values });
}
document.addEventListener("click", ({ target }) => {
  const button = target.closest("[data-act]");
  if (button && button !== bench) {
    const to = ["move", "copy"].includes(button.dataset.act) ? { to: byId("to-board").value } : {};
    const poles = button.dataset.poles ? { poles: button.dataset.poles } : {};
    act(button.dataset.act, { ...to, ...poles, ...(button.dataset.key ? { key: button.dataset.key } : {}) });
  }
  const say = target.closest("[data-say]");
  if (say) sayInstead(say.dataset.say);
  const turn = target.closest("[data-turn]");
  if (turn) send("POST", turn.dataset.turn);
  const add = target.closest("[data-add]");
  if (add) act("add", { kind: add.dataset.add });
});

let carried = "";
document.addEventListener("dragstart", (event) => {
  const row = event.target.closest?.(".branch");
  if (!row) return;
  carried = row.dataset.key;
  event.dataTransfer.setData("text/plain", carried);
  event.dataTransfer.effectAllowed = "move";
});
document.addEventListener("dragover", (event) => {
  const row = event.target.closest?.(".branch");
  if (!carried || !row || row.dataset.key === carried) return;
  event.preventDefault();
  document.querySelector(".branch.over")?.classList.remove("over");
  row.classList.add("over");
});
document.addEventListener("drop", (event) => {
  const row = event.target.closest?.(".branch");
  document.querySelector(".branch.over")?.classList.remove("over");
  if (!carried || !row) return;
  event.preventDefault();
  const feeds = ["source", "board", "transformer"].includes(row.dataset.kind);
  const where = feeds ? { to: row.dataset.key } : { to: row.dataset.parent, before: row.dataset.key };
  act("move", { key: carried, ...where });
  carried = "";
});
document.addEventListener("dragend", () => {
  carried = "";
  document.querySelector(".branch.over")?.classList.remove("over");
});

// ---- the walk-through line: what was typed before this page was ready is understood too

document.addEventListener("htmx:load", () => {
  if (byId("walk-line")?.value) htmx.trigger("#walk-line", "early");
}, { once: true });

// What was assumed is said otherwise by a touch on it, or by the arrow down: the line then says so in words.
function sayInstead(words) {
  const line = byId("walk-line");
  line.value = words;
  line.focus();
  htmx.trigger(line, "early");
}
byId("walk-line")?.addEventListener("keydown", (event) => {
  const other = event.key === "ArrowDown" && document.querySelector("#walk-said [data-say]");
  if (event.key === "Escape") event.target.blur();
  if (!other) return;
  event.preventDefault();
  sayInstead(other.dataset.say);
});

// ---- and it is empty again once its load is there

outbox.kept = ({ values, source }) => {
  const line = byId("walk-line");
  if (source !== "walk" || line.value.trim() !== values.line.trim()) return;
  byId("walk").reset();
  byId("walk-said").textContent = "";
};
// One that cannot be sent waits in the outbox, and makes room for the next; one that is refused comes back to be mended.
outbox.waits = outbox.kept;
outbox.refused = ({ values, source }) => {
  const line = byId("walk-line");
  if (source === "walk" && !line.value) line.value = values.line;
};

// ---- folds

function fold() {
  if (large()) return;
  if (!folded.size && !document.querySelector("#rows .branch[hidden]")) return;
  const hidden = new Set();
  for (const row of document.querySelectorAll("#rows .branch")) {
    const out = hidden.has(row.dataset.parent) || folded.has(row.dataset.parent);
    if (out) hidden.add(row.dataset.key);
    row.hidden = out;
    const button = row.querySelector("button.fold");
    if (button) {
      const closed = folded.has(row.dataset.key);
      button.textContent = closed ? "+" : "–";
      row.setAttribute("aria-expanded", closed ? "false" : "true");
    }
  }
}
function turnFold(key) {
  if (large()) {
    const open = new Set(byId("seen-unfolded").value.split(" ").filter(Boolean));
    if (!open.delete(key)) open.add(key);
    send("GET", bench.dataset.region, { unfolded: [...open].join(" ") }).then(() => byId(`row-${key}`)?.scrollIntoView({ block: "nearest" }));
    return;
  }
  if (!folded.delete(key)) folded.add(key);
  sessionStorage.setItem("folded", JSON.stringify([...folded]));
  fold();
}
document.addEventListener("click", ({ target }) => {
  const button = target.closest("button.fold");
  if (button) turnFold(button.dataset.fold);
});

// ---- lenses, zoom, pan

let zoom = 0; // 0 fits the width
let fitted = null; // the drawing that was last set to it; measuring the room for it again would lay out the page
let dragged = false;
function zoomTo(wanted) {
  zoom = wanted;
  const drawing = byId("drawing");
  fitted = drawing;
  if (!drawing) return;
  const natural = Number(drawing.dataset.width);
  const room = byId("lens-body").clientWidth - 24;
  const least = room < 500 ? 0.85 : 0.6; // on a phone one pans rather than squints
  const scale = zoom || Math.min(Math.max(room / natural, least), 1.15);
  drawing.setAttribute("width", Math.round(natural * scale));
  drawing.setAttribute("height", Math.round(Number(drawing.dataset.height) * scale));
}
const scaleNow = () => Number(byId("drawing")?.getAttribute("width")) / Number(byId("drawing")?.dataset.width);
document.addEventListener("click", ({ target }) => {
  const button = target.closest("[data-zoom]");
  if (button) zoomTo({ in: scaleNow() * 1.25, out: scaleNow() / 1.25, fit: 0 }[button.dataset.zoom]);
});
document.addEventListener("pointerdown", (event) => {
  const drawing = event.target.closest("#drawing");
  if (!drawing || event.button) return;
  const body = byId("lens-body");
  const from = { x: event.clientX + body.scrollLeft, y: event.clientY + body.scrollTop };
  dragged = false;
  const move = (moved) => {
    if (Math.abs(from.x - moved.clientX - body.scrollLeft) + Math.abs(from.y - moved.clientY - body.scrollTop) > 6) dragged = true;
    body.scrollTo(from.x - moved.clientX, from.y - moved.clientY);
  };
  document.addEventListener("pointermove", move);
  document.addEventListener("pointerup", () => {
    document.removeEventListener("pointermove", move);
    setTimeout(() => { dragged = false; });
  }, { once: true });
});
function lens(name, at = seen().at) {
  const address = new URL(location);
  address.searchParams.set("lens", name);
  address.searchParams.set("at", at);
  history.replaceState(null, "", address);
  send("GET", bench.dataset.region, { lens: name, at }).then(() => byId(`tab-${name}`)?.focus({ preventScroll: true }));
}
document.addEventListener("click", (event) => {
  const tab = event.target.closest("[data-lens]");
  if (!tab || event.ctrlKey || event.metaKey) return;
  event.preventDefault();
  lens(tab.dataset.lens);
});

// ---- on a phone the three columns are three sheets

function show(sheet) {
  bench.dataset.sheet = sheet;
  for (const tab of document.querySelectorAll(".phone-tabs a")) tab.setAttribute("aria-current", tab.dataset.sheet === sheet ? "true" : "false");
}
document.addEventListener("click", (event) => {
  const tab = event.target.closest(".phone-tabs a");
  if (!tab) return;
  event.preventDefault();
  show(tab.dataset.sheet);
});

// ---- dialogs

document.addEventListener("click", ({ target }) => {
  const opener = target.closest("[data-dialog]");
  if (opener) {
    opener.closest("details.menu")?.removeAttribute("open");
    byId(opener.dataset.dialog).showModal();
  }
  if (target.closest("[data-close]")) target.closest("dialog")?.close();
});

// ---- a list that is too long is refused here, before it is sent

document.addEventListener("input", ({ target }) => {
  const most = Number(target.dataset.most);
  if (!most) return;
  const over = target.value.length > most;
  byId("list-note").replaceChildren(...(over ? [Object.assign(document.createElement("span"), { className: "wrong", textContent: target.dataset.tooLong.replace("%most", most) })] : []));
  for (const button of target.form.querySelectorAll("button:not([data-close])")) button.disabled = over;
});

// ---- keys

const off = byId("keys-off");
off.checked = localStorage.getItem("keys") === "off";
off.addEventListener("change", () => localStorage.setItem("keys", off.checked ? "off" : "on"));

function go(by, from = here()) {
  const rows = [...document.querySelectorAll("#rows .branch:not([hidden])")];
  const place = rows.findIndex((row) => row.dataset.key === from);
  const next = rows[Math.min(Math.max(place + by, 0), rows.length - 1)];
  if (!next) return;
  next.scrollIntoView({ block: "nearest" });
  byId(`open-${next.dataset.key}`)?.focus({ preventScroll: true });
  choose(next.dataset.key).then(() => byId(`open-${next.dataset.key}`)?.focus({ preventScroll: true }));
}
// The name is changed where it stands: r, or a double click.
function rename(key) {
  const link = byId(`open-${key}`);
  if (!link || !document.querySelector("#walk")) return openLink("load", "input");
  const input = document.createElement("input");
  Object.assign(input, { value: link.textContent, className: "rename", maxLength: 80, id: `rename-${key}` });
  input.setAttribute("aria-label", link.textContent);
  let over = false;
  const done = (keep) => {
    if (over) return;
    over = true; // taking the input away blurs it
    input.replaceWith(link);
    link.focus();
    if (keep && input.value.trim() && input.value !== link.textContent) send("POST", bench.dataset.edit, { path: `nodes/${key}/name`, value: input.value });
  };
  input.addEventListener("keydown", (event) => {
    if (event.key === "Enter" || event.key === "Escape") {
      event.preventDefault();
      done(event.key === "Enter");
    }
  });
  input.addEventListener("blur", () => done(true));
  link.replaceWith(input);
  input.select();
}
document.addEventListener("dblclick", ({ target }) => {
  const row = target.closest("#rows .branch");
  if (row) rename(row.dataset.key);
});
function openLink(link, field) {
  const fold = byId(`link-${link}`);
  fold?.setAttribute("open", "");
  fold?.querySelector(field)?.focus();
}
const ALL = 1e6; // more rows than there are
const WALK = { ArrowDown: () => 1, ArrowUp: () => -1, Home: () => -ALL, End: () => ALL };
const KEYS = {
  "/": () => byId("walk-line")?.focus(),
  j: () => go(1),
  k: () => go(-1),
  J: () => act("down"),
  K: () => act("up"),
  h: () => turnFold(seen().at),
  "[": () => act("leg-before"),
  "]": () => act("leg-after"),
  1: () => lens("path"),
  4: () => lens("schedule"),
  p: () => openLink("device", "input"),
  r: () => rename(seen().at),
  d: () => act("duplicate"),
  "?": () => byId("keys-dialog").showModal(),
};
document.addEventListener("keydown", (event) => {
  const typing = event.target.matches?.("input, select, textarea");
  if (document.querySelector("dialog[open]")) return;
  if ((event.ctrlKey || event.metaKey) && !event.altKey) {
    const turn = typing ? "" : { z: event.shiftKey ? "redo" : "undo", y: "redo" }[event.key.toLowerCase()];
    if (turn && !byId(turn)?.disabled) {
      event.preventDefault();
      send("POST", byId(turn).dataset.turn);
    }
    if (event.key === "p") { // the sheet for paper, not the screen
      event.preventDefault();
      location.assign(bench.dataset.paper);
    }
    return;
  }
  if (event.altKey) return;
  const walked = event.target.closest?.("#tree") && WALK[event.key];
  if (walked && !typing) {
    event.preventDefault();
    go(walked(), event.target.closest(".branch")?.dataset.key);
    return;
  }
  if (!typing && event.key === "Delete" && event.target.closest?.("#tree")) {
    event.preventDefault();
    act("remove");
    return;
  }
  // Letters act from the circuits and the drawing; on a button or a link they would be a surprise.
  const elsewhere = event.target.closest?.("button, a, summary") && !event.target.closest("#tree, #lens");
  if (typing || elsewhere || localStorage.getItem("keys") === "off") return;
  const key = KEYS[event.key];
  if (key) {
    event.preventDefault();
    key();
  }
});

mark();
zoomTo(0);
show(bench.dataset.sheet);
addEventListener("resize", () => zoomTo(zoom));
