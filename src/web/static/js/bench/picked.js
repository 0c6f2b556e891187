// Several nodes taken together: marked in the circuits and the schedule, with what can be done to all of them.

import { byId } from "./page.js";

const picked = new Set();
let anchor = "";

export const pickedKeys = () => [...picked];

const inSight = () =>
  [...document.querySelectorAll("#rows .branch:not([hidden])")].map((row) => row.dataset.key);

const parentOf = (key) => byId(`row-${key}`)?.dataset.parent;

// how: "also" takes or lets go one, "to" everything up to it, "these" a list, "none" lets all go.
export function pick(key, how, from = "") {
  if (how === "none") picked.clear();
  if (how === "these") key.forEach((each) => picked.add(each));
  if (how === "also") {
    // The one that is shown is meant too where it is a neighbour; what feeds them is not.
    if (!picked.size && from && from !== key && parentOf(from) === parentOf(key)) picked.add(from);
    if (!picked.delete(key)) picked.add(key);
    anchor = key;
  }
  if (how === "to") {
    const all = inSight();
    anchor = picked.size && anchor ? anchor : from;
    const [low, high] = [all.indexOf(anchor), all.indexOf(key)].sort((a, b) => a - b);
    picked.clear();
    all.slice(Math.max(low, 0), high + 1).forEach((each) => picked.add(each));
  }
  if (how === "none") anchor = "";
  show();
}

export function show() {
  for (const key of picked) if (!byId(`row-${key}`)) picked.delete(key); // gone, or in a folded board
  // Only what changes is touched: a path may be long.
  const current = document.querySelector("#rows .branch[aria-current]")?.dataset.key;
  const wanted = picked.size ? picked : new Set([current]);
  for (const row of document.querySelectorAll('#rows .branch[aria-selected="true"]')) {
    if (!wanted.has(row.dataset.key)) row.setAttribute("aria-selected", "false");
  }
  for (const key of wanted) byId(`row-${key}`)?.setAttribute("aria-selected", "true");
  for (const line of document.querySelectorAll("tr.picked"))
    if (!picked.has(line.dataset.node)) line.classList.remove("picked");
  for (const key of picked) byId(`way-${key}`)?.classList.add("picked");
  const bar = byId("many");
  if (!bar) return;
  bar.hidden = !picked.size;
  bar.querySelector("[data-count]").textContent = picked.size;
  if (!picked.size) return;
  // Where they can be moved or copied to: what feeds others, by the rows that are there.
  const feeds = [...document.querySelectorAll("#rows .branch")].filter((row) =>
    ["source", "board", "transformer"].includes(row.dataset.kind),
  );
  const options = feeds.map(
    (row) => new Option(row.querySelector(".row-name")?.textContent ?? "", row.dataset.key),
  );
  const to = byId("many-to");
  const chosen = to.value; // what a person chose stays, whatever is drawn anew meanwhile
  to.replaceChildren(...options);
  if (options.some((each) => each.value === chosen)) to.value = chosen;
}
