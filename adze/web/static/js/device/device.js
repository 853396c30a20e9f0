// Of every page: what the device keeps belongs to the account that is signed in, and goes when another comes.

import { el } from "../basics/dom.js";
import { dropAll, takeUnnamed, unnamed } from "./entries.js";
import { forget, forgetPages } from "./forget.js";
import { mountLeaving } from "./leaving.js";
import { account } from "./owner.js";

const LAST = "adze-account";

/** Throw away what another account kept here, and all of one that has ended. */
async function arrive() {
  const here = account();
  const last = localStorage.getItem(LAST);
  const [, ended] = /(?:^|; )adze_ended=(\d+)/.exec(document.cookie) ?? [];
  if (ended) await dropAll(ended);
  if (ended || (here && last && last !== here)) await forget();
  if (here) localStorage.setItem(LAST, here);
  else if (document.documentElement.hasAttribute("data-signed-out")) await forgetPages();
}

/** Ask whose those are that an older edition kept without a name. */
async function askWhose() {
  const many = await unnamed();
  if (!many) return;
  const end = (act) => () => act().then(() => location.reload());
  document.body.prepend(
    el(
      "p",
      { class: "device-ask", role: "status" },
      `Typed on this device and not sent yet, without an account: ${many}. `,
      el("button", { type: "button", class: "act small", onclick: end(takeUnnamed) }, "I typed them"),
      " ",
      el("button", { type: "button", class: "act small", onclick: end(() => dropAll("")) }, "Throw them away"),
    ),
  );
}

/** Storage may be shut: then nothing is kept, and nothing is to be asked. */
async function mount() {
  try {
    await arrive();
    if (account()) await askWhose();
  } catch {
    // shut
  }
  document.documentElement.dataset.arrived = "yes";
}

mountLeaving();
mount();
