// The page's own behaviour: what stays open over a swap, keys, focus, the person's time zone.

import { clicks } from "./does.js";
import "./early.js";

const zone = Intl.DateTimeFormat().resolvedOptions().timeZone;
document.cookie = `zone=${zone}; path=/; max-age=31536000; samesite=lax`;

// Folds that the person opened stay open when their region is drawn anew.
let open = new Set();
document.addEventListener("htmx:beforeSwap", () => {
  open = new Set([...document.querySelectorAll("details[open][id]")].map((fold) => fold.id));
});
document.addEventListener("htmx:afterSettle", () => {
  for (const id of open) document.getElementById(id)?.setAttribute("open", "");
  const wanted = document.querySelector("[data-focus]");
  if (wanted) {
    document.getElementById(wanted.dataset.focus)?.focus();
    wanted.remove();
  }
});

// A value still waiting to be sent goes at once when the person leaves the field; one already sent does not go twice.
document.addEventListener("htmx:configRequest", ({ target }) => {
  if (target.matches("input")) target.dataset.sent = target.value;
});
document.addEventListener("change", ({ target }) => {
  if (target.matches(".field input") && target.dataset.sent !== target.value)
    target.dispatchEvent(new Event("leave"));
});

// A value is shown as it was kept once the person leaves the field.
document.addEventListener("focusout", (event) => {
  const note = document.getElementById(event.target.getAttribute?.("aria-describedby"));
  if (note?.dataset.tidied && !note.querySelector(".wrong, .conflict"))
    event.target.value = note.dataset.tidied;
});

document.addEventListener("htmx:afterRequest", (event) => {
  if (event.detail.successful) {
    const note = document.getElementById("note-general");
    if (note && !event.detail.xhr.responseText.includes('id="note-general"')) note.textContent = "";
  }
});

// Findings lead to their field, through a closed fold if need be.
clicks({
  jump(link) {
    const target = document.querySelector(link.getAttribute("href"));
    target?.closest("details")?.setAttribute("open", "");
    target?.focus();
  },
});

// One fold that lies over the page at a time.
document.addEventListener("click", (event) => {
  for (const fold of document.querySelectorAll("details.more[open]"))
    if (!fold.contains(event.target)) fold.removeAttribute("open");
});

// What a clause or a button is called in full is shown at a touch, as well as under the mouse.
document.addEventListener("pointerover", ({ target }) => {
  const named = target.closest?.(".chip[title], .strip [title]");
  if (named)
    bootstrap.Tooltip.getOrCreateInstance(named, {
      trigger: "hover focus",
      delay: { show: 400, hide: 0 },
    }).show();
});
document.addEventListener("htmx:beforeSwap", () =>
  document.querySelectorAll(".tooltip").forEach((each) => each.remove()),
);

// Keys: a adds, u takes back, U does again; Ctrl+Delete takes the row away; Escape closes a fold.
const press = (id) => document.getElementById(id)?.click();
document.addEventListener("keydown", (event) => {
  if (event.key === "Escape") {
    const fold = event.target.closest?.("details.more");
    fold?.removeAttribute("open");
    fold?.querySelector("summary")?.focus();
    return;
  }
  if (event.key === "Delete" && event.ctrlKey) {
    event.target.closest?.(".item")?.querySelector(".remove")?.click();
    event.preventDefault();
    return;
  }
  const typing = event.target.matches?.("input, select, textarea");
  if (typing || event.ctrlKey || event.metaKey || event.altKey || localStorage.getItem("keys") === "off")
    return;
  if (event.key === "a") {
    document.getElementById("add-kind")?.focus();
    event.preventDefault();
  } else if (event.key === "u") press("undo");
  else if (event.key === "U") press("redo");
});
