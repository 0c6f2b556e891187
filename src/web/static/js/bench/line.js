// The walk-through line: understood while it is typed, said otherwise by a touch, empty again once its load is there.

import { clicks } from "../does.js";
import { hooks as outbox } from "../outbox.js";
import { byId } from "./page.js";

const line = byId("walk-line");

// What was typed before this page was ready is understood too.
document.addEventListener(
  "htmx:load",
  () => {
    byId("walk-enter")?.removeAttribute("disabled");
    if (line?.value) htmx.trigger("#walk-line", "early");
  },
  { once: true },
);

// What was assumed is said otherwise by a touch on it, or by the arrow down: the line then says so in words.
function sayInstead(words) {
  line.value = words;
  line.focus();
  htmx.trigger(line, "early");
}
export function sayLine(words) {
  if (line) sayInstead(words);
}
line?.addEventListener("keydown", (event) => {
  if (event.key === "Escape") line.blur();
  if (event.key === "/" && !line.value) {
    // twice: to find, not to add
    event.preventDefault();
    byId("find").focus();
  }
  const other = event.key === "ArrowDown" && document.querySelector("#walk-said [data-say]");
  if (!other) return;
  event.preventDefault();
  sayInstead(other.dataset.say);
});
clicks({ say: ({ dataset }) => sayInstead(dataset.say) });

outbox.kept = ({ values, source }) => {
  if (source !== "walk" || line.value.trim() !== values.line.trim()) return;
  byId("walk").reset();
  byId("walk-said").textContent = "";
};
// One that cannot be sent waits in the outbox, and makes room for the next; one that is refused comes back to be mended.
outbox.waits = outbox.kept;
outbox.refused.push(({ values, source }) => {
  if (source === "walk" && !line.value) line.value = values.line;
});
