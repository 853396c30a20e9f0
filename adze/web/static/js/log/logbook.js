// The log: upkeep done, defects noted and mended, readings withdrawn or put right; each answer is the fresh state.

import { el } from "../basics/dom.js";
import { sendNow } from "../basics/send.js";

const value = (id) => document.getElementById(id)?.value ?? "";

class Logbook {
  constructor(bench) {
    this.bench = bench;
    bench.on("state place", () => this.offerPlace());
    this.offerPlace();
    document.getElementById("bench").addEventListener("click", ({ target }) => this.pressed(target.closest("button")));
  }

  /** Where one stands is where something got through, until another place is typed. */
  offerPlace() {
    const [run, at] = ["through-run", "through-at"].map((id) => document.getElementById(id));
    const { place } = this.bench;
    if (!at || !place || at.dataset.offered !== at.value.trim()) return;
    run.value = place.run;
    at.value = String(Math.round(place.at_m));
    at.dataset.offered = at.value;
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
    const { mended, righted, withdrawn, deviceRemoved } = button?.dataset ?? {};
    if (mended) this.send("defects", { mended: Number(mended) }, button);
    else if (righted) {
      const [kv, amps] = ["kv", "amps"].map((name) => value(`right-${name}-${righted}`));
      this.send("readings", { reading: Number(righted), kv, amps }, button);
    } else if (withdrawn) {
      this.send("readings", { reading: Number(withdrawn), why: value(`why-${withdrawn}`) }, button);
    } else if (deviceRemoved) sendNow(this.bench, "/devices/remove", { device: Number(deviceRemoved) }, button);
    else if (button && "deviceAdded" in button.dataset) this.addDevice(button);
    else if (button) this.noted(button);
  }

  /** What a form of the log notes: its path and which inputs it takes. */
  noted(button) {
    const { upkeepDone } = button.dataset;
    if (upkeepDone) this.send("upkeep", { kind: upkeepDone, on: value("upkeep-on"), note: "" }, button);
    const form = ["defects", "through", "rain"].find((name) => FORMS[name].button in button.dataset);
    if (!form) return;
    const typed = Object.entries(FORMS[form].inputs).map(([key, id]) => [key, value(id)]);
    this.send(form, Object.fromEntries(typed), button);
  }
}

const FORMS = {
  rain: { button: "keepRain", inputs: { mm: "rain-mm", on: "rain-on" } },
  defects: { button: "noteDefect", inputs: { run: "defect-run", at_m: "defect-at", words: "defect-words" } },
  through: {
    button: "noteThrough",
    inputs: {
      kind: "through-kind",
      count: "through-count",
      way: "through-way",
      run: "through-run",
      at_m: "through-at",
      on: "through-on",
      note: "through-note",
    },
  },
};

const DEVICE = { name: "name", run: "run", at_m: "at", alarm_kv: "kv", silent_min: "silent" };

export const mount = (bench) => new Logbook(bench);
