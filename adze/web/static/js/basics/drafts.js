// What was typed and is not saved: kept while the panel is drawn anew and over a reload,
// with the reason of a refusal.

import { recall, recallHere, remember, rememberHere } from "./remembered.js";
import { showFault } from "./refusals.js";

const TYPED = "input:not([type=checkbox], [type=radio], [type=file], [type=range], [type=password]), textarea";
const group = (path) => path.slice(0, path.lastIndexOf("."));
const keyOf = (input) => input.dataset.path || input.id;

export class Drafts {
  constructor(bench, root, sent) {
    this.key = `drafts:${bench.plan}:${bench.stage}`;
    this.root = root;
    this.sent = sent;
    this.rows = new Map(recall(this.key) ?? []);
    this.done = []; // boxes whose step was asked for: once it is done they are empty again
    root.addEventListener("input", ({ target }) => this.typed(target));
    root.addEventListener("click", ({ target }) => this.pressed(target.closest("button")), true);
  }

  pressed(button) {
    const boxes = button?.closest("details, form, fieldset, section")?.querySelectorAll(TYPED) ?? [];
    this.done = [...boxes].filter((box) => !box.dataset.path).map(keyOf);
  }

  typed(input) {
    const key = input.matches(TYPED) && !input.closest(".top, #ground") && keyOf(input);
    if (!key) return;
    if (input.value === input.defaultValue) this.rows.delete(key);
    else this.rows.set(key, { value: input.value, base: input.defaultValue, why: "" });
    this.keep();
  }

  keep() {
    remember(this.key, [...this.rows]);
  }

  /** What was refused in the same row of the document, to be judged together with a value by its path. */
  beside(path) {
    return [...this.rows].filter(([key, row]) => row.why && key !== path && group(key) === group(path) && group(key));
  }

  refused(input, said, why) {
    if (!input.matches(TYPED) || !keyOf(input)) return;
    this.rows.set(keyOf(input), { value: input.value, base: input.defaultValue, said, why });
    this.keep();
  }

  /** Put what was typed back into a fresh panel; what the plan has taken meanwhile is no draft any more. */
  show() {
    for (const key of this.done) this.rows.delete(key);
    this.done = [];
    for (const [key, row] of this.rows) {
      const input = this.root.querySelector(`[data-path="${CSS.escape(key)}"]`) ?? document.getElementById(key);
      if (!input?.matches(TYPED)) continue;
      if (input.defaultValue !== row.base || input.value === row.value) {
        if (input.defaultValue !== row.base) this.rows.delete(key);
        continue;
      }
      input.value = row.value;
      if (row.why) showFault(input, row.why, key);
      else if (input.dataset.path) input.addEventListener("blur", () => this.leave(input, row), { once: true });
    }
    this.keep();
  }

  /** A value that came back by a reload is sent when its box is left, as one that was typed just now. */
  leave(input, row) {
    if (input.value === row.value && input.isConnected) this.sent(input);
  }
}

/** Which folds are open: kept while the panel is drawn anew, as their words may change with what is typed. */
export function openFolds(root) {
  const all = [...root.querySelectorAll("details:not([data-ask])")];
  return { count: all.length, open: all.map((fold) => fold.open), words: all.map(wordsOf) };
}

const wordsOf = (fold) => fold.id || fold.querySelector("summary")?.textContent.trim();

export function foldAgain(root, { count, open, words }) {
  const all = [...root.querySelectorAll("details:not([data-ask])")];
  all.forEach((fold, i) => {
    const at = all.length === count ? i : words.indexOf(wordsOf(fold));
    if (at >= 0) fold.open = open[at];
  });
}

// Folds that somebody opened stay open, also on another day: kept on the device by the fold's name.
const FOLDS = "folds";
const opened = () => new Set(recallHere(FOLDS) ?? []);

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
      rememberHere(FOLDS, [...now]);
    },
    true,
  );
}
