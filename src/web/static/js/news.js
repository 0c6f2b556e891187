// Others' changes appear by themselves: every few seconds the page asks whether the job has a newer version, and only
// then for what differs. A page that nobody looks at asks nothing.

import { inTurn, isEmpty, shownVersion, signInAgain } from "./outbox.js";

const EVERY = 5000;
const STAYS = 12000; // [ms] that a word of what another did stays
const byId = (id) => document.getElementById(id);
export const hooks = { fetch: () => {}, mayShow: () => true };

let asking = false;
async function ask() {
  const from = byId("news-from");
  if (document.hidden || asking || !from || !isEmpty()) return;
  asking = true;
  try {
    const response = await fetch(
      `${from.dataset.news}?since=${shownVersion()}&by=${encodeURIComponent(from.dataset.by)}`,
    );
    if (response.status === 200) await news();
    if (response.status === 403) signInAgain(); // the page has been open for very long
  } catch {
    // no network: the next time tells, and what is typed meanwhile waits in the outbox
  } finally {
    asking = false;
  }
}
async function news() {
  if (hooks.mayShow()) await inTurn(() => isEmpty() && hooks.fetch());
  else byId("news-waits")?.removeAttribute("hidden");
}
document.addEventListener("click", ({ target }) => {
  if (!target.closest("#news-show")) return;
  byId("news-waits").setAttribute("hidden", "");
  inTurn(() => hooks.fetch());
});
document.addEventListener("htmx:afterSettle", () => {
  for (const word of document.querySelectorAll("#news .toast:not([data-timed])")) {
    word.dataset.timed = "";
    setTimeout(() => word.remove(), STAYS);
  }
});
setInterval(ask, EVERY);
document.addEventListener("visibilitychange", ask);
