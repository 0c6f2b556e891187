// One table of keys. Letters act from the circuits and the drawing, never from a field or a button, and can be off.

import { clicks } from "../does.js";
import { act, openLink, rename } from "./acts.js";
import { chooseBy, from, go, here, pane, rows } from "./chosen.js";
import { walkDrawing } from "./drawing.js";
import { turnFold } from "./folds.js";
import { lensOf } from "./lenses.js";
import { bench, byId, isPhone, seen, send } from "./page.js";
import { pick, pickedKeys } from "./picked.js";

const off = byId("keys-off");
off.checked = localStorage.getItem("keys") === "off";
off.addEventListener("change", () => localStorage.setItem("keys", off.checked ? "off" : "on"));

const ALL = 1e6; // more rows than there are
const WALK = { ArrowDown: 1, ArrowUp: -1, Home: -ALL, End: ALL };
const LETTERS = {
  "/": () => (byId("walk-line") ?? byId("find")).focus(),
  f: () => byId("find").focus(),
  j: () => go(1),
  k: () => go(-1),
  J: () => act("down"),
  K: () => act("up"),
  h: () => turnFold(seen().at),
  "[": () => act("leg-before"),
  "]": () => act("leg-after"),
  p: () => openLink("device", "input"),
  r: () => rename(seen().at),
  d: () => act("duplicate"),
  Delete: () => act("remove"),
  "?": () => bootstrap.Modal.getOrCreateInstance(byId("keys-dialog")).show(),
};
const turn = (id) => () => byId(id)?.disabled || send("POST", byId(id).dataset.turn);
// With Ctrl, or with the key that stands for it.
const WITH_CTRL = {
  z: (event) => turn(event.shiftKey ? "redo" : "undo")(),
  y: turn("redo"),
  a: (event) => Boolean(event.target.closest?.("#tree")) && takeSiblings(),
};

function takeSiblings() {
  const parent = byId(`row-${here()}`)?.dataset.parent;
  pick(
    rows()
      .filter((row) => row.dataset.parent === parent)
      .map((row) => row.dataset.key),
    "these",
  );
}
function fromTree(event) {
  const row = event.target.closest(".branch");
  if (event.key in WALK) go(WALK[event.key], event.shiftKey ? row?.dataset.key : from(row), event.shiftKey);
  else if (event.key === "Delete") act("remove", pickedKeys().length ? {} : { key: from(row) });
  else if (event.key === "Escape") pick("", "none");
  else if (event.key === "ArrowRight" && row?.getAttribute("aria-expanded") === "false")
    turnFold(row.dataset.key);
  else if (event.key === "ArrowLeft" && row?.getAttribute("aria-expanded") === "true")
    turnFold(row.dataset.key);
  else return false;
  return true;
}
const isTyping = (target) => target.matches?.("input, select, textarea");

document.addEventListener("keydown", (event) => {
  if (document.querySelector(".modal.show")) return;
  if ((event.ctrlKey || event.metaKey) && !event.altKey) {
    const key = event.key.toLowerCase();
    if (key === "p") {
      // the sheet for paper, not the screen
      event.preventDefault();
      location.assign(bench.dataset.paper);
    } else if (WITH_CTRL[key] && !isTyping(event.target) && WITH_CTRL[key](event) !== false)
      event.preventDefault();
    return;
  }
  if (event.altKey || isTyping(event.target)) return;
  if (event.target.closest?.("#tree") && fromTree(event)) event.preventDefault();
  else if (event.target.closest?.("#lens-body") && byId("drawing") && walkDrawing(event.key))
    event.preventDefault();
  else if (!event.target.closest?.("button, a, summary") || event.target.closest("#tree, #lens"))
    letter(event);
});
function letter(event) {
  if (localStorage.getItem("keys") === "off") return;
  if (LETTERS[event.key]) LETTERS[event.key]();
  else if (!/^\d$/.test(event.key) || !lensOf(event.key)) return;
  event.preventDefault();
}

clicks({
  open: (link, event) => {
    if (!event.ctrlKey && !event.metaKey && !event.shiftKey) event.preventDefault();
    if (isPhone()) bootstrap.Offcanvas.getInstance(byId("findings"))?.hide();
    chooseBy(event, link.dataset.open);
  },
  row: (row, event) => chooseBy(event, row.dataset.key),
  way: (line, event) => chooseBy(event, line.dataset.node, ""),
  drawer: () => pane(bench.dataset.sheet === "right" ? "left" : "right"),
  pane(tab, event) {
    event.preventDefault();
    pane(tab.dataset.sheet);
  },
});
