import { along, drawSites, rod, sites } from "./rods_sites.js";
// Rods laid out on the ground: rows, rings, one by one, along the fence; places proposed and refused with the reason.

import { el } from "../basics/dom.js";
import { distance, tidy } from "../basics/geometry.js";
import { fitRods } from "../ground/ground_fit.js";
import { at, metres } from "../ground/map_parts.js";
import { lengthWords } from "../basics/scales.js";
import * as L from "../../vendor/leaflet/leaflet-src.esm.js";

const APART_M = 3; // from rod to rod at least
const WAYS = [
  ["walk", "Walk"],
  ["row", "Lay a row"],
  ["ring", "Ring"],
  ["one", "One by one"],
  ["monitor", "Test rod"],
];
const HINTS = {
  walk: "",
  row: "Click where the first rod goes, then where the row leads. 10 m from buildings, pipes and supply earths.",
  ring: "Click the middle of the ring.",
  one: "Click one place for each rod, at least 3 m apart. Esc ends.",
  monitor: "Click where the test rod goes: 30 m or more from the others.",
};

/** A spot moved so far that it lies 3 m from the rod nearest to it. */
function apart(spot, others) {
  const near = others.map((p) => ({ p, away: distance(p, spot) })).sort((a, b) => a.away - b.away)[0];
  if (!near || near.away >= APART_M) return spot;
  const way = near.away > 0.01 ? [0, 1].map((k) => (spot[k] - near.p[k]) / near.away) : [1, 0];
  return [0, 1].map((k) => near.p[k] + APART_M * way[k]);
}

class RodTools {
  constructor(bench, ground) {
    this.bench = bench;
    this.ground = ground;
    this.map = ground.map;
    this.bar = document.getElementById("tools");
    this.says = document.getElementById("says");
    this.layer = L.layerGroup().addTo(this.map);
    this.ghost = L.layerGroup().addTo(this.map);
    this.start = null;
    this.shown = null; // places proposed and refused, while they are looked at
    this.fillBar();
    this.listen();
    this.choose("walk");
    this.handles();
  }

  get rods() {
    return this.bench.ground.rods ?? [];
  }

  fillBar() {
    const button = (words, onclick, more = {}) =>
      el("button", { type: "button", class: "act", onclick, ...more }, words);
    this.bar.replaceChildren(
      ...WAYS.map(([way, words]) => button(words, () => this.choose(way), { "data-way": way })),
      button("Along the fence here", () => along(this)),
      button("Where to", () => sites(this)),
      button("To the rods", () => fitRods(this.ground)),
      button("Show all", () => this.ground.fit()),
    );
  }

  listen() {
    this.map.on("click", (event) => this.clicked(metres(event.latlng)));
    this.map.on("mousemove", (event) => {
      if (this.start) this.ghostRow(metres(event.latlng));
    });
    document.addEventListener("keydown", (event) => {
      if (event.target.closest("input, select, textarea, dialog")) return;
      if (event.key === "Escape" && this.ground.tool !== "walk") this.choose("walk");
    });
    this.bench.on("state", () => this.handles());
  }

  clicked(point) {
    const way = this.ground.tool;
    if (way === "walk" || !way) return;
    if (way === "row" && !this.start) {
      this.start = point;
      this.say("Now click where the row leads.");
      return;
    }
    const points = way === "row" ? [this.start, point] : [point];
    if (way !== "one") this.choose("walk");
    this.lay(way, points);
  }

  /** The row as it would stand if it led to a spot. */
  ghostRow(to) {
    const size = distance(this.start, to) || 1;
    const { count, spacing_m: spacing } = this.bench.doc.rods;
    const step = Math.max(APART_M, spacing);
    this.ghost.clearLayers();
    for (let i = 0; i < count; i += 1) {
      const spot = [0, 1].map((k) => this.start[k] + (i * step * (to[k] - this.start[k])) / size);
      rod(spot, { "stroke-dasharray": "4 2" }).addTo(this.ghost);
    }
    const long = lengthWords((count - 1) * step, this.bench.units);
    this.say(`${count} rods, ${long} from first to last. Click where the row leads.`);
  }

  say(...words) {
    this.says.replaceChildren(...words.filter(Boolean));
    this.says.hidden = !words.some(Boolean);
  }

  choose(way) {
    this.ground.tool = way;
    this.start = null;
    this.ghost.clearLayers();
    for (const button of this.bar.querySelectorAll("[data-way]")) {
      button.classList.toggle("on", button.dataset.way === way);
      button.setAttribute("aria-pressed", button.dataset.way === way);
    }
    this.map.getContainer().style.cursor = way === "walk" ? "" : "crosshair";
    this.say(HINTS[way]);
  }

  lay(how, points = [], site = 0) {
    return this.bench.do({ do: "lay_rods", how, points: points.map(tidy), site });
  }

  /** Every rod can be dragged; the others stay where they are. */
  handles() {
    this.layer.clearLayers();
    const { rods } = this;
    rods.forEach((spot, i) => {
      const name = `Rod ${i + 1}`;
      const icon = L.divIcon({
        className: "",
        iconSize: [22, 22],
        iconAnchor: [11, 11],
        html: el("div", { class: "rod-grip", title: name }),
      });
      const grip = L.marker(at(spot), { icon, draggable: true, alt: name, zIndexOffset: 500 }).addTo(this.layer);
      grip.on("dragend", () => {
        const to = tidy(
          apart(
            metres(grip.getLatLng()),
            rods.filter((_, k) => k !== i),
          ),
        );
        this.bench.do({ do: "move_rod", rod: i, at: to });
      });
    });
    if (this.shown) drawSites(this);
  }
}

export function mount(bench, ground) {
  return new RodTools(bench, ground);
}
