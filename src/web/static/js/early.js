// What was typed or chosen before the page could listen is taken up once it can.

const LATE = "input[autocomplete=off], select[autocomplete=off], form[autocomplete=off] :is(input, select)";

function touched(field) {
  if (field.matches("select"))
    return (
      field.selectedOptions.length &&
      !field.selectedOptions[0].defaultSelected &&
      field.querySelector("[selected]")
    );
  return !field.matches("[type=hidden], [type=checkbox], [type=radio]") && field.value !== field.defaultValue;
}

document.addEventListener("DOMContentLoaded", () => {
  // scripts that are put off have run: they listen
  for (const field of document.querySelectorAll(LATE)) {
    if (!touched(field)) continue;
    if (field.matches("input[hx-post]")) field.dispatchEvent(new Event("leave"));
    else field.dispatchEvent(new Event(field.matches("select") ? "change" : "input", { bubbles: true }));
  }
});
