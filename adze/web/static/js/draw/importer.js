import { box, show } from "./importer_preview.js";
// A file of lines: read with its progress shown, looked at on the ground, and only then taken.

import { el } from "../basics/dom.js";

import * as L from "../../vendor/leaflet/leaflet-src.esm.js";

const LARGEST = 24_000_000;

class Importer {
  constructor(bench, ground) {
    this.bench = bench;
    this.ground = ground;
    this.panel = document.querySelector("#panel");
    this.layer = L.layerGroup().addTo(this.ground.map);
    this.pending = null;
    this.reading = null;
    this.panel.addEventListener("change", (event) => {
      if (event.target.id === "ground-file" && event.target.files.length) this.bring(event.target.files[0]);
    });
    this.bench.addEventListener("state", () => {
      if (this.pending) show(this);
    });
  }

  fail(message, offer = false) {
    box().replaceChildren(
      el("span", { class: "fault", role: "alert" }, message),
      ...(offer && this.pending
        ? [
            el(
              "button",
              {
                type: "button",
                class: "act",
                onclick: () => this.look({ swap: !this.pending.swap }),
              },
              "Take them the other way round",
            ),
          ]
        : []),
    );
  }

  progress(words, share) {
    box().replaceChildren(
      el("p", { class: "small mt-1" }, words),
      el(
        "div",
        {
          class: "bar",
          role: "progressbar",
          "aria-valuemin": 0,
          "aria-valuemax": 100,
          "aria-valuenow": Math.round(share * 100),
          "aria-label": words,
        },
        el("i", { style: `width:${share * 100}%` }),
      ),
      el("button", { type: "button", class: "act small mt-1", onclick: () => this.reading?.abort() }, "Stop"),
    );
  }

  async bring(file) {
    this.drop();
    if (file.size > LARGEST) {
      this.fail(
        `${file.name} is ${(file.size / 1e6).toFixed(0)} MB, at most ${LARGEST / 1e6} MB is taken; ` +
          "split it, or simplify it.",
      );
      return;
    }
    this.reading = new AbortController();
    this.progress(`Sending ${file.name}`, 0.02);
    try {
      const last = await this.bench.api.send("/imports", file, {
        signal: this.reading.signal,
        heard: ({ share, words }) => {
          if (share) this.progress(words, share);
        },
      });
      this.pending = { id: last.import, thin: null, swap: false, part: false, out: new Set() };
      await this.look();
    } catch (error) {
      if (error.name === "AbortError")
        box().replaceChildren(el("p", { class: "small" }, "Stopped: nothing was imported."));
      else this.fail(error.message);
    } finally {
      this.reading = null;
    }
  }

  /** Look at the file read in another way; what is not named stays. */
  async look(how = {}) {
    Object.assign(this.pending, how);
    const query = new URLSearchParams({ swap: this.pending.swap, part: this.pending.part });
    if (this.pending.thin !== null) query.set("thin", this.pending.thin);
    try {
      this.pending.found = await this.bench.api.ask(`/imports/${this.pending.id}?${query}`);
    } catch (error) {
      this.fail(error.message, error.body?.offer_swap);
      return;
    }
    this.pending.thin = this.pending.found.thin_m;
    show(this);
  }

  async take() {
    const kept = this.pending;
    const { found, out, id, thin, part } = kept;
    const lines = out.size ? found.lines.map((_, i) => i).filter((i) => !out.has(i)) : null;
    this.drop();
    const done = await this.bench.post(`/imports/${id}/take`, {
      thin_m: thin,
      swap: kept.swap || found.offer_swap,
      part,
      lines,
    });
    if (!done) {
      this.pending = kept;
      show(this);
      return;
    }
    this.ground.fit();
  }

  drop() {
    this.layer.clearLayers();
    this.pending = null;
  }
}

export function mount(bench, ground) {
  return new Importer(bench, ground);
}
