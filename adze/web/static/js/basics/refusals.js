// Reasons beside the inputs that they belong to; what was typed stays.

import { el } from "./dom.js";

/** What a box is called on the page. */
export function labelOf(input) {
  const words = input.getAttribute("aria-label") ?? document.querySelector(`label[for="${input.id}"]`)?.textContent;
  return words?.trim().replace(/\s+/g, " ") ?? "A value";
}

/** The input that a fault belongs to, by its path in the document or by the operation's own input. */
function inputOf(path) {
  const quoted = CSS.escape(path);
  return document.querySelector(`[data-path="${quoted}"]`) ?? document.querySelector(`[data-faults~="${quoted}"]`);
}

/** Show a reason beside an input. */
export function showFault(input, message, name) {
  input.classList.add("bad-field");
  input.setAttribute("aria-invalid", "true");
  const id = `why-${(input.id || name).replaceAll(".", "-")}`;
  input.setAttribute("aria-describedby", id);
  document.getElementById(id)?.remove();
  input.after(el("span", { class: "fault", id, role: "alert" }, message));
}

/** Show every fault beside its input; one that has no input of its own beside the input that was changed. */
export function showRefusal({ faults, origin = null }) {
  for (const { path, message } of faults) {
    const input = (path && inputOf(path)) || (origin?.isConnected ? origin : null);
    if (input) showFault(input, message, path || "value");
  }
}
