// The chosen node: marked in the circuits, the drawing and the schedule; chosen by a touch or a key.

import { bench, byId, freshen, isNarrow, isStillAt, look, remember, seen } from "./page.js";
import { pick, show as showPicked } from "./picked.js";
import { settled } from "./swaps.js";

let shown = byId("seen-at").value;
let aimed = ""; // what was asked for and is not shown yet: keys go on from there
export const here = () => aimed || seen().at;
// Where keys go on from: what was asked for last, else the row that has the focus.
export const from = (row) => aimed || row?.dataset.key || here();

const DRAWN = "#lens-body :is(.g, tr)";

function mark() {
  const at = byId("seen-at")?.value;
  if (at === aimed) aimed = "";
  for (const row of document.querySelectorAll("#rows .branch[aria-current]"))
    row.removeAttribute("aria-current");
  byId(`row-${at}`)?.setAttribute("aria-current", "true");
  for (const each of document.querySelectorAll(`${DRAWN}.chosen`)) each.classList.remove("chosen");
  for (const each of document.querySelectorAll(`${DRAWN}[data-node="${CSS.escape(at)}"]`))
    each.classList.add("chosen");
  // What is told in a block of its board is chosen there.
  const block = byId(`g-${byId(`row-${at}`)?.dataset.parent}-small`);
  if (block && !document.querySelector("#drawing .g.chosen")) block.classList.add("chosen");
  if (at !== shown)
    document
      .querySelector("#drawing .g.chosen .s-name")
      ?.scrollIntoView({ block: "nearest", inline: "nearest" });
  shown = at;
  showPicked();
}
settled.push(mark);

export function choose(key, sheet = "") {
  const refused = key !== here() && document.querySelector("#chain [data-refused]");
  if (refused && !confirm(bench.dataset.sayRefused.replace("%value", refused.value))) {
    refused.focus();
    return Promise.resolve();
  }
  remember({ at: key });
  if (sheet) pane(sheet);
  aimed = key;
  return look({ at: key });
}

// On a phone the three columns are three panes.
export function pane(name) {
  bench.dataset.sheet = name;
  for (const tab of document.querySelectorAll(".phone-tabs a"))
    tab.setAttribute("aria-current", tab.dataset.sheet === name ? "true" : "false");
  if (name === "middle") freshen();
}

// With Ctrl or Shift several are taken together; else the one is shown.
export function chooseBy(event, key, sheet = isNarrow() ? "right" : "") {
  if (event.ctrlKey || event.metaKey || event.shiftKey) {
    event.preventDefault();
    pick(key, event.shiftKey ? "to" : "also", here());
    return;
  }
  pick("", "none");
  choose(key, sheet);
}

export const rows = () => [...document.querySelectorAll("#rows .branch:not([hidden])")];

// To the next row, or further; with Shift what is passed is taken too.
export function go(by, start = here(), alsoTake = false) {
  const all = rows();
  const place = all.findIndex((row) => row.dataset.key === start);
  const next = all[Math.min(Math.max(place + by, 0), all.length - 1)];
  if (!next) return;
  const { key } = next.dataset;
  if (alsoTake) pick(key, "to", here());
  else pick("", "none");
  next.scrollIntoView({ block: "nearest" });
  const focus = () => byId(`open-${key}`)?.focus({ preventScroll: true });
  focus();
  // Unless a key went further meanwhile, or the person went elsewhere.
  if (!alsoTake) choose(key).then(() => here() === key && isStillAt(null, "#rows") && focus());
}

mark();
pane(bench.dataset.sheet);
