// The dwelling sheet: others' changes are shown unless something is being typed; then they are offered.

import { clicks } from "./does.js";
import { hooks as news } from "./news.js";
import "./outbox.js";

const inputs = () => document.getElementById("inputs");
const region = document.querySelector("[data-region]").dataset.region;

news.mayShow = () => !inputs()?.contains(document.activeElement);
news.fetch = () =>
  htmx.ajax("GET", region, {
    source: document.body,
    target: "#outcome",
    swap: "outerHTML",
    values: { news: "1", since: document.getElementById("version").value },
  });
clicks({ unsay: () => document.getElementById("note-general").replaceChildren() });
