// What the page shows, and how it asks and tells the server: reads go in their turn, changes through the outbox.

import { ask as askLong, hooks as outbox, inTurn, submit } from "../outbox.js";
import { shownPieces } from "../pieces.js";

export const bench = document.getElementById("bench");
export const byId = (id) => document.getElementById(id);
export const isPhone = () => matchMedia("(max-width: 700px)").matches;
// Where the chain has no column of its own: on a phone it is a pane, on a tablet a drawer.
export const isNarrow = () => matchMedia("(max-width: 1140px)").matches;
export const mayEdit = () => Boolean(byId("walk"));
// Whether the person is where they were, or where they asked to go, once an answer has come.
export const isStillAt = (from, part) =>
  [document.body, from].includes(document.activeElement) || Boolean(document.activeElement.closest(part));
const valueOf = (name) => byId(`seen-${name}`).value;
export const seen = () => ({
  unfolded: valueOf("unfolded"),
  version: valueOf("version"),
  at: valueOf("at"),
  lens: valueOf("lens"),
  off: isLensOff() ? "lens" : "",
  folded: [...document.querySelectorAll("#chain .link > details:not([open])")]
    .map((each) => each.id.slice("link-".length))
    .join(" "),
});
// What is not on the screen is not asked for: on a phone the lens, until its pane is opened.
const isLensOff = () => isPhone() && bench.dataset.sheet !== "middle"; // asking the element would lay out the page
let stale = false;
document.addEventListener("htmx:afterRequest", () => {
  stale ||= isLensOff();
});
export function freshen() {
  if (!stale || isLensOff()) return;
  stale = false;
  look({ shown: "" });
}
addEventListener("resize", freshen); // a phone that is turned may have room for it

// What the page shows of each region: its frame, and for an edit the digest of every piece. Only what differs comes back.
function regions(verb) {
  const frames = ["tree", "lens", "chain"].map((name) => `${name}@${byId(name)?.dataset.frame}`);
  return [...frames, ...(verb === "POST" ? shownPieces(bench) : [])].join(" ");
}

const whole = { source: bench, target: bench, swap: "none" };

// What is asked of the job is read in its turn; what changes it goes through the outbox.
export function send(verb, address, values) {
  if (verb === "POST")
    return submit({ address, values: { ...seen(), ...values }, source: "bench", target: "#bench" });
  return inTurn(() =>
    htmx.ajax(verb, address, { ...whole, values: { ...seen(), shown: regions(verb), ...values } }),
  );
}
export const look = (values) => send("GET", bench.dataset.region, values);
// What was folded while its numbers changed is asked for when it is unfolded.
document.addEventListener(
  "toggle",
  ({ target }) => {
    if (target.open && target.dataset.later)
      inTurn(() => askLong(bench.dataset.region, { ...seen(), shown: regions("POST") }, whole));
  },
  true,
);
export const news = () =>
  askLong(bench.dataset.region, { ...seen(), shown: regions("POST"), news: "1" }, whole);

// A line hangs where it was said; whatever else is sent is answered for the node that is shown by then.
outbox.extra = ({ values }) => ({
  ...("line" in values || "text" in values ? {} : { at: seen().at }),
  lens: seen().lens,
  unfolded: seen().unfolded,
  off: seen().off,
  folded: seen().folded,
  shown: regions("POST"),
});

// The address follows what is shown, so that a link, a reload and the back button find it again.
export function remember(values) {
  const address = new URL(location);
  for (const [name, value] of Object.entries(values)) address.searchParams.set(name, value);
  history.replaceState(null, "", address);
}
