// The strip that lists what waits, and why it does; shown only while something does not go through.

import { byId, words } from "./words.js";

const outbox = byId("outbox");
const summary = outbox?.querySelector(".dropdown-toggle");

// waiting: entries in the order they were made; cause: why the first of them waits; tries: of it so far
export function draw({ waiting, cause, tries }) {
  if (!outbox) return;
  const stuck = waiting.some((each) => each.held || tries > 0 || cause);
  outbox.hidden = !stuck;
  document.body.classList.toggle("unsaved", stuck);
  if (!stuck) return;
  const number = waiting.length;
  const text = words(number === 1 ? "waitsOne" : "waitsMany").replace("%n", number);
  if (summary.textContent !== text) summary.textContent = text;
  byId("outbox-why").textContent = words(
    waiting.find((each) => !each.held) ? cause || "silent" : waiting[0].held,
  );
  byId("outbox-list").replaceChildren(...waiting.map(line));
  byId("outbox-again").hidden = cause === "out";
  byId("outbox-sign-in").hidden = cause !== "out";
}

function line(entry) {
  const item = document.createElement("li");
  const { path = "", value, line: said, text, act } = entry.values;
  const what = path.split("/").slice(2).join(" · ");
  item.textContent =
    `${[what, act].filter(Boolean).join(" ")} ${value ?? said ?? text ?? ""}`.trim().slice(0, 80) ||
    entry.address.split("/").at(-2);
  if (!entry.held) return item;
  const why = Object.assign(document.createElement("em"), { textContent: ` ${words(entry.held)} ` });
  const drop = Object.assign(document.createElement("button"), {
    type: "button",
    className: "btn btn-outline-secondary btn-sm",
    textContent: words("drop"),
  });
  drop.dataset.drop = entry.once;
  item.append(why, drop);
  return item;
}
