// What the page says of changes that wait: its words stand in the page, in its language.

export const byId = (id) => document.getElementById(id);
export const words = (name) => document.body.dataset[`say${name[0].toUpperCase()}${name.slice(1)}`] ?? name;
export function say(text) {
  const note = byId("note-general");
  if (note) note.innerHTML = "";
  note?.append(Object.assign(document.createElement("span"), { className: "wrong", textContent: text }));
}
