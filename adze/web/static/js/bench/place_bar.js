// Where you stand, as a bar under the surface: place, kV, the worst animal, the trace in small. It opens to the strip
// and the card; Volts and Ground begin with it open. What one chooses is remembered.

import { el, mark, svg } from "../basics/dom.js";
import { recall, remember } from "../basics/remembered.js";

const OPEN_FIRST = new Set(["volts", "ground"]);
const WORST = ["fails", "marginal", "unknown", "holds"];
const [WIDTH, HEIGHT] = [120, 26];

/** The kV along the line on which one stands, and the place on it. */
function small(bench) {
  const trace = bench.forecast?.seasons?.[bench.season]?.traces?.find(({ run }) => run === bench.place?.run);
  const picture = svg("svg", { viewBox: `0 0 ${WIDTH} ${HEIGHT}`, class: "trace-small", "aria-hidden": "true" });
  const long = trace?.at_m.at(-1);
  if (!long) return picture;
  const top = Math.max(...trace.kv, 1);
  const x = (at) => (at / long) * WIDTH;
  const points = trace.at_m.map(
    (at, i) => `${x(at).toFixed(1)},${(HEIGHT - 2 - (trace.kv[i] / top) * (HEIGHT - 4)).toFixed(1)}`,
  );
  picture.append(svg("polyline", { points: points.join(" ") }));
  picture.append(svg("line", { x1: x(bench.place.at_m), x2: x(bench.place.at_m), y1: 0, y2: HEIGHT }));
  return picture;
}

const opened = () => el("b", { class: "when-open" }, "The line unrolled");

export class PlaceBar {
  constructor(bench) {
    this.bench = bench;
    this.whole = document.getElementById("bench");
    this.button = document.getElementById("place-bar");
    if (!this.button) return;
    this.key = `place-bar:${OPEN_FIRST.has(bench.stage) ? "open" : "shut"}`;
    this.button.addEventListener("click", () => this.turn());
    bench.on("turn-place", () => this.turn());
    this.open(recall(this.key) ?? OPEN_FIRST.has(bench.stage));
  }

  turn() {
    const open = this.button.getAttribute("aria-expanded") !== "true";
    remember(this.key, open);
    this.open(open);
  }

  open(open) {
    this.whole.classList.toggle("place-shut", !open);
    this.button.setAttribute("aria-expanded", String(open));
  }

  /** What the card says, in a line. */
  show(card) {
    if (!this.button) return;
    if (!card || card.blocked) {
      this.button.replaceChildren(opened(), el("span", {}, card ? card.where : "No place chosen yet"));
      return;
    }
    const [worst] = [...card.touches].sort((a, b) => WORST.indexOf(a.status) - WORST.indexOf(b.status));
    const parts = [el("b", {}, card.where), el("span", {}, `${card.kv_soil} kV`)];
    if (worst) parts.push(el("span", {}, mark(worst.status), ` ${worst.animal}, ${worst.kv} kV`));
    this.button.replaceChildren(opened(), ...parts, small(this.bench));
  }
}
