// Paper pages: the button prints.

document.querySelector("[data-print]")?.addEventListener("click", () => window.print());
