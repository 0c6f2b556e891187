// Fields: sent when left or on Enter, a select at once; what another changed meanwhile is settled here.

import { clicks } from "../does.js";
import { hooks as outbox } from "../outbox.js";
import { here } from "./chosen.js";
import { bench, byId, look, seen, send } from "./page.js";
import { isSwapping } from "./swaps.js";

document.addEventListener("change", ({ target }) => {
  const path = target.dataset?.path;
  if (!path || isSwapping() || !bench.contains(target)) return;
  const values = { path, value: target.value };
  target.dataset.sent = target.value;
  const since = target.dataset.version ?? target.dataset.since;
  if (since) values.version = since;
  delete target.dataset.since;
  const { id } = target;
  send("POST", bench.dataset.edit, values).then((kept) => {
    const field = byId(id);
    field?.toggleAttribute("data-refused", !kept);
    if (kept) field?.removeAttribute("aria-invalid");
    else field?.setAttribute("aria-invalid", "true");
  });
});

// What is refused of a circuit that was left meanwhile is told above the page, with what was typed.
outbox.refused.push(({ values: { path, value } }, text) => {
  if (!path || path.split("/")[1] === here()) return;
  const answer = new DOMParser().parseFromString(text, "text/html");
  const words = answer.querySelector(".wrong")?.textContent.trim();
  if (!words) return;
  const said = Object.assign(document.createElement("span"), {
    className: "wrong",
    textContent: `“${value}”: ${words}`,
  });
  byId("note-general").replaceChildren(said);
});

// Judged by what the page showed when one began to type: another's change that came since is a conflict, not overwritten.
document.addEventListener("input", ({ target }) => {
  if (target.dataset?.path) target.dataset.since ??= seen().version;
});

// A list that is too long is refused here, before it is sent.
document.addEventListener("input", ({ target }) => {
  const most = Number(target.dataset.most);
  if (!most) return;
  const over = target.value.length > most;
  const words = target.dataset.tooLong.replace("%most", most);
  const said = Object.assign(document.createElement("span"), { className: "wrong", textContent: words });
  byId("list-note").replaceChildren(...(over ? [said] : []));
  for (const button of target.form.querySelectorAll("button:not([data-bs-dismiss])")) button.disabled = over;
});

clicks({
  mine({ dataset }) {
    const input = byId(dataset.mine) ?? byId(dataset.mine.replace(/^f/, "c")); // in the chain, or the schedule
    send("POST", bench.dataset.edit, {
      path: input.dataset.path,
      value: input.value,
      version: dataset.version,
    });
  },
  theirs() {
    for (const field of bench.querySelectorAll("[data-refused]")) field.removeAttribute("data-refused");
    look({ shown: "" });
  },
  unsay: () => byId("note-general").replaceChildren(),
  pin({ dataset: { pin: key, device, size, sets, material } }) {
    send("POST", bench.dataset.edit.replace(/edit\/$/, "pin/"), { key, device, size, sets, material });
  },
});
