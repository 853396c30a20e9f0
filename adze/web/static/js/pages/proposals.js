// The proposals of a brief: computed once the page is there, so that a reload loses nothing.

import { Api, ServerError } from "../basics/api.js";

const root = document.getElementById("proposals");
const pending = /** @type {HTMLElement | null} */ (root.querySelector("[data-test=pending]"));

if (pending) {
  const begun = Date.now();
  const clock = setInterval(() => {
    const seconds = Math.round((Date.now() - begun) / 1000);
    pending.textContent = `Trying strands, energizers and rods, and checking each in all seasons … ${seconds} s`;
  }, 1000);
  try {
    const query = new URLSearchParams({ brief: root.dataset.brief });
    const told = await new Api(root.dataset.plan, root.dataset.csrf).ask(`/proposals?${query}`);
    root.innerHTML = told.html;
    root.querySelector("h1")?.focus();
  } catch (error) {
    if (!(error instanceof ServerError)) throw error;
    pending.className = "fault";
    pending.textContent = `${error.message} Reload the page to try again: your answers are kept.`;
  } finally {
    clearInterval(clock);
  }
}
