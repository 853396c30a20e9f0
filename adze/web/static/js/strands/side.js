// The fence from the side, to scale, with the animals that meet it. Drag a strand by its label.

import { svg } from "../basics/dom.js";
import { backing, beast, hatch, heading, mesh, net, openings, pole, posts, strand, topWords } from "./side_picture.js";
import { scaleOf } from "./side_scale.js";
import { Trial } from "./side_trial.js";
import { heightWords } from "../basics/scales.js";

const LABEL_APART = 25; // from one strand's label to the next, pixels

class Side {
  constructor(bench) {
    this.bench = bench;
    this.root = document.getElementById("side");
    this.kinds = bench.shared.kinds;
    this.picture = svg("svg", { role: "group", "aria-label": "The fence from the side" });
    this.root.append(this.picture);
    this.dragging = null;
    this.scale = 1; // pixels for each cm in the drawing that stands
    this.trial = new Trial(this);
    this.listen();
    this.draw();
  }

  listen() {
    this.picture.addEventListener("pointermove", (event) => this.drag(event.clientY));
    this.picture.addEventListener("pointerup", () => this.drop());
    this.picture.addEventListener("pointercancel", () => {
      this.dragging = null;
      this.trial.end();
      this.draw();
    });
    this.bench.on("state place fence", () => this.draw());
    new ResizeObserver(() => this.draw()).observe(this.root);
  }

  drag(clientY) {
    if (!this.dragging) return;
    const { start, from } = this.dragging;
    this.dragging.cm = Math.max(3, Math.round(start - (clientY - from) / this.scale));
    this.draw();
    this.trial.judge();
  }

  drop() {
    if (!this.dragging) return;
    const { index, cm, start } = this.dragging;
    this.dragging = null;
    this.trial.end();
    if (cm !== start) this.move(index, cm);
    else this.bench.choose({ strand: index });
  }

  /** The animals with their own bodies and what each asks; the kinds' until something is computed. */
  herd() {
    const { fence, doc } = this.bench;
    const own = fence?.animals.map((a) => ({ ...this.kinds[a.kind], ...a, key: a.kind }));
    const herd = own ?? doc.stock.map((h) => ({ ...this.kinds[h.kind], key: h.kind }));
    return herd.sort((a, b) => a.shoulder_cm - b.shoulder_cm);
  }

  /** The strands as they stand, or as they are being dragged, from the lowest up. */
  standing() {
    const rows = this.bench.fence?.strands ?? [];
    return rows.map((s, i) => (this.dragging?.index === i ? { ...s, cm: this.dragging.cm } : s));
  }

  draw() {
    const { width, height } = this.root.getBoundingClientRect();
    if (width < 80) return;
    const { bench } = this;
    const [strands, beasts, fence] = [this.standing(), this.herd(), bench.fence];
    const view = scaleOf({ width, height, strands, beasts });
    this.scale = view.scale;
    this.picture.setAttribute("viewBox", `0 0 ${width} ${height}`);
    this.trial.tell();
    const parts = [hatch(), ...heading(view, bench, beasts, strands)];
    if (fence?.behind) parts.push(...backing(view, fence.behind, strands));
    parts.push(...pole(view, bench.units), ...openings(view, this.trial.gaps()));
    if (bench.construction.apron) parts.push(...mesh(view));
    for (const [i, b] of beasts.entries()) parts.push(...beast(view, b, view.places[i], bench.units));
    parts.push(...posts(view, fence?.post_cm ?? 75));
    if (fence?.netting) parts.push(...net(view, fence.netting, bench.units));
    for (const s of strands) parts.push(...strand(view, s));
    const said = { strands, units: bench.units };
    for (const [i, b] of beasts.entries()) parts.push(...topWords(view, b, view.places[i], said));
    this.picture.replaceChildren(...parts, ...this.labels(view, strands));
  }

  /** The strands' labels, each at its strand or pushed up by the one below. */
  labels(view, strands) {
    let top = Infinity;
    return strands.slice(this.bench.woven).map((s, i) => {
      top = Math.min(view.y(s.cm), top - LABEL_APART);
      return this.label(s, i + this.bench.woven, top, view);
    });
  }

  label(s, i, at, view) {
    const x = view.width - 104;
    const on = i === this.bench.strand;
    const words = `${heightWords(s.cm, this.bench.units)} ${s.role}`;
    const box = { x, y: at - 11.5, width: 100, height: 23, rx: 5, fill: "var(--panel)" };
    const slider = { "aria-valuenow": Math.round(s.cm), "aria-valuemin": 1, "aria-valuemax": 250 };
    const group = svg(
      "g",
      { class: "grip", tabindex: 0, role: "slider", "aria-label": `Strand ${i + 1}, ${s.role}`, ...slider },
      svg("path", { d: `M${x - 8} ${view.y(s.cm)}L${x} ${at}`, stroke: "var(--ink)", "stroke-width": 1 }),
      svg("rect", { ...box, stroke: on ? "var(--ink)" : "var(--dead)", "stroke-width": on ? 2.2 : 1.2 }),
      svg(
        "text",
        { x: x + 7, y: at + 4.5, "font-size": 12.5 },
        svg("tspan", { "font-weight": 700 }, `${i + 1} `),
        words,
      ),
    );
    group.dataset.strandGrip = i;
    this.holdable(group, s, i);
    return group;
  }

  holdable(group, s, i) {
    group.addEventListener("pointerdown", (event) => {
      this.dragging = { index: i, cm: s.cm, from: event.clientY, start: s.cm };
      this.picture.setPointerCapture(event.pointerId);
      event.preventDefault();
    });
    group.addEventListener("keydown", (event) => {
      const step = { ArrowUp: 1, ArrowDown: -1 }[event.key];
      if (!step) return;
      event.preventDefault();
      event.stopPropagation();
      this.move(i, s.cm + step);
    });
  }

  move(index, cm) {
    const { bench } = this;
    const strand = index - bench.woven;
    bench.do({ do: "move_strand", strand, cm: Math.round(cm), sorts: true, fence: bench.fenceId });
  }
}

export const mount = (bench) => new Side(bench);
