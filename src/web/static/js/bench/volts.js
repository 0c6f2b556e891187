// The Volts lens: one leg at a time, other volts and taps tried without saving, least metal found and made.

import { clicks } from "../does.js";
import { ask } from "../outbox.js";
import { setCells } from "./acts.js";
import { bench, byId } from "./page.js";
import { settled } from "./swaps.js";

const write = (value, digits = 1) =>
  value.toLocaleString(document.documentElement.lang, { maximumFractionDigits: digits });
const loads = () =>
  [...document.querySelectorAll("#volts .fall")].filter((each) => each.dataset.board !== "1");

let oneLeg = "";
function voltsLeg(button) {
  for (const each of document.querySelectorAll("[data-do=voltsLeg]")) {
    each.classList.toggle("active", each === button);
    each.setAttribute("aria-pressed", each === button);
  }
  const { leg } = button.dataset;
  oneLeg = leg;
  for (const fall of document.querySelectorAll("#volts .fall"))
    fall.classList.toggle("fall-away", Boolean(leg) && !fall.dataset.legs.split("-").includes(leg));
}

// What a change of the source's volts or of a tap makes of every load's volts.
function factor() {
  let found = 1;
  for (const slider of document.querySelectorAll("[data-whatif=source]"))
    found *= Number(slider.value) / Number(slider.dataset.now);
  for (const taps of document.querySelectorAll("[data-taps]")) {
    const tried = taps.querySelector(".active");
    if (tried) found *= Number(tried.dataset.factor) / Number(taps.dataset.now);
  }
  return found;
}
function tell() {
  const table = byId("what-if");
  if (!table) return;
  const now = loads().map(({ dataset }) => ({
    name: dataset.name,
    volts: Number(dataset.volts),
    share: Number(dataset.volts) / Number(dataset.nominal),
  }));
  if (!now.length) return;
  now.sort((a, b) => a.share - b.share);
  const times = factor();
  const tried = Math.abs(times - 1) > 1e-6;
  const said = ({ volts, share, name }, by) =>
    `${write(volts * by)} V · ${write(share * by * 100)} % (${name})`;
  for (const [place, each] of [
    ["worst", now[0]],
    ["best", now.at(-1)],
  ]) {
    table.querySelector(`[data-${place}-now]`).textContent = said(each, 1);
    table.querySelector(`[data-${place}-then]`).textContent = said(each, times);
  }
  for (const each of document.querySelectorAll("#volts .tried")) each.toggleAttribute("hidden", !tried);
  for (const slider of document.querySelectorAll("[data-whatif=source]"))
    byId(`o-${slider.dataset.key}`).textContent = `${write(Number(slider.value))} V`;
}
document.addEventListener("input", ({ target }) => target.matches?.("[data-whatif=source]") && tell());
// The buttons may have come anew, and with them no leg pressed.
function legAgain() {
  const button = oneLeg && document.querySelector(`[data-do=voltsLeg][data-leg="${CSS.escape(oneLeg)}"]`);
  if (button) voltsLeg(button);
}
settled.push(tell, legAgain);

clicks({
  voltsLeg,
  tapTried(button) {
    for (const each of button.parentElement.children) {
      each.classList.toggle("active", each === button);
      each.setAttribute("aria-pressed", each === button);
    }
    tell();
  },
  useVolts() {
    const cells = [];
    for (const slider of document.querySelectorAll("[data-whatif=source]")) {
      if (slider.value !== slider.dataset.now)
        cells.push([`nodes/${slider.dataset.key}/supply/measured_v`, slider.value]);
    }
    for (const taps of document.querySelectorAll("[data-taps]")) {
      const tried = taps.querySelector(".active");
      if (tried && tried.dataset.factor !== taps.dataset.now)
        cells.push([`nodes/${taps.dataset.taps}/transformer/tap`, tried.dataset.tap]);
    }
    return cells.length && setCells(cells);
  },
  leastMetal: () =>
    ask(
      bench.dataset.least,
      { margin: byId("least-margin").value, cu: byId("least-cu").value, al: byId("least-al").value },
      { target: "#least-found", swap: "innerHTML" },
    ),
  makeLeast() {
    const cells = [];
    for (const box of document.querySelectorAll("[data-swap]:checked")) {
      cells.push(
        [`nodes/${box.value}/run/pins/size`, box.dataset.size],
        [`nodes/${box.value}/run/pins/reason`, box.dataset.reason],
      );
    }
    byId("least-found").replaceChildren();
    return cells.length && setCells(cells);
  },
});
tell();
