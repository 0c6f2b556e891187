// The one-line drawing: its size, moving over it, and walking it by the arrows.

import { clicks } from "../does.js";
import { openLink } from "./acts.js";
import { choose, chooseBy, here } from "./chosen.js";
import { lens } from "./lenses.js";
import { byId } from "./page.js";
import { settled } from "./swaps.js";

const LEAST = 11 / 13; // its letters are 13 px: under 11 one pans rather than squints
let zoom = 0; // 0 fits the width
let fitted = null; // the drawing that was last set to it; measuring the room for it again would lay out the page
let dragged = false;

function zoomTo(wanted) {
  zoom = wanted;
  const drawing = byId("drawing");
  fitted = drawing;
  if (!drawing) return;
  const natural = Number(drawing.dataset.width);
  const room = byId("lens-body").clientWidth - 24;
  const scale = zoom || Math.min(Math.max(room / natural, LEAST), 1.15);
  drawing.setAttribute("width", Math.round(natural * scale));
  drawing.setAttribute("height", Math.round(Number(drawing.dataset.height) * scale));
}
settled.push(() => byId("drawing") !== fitted && zoomTo(zoom));
addEventListener("resize", () => zoomTo(zoom));
const scaleNow = () =>
  Number(byId("drawing")?.getAttribute("width")) / Number(byId("drawing")?.dataset.width);

document.addEventListener("pointerdown", (event) => {
  const drawing = event.target.closest("#drawing");
  if (!drawing || event.button || event.pointerType === "touch") return; // a touch scrolls by itself
  const body = byId("lens-body");
  const from = { x: event.clientX + body.scrollLeft, y: event.clientY + body.scrollTop };
  dragged = false;
  const move = (moved) => {
    const far =
      Math.abs(from.x - moved.clientX - body.scrollLeft) + Math.abs(from.y - moved.clientY - body.scrollTop);
    if (far > 6) dragged = true;
    body.scrollTo(from.x - moved.clientX, from.y - moved.clientY);
  };
  document.addEventListener("pointermove", move);
  document.addEventListener("pointerup", () => document.removeEventListener("pointermove", move), {
    once: true,
  });
});

const isBlock = (group) => group.id.endsWith("-small");
function open(group) {
  if (isBlock(group) || byId(`row-${group.dataset.node}`)?.dataset.kind === "board")
    return lens("schedule", group.dataset.node);
  return choose(group.dataset.node, "right").then(() => openLink("load", "input, select"));
}
clicks({
  zoom: ({ dataset }) => zoomTo({ in: scaleNow() * 1.25, out: scaleNow() / 1.25, fit: 0 }[dataset.zoom]),
  drawn(group, event) {
    if (dragged) dragged = false;
    else if (isBlock(group) && !event.ctrlKey && !event.shiftKey) lens("schedule", group.dataset.node);
    else chooseBy(event, group.dataset.node, "");
  },
});
document.addEventListener("dblclick", ({ target }) => {
  const group = target.closest("#drawing .g");
  if (group) open(group);
});

// The nearest in a direction; what lies aside counts double.
const TOWARDS = { ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, -1], ArrowDown: [0, 1] };
const middle = (group) => {
  const { left, top, width, height } = (
    group.querySelector(".s-open, .s-bus, .s-line") ?? group
  ).getBoundingClientRect();
  return [left + width / 2, top + height / 2];
};
export function walkDrawing(key) {
  const groups = [...document.querySelectorAll("#drawing .g[data-node]")].filter((group) => !isBlock(group));
  const from = groups.find((group) => group.dataset.node === here()) ?? groups[0];
  if (!from) return false;
  if (key === "Enter") {
    open(from);
    return true;
  }
  const towards = TOWARDS[key];
  if (!towards) return false;
  const [x, y] = middle(from);
  let best = null;
  for (const group of groups) {
    const [gx, gy] = middle(group);
    const along = (gx - x) * towards[0] + (gy - y) * towards[1];
    const aside = Math.abs((gx - x) * towards[1]) + Math.abs((gy - y) * towards[0]);
    if (group !== from && along > 4 && (!best || along + 2 * aside < best.far))
      best = { group, far: along + 2 * aside };
  }
  if (best) choose(best.group.dataset.node);
  return true;
}

zoomTo(0);
