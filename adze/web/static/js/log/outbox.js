// What was written without signal waits on the device and is sent once, when there is signal again.
//
// Each entry carries its own token and time. It leaves the device only when the server has kept it; what the server
// refuses stays with the reason. Entries outlive a closed page, and are sent only by the account that typed them.

import { readings } from "../device/entries.js";
import { typedBy } from "../device/owner.js";

const AGAIN_MS = 15_000;
const AT_ONCE = 6; // entries under way: a browser opens no more connections to one server

/** What an answer means for an entry: kept, refused with a reason, or to be sent later. */
export async function outcome(response) {
  const { pathname } = new URL(response.url);
  if (pathname.endsWith("/sign-in")) return { later: "Sign in again: unsent entries are still here." };
  if (response.ok) return { kept: true };
  if (![409, 422].includes(response.status))
    return { later: `The server answers ${response.status}; Adze sends it again.` };
  const page = new DOMParser().parseFromString(await response.text(), "text/html");
  const why = page.querySelector(".fault, [data-message]")?.textContent.trim();
  // 409: another account is signed in than the one that typed it.
  return response.status === 409 ? { later: why } : { refused: why || "The server refused it." };
}

/** Send one entry; why it waits on, if it does. */
async function sendOne(entry, csrf) {
  const body = new URLSearchParams(entry.body);
  body.set("csrf", csrf);
  body.set("at", entry.at);
  const headers = { Accept: "application/json", ...typedBy(entry.account) };
  const { kept, refused, later } = await outcome(await fetch(entry.url, { method: "POST", body, headers }));
  if (kept) await readings.drop(entry);
  else if (refused) await readings.put({ ...entry, refused });
  return later ?? "";
}

/** Send what waits of the account that is signed in; why some of it still does, empty where nothing is held up. */
export async function sendReadings(csrf) {
  let says = "";
  try {
    const rows = (await readings.of()).filter((one) => !one.refused);
    const take = async () => {
      for (let entry = rows.shift(); entry; entry = rows.shift()) says = (await sendOne(entry, csrf)) || says;
    };
    const ends = await Promise.allSettled(Array.from({ length: AT_ONCE }, take));
    return ends.some(({ status }) => status === "rejected") ? "No signal yet." : says;
  } catch {
    return "No signal yet.";
  }
}

export class Outbox {
  constructor(shown, csrf) {
    this.shown = shown;
    this.csrf = csrf;
    this.busy = false;
    this.says = "";
    addEventListener("online", () => this.send());
    setInterval(() => this.send(), AGAIN_MS);
    this.send();
  }

  /** Keep an entry on the device; it is sent as soon as there is signal. */
  async keep(entry) {
    await readings.put(entry);
    await this.show();
  }

  async send() {
    if (this.busy) return;
    this.busy = true;
    this.says = await sendReadings(this.csrf);
    this.busy = false;
    await this.show();
  }

  async show() {
    const rows = await readings.of();
    const refused = rows.filter((one) => one.refused);
    this.shown.hidden = !rows.length;
    const words = [`${rows.length} on this device wait${rows.length === 1 ? "s" : ""} to be sent.`, this.says];
    for (const one of refused) words.push(`Refused (${one.words}): ${one.refused}`);
    const discard = document.createElement("button");
    discard.className = "act small";
    discard.type = "button";
    discard.textContent = "Delete refused entries";
    discard.addEventListener("click", async () => {
      for (const one of refused) await readings.drop(one);
      await this.show();
    });
    this.shown.replaceChildren(words.filter(Boolean).join(" "), ...(refused.length ? [" ", discard] : []));
  }
}
