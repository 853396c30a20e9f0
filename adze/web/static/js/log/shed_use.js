// Parts that a mend takes from the shed: the same form in Log and in Trace.

import { sendNow } from "../basics/send.js";

const value = (id) => document.getElementById(id).value;

export function mount(bench) {
  document.getElementById("bench").addEventListener("click", ({ target }) => {
    const button = target.closest("button[data-used]");
    if (!button) return;
    const typed = { part: value("used-part"), quantity: value("used-many"), what_for: value("used-for") };
    sendNow(bench, "/log/used", { ...typed, stage: bench.stage }, button);
  });
  return {};
}
