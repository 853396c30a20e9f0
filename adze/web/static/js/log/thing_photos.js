// Photos of steps, defects and what got through: sent at once; each answer is the fresh state.

import { showRefusal } from "../basics/refusals.js";

class ThingPhotos {
  constructor(bench) {
    this.bench = bench;
    const root = document.getElementById("bench");
    root.addEventListener("change", ({ target }) => {
      if (target.dataset.photoOf && target.files.length) this.send(target);
    });
    root.addEventListener("click", ({ target }) => {
      const button = target.closest("[data-drop-photo]");
      if (button) this.drop(button);
    });
  }

  async send(input) {
    const query = new URLSearchParams({ thing: input.dataset.photoOf, stage: this.bench.stage });
    await this.told(() => this.bench.api.send(`/photos?${query}`, input.files[0]), input);
  }

  async drop(button) {
    const body = { photo: Number(button.dataset.dropPhoto), stage: this.bench.stage };
    await this.told(() => this.bench.api.ask("/photos/drop", { method: "POST", body }), button);
  }

  /** The fresh state after something was sent; what is refused is said at the thing. */
  async told(ask, origin) {
    try {
      this.bench.take(await ask());
      this.bench.tell("state");
    } catch (error) {
      const faults = error.body?.faults ?? [{ path: "", message: error.message }];
      showRefusal({ faults, origin: origin.closest("[data-photos]") ?? origin });
    }
  }
}

export const mount = (bench) => new ThingPhotos(bench);
