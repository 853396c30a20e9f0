// What dragged strands would do, asked of the server and told while they are dragged.

import { el, mark } from "../basics/dom.js";

const NARROW_PX = 520; // on a phone the strands must stay in sight

const row = (status, head, rest = "") => el("div", {}, mark(status), el("b", {}, head), rest);

export class Trial {
  constructor(side) {
    this.side = side;
    this.found = null;
    this.asking = false;
    this.next = null;
    this.verdict = el("div", { class: "trial", role: "status", hidden: true });
    side.root.append(this.verdict);
  }

  end() {
    this.found = null;
    this.tell();
  }

  /** Ask what dragged strands would do; one question at a time, always the newest. */
  async judge() {
    const { side } = this;
    const { bench } = side;
    const strands = side.standing().slice(bench.woven);
    this.next = strands.map(({ cm, role }) => ({ cm, role })).sort((a, b) => a.cm - b.cm);
    if (this.asking) return;
    this.asking = true;
    while (this.next && side.dragging) {
      const body = { strands: this.next, fence: bench.fenceId };
      this.next = null;
      try {
        this.found = await bench.api.ask("/try", { method: "POST", body });
      } catch (error) {
        this.found = { fault: error.message };
      }
      if (side.dragging) side.draw();
    }
    this.asking = false;
    this.next = null;
  }

  /** The openings that dragged strands leave for animals that are not held. */
  gaps() {
    const animals = this.side.dragging ? (this.found?.animals ?? []) : [];
    return animals.filter((a) => a.gap && a.status !== "holds");
  }

  tell() {
    const { found, side, verdict } = this;
    verdict.hidden = !side.dragging || !found;
    if (verdict.hidden) return;
    if (found.fault) {
      verdict.replaceChildren(el("span", { class: "fault" }, found.fault));
      return;
    }
    const most = side.root.clientWidth < NARROW_PX ? 1 : 4;
    const bad = found.animals.filter((a) => a.status !== "holds");
    const weak = found.felt.filter((x) => x.status !== "holds");
    const limit = (a) => (a.limit ? ` / ${a.limit}` : "");
    const rows = bad.slice(0, most).map((a) => row(a.status, a.title, ` ${a.figure}${limit(a)}. ${a.reason}`));
    if (!bad.length) rows.push(row("holds", "These strands hold every animal."));
    for (const f of weak.slice(0, Math.min(3, most))) {
      const rest = ` / ${f.wanted} in the driest week: ${f.status}.`;
      rows.push(row(f.status, `The ${f.animal} feels ${f.kv} kV`, rest));
    }
    verdict.replaceChildren(...rows);
  }
}
