// Signing out: asks about what waits to be sent, and takes everything else along.

import { el } from "../basics/dom.js";
import { dropAll, readings, steps, waits } from "./entries.js";
import { forget } from "./forget.js";
import { sendReadings } from "../log/outbox.js";
import { sendWaiting } from "../trace/phone/queue.js";

/** Send all that waits of the account; why some of it still does, empty where nothing is left. */
async function sendAll(csrf) {
  let says = await sendReadings(csrf);
  for (const plan of new Set((await steps.of()).map((row) => row.plan)))
    says = (await sendWaiting(plan, csrf)).says || says;
  const refused = [...(await readings.of()), ...(await steps.of())].filter((row) => row.refused).length;
  return says || (refused ? `${refused} refused: open Log or Trace to see why, or throw them away.` : "");
}

/** What waits, and what may be done with it; `leave` ends the session. */
function ask(what, csrf, leave) {
  const why = el("p", { class: "fault", role: "alert", hidden: true });
  const box = el("dialog", { "aria-labelledby": "leaving-title", id: "leaving" });
  const press = (words, act, more = "") => el("button", { type: "button", class: `act ${more}`, onclick: act }, words);
  const send = async () => {
    const says = await sendAll(csrf);
    if (!(await waits())) return leave();
    why.hidden = false;
    why.textContent = says || "Some of it is not sent yet.";
  };
  box.append(
    el("h2", { id: "leaving-title" }, `Not sent yet: ${what}`),
    el("p", {}, "They were typed on this device without signal. Signing out deletes your farms' pages from it."),
    why,
    el(
      "div",
      { class: "acts" },
      press("Send and sign out", send, "main"),
      press("Keep for this account", leave),
      press("Throw away", () => dropAll().then(leave)),
      press("Stay signed in", () => box.close()),
    ),
  );
  box.addEventListener("close", () => box.remove());
  document.body.append(box);
  box.showModal();
}

async function leaving(form) {
  const leave = () => forget().finally(() => form.submit());
  const what = await waits().catch(() => "");
  if (what) ask(what, form.elements.csrf.value, leave);
  else await leave();
}

/** Forms that sign out go through here. */
export function mountLeaving() {
  document.addEventListener("submit", (event) => {
    const form = /** @type {HTMLFormElement} */ (event.target);
    if (!form.hasAttribute("data-leaves")) return;
    event.preventDefault();
    leaving(form);
  });
}
