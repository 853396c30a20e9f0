// The work: ticks, crew, day, rates and weather go to the server at once; each answer is the fresh state.

import { token } from "../basics/api.js";
import { devicePosition } from "../draw/device_position.js";
import { el } from "../basics/dom.js";
import { showRefusal } from "../basics/refusals.js";
import { sendNow } from "../basics/send.js";

const EVERY_MS = 20_000; // the clock of a bird that is off its eggs

class Work {
  constructor(bench) {
    this.bench = bench;
    this.root = document.getElementById("bench");
    this.root.addEventListener("click", ({ target }) => this.pressed(target.closest("button")));
    this.root.addEventListener("change", ({ target }) => this.changed(target));
    this.timer = null;
    setInterval(() => document.querySelector("[data-test=clock]") && bench.refresh(), EVERY_MS);
  }

  send(path, body, origin) {
    return sendNow(this.bench, `/work/${path}`, body, origin);
  }

  pressed(button) {
    const { tick, step, learn } = button?.dataset ?? {};
    if (tick) this.tick(step, tick, button);
    else if (learn) this.send("rates", { learned: learn }, button);
    else {
      const name = Object.keys(this.actions).find((key) => key in (button?.dataset ?? {}));
      if (name) this.actions[name](button);
    }
  }

  actions = {
    setDay: (button) => {
      const typed = (id) => document.getElementById(id).value;
      const day = { begins_on: typed("day-on"), begins_at: typed("day-at"), day_h: typed("day-h") };
      this.send("day", { ...day, ready_by: typed("ready-by"), ready_for: typed("ready-for") }, button);
    },
    crewMore: (button) => this.sendCrew([{ name: "Helper", role: "any", may: [] }], button),
    crewOff: (button) => {
      button.closest("[data-crew-row]").remove();
      this.sendCrew([], button);
    },
    askWeather: (button) => this.send("forecast", { text: "" }, button),
    pasteWeather: () => {
      const box = document.getElementById("forecast");
      if (box.value.trim()) this.send("forecast", { text: box.value }, box);
    },
    rodsHere: (button) => this.rodsHere(button),
    stopwatch: (button) => this.watch(button),
  };

  tick(step, what, origin) {
    const note = document.querySelector(`[data-note="${CSS.escape(step)}"]`)?.value ?? "";
    return this.send("tick", { step, what, note, once: token() }, origin);
  }

  changed(input) {
    const { rate, crew, note, built, kit } = input.dataset;
    if (rate) this.send("rates", { kind: rate, minutes: input.value }, input);
    else if (kit) this.send("tick", { step: kit, what: input.checked ? "done" : "undone", once: token() }, input);
    else if (built) this.send("built", { key: built, figure: input.value }, input);
    else if (crew) this.sendCrew([], input);
    else if (note && input.value.trim()) {
      this.send("tick", { step: note, what: "note", note: input.value, once: token() }, input);
    }
  }

  /** The first rod stands where the device is; the others come along as they are drawn. */
  async rodsHere(button) {
    try {
      const { at } = await devicePosition(this.bench.api);
      await this.bench.do({ do: "place_rods", at, keep: true }, button);
    } catch (error) {
      showRefusal({ faults: [{ path: "", message: error.message }], origin: button });
    }
  }

  sendCrew(more, origin) {
    const rows = [...document.querySelectorAll("[data-crew-row]")].map((row) => ({
      name: row.querySelector("[data-crew=name]").value,
      role: row.querySelector("[data-crew=role]").value,
      may: [...row.querySelectorAll("[data-crew=may]:checked")].map((box) => box.value),
    }));
    return this.send("crew", { crew: [...rows, ...more] }, origin);
  }

  /** A stopwatch for the rehearsal. */
  watch(button) {
    if (this.timer) {
      clearInterval(this.timer);
      this.timer = null;
      button.textContent = "Start the watch";
      return;
    }
    const begun = performance.now();
    button.textContent = "Stop";
    this.timer = setInterval(() => {
      const seconds = Math.floor((performance.now() - begun) / 1000);
      const shown = document.getElementById("stopwatch");
      shown?.replaceChildren(el("span", {}, `${Math.floor(seconds / 60)}:${String(seconds % 60).padStart(2, "0")}`));
    }, 250);
  }
}

export const mount = (bench) => new Work(bench);
