// Parts of the panel that take longer to compute: asked for when they are looked at.

import { el } from "../basics/dom.js";

const LONGEST_MS = 90_000; // then it is said that no answer has come
const LATER = [0, 429, 502, 503, 504]; // 0: no answer

export class Pieces {
  constructor(bench, root) {
    this.bench = bench;
    this.root = root;
    this.open = new Set();
    this.met = new Set(); // those that open by themselves have done so once
    this.waits = new Map();
    root.addEventListener("toggle", ({ target }) => this.toggled(target), true);
    root.addEventListener("input", ({ target }) => this.typed(target));
    root.addEventListener("change", ({ target }) => this.changed(target));
    bench.on("season", () => this.again("/budget", "/wave", "/strand-joins"));
    bench.on("place", () => this.again("/wave"));
  }

  answerOf(what) {
    return this.root.querySelector(`details[data-ask="${what}"] [data-answer]`);
  }

  toggled(target) {
    const what = target.dataset?.ask;
    if (!what || target.open === this.open.has(what)) return;
    if (target.open) {
      this.open.add(what);
      this.ask(target.querySelector("[data-answer]"), what);
    } else this.open.delete(what);
  }

  typed(target) {
    if (!target.dataset.query) return;
    const says = target.closest("label")?.querySelector("output");
    const words = target.dataset.words?.split("|")[Number(target.value) - Number(target.min)];
    if (says) says.value = words ?? target.value;
  }

  changed(target) {
    const part = target.dataset.query && target.closest("details[data-ask]");
    if (part) this.ask(part.querySelector("[data-answer]"), part.dataset.ask);
  }

  /** What is said of a season or a place is asked again when these change. */
  again(...whats) {
    for (const what of whats.filter((x) => this.open.has(x))) {
      clearTimeout(this.waits.get(what));
      this.waits.set(
        what,
        setTimeout(() => this.ask(this.answerOf(what), what), 120),
      );
    }
  }

  /** After the panel was drawn anew: what was open is open, and asked for again. */
  refresh() {
    void this.mend(this.root.querySelector("#mends"));
    for (const part of this.root.querySelectorAll("details[data-ask]")) {
      const what = part.dataset.ask;
      if ("opens" in part.dataset && !this.met.has(what)) {
        this.met.add(what);
        this.open.add(what);
      }
      part.open = this.open.has(what);
      if (part.open) this.ask(part.querySelector("[data-answer]"), what);
    }
  }

  /** The fix of the stage's worst finding. What it offers besides stays open over a change of the plan. */
  async mend(box) {
    if (!box) return;
    await this.ask(box, `/stages/${box.dataset.fixOf}/fix`);
    for (const part of box.querySelectorAll("details[data-ask]")) part.open = this.open.has(part.dataset.ask);
  }

  async ask(place, what) {
    if (!place) return;
    const { bench } = this;
    try {
      const query = new URLSearchParams({ fence: bench.fenceId, season: bench.season, ...(bench.place ?? {}) });
      for (const input of place.closest("details")?.querySelectorAll("[data-query]") ?? []) {
        if (input.value !== input.dataset.unset) query.set(input.dataset.query, input.value);
      }
      const signal = AbortSignal.timeout(LONGEST_MS);
      place.innerHTML = (await bench.api.ask(`${what}?${query}`, { signal })).html;
    } catch (error) {
      if (!LATER.includes(error.status ?? 0)) return this.tell(place, error);
      // Nothing is wrong with the plan: the machine is busy, or away.
      const why = error.status ? error.message : "No answer from the server yet.";
      const again = el(
        "button",
        { type: "button", class: "act small", onclick: () => this.ask(place, what) },
        "Try again",
      );
      place.replaceChildren(el("p", { class: "why plain" }, why, " ", again));
    }
  }

  tell(place, error) {
    // What is not known yet belongs to no input: it is told, not held against what was typed.
    const typed = error.body?.faults?.every(({ path }) => path) ?? true;
    place.replaceChildren(el("p", { class: typed ? "fault" : "why plain" }, error.message));
  }
}
