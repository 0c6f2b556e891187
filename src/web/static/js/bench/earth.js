// The Earth lens: a part that is touched is marked in drawing and list, and its rule opens in the chain.

import { clicks } from "../does.js";
import { openLink } from "./acts.js";
import { choose } from "./chosen.js";
import { byId } from "./page.js";
import { settled } from "./swaps.js";

let touched = "";
function mark() {
  for (const each of document.querySelectorAll("#earth [data-part]")) each.classList.toggle("touched", each.dataset.part === touched);
}
settled.push(mark);

function touch({ dataset }) {
  touched = dataset.part;
  mark();
  return choose(dataset.nodeOf).then(() => openLink(dataset.link, "summary"));
}
// What a second bond would do is shown, never saved.
function second(button) {
  const shown = button.getAttribute("aria-pressed") !== "true";
  button.setAttribute("aria-pressed", shown);
  for (const each of document.querySelectorAll(`#earth :is(g, p)[data-second="${CSS.escape(button.dataset.second)}"]`)) each.toggleAttribute("hidden", !shown);
}
clicks({ part: touch, second });
