// Folds that somebody opened stay open, also on another day: kept on the device by the fold's name.

import { recallHere, rememberHere } from "./remembered.js";

const KEPT = "folds";
const opened = () => new Set(recallHere(KEPT) ?? []);

/** Open what was open when it was last seen. */
export function openKept(root) {
  const wanted = opened();
  for (const fold of root.querySelectorAll("details[data-kept]")) if (wanted.has(fold.id)) fold.open = true;
}

/** Keep which folds are open from now on. */
export function keepFolds(root) {
  root.addEventListener(
    "toggle",
    ({ target }) => {
      if (!target.isConnected || !target.matches("details[data-kept]")) return;
      const now = opened();
      if (target.open) now.add(target.id);
      else now.delete(target.id);
      rememberHere(KEPT, [...now]);
    },
    true,
  );
}
