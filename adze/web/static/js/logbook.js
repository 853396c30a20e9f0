// The log: upkeep done, defects noted and mended, readings withdrawn or put right; each answer is the fresh state.

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

  pressed(button) {
    const { upkeepDone, mended, righted, withdrawn } = button?.dataset ?? {};
    if (upkeepDone) this.send("upkeep", { kind: upkeepDone, on: value("upkeep-on"), note: "" }, button);
    else if (mended) this.send("defects", { mended: Number(mended) }, button);
    else if (righted) {
      const [kv, amps] = ["kv", "amps"].map((name) => value(`right-${name}-${righted}`));
      this.send("readings", { reading: Number(righted), kv, amps }, button);
    } else if (withdrawn) {
      this.send("readings", { reading: Number(withdrawn), why: value(`why-${withdrawn}`) }, button);
    } else if (button && "noteDefect" in button.dataset) {
      const [run, at_m, words] = ["defect-run", "defect-at", "defect-words"].map(value);
      this.send("defects", { run, at_m, words }, button);
    }
  }
}

export const mount = (bench) => new Logbook(bench);
