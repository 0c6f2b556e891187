// One table of clicks for a page: what carries `data-do` does what its name says here.

const table = {};
export const clicks = (more) => Object.assign(table, more);

document.addEventListener("click", (event) => {
  const from = event.target.closest("[data-do]");
  if (!from || from.disabled) return;
  // A field or a button that stands in a row is not the row.
  const within = event.target.closest("input, select, textarea, button, a, summary");
  if (within && within !== from && from.contains(within)) return;
  table[from.dataset.do]?.(from, event);
});
