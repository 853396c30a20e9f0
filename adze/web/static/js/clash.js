// Two people changed one plan: what the other did, what you did, and what shall stand. Nothing is lost.

import { el } from "./dom.js";

export function mountClash(bench) {
  const dialog = document.getElementById("dialog");
  bench.addEventListener("clash", ({ detail: { clash, mine } }) => {
    const list = (words) => el("ul", {}, ...(words.length ? words : ["nothing"]).map((w) => el("li", {}, w)));
    const settle = (document) => () => { dialog.close(); bench.settle(clash, document); };
    const overlap = clash.clash_words.length;
    dialog.replaceChildren(
      el("h2", { id: "dialog-title" }, `${clash.changed_by} changed this plan meanwhile`),
      el("p", {}, "Meanwhile:"), list(clash.theirs_words),
      ...(mine ? [el("p", {}, "Your change:"), list(clash.mine_words)] : []),
      ...(overlap ? [el("p", {}, "You both changed this; yours would stand:"), list(clash.clash_words)] : []),
      el("p", { class: "soft small" }, "Your version is kept in the plan's History whatever you choose."),
      el("div", { class: "acts" },
        mine ? el("button", { class: "act main", type: "button", "data-test": "keep-both", onclick: settle(clash.both) }, overlap ? "Keep both, mine where we differ" : "Keep both changes") : null,
        el("button", { class: "act", type: "button", "data-test": "take-theirs", onclick: settle(null) }, mine ? "Take theirs, leave mine aside" : "Show the plan as it is now")));
    dialog.showModal();
  });
}
