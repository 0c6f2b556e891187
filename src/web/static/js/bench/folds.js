// Folding of what a board feeds: in the page, or of a large job on the server, which does not send what is folded.

import { clicks } from "../does.js";
import { byId, look } from "./page.js";
import { settled } from "./swaps.js";

const folded = new Set(JSON.parse(sessionStorage.getItem("folded") ?? "[]"));
const large = () => byId("seen-unfolded").hasAttribute("data-folds");

function fold() {
  if (large()) return;
  if (!folded.size && !document.querySelector("#rows .branch[hidden]")) return;
  const hidden = new Set();
  for (const row of document.querySelectorAll("#rows .branch")) {
    const out = hidden.has(row.dataset.parent) || folded.has(row.dataset.parent);
    if (out) hidden.add(row.dataset.key);
    row.hidden = out;
    const button = row.querySelector("button.fold");
    if (!button) continue;
    const closed = folded.has(row.dataset.key);
    button.textContent = closed ? "+" : "–";
    row.setAttribute("aria-expanded", closed ? "false" : "true");
  }
}
settled.push(fold);

export function turnFold(key) {
  if (large()) {
    const open = new Set(byId("seen-unfolded").value.split(" ").filter(Boolean));
    if (!open.delete(key)) open.add(key);
    look({ unfolded: [...open].join(" ") }).then(() =>
      byId(`row-${key}`)?.scrollIntoView({ block: "nearest" }),
    );
    return;
  }
  if (!folded.delete(key)) folded.add(key);
  sessionStorage.setItem("folded", JSON.stringify([...folded]));
  fold();
}
clicks({ fold: ({ dataset }) => turnFold(dataset.fold) });
fold();
