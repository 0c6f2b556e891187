// Copy and paste between boards and jobs: nodes as text of the open file; a pasted table goes to the list of loads.

import { clicks } from "../does.js";
import { here } from "./chosen.js";
import { act } from "./acts.js";
import { bench, byId, mayEdit, seen, send } from "./page.js";
import { sayLine } from "./line.js";
import { pickedKeys } from "./picked.js";

const MOST = 900_000; // letters

async function put(text) {
  try {
    await navigator.clipboard.writeText(text);
  } catch {
    // not over plain http from elsewhere: the older way
    const area = Object.assign(document.createElement("textarea"), {
      value: text,
      className: "visually-hidden",
    });
    document.body.append(area);
    area.select();
    document.execCommand("copy");
    area.remove();
  }
}
export async function copy(as = "json") {
  const keys = pickedKeys().length ? pickedKeys() : [here()];
  const address = `${bench.dataset.nodes}?as=${as}&keys=${encodeURIComponent(keys.join(" "))}`;
  const response = await fetch(address);
  if (!response.ok) return false;
  await put(await response.text());
  tell(bench.dataset.sayCopied.replace("%n", keys.length));
  return true;
}
function tell(words) {
  const note = byId("done");
  note.textContent = words;
}
export function take(text) {
  const said = text.trim();
  if (!said || !mayEdit()) return;
  if (said.length <= MOST && /^[{[]/.test(said))
    send("POST", bench.dataset.paste, { text: said, at: seen().at });
  else if (said.includes("\n")) {
    bootstrap.Modal.getOrCreateInstance(byId("list-dialog")).show();
    byId("list-form").elements.text.value = said;
    byId("list-form").elements.text.dispatchEvent(new Event("input", { bubbles: true }));
    htmx.trigger("#list-form", "submit");
  } else sayLine(said);
}
const isTyping = (target) => target.matches?.("input, select, textarea");
document.addEventListener("paste", (event) => {
  if (isTyping(event.target) || document.querySelector(".modal.show")) return;
  event.preventDefault();
  take(event.clipboardData?.getData("text/plain") ?? "");
});
document.addEventListener("copy", (event) => {
  if (isTyping(event.target) || String(getSelection())) return; // words that are marked are copied as ever
  event.preventDefault();
  copy();
});
document.addEventListener("cut", (event) => {
  if (isTyping(event.target) || String(getSelection()) || !mayEdit()) return;
  event.preventDefault();
  copy().then((done) => done && act("remove"));
});
clicks({
  copy: ({ dataset }) => copy(dataset.as),
  paste: () =>
    navigator.clipboard?.readText().then(take, () => tell(bench.dataset.sayPaste)) ??
    tell(bench.dataset.sayPaste),
});
