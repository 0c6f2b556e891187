// Pieces of the page: put in place one by one, each where it stands, so that its neighbours need not be styled and laid
// out again, and the field that a person is in stays the field that they are in.

const OPENS = "<template data-pieces>";
const ENDS = "</template>";
const THE_PAGES = ["class", "aria-selected", "aria-expanded", "hidden", "open"]; // attributes that are the page's own

export const shownPieces = (within) => [...within.querySelectorAll("[data-is]")].map((piece) => `${piece.id}:${piece.dataset.is}`);

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
  for (const fold of piece.querySelectorAll("details[open][id]")) fresh.querySelector(`#${CSS.escape(fold.id)}`)?.setAttribute("open", "");
  for (const field of piece.querySelectorAll("[data-refused][id]")) keepTyped(field, fresh.querySelector(`#${CSS.escape(field.id)}`));
  become(piece, fresh, document.activeElement);
  htmx.process(piece);
}

// What could not be taken stays as it was typed, to be mended.
function keepTyped(field, fresh) {
  if (!fresh) return;
  fresh.value = field.value;
  fresh.setAttribute("data-refused", "");
}

function become(old, fresh, active) {
  for (const { name, value } of fresh.attributes) if (!THE_PAGES.includes(name)) old.setAttribute(name, value);
  const holds = (node) => node.contains(active);
  const inside = active?.id && old !== active && holds(old) && fresh.querySelector(`#${CSS.escape(active.id)}`);
  if (!inside) {
    old.replaceChildren(...fresh.childNodes);
    return;
  }
  // Everything around what leads to the field is new; the field stays, and with it focus, caret and what is half typed.
  const stays = [...old.childNodes].find(holds);
  const all = [...fresh.childNodes];
  const at = all.findIndex((node) => node.contains(inside));
  for (const node of [...old.childNodes]) if (node !== stays) node.remove();
  stays.before(...all.slice(0, at));
  stays.after(...all.slice(at + 1));
  if (stays === active) stay(active, inside);
  else become(stays, all[at], active);
}

function stay(field, fresh) {
  if (!field.matches("input, select, textarea")) field.replaceChildren(...fresh.childNodes); // a link or a fold keeps but its focus
  const untouched = field.value === (field.dataset.sent ?? field.defaultValue);
  for (const { name, value } of fresh.attributes) if (!THE_PAGES.includes(name)) field.setAttribute(name, value);
  if (untouched && !field.hasAttribute("data-refused") && "value" in field) field.value = fresh.value;
}
