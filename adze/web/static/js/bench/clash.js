// Two people changed one plan: what the other did, what you did, and what shall stand. Nothing is lost.

import { el } from "../basics/dom.js";

const list = (words) => el("ul", {}, ...(words.length ? words : ["nothing"]).map((w) => el("li", {}, w)));

function choice(words, test, main, onclick) {
  return el("button", { class: main ? "act main" : "act", type: "button", "data-test": test, onclick }, words);
}

export function mountClash(bench) {
  const dialog = document.getElementById("dialog");
  bench.on("clash", ({ detail: { clash } }) => {
    const mine = clash.mine !== null;
    const overlap = clash.clash_words.length > 0;
    const settle = (keep) => () => {
      dialog.close();
      bench.saving.settle(clash, keep);
    };
    const both = overlap ? "Keep both; use mine where we differ" : "Keep both changes";
    const theirs = mine ? "Use theirs; set mine aside" : "Show the plan as it is now";
    dialog.replaceChildren(
      el("h2", { id: "dialog-title" }, `${clash.changed_by} changed this plan meanwhile`),
      el("p", {}, "Meanwhile:"),
      list(clash.theirs_words),
      ...(mine ? [el("p", {}, "Your change:"), list(clash.mine_words)] : []),
      ...(overlap ? [el("p", {}, "You both changed this. Yours would count:"), list(clash.clash_words)] : []),
      mine ? el("p", { class: "soft small" }, "Your version is kept in the plan's History whatever you choose.") : "",
      el(
        "div",
        { class: "acts" },
        mine ? choice(both, "keep-both", true, settle(true)) : null,
        choice(theirs, "take-theirs", false, settle(false)),
      ),
    );
    dialog.showModal();
  });
}
