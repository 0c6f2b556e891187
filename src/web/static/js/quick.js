// A quick sheet: its link and text copied, a choice in the drawing taken over, what is kept sent with its inputs.

import { clicks } from "./does.js";

const asked = () => document.getElementById("asks");
const address = () => document.getElementById("answer")?.dataset.address ?? "";

const said = (button, words) => {
  const before = button.textContent;
  button.textContent = words;
  setTimeout(() => (button.textContent = before), 1200);
};

clicks({
  copyLink(button) {
    navigator.clipboard
      .writeText(`${location.origin}${location.pathname}?${address()}`)
      .then(() => said(button, "✓"));
  },
  // On a phone the answer stands first; what was asked unfolds above it.
  unfold() {
    document.getElementById("quick").classList.remove("answer-first");
    asked().querySelector("input:not([type=radio]), select")?.focus();
  },
  copyText(button) {
    const from = document.querySelector("#take-out [data-as=text]").href;
    fetch(from)
      .then((answer) => answer.text())
      .then((words) => navigator.clipboard.writeText(words))
      .then(() => said(button, "✓"));
  },
  // A figure in the drawing that was asked for: its field at the left.
  toField({ dataset }) {
    const field = asked().elements[dataset.field];
    field?.closest("details")?.setAttribute("open", "");
    field?.focus();
    field?.select?.();
  },
  // `data-set="device_kind=dual_element_fuse"`: as if the person had chosen it at the left.
  set(row) {
    const [place, value] = row.dataset.set.split("=");
    const field = asked().elements[place];
    if (!field) return;
    field.value = value;
    if (field.form && place === "book") return field.dispatchEvent(new Event("change", { bubbles: true }));
    const set = field instanceof RadioNodeList ? [...field].find((each) => each.checked) : field;
    set?.dispatchEvent(new Event("input", { bubbles: true }));
  },
});

document.addEventListener("keydown", (event) => {
  const row = event.target.closest?.("[data-set]");
  if (!row || (event.key !== "Enter" && event.key !== " ")) return;
  event.preventDefault();
  row.dispatchEvent(new MouseEvent("click", { bubbles: true }));
});

// What an answer says at the fields comes as one piece, and is put where it belongs.
document.addEventListener("htmx:oobAfterSwap", ({ detail }) => {
  if (detail.target.id !== "said") return;
  for (const [id, words] of Object.entries(JSON.parse(document.getElementById("said").dataset.said))) {
    const place = document.getElementById(id);
    // There is no last good answer on a sheet that never had one.
    const said = id === "stale" && document.querySelector("#answer .unasked") ? "" : words;
    if (!place || place.textContent === said) continue;
    place.textContent = said;
    if (id.startsWith("e-")) said ? place.setAttribute("role", "alert") : place.removeAttribute("role");
    if (id === "stale") place.toggleAttribute("data-wrong", said !== "");
  }
});

// What other inputs hang on asks for all of them anew; the answer alone would not do.
document.addEventListener(
  "input",
  (event) => event.target.matches?.("[data-decides]") && event.stopPropagation(),
  true,
);

// What a person types while the inputs are drawn anew is typed into the new ones.
const typed = () =>
  new Map(
    [...asked().elements]
      .filter((each) => each.name && each.type !== "radio")
      .map((each) => [each.name, each.value]),
  );
let sent = null;
let since = [];
document.addEventListener(
  "htmx:beforeRequest",
  ({ detail }) => detail.target.id === "quick" && (sent = typed()),
);
document.addEventListener("htmx:beforeSwap", ({ detail }) => {
  if (detail.target.id === "quick" && sent)
    since = [...typed()].filter(([name, value]) => sent.has(name) && sent.get(name) !== value);
});
document.addEventListener("htmx:afterSettle", () => {
  for (const [name, value] of since.splice(0)) {
    const field = asked()?.elements[name];
    if (!field) continue;
    field.value = value;
    field.dispatchEvent(new Event("input", { bubbles: true }));
  }
});

// A sheet of which nothing was asked yet waits at its first field; on a phone its keys would hide the question.
if (document.querySelector("#answer .unasked") && matchMedia("(pointer: fine)").matches)
  asked().querySelector("input:not([type=radio])")?.focus();

// Links out of the sheet follow what is asked.
const follow = () => {
  for (const link of document.querySelectorAll("#take-out [data-as]")) link.search = address();
};
document.addEventListener("htmx:afterSettle", follow);

// A form beside the sheet takes the inputs along.
document.addEventListener("submit", ({ target }) => {
  if (!target.matches("[data-with-asks]")) return;
  target.querySelectorAll("[data-taken]").forEach((each) => each.remove());
  for (const [name, value] of new URLSearchParams(address())) {
    const field = Object.assign(document.createElement("input"), { type: "hidden", name, value });
    field.dataset.taken = "";
    target.append(field);
  }
});
