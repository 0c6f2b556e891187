// The schedule is worked like a sheet: arrows and Enter go along its column, a pasted block fills its cells, a heading
// sorts, any column of a load can be shown.

import { clicks } from "../does.js";
import { setCells } from "./acts.js";
import { byId, look } from "./page.js";
import { settled } from "./swaps.js";

const lines = () => [...document.querySelectorAll(".schedule tbody tr[data-node]")];
const fieldsOf = (line) => [...line.querySelectorAll(".cell")];
const placeOf = (cell) => cell.dataset.path.split("/").slice(2).join("/");

function below(cell, by) {
  const all = lines();
  const line = all[all.indexOf(cell.closest("tr")) + by];
  return line && fieldsOf(line).find((each) => placeOf(each) === placeOf(cell));
}
const caretAt = (cell, end) =>
  cell.tagName !== "INPUT" ||
  (cell.selectionStart === cell.selectionEnd && cell.selectionStart === (end ? cell.value.length : 0)) ||
  (cell.selectionStart === 0 && cell.selectionEnd === cell.value.length);

function walk(cell, { key, shiftKey }) {
  const mine = fieldsOf(cell.closest("tr"));
  const at = mine.indexOf(cell);
  if (key === "Enter") return below(cell, shiftKey ? -1 : 1) ?? cell;
  if (key === "ArrowDown" && cell.tagName === "INPUT") return below(cell, 1);
  if (key === "ArrowUp" && cell.tagName === "INPUT") return below(cell, -1);
  if (key === "ArrowRight" && caretAt(cell, true)) return mine[at + 1];
  if (key === "ArrowLeft" && caretAt(cell, false)) return mine[at - 1];
  return null;
}
document.addEventListener("keydown", (event) => {
  if (!event.target.matches?.(".schedule .cell")) return;
  if (event.key === "Escape") event.target.value = event.target.defaultValue;
  const next = walk(event.target, event);
  if (!next) return;
  event.preventDefault();
  if (next === event.target) next.blur(); // the last of its column: what was typed is sent
  next.focus();
  next.select?.();
});

// A block from a spreadsheet fills the cells from here on, to the right and downwards.
document.addEventListener("paste", (event) => {
  const text = event.clipboardData?.getData("text/plain") ?? "";
  if (!event.target.matches?.(".schedule .cell") || !/[\t\n]./.test(text)) return;
  event.preventDefault();
  const all = lines();
  const first = all.indexOf(event.target.closest("tr"));
  const from = fieldsOf(event.target.closest("tr"))
    .map(placeOf)
    .slice(fieldsOf(event.target.closest("tr")).indexOf(event.target));
  const cells = [];
  text
    .replace(/\r?\n$/, "")
    .split(/\r?\n/)
    .forEach((row, down) => {
      const into = all[first + down] ? fieldsOf(all[first + down]) : [];
      row.split("\t").forEach((value, right) => {
        const cell = into.find((each) => placeOf(each) === from[right]);
        if (cell) cells.push([cell.dataset.path, value.trim()]);
      });
    });
  if (cells.length) setCells(cells);
});

// ---- sorting, and which columns

let sorted = { column: -1, down: false };
const figure = (cell) => {
  const field = cell?.querySelector("input, select");
  const text = (field ? field.value : (cell?.textContent ?? "")).trim();
  const number = Number.parseFloat(text.replace(/[\s,]/g, ""));
  return { text, number: Number.isNaN(number) ? null : number };
};
function inOrder(a, b) {
  if (a.number !== null && b.number !== null) return a.number - b.number;
  if (a.number !== null || b.number !== null) return a.number === null ? 1 : -1;
  return a.text.localeCompare(b.text);
}
function sort() {
  if (sorted.column < 0 || !document.querySelector(".schedule")) return;
  const { column, down } = sorted;
  const all = lines();
  const before = document.activeElement;
  const wanted = [...all].sort(
    (a, b) => inOrder(figure(a.children[column]), figure(b.children[column])) * (down ? -1 : 1),
  );
  if (wanted.some((line, at) => line !== all[at])) all[0].parentElement.append(...wanted);
  if (before?.isConnected) before.focus({ preventScroll: true });
  document
    .querySelectorAll(".schedule thead th")
    .forEach((head, at) =>
      head.setAttribute("aria-sort", at === column ? (down ? "descending" : "ascending") : "none"),
    );
}
settled.push(sort);
clicks({
  sort(button) {
    const column = [...button.closest("tr").children].indexOf(button.closest("th"));
    sorted = { column, down: sorted.column === column && !sorted.down };
    sort();
  },
});
document.addEventListener("change", ({ target }) => {
  if (!target.matches("[data-column]")) return;
  const columns = [...byId("columns").querySelectorAll("[data-column]:checked")].map(
    (each) => each.dataset.column,
  );
  document.cookie = `columns=${columns.join("-")}; path=/; max-age=31536000; samesite=lax`;
  sorted = { column: -1, down: false };
  // The table comes anew, and the menu with it: it stays open, at what was ticked, for the next.
  look({ shown: "" }).then(() => {
    const toggle = byId("columns")?.querySelector("[data-bs-toggle]");
    if (toggle) bootstrap.Dropdown.getOrCreateInstance(toggle).show();
    byId(target.id)?.focus({ preventScroll: true });
  });
});
