// The Legs lens: a block dragged to another lane, its effect said on the way; evening out proposed, then made.

import { clicks } from "../does.js";
import { ask } from "../outbox.js";
import { act } from "./acts.js";
import { bench, byId, mayEdit, seen } from "./page.js";

const lanesOf = () =>
  [...document.querySelectorAll("#lanes .lane")].map((lane) => {
    const bed = lane.querySelector(".lane-bed").getBoundingClientRect();
    return {
      leg: lane.dataset.leg,
      left: bed.left,
      right: bed.right,
      lane,
      total: lane.querySelector(".lane-total"),
    };
  });
const write = (value, digits = 0) =>
  value.toLocaleString(document.documentElement.lang, { maximumFractionDigits: digits });

// The legs that a circuit would have when the part of it on one leg goes to another.
function goesTo(legs, from, to) {
  if (legs.includes(to)) return legs;
  const order = lanesOf().map((each) => each.leg);
  return legs.map((leg) => (leg === from ? to : leg)).sort((a, b) => order.indexOf(a) - order.indexOf(b));
}
function preview(lanes, block, legs) {
  const was = block.dataset.legs.split("-");
  for (const { leg, total } of lanes) {
    const now =
      Number(total.dataset.total) + Number(block.dataset.amps) * (legs.includes(leg) - was.includes(leg));
    total.textContent = `${write(now)} A`;
  }
  const said = document.querySelector("#legs .s-neutral-word");
  if (!said || block.dataset.neutral !== "1") return;
  const { along, across } = block.ownerSVGElement.dataset;
  let [x, y] = [Number(along), Number(across)];
  for (const { leg, lane } of lanes) {
    const turn = (Number(lane.dataset.angle) * Math.PI) / 180;
    const more = Number(block.dataset.amps) * (legs.includes(leg) - was.includes(leg));
    x += more * Math.cos(turn);
    y += more * Math.sin(turn);
  }
  said.textContent = `N ${write(Math.hypot(x, y), 1)} A`;
}
document.addEventListener("pointerdown", (event) => {
  const block = event.target.closest("#lanes .block[data-movable='1']");
  if (!block || event.button || !mayEdit()) return;
  const lanes = lanesOf();
  const { leg } = block.dataset;
  const legs = block.dataset.legs.split("-");
  const parts = [
    ...document.querySelectorAll(`#lanes .block[data-block="${CSS.escape(block.dataset.block)}"]`),
  ];
  const from = { x: event.clientX, y: event.clientY };
  let dragged = false;
  let wanted = legs;
  const move = (moved) => {
    const far = Math.abs(moved.clientX - from.x) + Math.abs(moved.clientY - from.y);
    if (!dragged && far < 8) return;
    dragged = true;
    moved.preventDefault();
    const scale =
      block.ownerSVGElement.viewBox.baseVal.width / block.ownerSVGElement.getBoundingClientRect().width;
    block.setAttribute(
      "transform",
      `translate(${(moved.clientX - from.x) * scale} ${(moved.clientY - from.y) * scale})`,
    );
    block.classList.add("block-dragged");
    const over = lanes.find((each) => moved.clientX >= each.left && moved.clientX <= each.right);
    for (const each of lanes) each.lane.classList.toggle("lane-target", each === over && each.leg !== leg);
    wanted = over ? goesTo(legs, leg, over.leg) : legs;
    preview(lanes, block, wanted);
  };
  const stop = (given) => {
    document.removeEventListener("pointermove", move);
    document.removeEventListener("pointerup", end);
    document.removeEventListener("pointercancel", end);
    for (const each of lanes) each.lane.classList.remove("lane-target");
    if (given) return;
    for (const part of parts) part.removeAttribute("transform");
    block.classList.remove("block-dragged");
    preview(lanes, block, legs);
  };
  const end = (ended) => {
    const given = ended.type === "pointerup" && wanted.join() !== legs.join();
    stop(given);
    if (dragged) addEventListener("click", (click) => click.stopPropagation(), { capture: true, once: true });
    if (given) act("leg-to", { key: block.dataset.node, to: wanted.join("-") });
  };
  document.addEventListener("pointermove", move, { passive: false });
  document.addEventListener("pointerup", end);
  document.addEventListener("pointercancel", end);
});

// What is unticked is taken out of the figures after.
function recount() {
  const after = new Map(
    [...document.querySelectorAll(".evened-legs td[data-after]")].map((cell) => [
      cell.parentElement.dataset.leg,
      cell,
    ]),
  );
  const totals = new Map([...after].map(([leg, cell]) => [leg, Number(cell.dataset.before)]));
  const ticked = [...document.querySelectorAll("[data-move]:checked")];
  for (const { dataset } of ticked) {
    for (const leg of dataset.before.split("-")) totals.set(leg, totals.get(leg) - Number(dataset.amps));
    for (const leg of dataset.after.split("-")) totals.set(leg, totals.get(leg) + Number(dataset.amps));
  }
  for (const [leg, cell] of after) cell.firstElementChild.textContent = write(totals.get(leg), 1);
  document.querySelector("[data-spread]").textContent = write(
    Math.max(...totals.values()) - Math.min(...totals.values()),
    1,
  );
  const all = document.querySelectorAll("[data-move]").length === ticked.length;
  document.querySelector(".evened-proof").hidden = !all;
  document.querySelector("[data-neutral-after]").closest("tr").hidden = !all;
  document.querySelector("[data-do=makeMoves]").disabled = !ticked.length;
}
document.addEventListener("change", ({ target }) => target.matches?.("[data-move]") && recount());

const away = () => byId("evened")?.replaceChildren();
clicks({
  evenOut: () =>
    ask(
      bench.dataset.even,
      { at: seen().at, most: byId("most-moves").value, whole: byId("even-whole").checked ? "1" : "" },
      { target: "#evened", swap: "innerHTML" },
    ),
  evenedAway: away,
  legsUnit(button) {
    const kva = byId("lanes").classList.toggle("as-kva");
    button.setAttribute("aria-pressed", kva);
  },
  makeMoves() {
    const moves = [...document.querySelectorAll("[data-move]:checked")].map((each) => each.value).join(" ");
    away();
    return act("even-out", { key: seen().at, moves });
  },
});
