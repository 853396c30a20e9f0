// What was written without signal waits on the device and is sent once, when there is signal again.
//
// Each entry carries its own token and time. It leaves the device only when the server has kept it; what the server
// refuses stays with the reason. Entries outlive a closed page: they lie in IndexedDB.

const NAME = "adze-outbox";
const AGAIN_MS = 15_000;
const AT_ONCE = 6; // entries under way: a browser opens no more connections to one server

function opened() {
  return new Promise((done, failed) => {
    const asked = indexedDB.open(NAME, 1);
    asked.onupgradeneeded = () => asked.result.createObjectStore("entries", { keyPath: "once" });
    asked.onsuccess = () => done(asked.result);
    asked.onerror = () => failed(asked.error);
  });
}

async function store(mode, act) {
  const base = await opened();
  return new Promise((done, failed) => {
    const change = base.transaction("entries", mode);
    const asked = act(change.objectStore("entries"));
    change.oncomplete = () => {
      base.close();
      done(asked?.result);
    };
    change.onerror = () => failed(change.error);
  });
}

export const waiting = () => store("readonly", (entries) => entries.getAll());
const put = (entry) => store("readwrite", (entries) => entries.put(entry));
const drop = (once) => store("readwrite", (entries) => entries.delete(once));

/** What an answer means for an entry: kept, refused with a reason, or to be sent later. */
export async function outcome(response) {
  const { pathname } = new URL(response.url);
  if (pathname.endsWith("/sign-in")) return { later: "Sign in again: what waits is still here." };
  if (response.ok) return { kept: true };
  if (response.status === 422) {
    const page = new DOMParser().parseFromString(await response.text(), "text/html");
    return { refused: page.querySelector(".fault")?.textContent.trim() || "The server refused it." };
  }
  return { later: `The server answers ${response.status}; it is sent again.` };
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
    await put(entry);
    await this.show();
  }

  async send() {
    if (this.busy) return;
    this.busy = true;
    this.says = "";
    try {
      const rows = (await waiting()).filter((one) => !one.refused);
      const take = async () => {
        for (let entry = rows.shift(); entry; entry = rows.shift()) await this.sendOne(entry);
      };
      const ends = await Promise.allSettled(Array.from({ length: AT_ONCE }, take));
      if (ends.some(({ status }) => status === "rejected")) this.says = "No signal yet.";
    } catch {
      this.says = "No signal yet.";
    }
    this.busy = false;
    await this.show();
  }

  async sendOne(entry) {
    const body = new URLSearchParams(entry.body);
    body.set("csrf", this.csrf);
    body.set("at", entry.at);
    const { kept, refused, later } = await outcome(
      await fetch(entry.url, { method: "POST", body, headers: { Accept: "application/json" } }),
    );
    if (kept) await drop(entry.once);
    else if (refused) await put({ ...entry, refused });
    else this.says = later;
  }

  async show() {
    const rows = await waiting();
    const refused = rows.filter((one) => one.refused);
    this.shown.hidden = !rows.length;
    const words = [`${rows.length} on this device wait${rows.length === 1 ? "s" : ""} to be sent.`, this.says];
    for (const one of refused) words.push(`Refused (${one.words}): ${one.refused}`);
    const discard = document.createElement("button");
    discard.className = "act small";
    discard.type = "button";
    discard.textContent = "Throw the refused away";
    discard.addEventListener("click", async () => {
      for (const one of refused) await drop(one.once);
      await this.show();
    });
    this.shown.replaceChildren(words.filter(Boolean).join(" "), ...(refused.length ? [" ", discard] : []));
  }
}
