// Signed out meanwhile: the password is asked for over the page, and what waits is sent.

import { byId, words } from "./words.js";

export const signedIn = []; // what is done then
const dialog = byId("again-dialog");
export function signInAgain() {
  if (dialog) bootstrap.Modal.getOrCreateInstance(dialog).show();
}
dialog?.querySelector("form").addEventListener("submit", async (event) => {
  event.preventDefault();
  const form = event.target;
  const headers = JSON.parse(document.body.getAttribute("hx-headers"));
  const note = byId("again-note");
  try {
    const response = await fetch(form.action, {
      method: "POST",
      body: new URLSearchParams(new FormData(form)),
      headers,
    });
    const said = await response.json();
    note.textContent = said.problem ?? "";
    if (said.token) {
      document.body.setAttribute("hx-headers", JSON.stringify({ "X-CSRFToken": said.token }));
      for (const hidden of document.querySelectorAll("input[name=csrfmiddlewaretoken]"))
        hidden.value = said.token;
      form.reset();
      bootstrap.Modal.getInstance(dialog).hide();
      for (const then of signedIn) then();
    }
  } catch {
    note.textContent = words("silent");
  }
});
