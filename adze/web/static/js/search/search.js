// The search for the cheapest design that holds: its progress, the best so far, and cost against strength as a picture.

import { pause } from "../basics/api.js";
import { el } from "../basics/dom.js";
import { picture, row } from "./search_picture.js";

const EVERY_MS = 250;
const ENDED = new Set(["done", "stopped", "failed"]);

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
    this.panel = document.getElementById("bench");
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
      el("button", { type: "button", class: "act small", onclick: () => this.halt() }, "Stop"),
    );
    this.panel.addEventListener("click", ({ target }) => {
      if (target.closest("[data-search]") && !this.running) this.start();
    });
    this.bench.addEventListener("state", () => {
      this.show();
      this.findAgain();
    });
    this.findAgain();
  }

  start() {
    this.follow({ done: 0, total: 1, front: [], best: [] }, () =>
      this.bench.api.ask("/searches", { method: "POST", body: { wishes: wishes() } }),
    );
  }

  /** Hear of a search until it ends. It goes on without us: no answer now is no reason to leave it. */
  async follow(first, begin) {
    this.running = { id: null };
    this.found = first;
    this.show();
    try {
      let told = await begin();
      for (;;) {
        this.running.id = told.id;
        if (told.total) this.found = told;
        if (told.fault) throw new Error(told.fault);
        if (ENDED.has(told.state)) break;
        this.show();
        await pause(EVERY_MS);
        told = await this.bench.api.ask(`/searches/${told.id}`).catch((error) => {
          if (error.status) throw error;
          return told;
        });
      }
      this.found.stopped = told.state === "stopped";
    } catch (error) {
      this.found.fault = error.message.replace(
        /^wishes\.(\w+)/,
        (path, name) => ({ least_rods: "Rods at least", most_money: "Costs at most", supply: "Runs on" })[name] ?? path,
      );
    } finally {
      this.running = null;
      this.show();
    }
  }

  /** The search that was asked for this plan before: by this browser, or by another. */
  findAgain() {
    const known = box()?.dataset.searchKnown;
    if (!known || this.running || this.found) return;
    this.follow({ done: 0, total: 1, front: [], best: [] }, () => this.bench.api.ask(`/searches/${known}`));
  }

  halt() {
    if (this.running?.id) this.bench.api.ask(`/searches/${this.running.id}/stop`, { method: "POST" }).catch(() => {});
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
