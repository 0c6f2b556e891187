// What a swap must not lose: focus, what is half typed; and what it changed, marked.

import { takePieces } from "../pieces.js";
import { byId } from "./page.js";

export const settled = []; // what else is set right after a swap

let kept = null;
let wanted = "";
let swapping = false; // a field that is swapped while something is half typed in it says it has changed: it has not
let before = { key: "", values: new Map() };
export const isSwapping = () => swapping;

function values() {
  const map = new Map();
  for (const link of document.querySelectorAll("#chain details[id]"))
    map.set(link.id, link.querySelector(".link-value")?.textContent.trim());
  return map;
}
const isHalfTyped = (field) =>
  field.matches("input:not([type=hidden], [type=checkbox], [type=radio]), textarea") &&
  field.value !== field.dataset.sent;

document.addEventListener("htmx:beforeSwap", ({ detail }) => {
  const active = document.activeElement;
  kept = null;
  if (active?.id) {
    const typed = isHalfTyped(active) ? active.value : null;
    kept = { id: active.id, typed, from: active.defaultValue, caret: active.selectionStart };
  }
  before = { key: byId("chain")?.dataset.key, values: values() };
  const text = detail.serverResponse ?? "";
  wanted = text.match(/data-focus="([^"]+)"/)?.[1] ?? "";
  swapping = true;
  detail.serverResponse = takePieces(text);
});

function markChanged() {
  const chain = byId("chain");
  if (chain && chain.dataset.key === before.key && before.values.size) {
    for (const [id, value] of values()) {
      if (before.values.get(id) !== value) byId(id)?.closest(".link").classList.add("changed");
    }
  }
  before = { key: "", values: new Map() };
}

function focusAgain() {
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
  if (!detail.successful) return;
  markChanged();
  for (const set of settled) set();
  focusAgain();
});

const unmark = ({ target }) => target.closest?.(".link.changed")?.classList.remove("changed");
document.addEventListener("pointerover", unmark);
document.addEventListener("click", unmark);
