// A pad to draw a shape on: each press sets a corner, a corner can be dragged, sides can be typed.

import { svg } from "../basics/dom.js";
import { isClosed } from "./shape.js";

const LEAST_SPAN_M = 120;
const NEAR_PX = 22; // a finger
const ROOM = 1.4; // around what is drawn

export class Pad {
  constructor(root, corners, perUnit, changed) {
    this.corners = corners;
    this.perUnit = perUnit;
    this.changed = changed;
    this.root = root;
    this.view = /** @type {SVGSVGElement} */ (root.querySelector("svg"));
    this.held = -1;
    this.view.addEventListener("pointerdown", (event) => this.down(event));
    this.view.addEventListener("pointermove", (event) => this.move(event));
    this.view.addEventListener("pointerup", () => this.up());
    root.querySelector("[data-side]").addEventListener("click", () => this.addSide());
    root.querySelector("[data-close]").addEventListener("click", () => this.close());
    root.querySelector("[data-back]").addEventListener("click", () => this.set(this.corners.slice(0, -1)));
    root.querySelector("#side-m").addEventListener("keydown", (event) => {
      if (event.key !== "Enter") return;
      event.preventDefault();
      this.addSide();
    });
    new ResizeObserver(() => {
      this.fit();
      this.draw();
    }).observe(this.view);
  }

  set(corners) {
    this.corners = corners;
    if (this.held < 0) this.fit();
    this.draw();
    this.changed();
  }

  /** What is seen, m: all corners with room around them. */
  fit() {
    const [xs, ys] = [0, 1].map((axis) => this.corners.map((corner) => corner[axis]));
    const middle = (row) => (row.length ? (Math.min(...row) + Math.max(...row)) / 2 : 0);
    const span = (row) => (row.length ? Math.max(...row) - Math.min(...row) : 0);
    const { clientWidth: wide, clientHeight: high } = this.view;
    this.span = Math.max(LEAST_SPAN_M, ROOM * span(xs), (ROOM * span(ys) * (wide || 600)) / (high || 300));
    this.centre = [middle(xs), middle(ys)];
  }

  get scale() {
    return (this.view.clientWidth || 600) / this.span;
  }

  /** Where a place lies on the pad, px. */
  onPad([x, y]) {
    const { clientWidth: wide = 600, clientHeight: high = 300 } = this.view;
    return [wide / 2 + (x - this.centre[0]) * this.scale, high / 2 - (y - this.centre[1]) * this.scale];
  }

  at(event) {
    const box = this.view.getBoundingClientRect();
    const x = this.centre[0] + (event.clientX - box.left - box.width / 2) / this.scale;
    const y = this.centre[1] - (event.clientY - box.top - box.height / 2) / this.scale;
    return [Math.round(x), Math.round(y)];
  }

  near(event) {
    const box = this.view.getBoundingClientRect();
    return this.corners.findIndex((corner) => {
      const [x, y] = this.onPad(corner);
      return Math.hypot(event.clientX - box.left - x, event.clientY - box.top - y) < NEAR_PX;
    });
  }

  down(event) {
    event.preventDefault();
    this.view.setPointerCapture(event.pointerId);
    const near = this.near(event);
    if (near === 0 && this.corners.length > 2 && !isClosed(this.corners)) this.close();
    else if (near >= 0) this.held = near;
    else if (!isClosed(this.corners)) this.set([...this.corners, this.at(event)]);
  }

  move(event) {
    if (this.held < 0) return;
    const closed = isClosed(this.corners);
    const corners = this.corners.slice();
    corners[this.held] = this.at(event);
    if (closed && this.held === 0) corners[corners.length - 1] = corners[0];
    this.set(corners);
  }

  up() {
    if (this.held < 0) return;
    this.held = -1;
    this.set(this.corners);
  }

  addSide() {
    const length = /** @type {HTMLInputElement} */ (this.root.querySelector("#side-m"));
    const way = /** @type {HTMLSelectElement} */ (this.root.querySelector("#side-way"));
    const metres = Number.parseFloat(length.value.replace(",", ".")) * this.perUnit;
    length.toggleAttribute("aria-invalid", !(metres > 0));
    if (!(metres > 0) || isClosed(this.corners)) return;
    const turn = (Number(way.value) * Math.PI) / 180;
    const from = this.corners.at(-1) ?? [0, 0];
    const to = [from[0] + metres * Math.sin(turn), from[1] + metres * Math.cos(turn)];
    const rounded = to.map((x) => Math.round(x * 100) / 100);
    this.set(this.corners.length ? [...this.corners, rounded] : [from, rounded]);
    length.value = "";
    length.focus();
  }

  close() {
    if (this.corners.length > 2 && !isClosed(this.corners)) this.set([...this.corners, this.corners[0]]);
  }

  draw() {
    const points = this.corners.map((corner) => this.onPad(corner));
    const line = svg("polyline", { points: points.map((at) => at.join()).join(" "), class: "pad-line" });
    const dots = points.map(([cx, cy]) => svg("circle", { cx, cy, r: 6, class: "pad-corner" }));
    const step = this.span > 800 ? 100 : 20;
    const words = `a square: ${Math.round(step / this.perUnit)} ${this.perUnit === 1 ? "m" : "ft"}`;
    const rules = [];
    const [wide, high] = [this.view.clientWidth || 600, this.view.clientHeight || 300];
    for (let x = (wide / 2) % (step * this.scale); x < wide; x += step * this.scale)
      rules.push(svg("line", { x1: x, x2: x, y1: 0, y2: high, class: "pad-rule" }));
    for (let y = (high / 2) % (step * this.scale); y < high; y += step * this.scale)
      rules.push(svg("line", { x1: 0, x2: wide, y1: y, y2: y, class: "pad-rule" }));
    const label = svg("text", { x: 8, y: high - 8, class: "pad-words" });
    label.textContent = words;
    this.view.replaceChildren(...rules, line, ...dots, label);
  }
}
