// A phasor diagram laid coil by coil: the slider, or the two buttons, show the coils up to one and say what it is.

import { clicks } from "./does.js";

function build() {
  const slider = document.getElementById("build");
  if (!slider) return;
  const upTo = Number(slider.value);
  for (const part of document.querySelectorAll("#answer [data-part^=step-]")) {
    part.toggleAttribute("hidden", Number(part.dataset.part.slice("step-".length)) > upTo);
  }
  for (const said of document.querySelectorAll(".build-said [data-said]"))
    said.toggleAttribute("hidden", Number(said.dataset.said) !== upTo);
}
document.addEventListener("input", ({ target }) => target.id === "build" && build());
document.addEventListener("htmx:afterSettle", build);
clicks({
  buildStep({ dataset }) {
    const slider = document.getElementById("build");
    slider.value = Number(slider.value) + Number(dataset.by);
    build();
  },
});
build();
