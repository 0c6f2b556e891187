// Carrying a node, or all that were taken, to another feeder: by mouse, or by a long touch.

import { act } from "./acts.js";
import { pickedKeys } from "./picked.js";

const FAR = 6; // [px] that a press moves before it carries
const LONG = 350; // [ms] a touch rests before it carries; a shorter one scrolls
const FEEDS = ["source", "board", "transformer"];

let carried = null; // the row that is pressed, and whether it is on its way
let timer = 0;

function unmark() {
  document.querySelector(".branch.over")?.classList.remove("over");
  document.querySelector(".branch.carried")?.classList.remove("carried");
}
function end() {
  clearTimeout(timer);
  unmark();
  carried = null;
}
function begin() {
  carried.moves = true;
  carried.row.classList.add("carried");
}
const under = ({ clientX, clientY }) => document.elementFromPoint(clientX, clientY)?.closest("#rows .branch");

document.addEventListener("pointerdown", (event) => {
  const row = event.target.closest?.("#rows .branch");
  if (!row || event.button || event.target.closest("input, button") || !document.getElementById("walk"))
    return;
  carried = { row, key: row.dataset.key, x: event.clientX, y: event.clientY, moves: false };
  if (event.pointerType === "touch") timer = setTimeout(begin, LONG);
});
document.addEventListener("pointermove", (event) => {
  if (!carried) return;
  const far = Math.hypot(event.clientX - carried.x, event.clientY - carried.y) > FAR;
  if (!carried.moves && far && event.pointerType === "touch")
    end(); // it scrolls
  else if (!carried.moves && far) begin();
  if (!carried?.moves) return;
  const row = under(event);
  document.querySelector(".branch.over")?.classList.remove("over");
  if (row && row.dataset.key !== carried.key) row.classList.add("over");
});
// The page does not scroll under what is carried.
document.addEventListener("touchmove", (event) => carried?.moves && event.preventDefault(), {
  passive: false,
});
document.addEventListener(
  "dragstart",
  (event) => event.target.closest?.("#rows .branch") && event.preventDefault(),
);
document.addEventListener("contextmenu", (event) => carried?.moves && event.preventDefault());
document.addEventListener("pointercancel", end);
document.addEventListener("pointerup", (event) => {
  const { key, moves } = carried ?? {};
  const row = moves && under(event);
  end();
  if (!moves) return;
  const eat = (clicked) => clicked.stopPropagation();
  addEventListener("click", eat, true); // it was no click
  setTimeout(() => removeEventListener("click", eat, true));
  if (!row || row.dataset.key === key) return;
  const where = FEEDS.includes(row.dataset.kind)
    ? { to: row.dataset.key }
    : { to: row.dataset.parent, before: row.dataset.key };
  act("move", { ...(pickedKeys().includes(key) ? {} : { key }), ...where });
});
