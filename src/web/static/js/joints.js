// Joints made on the drawing: two terminals that are picked are joined, or parted; the mark of a coil turns it round.

import { clicks } from "./does.js";

let held = ""; // the terminal picked first
let back = ""; // where the keyboard stands while the drawing is drawn anew

const field = (name) => document.querySelector(`#asks [name="${name}"]`);
const drawn = () => document.querySelector("[data-joints]");
const split = (text) =>
  text
    .split(";")
    .map((each) => each.trim())
    .filter((each) => each && each !== "none");

function set(name, value) {
  const input = field(name);
  input.value = value;
  input.dispatchEvent(new Event("input", { bubbles: true }));
}

function shown() {
  const said = document.querySelector(".joining-said");
  if (!said) return;
  said.textContent = held ? `${held} ${said.dataset.held}` : said.dataset.free;
  for (const each of document.querySelectorAll("[data-do=terminal]"))
    each.setAttribute("aria-pressed", each.dataset.name === held);
}

// What is typed counts, also where no answer came of it; else what the drawing shows.
const joints = () => split(field("joints").value || drawn().dataset.joints);

clicks({
  terminal({ dataset }) {
    const one = held;
    held = held ? "" : dataset.name;
    if (one && one !== dataset.name) {
      const now = joints();
      const kept = now.filter(
        (each) => ![`${one}-${dataset.name}`, `${dataset.name}-${one}`].includes(each.replaceAll(" ", "")),
      );
      if (kept.length === now.length) kept.push(`${one}-${dataset.name}`);
      set("joints", kept.join("; ") || "none");
    }
    shown();
  },
  turnCoil({ dataset }) {
    const now = split(field("turned").value);
    set(
      "turned",
      (now.includes(dataset.name)
        ? now.filter((each) => each !== dataset.name)
        : [...now, dataset.name]
      ).join("; "),
    );
  },
  ownJoints() {
    field("turned").value = "";
    set("joints", "");
  },
});

document.addEventListener("keydown", (event) => {
  if (event.key === "Escape" && held) {
    held = "";
    shown();
  }
  if (!["Enter", " "].includes(event.key) || !event.target.matches("g[data-do]")) return;
  event.preventDefault();
  event.target.dispatchEvent(new MouseEvent("click", { bubbles: true }));
});
document.addEventListener("htmx:beforeSwap", () => {
  const at = document.activeElement?.closest?.("g[data-do]");
  back = at ? `g[data-do=${at.dataset.do}][data-name="${CSS.escape(at.dataset.name)}"]` : "";
});
document.addEventListener("htmx:afterSwap", () => {
  // in one go with the swap: no key falls between
  if (back) document.querySelector(back)?.focus();
  shown();
});
shown();
