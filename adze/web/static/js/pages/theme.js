// Day or dusk, kept on this device. Runs before the page is painted.
(() => {
  const root = document.documentElement;
  let kept = null;
  try {
    kept = localStorage.getItem("adze-theme");
  } catch {
    /* storage may be shut */
  }
  root.dataset.bsTheme = kept ?? (matchMedia("(prefers-color-scheme: dark)").matches ? "dark" : "light");
  document.addEventListener("click", (event) => {
    if (!event.target.closest("[data-theme-toggle]")) return;
    root.dataset.bsTheme = root.dataset.bsTheme === "dark" ? "light" : "dark";
    try {
      localStorage.setItem("adze-theme", root.dataset.bsTheme);
    } catch {
      /* as above */
    }
  });
})();
