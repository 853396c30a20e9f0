import { picture, row } from "./search_picture.js";
// The search for the cheapest design that holds: its progress, the best so far, and cost against strength as a picture.

import { el } from "./dom.js";

function box() {
  return document.getElementById("search-found");
}

function wish(name) {
  return document.getElementById(`wish-${name}`);
}

function wishes() {
  const figure = (text) => (text === "" || Number.isNaN(Number(text)) ? text : Number(text));
  const money = wish("money").value.trim().replace(/[,\s]/g, "");
  return {
    supply: wish("supply").value,
    keep_energizer: wish("energizer").checked,
    keep_rods: wish("rods").checked,
    keep_conductor: wish("conductor").checked,
    keep_strands: wish("strands").checked,
    keep_lines: wish("lines").checked,
    least_rods: figure(wish("least").value.trim()),
    most_money: money === "" ? null : figure(money),
  };
}

class Search {
  constructor(bench) {
    this.bench = bench;
    this.panel = document.querySelector("#panel");
    this.running = null;
    this.found = null; // the last that was heard, kept while the panel is drawn anew
    // Made once: a button that is made anew while it is pressed hears no click.
    this.filled = el("i");
    this.bar = el(
      "div",
      {
        class: "bar mt-1",
        role: "progressbar",
        "aria-label": "Trying designs",
        "aria-valuemin": 0,
        "aria-valuemax": 100,
      },
      this.filled,
    );
    this.counted = el("span");
    this.stop = el(
      "p",
      { class: "small mb-1" },
      this.counted,
      " ",
      el("button", { type: "button", class: "act small", onclick: () => this.running?.abort() }, "Stop"),
    );
    this.panel.addEventListener("click", ({ target }) => {
      if (target.closest("[data-search]") && !this.running) this.start();
    });
    this.bench.addEventListener("state", () => this.show());
  }

  async start() {
    this.running = new AbortController();
    this.found = { done: 0, total: 1, front: [], best: [] };
    this.show();
    try {
      await this.bench.api.lines(
        "/search",
        { wishes: wishes() },
        {
          signal: this.running.signal,
          heard: (step) => {
            if (!step.fault) {
              this.found = step;
              this.show();
            }
          },
        },
      );
    } catch (error) {
      if (error.name === "AbortError") this.found.stopped = true;
      else
        this.found.fault = error.message.replace(
          /^wishes\.(\w+)/,
          (path, name) =>
            ({ least_rods: "Rods at least", most_money: "Costs at most", supply: "Runs on" })[name] ?? path,
        );
    } finally {
      this.running = null;
      this.show();
    }
  }

  show() {
    const { found, running } = this;
    if (!box() || !found) return;
    const parts = running ? this.progress() : [this.said()];
    if (found.front.length) parts.push(picture(this));
    for (const [i, d] of found.best.entries()) parts.push(row(this, d, i));
    const kept = running && this.bar.parentNode === box() ? 2 : 0; // bar and button stay where they are
    while (box().childNodes.length > kept) box().lastChild.remove();
    box().append(...parts.slice(kept));
  }

  said() {
    const { done, computed = 0, best, fault, stopped } = this.found;
    if (fault) return el("p", { class: "fault", role: "alert" }, fault);
    const begun = `${stopped ? "Stopped: the best of" : "Done:"} ${done} designs, ${computed} computed in full`;
    const none = best.length ? "" : " None of them costs so little; raise the limit.";
    const words = `${begun}; over the others a cheaper one is stronger.${none}`;
    return el("p", { class: "small", role: "status" }, words);
  }

  progress() {
    const share = this.found.done / this.found.total;
    this.bar.setAttribute("aria-valuenow", Math.round(share * 100));
    this.filled.style.width = `${share * 100}%`;
    this.counted.textContent = `${this.found.done} of ${this.found.total} designs`;
    return [this.bar, this.stop];
  }
}

export function mount(bench) {
  return new Search(bench);
}
