// Walking the line by keyboard, and the list of keys.

import { el } from "../basics/dom.js";
import { readingQuery } from "../basics/place_query.js";

const LIST = [
  ["← →", "walk one post"],
  ["Shift ← →", "to the next thing fixed on the line"],
  ["↑ ↓", "change strand"],
  ["Enter", "open what is here at Ground"],
  ["l", "log a reading here"],
  ["s", "next season"],
  ["w", "where you stand: open it, shut it"],
  ["g", "from the drawing to the work beside it, and back"],
  ["Ctrl Z, Ctrl Y", "undo, redo"],
  ["Delete", "take off what is chosen"],
  ["Alt ← → ↑ ↓", "move what is chosen 1 m, with Shift 10 m"],
  ["Ctrl A", "choose everything on the ground"],
  ["Esc", "give up drawing, or what is shown"],
  ["?", "this list"],
];

class Keys {
  constructor(bench) {
    this.bench = bench;
    this.dialog = document.getElementById("dialog");
    document.getElementById("help").addEventListener("click", () => this.help());
    document.addEventListener("keydown", (event) => {
      if (event.defaultPrevented || event.target.closest("input, select, textarea, dialog[open]")) return;
      const act = event.ctrlKey || event.metaKey ? this.withControl(event) : this.plainKey(event);
      if (!act) return;
      if (event.key !== "Enter") event.preventDefault();
      act();
    });
  }

  withControl({ key, shiftKey }) {
    const path = { z: shiftKey ? "/redo" : "/undo", y: "/redo" }[key.toLowerCase()];
    return path && (() => this.bench.post(path));
  }

  plainKey({ key, altKey, shiftKey, target }) {
    if (altKey || (key === "Enter" && target.closest("a, button"))) return null;
    const { bench } = this;
    const top = (bench.fenceOf(bench.place?.run)?.strands.length ?? 1) - 1;
    const acts = {
      ArrowLeft: () => this.walk(-1, shiftKey),
      ArrowRight: () => this.walk(1, shiftKey),
      ArrowUp: () => bench.choose({ strand: Math.min(top, bench.strand + 1) }),
      ArrowDown: () => bench.choose({ strand: Math.max(0, bench.strand - 1) }),
      s: () => this.cycle(),
      w: () => bench.tell("turn-place"),
      g: () => bench.tell("turn"),
      "?": () => this.help(),
      l: () => location.assign(`/plans/${bench.plan}/log/reading${readingQuery(bench)}`),
      Enter: () => bench.stage !== "ground" && location.assign(`/plans/${bench.plan}/ground`),
    };
    return acts[key];
  }

  help() {
    this.dialog.replaceChildren(
      el("h2", { id: "dialog-title" }, "Keys"),
      ...LIST.map(([keys, words]) =>
        el("div", { class: "row2" }, el("span", {}, words), el("span", {}, el("kbd", {}, keys))),
      ),
      el("form", { method: "dialog", class: "acts" }, el("button", { class: "act main" }, "Close")),
    );
    this.dialog.showModal();
  }

  walk(way, far) {
    const route = this.bench.routes[this.bench.route];
    const at = this.bench.routeDistance();
    if (!route || at === null) return;
    if (!far) {
      this.bench.standOnRoute(
        Math.min(route.length_m, Math.max(0, at + way * this.bench.spacingOn(this.bench.place.run))),
      );
      return;
    }
    const stops = this.bench.way.marks.map((m) => m.at_m).filter((m) => (way > 0 ? m > at + 0.1 : m < at - 0.1));
    if (stops.length) this.bench.standOnRoute(way > 0 ? Math.min(...stops) : Math.max(...stops));
  }

  cycle() {
    const seasons = ["dry", "usual", "wet"];
    this.bench.choose({ season: seasons[(seasons.indexOf(this.bench.season) + 1) % 3] });
  }
}

export const mount = (bench) => new Keys(bench);
