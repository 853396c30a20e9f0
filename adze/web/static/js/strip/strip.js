// The strip: the chosen way unrolled, its kV, and everything fixed on it. Drag or walk along it.

import { el, svg } from "../basics/dom.js";
import { lengthWords } from "../basics/scales.js";
import { amps, grown } from "./strip_leaks.js";
import { marks, posts, relief, seen } from "./strip_marks.js";
import { LEFT, RIGHT, scaleOf } from "./strip_scale.js";
import { searched } from "./strip_search.js";
import { axis, band, flag, lowStrands, otherSeasons, short, trace, wantedLine } from "./strip_trace.js";
import { toldOf } from "../trace/trace_told.js";
import { stretchesAlong } from "../basics/walk.js";

const SEARCHED = "the higher, the likelier for each metre; hatched: half of it";

class Strip {
  constructor(bench) {
    this.bench = bench;
    this.root = document.getElementById("strip");
    this.select = document.getElementById("route");
    this.says = document.getElementById("strip-says");
    this.growing = document.getElementById("growing");
    this.band = null;
    this.drag = null; // the stretch of the way that growth is being drawn on
    this.scale = null;
    this.listed = "";
    this.size = this.root.getBoundingClientRect();
    this.listenToPointer();
    this.listenToControls();
    this.listenToBench();
    this.refresh();
  }

  listenToPointer() {
    const { root } = this;
    root.addEventListener("pointerdown", (event) => {
      if (!this.scale) return;
      root.setPointerCapture(event.pointerId);
      const at = this.atPointer(event);
      if (this.growing?.value) this.drawing({ from: at, to: at });
      else this.bench.standOnRoute(at);
    });
    root.addEventListener("pointermove", (event) => {
      if (!this.scale || !root.hasPointerCapture(event.pointerId)) return;
      if (this.drag) this.drawing({ ...this.drag, to: this.atPointer(event) });
      else this.bench.standOnRoute(this.atPointer(event));
    });
    root.addEventListener("pointerup", () => this.drop());
    root.addEventListener("pointercancel", () => this.drawing(null));
    root.addEventListener("keydown", ({ key }) => {
      if (key !== "Escape" || !(this.drag || this.growing?.value)) return;
      if (this.growing) this.growing.value = "";
      this.drawing(null);
    });
  }

  listenToControls() {
    const { bench, growing, select } = this;
    growing?.addEventListener("change", () => this.root.classList.toggle("growing", Boolean(growing.value)));
    document.getElementById("amps")?.addEventListener("change", ({ target }) => {
      bench.amps = target.checked;
      this.draw();
      bench.tell("amps");
    });
    select.addEventListener("change", () => bench.choose({ route: Number(select.value) }));
    new ResizeObserver(() => {
      this.size = this.root.getBoundingClientRect();
      this.draw();
    }).observe(this.root);
  }

  listenToBench() {
    this.bench.on("state", () => this.refresh());
    this.bench.on("season", () => {
      this.fetchBand();
      this.draw();
    });
    this.bench.on("place", () => {
      this.select.value = String(this.bench.route);
      this.draw();
    });
    this.bench.on("view way", () => this.draw());
  }

  refresh() {
    this.options();
    this.fetchBand();
    this.draw();
  }

  drawing(drag) {
    this.drag = drag;
    this.draw();
  }

  drop() {
    if (!this.drag) return;
    const [from, to] = [Math.min(this.drag.from, this.drag.to), Math.max(this.drag.from, this.drag.to)];
    this.drawing(null);
    if (to - from < 1) return;
    const stretches = stretchesAlong(this.bench.routes[this.bench.route], from, to);
    this.bench.do({ do: "grow", grass: this.growing.value, stretches });
  }

  options() {
    const { routes, route: shown, units } = this.bench;
    const now = JSON.stringify([units, routes.map((r) => [r.name, Math.round(r.length_m)])]);
    if (now !== this.listed) {
      this.listed = now;
      const option = (route, value) => el("option", { value }, `${route.name}, ${lengthWords(route.length_m, units)}`);
      this.select.replaceChildren(...routes.map(option));
      this.select.hidden = !routes.length;
    }
    this.select.value = String(shown);
  }

  async fetchBand() {
    this.band = null;
    if (!this.bench.volts) return;
    const { season } = this.bench;
    try {
      const found = await this.bench.api.ask(`/band?season=${season}`);
      if (season !== this.bench.season) return;
      this.band = found.traces;
      this.draw();
    } catch {
      // the likely line stands without its band
    }
  }

  draw() {
    const { bench, root, size } = this;
    // Where heights are known the strip is taller from the first, before the way is here.
    const isHilly = bench.doc.runs.some((run) => run.profile.length > 1);
    document.getElementById("middle").classList.toggle("hilly", isHilly);
    bench.askWay();
    root.setAttribute("viewBox", `0 0 ${size.width} ${size.height}`);
    if (!bench.routes[bench.route] || !bench.volts || size.width < 80) {
      this.drawNothing();
      return;
    }
    const view = scaleOf(bench, size);
    this.scale = { length: view.route.length_m };
    root.replaceChildren(...this.parts(view));
    this.say(view.route);
  }

  drawNothing() {
    const line = this.bench.forecast?.blocked || "The line appears here when you have drawn one.";
    this.root.replaceChildren(svg("text", { x: 16, y: 40, "font-size": 15 }, line));
    this.says.textContent = "";
    this.scale = this.drag = null;
  }

  parts(view) {
    const { bench } = this;
    return [
      ...(this.band ? band(view, this.band) : []),
      ...axis(view),
      ...wantedLine(view, bench),
      ...(bench.stage === "volts" ? otherSeasons(view, bench) : []),
      ...lowStrands(view, bench),
      ...trace(view),
      ...(bench.amps ? amps(view, bench) : []),
      ...grown(view, bench, this.drag),
      ...(view.hilly ? relief(view, bench) : []),
      ...seen(view, bench),
      ...short(view, bench),
      ...posts(view, bench),
      ...marks(view, bench),
      ...searched(view),
      ...flag(view, bench),
    ];
  }

  say(route) {
    const at = this.bench.routeDistance();
    const words = at === null ? "not on this way" : `${lengthWords(at, this.bench.units)} along ${route.name}`;
    this.root.setAttribute("aria-valuemax", Math.round(route.length_m));
    this.root.setAttribute("aria-valuenow", Math.round(at ?? 0));
    this.root.setAttribute("aria-valuetext", words);
    this.says.textContent = toldOf() ? SEARCHED : "band: the range of soil and growth";
  }

  /** The distance along the way under the pointer, held within its ends. */
  atPointer(event) {
    const box = this.root.getBoundingClientRect();
    const share = (event.clientX - box.left - LEFT) / (box.width - LEFT - RIGHT);
    return Math.max(0, Math.min(this.scale.length, share * this.scale.length));
  }
}

export const mount = (bench) => new Strip(bench);
