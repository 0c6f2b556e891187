// Finding by words: names, clauses, findings, sizes. What is found can be gone through by the arrows, or taken together.

import { clicks } from "../does.js";
import { choose } from "./chosen.js";
import { byId, isNarrow } from "./page.js";
import { pick } from "./picked.js";

const box = byId("find");
const found = () => [...document.querySelectorAll("#found [data-key]")];

function close() {
  box.value = "";
  byId("found").replaceChildren();
}
box.addEventListener("keydown", (event) => {
  if (event.key === "Escape") {
    close();
    box.blur();
  }
  if (event.key === "ArrowDown") {
    event.preventDefault();
    found()[0]?.focus();
  }
  if (event.key === "Enter") {
    event.preventDefault();
    // What is typed may not have been looked for yet: the first that is found is opened once it is there.
    wanted = box.value;
    if (box.value.trim() === asked) open();
  }
});
let wanted = ""; // what is to be opened when it is found
let asked = ""; // what is shown as found
function open() {
  wanted = "";
  const [first] = found();
  if (!first) return;
  const { key } = first.dataset;
  close();
  box.blur();
  choose(key, isNarrow() ? "right" : "").then(() => byId(`open-${key}`)?.focus({ preventScroll: true }));
}
document.addEventListener("htmx:afterSwap", ({ target }) => {
  if (target.id !== "found") return;
  asked = box.value.trim();
  if (wanted && wanted.trim() === asked) open();
});
box.addEventListener("input", () => box.value.trim() || byId("found").replaceChildren());
document.addEventListener("keydown", (event) => {
  const at = found().indexOf(event.target);
  if (at < 0) return;
  if (event.key === "ArrowDown" || event.key === "ArrowUp") {
    event.preventDefault();
    (found()[at + (event.key === "ArrowDown" ? 1 : -1)] ?? box).focus();
  }
  if (event.key === "Escape") {
    close();
    box.focus();
  }
});
clicks({
  found: ({ dataset }) => choose(dataset.key, isNarrow() ? "right" : ""),
  foundall() {
    const keys = found().map((each) => each.dataset.key);
    close();
    pick(keys, "these");
  },
});
