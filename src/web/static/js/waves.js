// A turn of the supply walked through by a slider: a dot on each wave, its instant's amperes said.

const LEFT = 16,
  RIGHT = 560,
  MIDDLE = 95,
  REACH = 78;

function walk() {
  const slider = document.getElementById("turn");
  if (!slider) return;
  const turn = Number(slider.value) / 360;
  const x = LEFT + (RIGHT - LEFT) * turn;
  document.getElementById("turn-line").setAttribute("d", `M${x} 12V178`);
  let sum = 0;
  for (const dot of document.querySelectorAll("[data-wave]")) {
    const [parts, most] = dot.dataset.wave.split("|");
    sum = 0;
    for (const part of parts.split(";")) {
      const [times, peak, angle] = part.split(",").map(Number);
      sum += peak * Math.cos(2 * Math.PI * turn * times + angle);
    }
    dot.setAttribute("cx", x);
    dot.setAttribute("cy", MIDDLE - (sum / Number(most)) * REACH);
  }
  const neutral = Math.abs(sum) < 0.005 ? 0 : sum; // the last is the neutral's
  document.getElementById("turn-said").textContent =
    `${slider.value}° · N ${neutral.toLocaleString(document.documentElement.lang, { maximumFractionDigits: 1 })} A`;
}
document.addEventListener("input", ({ target }) => target.id === "turn" && walk());
document.addEventListener("htmx:afterSettle", walk);
walk();
