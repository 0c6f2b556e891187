// Acts on the chosen node, or on all that were taken: duplicate, move, delete, set, turn, rename.

import { clicks } from "../does.js";
import { here } from "./chosen.js";
import { bench, byId, send } from "./page.js";
import { pick, pickedKeys } from "./picked.js";

export function act(name, values = {}) {
  const several = values.key || name === "add" ? [] : pickedKeys();
  const keys = several.length ? { keys: several.join(" ") } : {};
  const done = send("POST", bench.dataset.act, { act: name, key: values.key ?? here(), ...keys, ...values });
  if (several.length && ["remove", "move"].includes(name)) pick("", "none");
  return done;
}

// The name is changed where it stands: r, or a double click.
export function rename(key) {
  const link = byId(`open-${key}`);
  if (!link || !byId("walk")) return openLink("load", "input");
  const input = document.createElement("input");
  Object.assign(input, { value: link.textContent, className: "rename", maxLength: 80, id: `rename-${key}` });
  input.setAttribute("aria-label", link.textContent);
  let over = false;
  const done = (keep) => {
    if (over) return;
    over = true; // taking the input away blurs it
    input.replaceWith(link);
    link.focus();
    const changed = keep && input.value.trim() && input.value !== link.textContent;
    if (changed) send("POST", bench.dataset.edit, { path: `nodes/${key}/name`, value: input.value });
  };
  input.addEventListener("keydown", (event) => {
    if (event.key !== "Enter" && event.key !== "Escape") return;
    event.preventDefault();
    done(event.key === "Enter");
  });
  input.addEventListener("blur", () => done(true));
  link.replaceWith(input);
  input.select();
  return undefined;
}

export function openLink(link, field) {
  const fold = byId(`link-${link}`);
  fold?.setAttribute("open", "");
  fold?.querySelector(field)?.focus();
}

// One value for all that were taken, or many cells at once: one change, taken back as one.
export const setCells = (cells) => send("POST", bench.dataset.cells, { cells: JSON.stringify(cells) });
function setMany() {
  const place = byId("many-field").value;
  const { value } = byId("many-value");
  return setCells(pickedKeys().map((key) => [`nodes/${key}/${place.replaceAll(".", "/")}`, value]));
}

clicks({
  act({ dataset }) {
    if (dataset.act === "edit") {
      // a field's change, after what it does was shown
      byId("note-general").replaceChildren();
      send("POST", bench.dataset.edit, { path: dataset.key, value: dataset.goesTo, sure: "1" });
      return;
    }
    const values = {};
    if (["move", "copy"].includes(dataset.act)) values.to = byId(dataset.to ?? "to-board").value;
    if (dataset.act === "duplicate" && dataset.times) values.times = byId(dataset.times).value;
    if (dataset.poles) values.poles = dataset.poles;
    if (dataset.key) values.key = dataset.key;
    if (dataset.goesTo) values.to = dataset.goesTo;
    if (dataset.sure) values.sure = dataset.sure;
    act(dataset.act, values);
  },
  add: ({ dataset }) => act("add", { kind: dataset.add }),
  turn: ({ dataset }) => send("POST", dataset.turn),
  many: setMany,
  rightall({ dataset: { keys } }) {
    send("POST", bench.dataset.act, { act: "right", key: here(), keys }).then(() =>
      htmx.trigger("#findings", "show.bs.offcanvas"),
    );
  },
  letgo: () => pick("", "none"),
});
document.addEventListener("keydown", (event) => {
  if (event.target.id !== "many-value" || event.key !== "Enter") return;
  event.preventDefault();
  setMany();
});
document.addEventListener("dblclick", ({ target }) => {
  const row = target.closest("#rows .branch");
  if (row && !target.closest("button, input")) rename(row.dataset.key);
});
