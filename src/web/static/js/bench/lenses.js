// The lenses in the middle: one is shown at a time, and only that one is sent.

import { clicks } from "../does.js";
import { byId, isStillAt, look, remember, seen } from "./page.js";

export function lens(name, at = seen().at) {
  const from = document.activeElement;
  remember({ lens: name, at });
  return look({ lens: name, at }).then(() => {
    // Whoever went on meanwhile, to type a load, stays there: a late answer takes no keys away.
    if (isStillAt(from, "[role=tablist]")) byId(`tab-${name}`)?.focus({ preventScroll: true });
  });
}
// By its key on the keyboard.
export function lensOf(key) {
  const tab = document.querySelector(`#lens [role="tab"][data-key="${CSS.escape(key)}"]`);
  if (tab) lens(tab.dataset.lens);
  return Boolean(tab);
}
clicks({
  lens(tab, event) {
    if (event.ctrlKey || event.metaKey) return; // another page of the browser
    event.preventDefault();
    lens(tab.dataset.lens);
  },
});
