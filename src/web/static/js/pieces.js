// Pieces of the page: put in place one by one, each where it stands, so that its neighbours need not be styled and laid
// out again, and the field that a person is in stays the field that they are in.

import { Idiomorph } from "../vendor/idiomorph/idiomorph.esm.js";

const OPENS = "<template data-pieces>";
const ENDS = "</template>";
// Attributes that are the page's own.
const THE_PAGES = [
  "class",
  "aria-current",
  "aria-selected",
  "aria-expanded",
  "hidden",
  "open",
  "data-since",
  "data-sent",
  "data-refused",
  "aria-invalid",
];

// What lies folded, of which the server sent the first line alone; once it is unfolded, it is asked for.
const LATER = ":scope > details[data-later]";

export const shownPieces = (within) =>
  [...within.querySelectorAll("[data-is]")]
    .filter((piece) => !piece.querySelector(`${LATER}[open]`))
    .map((piece) => `${piece.id}:${piece.dataset.is}`);

// Puts in place the pieces of a response, and returns the response without them.
export function takePieces(text) {
  const from = text.indexOf(OPENS);
  if (from < 0) return text;
  const end = text.indexOf(ENDS, from);
  const made = document.createElement("template");
  made.innerHTML = text.slice(from + OPENS.length, end);
  for (const fresh of document.importNode(made.content, true).querySelectorAll("[data-is]")) put(fresh);
  return text.slice(0, from) + text.slice(end + ENDS.length);
}

function put(fresh) {
  const piece = document.getElementById(fresh.id);
  if (!piece) return;
  if (fresh.querySelector(LATER)) {
    firstLine(piece, fresh);
    return;
  }
  for (const fold of piece.querySelectorAll("details[open][id]"))
    fresh.querySelector(`#${CSS.escape(fold.id)}`)?.setAttribute("open", "");
  for (const field of piece.querySelectorAll("[data-refused][id]")) keepTyped(piece, fresh, field.id);
  become(piece, fresh, document.activeElement);
  htmx.process(piece);
}

// Of a folded link the line that is seen is put in place; what lies under it is marked as of before.
function firstLine(piece, fresh) {
  copyAttributes(piece, fresh);
  piece.firstElementChild.replaceWith(fresh.firstElementChild);
  const [mine, theirs] = [piece, fresh].map((each) => each.querySelector(":scope > details"));
  mine.querySelector("summary").replaceChildren(...theirs.querySelector("summary").childNodes);
  mine.dataset.later = theirs.dataset.later;
  if (mine.open) mine.dispatchEvent(new Event("toggle")); // unfolded meanwhile
}

// What could not be taken stays as it was typed, to be mended, and what is wrong with it stays beside it.
function keepTyped(piece, fresh, id) {
  const [mine, theirs] = [piece, fresh].map((each) => each.querySelector(`#${CSS.escape(id)}`));
  if (!theirs) return;
  theirs.value = mine.value;
  theirs.setAttribute("data-refused", "");
  theirs.setAttribute("aria-invalid", "true");
  const note = `#${CSS.escape(theirs.getAttribute("aria-describedby") ?? "none")}`;
  const said = piece.querySelector(note)?.childNodes ?? [];
  if (said.length) fresh.querySelector(note)?.replaceChildren(...said);
}

function become(old, fresh, active) {
  const inside =
    active?.id && old !== active && old.contains(active) && fresh.querySelector(`#${CSS.escape(active.id)}`);
  if (inside) {
    // Everything around the field is new; the field stays, and with it focus, caret and what is half typed.
    const isField = active.matches("input, select, textarea");
    const untouched =
      active.value === (active.dataset.sent ?? active.defaultValue) && !active.hasAttribute("data-refused");
    const { value } = inside; // the morph takes what is fresh apart
    Idiomorph.morph(old, fresh, {
      ignoreActiveValue: isField,
      callbacks: { beforeAttributeUpdated: isNotThePages },
    });
    if (isField && untouched) active.value = value;
    return;
  }
  copyAttributes(old, fresh);
  old.replaceChildren(...fresh.childNodes);
}
function copyAttributes(old, fresh) {
  for (const { name, value } of fresh.attributes)
    if (!THE_PAGES.includes(name)) old.setAttribute(name, value);
}
const isNotThePages = (name) => !THE_PAGES.includes(name);
