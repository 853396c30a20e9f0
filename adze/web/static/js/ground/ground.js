// The farm from above, to scale: lines coloured by kV, what stands on them, what lies beside, and where you stand.

import { el } from "../basics/dom.js";
import { nearest, pointAt } from "../basics/geometry.js";
import { fitAll, fitFirst } from "./ground_fit.js";
import { flag } from "./ground_flag.js";
import { grid, land } from "./ground_land.js";
import { blocks, lines, posts, zones } from "./ground_lines.js";
import { chosen, marks } from "./ground_marks.js";
import { seatSigns } from "./ground_signs.js";
import { FLOATING, labels, legend, sayWhenPointedAt, seatLegend } from "./ground_words.js";
import { forgetWidths } from "./labels.js";
import { readLayers } from "./layers.js";
import { at, metres } from "./map_parts.js";
import { Pool } from "../basics/pool.js";
import { drawUnderlay } from "./underlay.js";
import * as L from "../../vendor/leaflet/leaflet-src.esm.js";

const LAYERS = [
  "photo",
  "grid",
  "land",
  "blocks",
  "zones",
  "chosen",
  "lines",
  "posts",
  "threads",
  "leaders",
  "marks",
  "labels",
  "flag",
];
const NARROW_PX = 480;
const NOTHING = { joins: [], crossings: [], dead: [], zones: [], blocks: [], strips: [], bumps: [], rods: [] };
const MAP = {
  crs: L.CRS.Simple,
  minZoom: -7,
  maxZoom: 6,
  zoomSnap: 0.25,
  zoomControl: false,
  attributionControl: false,
  doubleClickZoom: false,
  boxZoom: false,
  keyboard: false,
  fadeAnimation: false,
  zoomAnimation: false,
};

class Ground {
  constructor(bench) {
    this.bench = bench;
    this.root = document.getElementById("ground-sight");
    const holder = el("div", { id: "map", "aria-label": "The farm from above" });
    this.root.prepend(holder);
    this.map = L.map(holder, MAP);
    Object.assign(holder, { adzeMap: this.map, adzeUnsaid: () => this.unsaid });
    L.control.zoom({ position: "bottomright" }).addTo(this.map);
    this.layers = Object.fromEntries(LAYERS.map((name) => [name, L.layerGroup().addTo(this.map)]));
    this.areas = L.layerGroup().addTo(this.layers.land);
    this.signs = new Pool(this.layers.marks);
    this.spots = new Pool(this.layers.land);
    this.said = new Pool(this.layers.labels);
    this.words = [];
    this.more = []; // names that a stage adds
    this.seats = new Map(); // signs shown beside their places, by key
    this.unsaid = [];
    this.onPaper = false;
    this.touched = false;
    this.floating = null;
    this.shown = readLayers();
    // Asked once: measuring between additions would lay the page out again each time.
    this.narrow = this.root.clientWidth < NARROW_PX;
    this.tool = null; // what a click does; tools of a stage change it
    bench.view = () => this.map.getBounds();
    this.listen();
    this.watch();
    legend(this);
    fitFirst(this);
    this.draw();
    sayWhenPointedAt(this);
    document.fonts?.ready.then(() => {
      forgetWidths();
      labels(this);
    });
  }

  /** The scripts after this one draw on the ground. */
  get asGround() {
    return this;
  }

  listen() {
    const { bench, map } = this;
    map.on("moveend", () => {
      grid(this);
      posts(this);
      labels(this);
      bench.tell("view");
    });
    map.on("zoomend", () => this.draw());
    map.on("click", (event) => this.walkTo(metres(event.latlng)));
    bench.on("state drawn season kills amps", () => this.draw());
    bench.on("place", () => this.follow());
    bench.on("chosen", () => this.draw());
    bench.on("layers", () => {
      this.shown = readLayers();
      this.draw();
    });
  }

  watch() {
    // Until somebody moves the view, a pane of another size shows all of the farm again.
    for (const event of ["pointerdown", "wheel", "keydown"]) {
      this.root.addEventListener(event, () => (this.touched = true), { passive: true });
    }
    new MutationObserver(() => this.draw()).observe(document.documentElement, { attributeFilter: ["data-bs-theme"] });
    new ResizeObserver(() => {
      this.narrow = this.root.clientWidth < NARROW_PX;
      this.floating = null;
      this.map.invalidateSize({ animate: false });
      if (!this.touched) fitFirst(this);
    }).observe(this.root);
    const floats = new ResizeObserver(() => {
      this.floating = null;
      seatLegend(this);
      labels(this);
    });
    for (const box of this.root.querySelectorAll(FLOATING)) floats.observe(box);
  }

  walkTo(point) {
    if (this.tool && this.tool !== "walk") return;
    const found = this.bench.doc.runs
      .map((r) => ({ run: r.id, ...nearest(r.points, point) }))
      .sort((a, b) => a.away - b.away)[0];
    if (found) this.bench.stand(found.run, found.at);
  }

  perPixel() {
    return 1 / this.map.getZoomScale(this.map.getZoom(), 0);
  }

  /** Where the sign of a thing is shown: at its place, or beside it where signs crowd. */
  seat(key, place) {
    return this.seats.get(key) ?? place;
  }

  fit() {
    fitAll(this);
  }

  computed() {
    return this.bench.forecast?.ground ?? NOTHING;
  }

  draw() {
    this.words = [...this.more];
    seatSigns(this);
    drawUnderlay(this.bench, this.map, this.layers.photo, this.shown.photo);
    grid(this);
    land(this);
    blocks(this);
    zones(this);
    lines(this);
    posts(this);
    marks(this);
    chosen(this);
    flag(this);
    legend(this);
    labels(this);
  }

  /** Keep the place in view when somebody walks out of it. */
  follow() {
    flag(this);
    const run = this.bench.place && this.bench.run(this.bench.place.run);
    if (!run) return;
    const spot = at(pointAt(run.points, this.bench.place.at_m));
    const { x, y } = this.map.latLngToContainerPoint(spot);
    const size = this.map.getSize();
    if (x < 12 || y < 60 || x > size.x - 12 || y > size.y - 12) this.map.panTo(spot, { animate: false });
  }
}

export const mount = (bench) => new Ground(bench);
