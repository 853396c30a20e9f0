// The log: upkeep done, defects noted and mended, readings withdrawn or put right; each answer is the fresh state.

import { el } from "./dom.js";
import { sendNow } from "./send.js";

const value = (id) => document.getElementById(id)?.value ?? "";

class Logbook {
  constructor(bench) {
    this.bench = bench;
    document.getElementById("bench").addEventListener("click", ({ target }) => this.pressed(target.closest("button")));
  }

  send(path, body, origin) {
    return sendNow(this.bench, `/log/${path}`, body, origin);
  }

  /** Its token is told once: the server keeps only what proves it. */
  async addDevice(button) {
    const typed = Object.fromEntries(Object.entries(DEVICE).map(([key, id]) => [key, value(`device-${id}`)]));
    const quiet = { quiet_from: value("device-from"), quiet_to: value("device-to") };
    const told = await sendNow(this.bench, "/devices", { ...typed, ...quiet }, button);
    if (!told?.token) return;
    const words = `Token of ${typed.name}, shown this once: `;
    document
      .getElementById("surface")
      .prepend(el("p", { class: "why", id: "device-token" }, words, el("b", { class: "token" }, told.token)));
  }

  pressed(button) {
    const { upkeepDone, mended, righted, withdrawn, deviceRemoved } = button?.dataset ?? {};
    if (upkeepDone) this.send("upkeep", { kind: upkeepDone, on: value("upkeep-on"), note: "" }, button);
    else if (mended) this.send("defects", { mended: Number(mended) }, button);
    else if (righted) {
      const [kv, amps] = ["kv", "amps"].map((name) => value(`right-${name}-${righted}`));
      this.send("readings", { reading: Number(righted), kv, amps }, button);
    } else if (withdrawn) {
      this.send("readings", { reading: Number(withdrawn), why: value(`why-${withdrawn}`) }, button);
    } else if (deviceRemoved) sendNow(this.bench, "/devices/remove", { device: Number(deviceRemoved) }, button);
    else if (button && "deviceAdded" in button.dataset) this.addDevice(button);
    else if (button && "noteDefect" in button.dataset) {
      const [run, at_m, words] = ["defect-run", "defect-at", "defect-words"].map(value);
      this.send("defects", { run, at_m, words }, button);
    }
  }
}

const DEVICE = { name: "name", run: "run", at_m: "at", alarm_kv: "kv", silent_min: "silent" };

export const mount = (bench) => new Logbook(bench);
