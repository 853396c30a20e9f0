// A stage's panel: its inputs and buttons are operations; what is refused stays as typed, with the reason beside it.

import { Drafts, foldAgain, keepFolds, openFolds, openKept } from "../basics/drafts.js";
import { CHANGED, operationOf, PRESSED } from "./operations.js";
import { valueOf } from "../basics/inputs.js";
import { Pieces } from "./pieces.js";
import { readingQuery } from "../basics/place_query.js";
import { labelOf, showFault, showRefusal } from "../basics/refusals.js";
import { Surface } from "./surface.js";

const EARLIEST_DAY = "1900-01-01";

/** Said once the day is left so, and taken off once it is typed anew. */
function tooEarly(input) {
  if (!(input.value < EARLIEST_DAY)) return;
  showFault(input, "Type a day from 1900 on, with all four figures of the year.", "day");
}

class Panel {
  constructor(bench) {
    this.bench = bench;
    this.root = document.querySelector("[data-panel]");
    this.surface = new Surface(bench.stage);
    const whole = document.getElementById("bench"); // parts of the panel lie on the surface
    this.whole = whole;
    this.pieces = new Pieces(bench, whole);
    this.drafts = new Drafts(bench, whole, (input) => this.changed(input));
    whole.addEventListener("change", (event) => this.changed(event.target));
    whole.addEventListener("click", (event) => this.pressed(event.target.closest("button")));
    keepFolds(whole);
    bench.on("state", () => this.show());
    bench.on("fence", () => {
      if (bench.stage === "strands") bench.saving.then(() => bench.refresh());
    });
    bench.on("inspected", () => this.drafts.show());
    bench.on("turn", () => this.surface.turn());
    bench.on("refused", ({ detail }) => this.refused(detail));
    if (bench.panel) this.show();
  }

  changed(input) {
    // A year that is still being typed: 2, 20, 202.
    if (input.type.startsWith("date") && input.value && input.value < EARLIEST_DAY) {
      input.addEventListener("blur", () => tooEarly(input), { once: true });
      return;
    }
    const { bench } = this;
    const { path, kind } = input.dataset;
    const make = operationOf(CHANGED, input.dataset);
    if (make) bench.do(make(bench, input, input.dataset), input);
    else if (path) {
      const { type, value, checked } = input;
      this.setFields(input, path, valueOf({ type, value, checked, kind }, bench.units));
    } else if ("fenceChoice" in input.dataset) this.chooseConstruction(input.value);
  }

  /** Set a value; what was refused beside it is tried again with it, as one may need the other. */
  setFields(input, path, said) {
    const label = labelOf(input).slice(0, 180);
    input.said = said;
    const beside = this.drafts.beside(path);
    const one = { do: "set_field", path, value: said, label };
    const fields = Object.fromEntries([...beside.map(([key, row]) => [key, row.said]), [path, said]]);
    this.bench.do(beside.length ? { do: "set_fields", fields, label } : one, input);
  }

  refused(detail) {
    const { origin, message, faults } = detail;
    if (origin?.dataset.path && detail.faults.length) {
      this.drafts.refused(origin, origin.said, faults[0].message ?? message);
    }
    showRefusal(detail);
  }

  chooseConstruction(id) {
    const first = this.bench.doc.runs.find((run) => (run.fence ?? "") === id);
    if (first) this.bench.stand(first.id, 0);
    else this.bench.showFence(id);
  }

  pressed(button) {
    if (!button) return;
    const { bench } = this;
    const d = button.dataset;
    const make = operationOf(PRESSED, d);
    if (make) {
      const operation = make(bench, d);
      if (operation) bench.do(operation, button);
    } else if (d.standRun) bench.stand(d.standRun, Number(d.standAt));
    else if ("addFence" in d) this.addConstruction();
    else if ("keepStray" in d) this.keepStray();
    else if ("go" in d) this.go(button.closest("[data-go-run]").dataset);
  }

  go({ goSeason, goRun, goAt }) {
    if (goSeason) this.bench.choose({ season: goSeason });
    this.bench.stand(goRun, Number(goAt));
  }

  /** A construction of its own, begun as the shown one, for the line on which you stand. */
  async addConstruction() {
    const { bench } = this;
    const done = await bench.do({ do: "add_construction", run: bench.place?.run ?? "", fence: bench.fenceId });
    if (done) bench.showFence(done.made.split(":")[1]);
  }

  async keepStray() {
    const [landmark, volts, season] = ["st-mark", "st-volts", "st-season"].map(
      (id) => document.getElementById(id).value,
    );
    const box = this.pieces.answerOf("/stray");
    try {
      box.innerHTML = (await this.bench.api.ask("/stray", { method: "POST", body: { landmark, volts, season } })).html;
    } catch (error) {
      showRefusal({ faults: error.body?.faults ?? [] });
    }
  }

  /** Show the server's panel; the focus stays where it was. */
  show() {
    const { root, bench } = this;
    const held = document.activeElement;
    const inspector = root.querySelector("#inspector")?.innerHTML;
    const aside = root.closest("aside");
    const scroll = aside?.scrollTop ?? 0;
    const { scrolled } = this.surface;
    const folds = openFolds(this.whole);
    root.innerHTML = bench.panel;
    this.surface.take(root, scrolled);
    foldAgain(this.whole, folds);
    if (!folds.count) openKept(this.whole);
    this.drafts.show();
    // What is chosen stays in sight until its fresh figures are here.
    if (inspector && bench.chosen.size) root.querySelector("#inspector").innerHTML = inspector;
    this.focusAgain(held);
    if (scroll) aside.scrollTop = scroll;
    const here = root.querySelector("[data-log-here]");
    if (here && bench.place) here.href += readingQuery(bench);
    this.pieces.refresh();
  }

  focusAgain(held) {
    const { path, strand } = held?.dataset ?? {};
    const same = path ? `[data-path="${path}"]` : strand ? `[data-strand="${strand}"]` : null;
    const found = (same && this.whole.querySelector(same)) ?? (held?.id ? document.getElementById(held.id) : null);
    found?.focus({ preventScroll: true });
  }
}

export const mount = (bench) => new Panel(bench);
