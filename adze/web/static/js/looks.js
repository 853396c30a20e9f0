// For who may look and not change: what would change the plan is out of reach, everything else works.

import { CHANGED, operationOf, PRESSED } from "./operations.js";

const changes = (control) =>
  control.dataset.path || operationOf(CHANGED, control.dataset) || operationOf(PRESSED, control.dataset);

function shut(root) {
  for (const control of root.querySelectorAll("button, input, select, textarea")) {
    if (!control.disabled && changes(control)) control.disabled = true;
  }
}

/** Shut what changes the plan, now and whenever something is drawn anew. */
export function mountLooks(root) {
  if (!root.classList.contains("looks")) return;
  shut(root);
  new MutationObserver(() => shut(root)).observe(root, { childList: true, subtree: true });
}
