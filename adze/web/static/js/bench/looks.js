// For who may look and not change: what would change the plan is out of reach, everything else works.

import { CHANGED, operationOf, PRESSED } from "./operations.js";

const changes = (control) =>
  control.dataset.path || operationOf(CHANGED, control.dataset) || operationOf(PRESSED, control.dataset);

// What changes the work's plan, and what is logged: the crew logs, who only looks does not.
const EDITS = `[data-crew], [data-crew-more], [data-crew-off], [data-set-day], [data-rate], [data-learn],
  [data-ask-weather], [data-paste-weather], [data-take-built], form[action$="/taken-down"] button`;
const LOGS = `[data-tick], [data-note], [data-upkeep-done], [data-mended], [data-righted], [data-withdrawn],
  [data-note-defect], [data-note-through], [data-trace], [data-used], [data-keep-rain], [data-built],
  [data-rods-here], [data-device-added], [data-device-removed], [data-drop-photo], .photo-add input`;

function shut(root) {
  const out = "logs" in root.dataset ? EDITS : `${EDITS}, ${LOGS}`;
  for (const control of root.querySelectorAll("button, input, select, textarea")) {
    if (!control.disabled && (changes(control) || control.matches(out))) control.disabled = true;
  }
}

/** Shut what changes the plan, now and whenever something is drawn anew. */
export function mountLooks(root) {
  if (!root.classList.contains("looks")) return;
  shut(root);
  new MutationObserver(() => shut(root)).observe(root, { childList: true, subtree: true });
}
