// The print button of the print view.
document.getElementById("print")?.addEventListener("click", () => window.print());
