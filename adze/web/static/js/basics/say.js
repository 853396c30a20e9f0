// What went wrong, said over the page for a while; and that something is being computed.

import { el } from "./dom.js";
import { labelOf } from "./refusals.js";

const SHOWN_MS = 9000;
const SLOW_MS = 400; // what takes longer shows that it is being computed

export function mountSay(bench) {
  const box = document.getElementById("say");
  const busy = document.getElementById("busy");
  let timer = 0;
  let slow = 0;
  bench.on("busy", ({ detail }) => {
    clearTimeout(slow);
    if (detail) slow = setTimeout(() => busy.classList.add("on"), SLOW_MS);
    else busy.classList.remove("on");
    document.body.dataset.busy = detail ? "yes" : "no";
  });
  bench.on("refused", ({ detail: { message: reason, again, origin } }) => {
    // "must be 0 or more" needs the name of its box; a whole sentence names it itself.
    const isPart = origin?.matches("input, select, textarea") && /^[a-z]/.test(reason);
    const message = isPart ? `${labelOf(origin)}: ${reason}` : reason;
    clearTimeout(timer);
    const retry = () => {
      box.hidden = true;
      again();
    };
    box.replaceChildren(
      message,
      again ? el("button", { class: "act", type: "button", onclick: retry }, "Try again") : "",
    );
    box.className = "say bad";
    box.hidden = false;
    if (!again) timer = setTimeout(() => (box.hidden = true), SHOWN_MS);
  });
  bench.on("state", () => (box.hidden = true));
}
