// The Earth lens: a part that is touched is marked in drawing and list, and its rule opens in the chain.

import { clicks } from "../does.js";
import { openLink } from "./acts.js";
import { choose } from "./chosen.js";
import { settled } from "./swaps.js";

let touched = "";
// The fault loop that a touched part belongs to is lit with it.
function mark() {
  const loop = document.querySelector(`#earth [data-part="${CSS.escape(touched)}"]`)?.dataset.loop;
  for (const each of document.querySelectorAll("#earth [data-part]")) {
    each.classList.toggle("touched", each.dataset.part === touched);
    each.classList.toggle("in-loop", Boolean(loop) && each.dataset.loop === loop);
  }
  document.querySelector("#earth .loop-said")?.toggleAttribute("hidden", !loop);
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
  for (const each of document.querySelectorAll(
    `#earth :is(g, p)[data-second="${CSS.escape(button.dataset.second)}"]`,
  ))
    each.toggleAttribute("hidden", !shown);
}
clicks({ part: touch, second });
