import { fixed, grip, markHandles, runHandles } from "./arrange_handles.js";
// Choosing and moving what is on the ground: points, whole things by their grip, many at once.

import { distance, lengthOf, nearest, pointAt } from "../basics/geometry.js";
import { at, metres } from "../ground/map_parts.js";

import { lookOf } from "../ground/ground_land.js";

import * as L from "../../vendor/leaflet/leaflet-src.esm.js";

const MOST_HANDLES = 150; // of one chosen thing
const FEW_POINTS = 24; // so few are shown without choosing
const NEAR_PX = 11;

/** @type {(row: any) => boolean} */
const always = () => true;

/** Keys of everything on the ground that passes a test. */
function keysOf({ doc }, { run = always, fixture = always, landmark = always, note = always } = {}) {
  const keys = (what, rows, test) => rows.filter(test).map((row) => `${what}:${row.id}`);
  return [
    ...keys("run", doc.runs, run),
    ...keys("fixture", doc.fixtures, fixture),
    ...keys("landmark", doc.landmarks, landmark),
    ...keys("note", doc.notes, note),
  ];
}

const NUDGES = { ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, 1], ArrowDown: [0, -1] };

class Arrange {
  constructor(bench, ground) {
    this.bench = bench;
    this.ground = ground;
    this.map = ground.map;
    this.handles = L.layerGroup().addTo(this.map);
    this.ghost = L.polyline([], { color: "#20241f", weight: 3, dashArray: "6 5", interactive: false }).addTo(this.map);
    this.chosenPoint = null;
    this.box = null;
    this.listen();
  }

  listen() {
    const { map } = this;
    map.on("click", (event) => {
      if (this.on && !this.ground.photoPins) this.clicked(metres(event.latlng), event.originalEvent.shiftKey);
    });
    map.on("mousedown", (event) => {
      if (this.on && event.originalEvent.shiftKey) this.boxFrom(event.latlng);
    });
    map.on("mousemove", (event) => this.box?.shape.setBounds(L.latLngBounds(this.box.from, event.latlng)));
    map.on("mouseup", () => this.boxed());
    const keyed = (event) => {
      if (!this.on || event.target.closest("input, select, textarea, dialog") || !this.keyed(event)) return;
      event.preventDefault();
      event.stopImmediatePropagation();
    };
    document.addEventListener("keydown", keyed, true);
    this.bench.on("state drawn chosen tool", () => this.show());
  }

  /** Whether the tool at hand is this one. */
  get on() {
    return this.ground.tool === "arrange";
  }

  say(words) {
    this.ground.tools.say(words);
  }

  clicked(point, add) {
    const key = this.under(point);
    this.bench.pick(key ? [key] : [], { add });
    const row = key && this.bench.find(key);
    if (key?.startsWith("run:")) this.bench.stand(row.id, nearest(row.points, point).at);
    if (key?.startsWith("fixture:")) this.bench.stand(row.run, row.at_m);
  }

  /** A box with Shift and drag. */
  boxFrom(from) {
    this.map.dragging.disable();
    const look = { color: "#1d6a72", weight: 2, dashArray: "4 4", interactive: false };
    this.box = { from, shape: L.rectangle([from, from], look).addTo(this.map) };
  }

  boxed() {
    if (!this.box) return;
    const bounds = this.box.shape.getBounds();
    this.box.shape.remove();
    this.box = null;
    this.map.dragging.enable();
    if (this.map.distance(bounds.getSouthWest(), bounds.getNorthEast()) < 8 * this.ground.perPixel()) return;
    const inside = (p) => bounds.contains(at(p));
    const wholly = (row) => row.points.every(inside);
    const fixture = (f) => this.bench.run(f.run) && inside(this.spotOf(`fixture:${f.id}`));
    const keys = keysOf(this.bench, { run: wholly, fixture, landmark: wholly, note: (n) => inside(n.at) });
    this.bench.pick(keys);
    this.say(keys.length ? `${keys.length} things chosen.` : "Nothing is wholly inside that box.");
  }

  /** What a key does; whether it did anything. */
  keyed({ key, altKey, shiftKey, ctrlKey, metaKey }) {
    const { bench } = this;
    const nudge = altKey && NUDGES[key];
    if (key === "Delete" || key === "Backspace") return this.remove();
    if (nudge && bench.chosen.size) {
      const step = shiftKey ? 10 : 1;
      bench.do({ do: "move", chosen: bench.pairs(), east_m: nudge[0] * step, north_m: nudge[1] * step });
    } else if (key === "a" && (ctrlKey || metaKey)) bench.pick(keysOf(bench));
    else return false;
    return true;
  }

  remove() {
    if (this.chosenPoint) this.removePoint(this.chosenPoint);
    else if (this.bench.chosen.size) this.bench.do({ do: "remove", chosen: this.bench.pairs() });
    else return false;
    return true;
  }

  /** A landmark's points; those of an area come back to the first. */
  outline({ kind, points }) {
    return lookOf(this.bench, kind).area && points.length > 2 ? [...points, points[0]] : points;
  }

  spotOf(key) {
    const [what] = key.split(":");
    const row = this.bench.find(key);
    if (!row) return null;
    if (what === "fixture") return pointAt(this.bench.run(row.run).points, row.at_m);
    if (what === "note") return row.at;
    return what === "run" ? pointAt(row.points, lengthOf(row.points) / 2) : row.points[0];
  }

  /** The thing under a spot: what stands on the line first, then spots, lines, lines and areas of the land. */
  under(point) {
    const reach = NEAR_PX * this.ground.perPixel();
    const near = (keys, away) =>
      keys
        .map((key) => ({ key, away: away(key) }))
        .filter((x) => x.away <= reach)
        .sort((a, b) => a.away - b.away)[0]?.key;
    /** @type {(row: any) => boolean} */
    const none = () => false;
    const isSpot = (m) => m.points.length === 1;
    const only = { run: none, fixture: none, landmark: none, note: none };
    const spots = keysOf(this.bench, {
      ...only,
      fixture: (f) => this.bench.run(f.run),
      note: () => true,
      landmark: isSpot,
    });
    const runs = keysOf(this.bench, { ...only, run: () => true });
    const outlines = keysOf(this.bench, { ...only, landmark: (m) => !isSpot(m) });
    return (
      near(spots, (key) => distance(this.ground.seat(key, this.spotOf(key)), point)) ??
      near(spots, (key) => distance(this.spotOf(key), point)) ??
      near(runs, (key) => nearest(this.bench.find(key).points, point).away) ??
      near(outlines, (key) => nearest(this.outline(this.bench.find(key)), point).away)
    );
  }

  show() {
    this.handles.clearLayers();
    this.chosenPoint = null;
    if (this.ground.tool !== "arrange") return;
    const total = this.bench.doc.runs.reduce((sum, r) => sum + r.points.length, 0);
    for (const run of this.bench.doc.runs) {
      const own = this.bench.chosen.has(`run:${run.id}`);
      if (run.points.length <= MOST_HANDLES && (total <= FEW_POINTS || own)) runHandles(this, run);
    }
    for (const key of this.bench.chosen) {
      const mark = key.startsWith("landmark:") ? this.bench.find(key) : null;
      if (mark && mark.points.length <= MOST_HANDLES) markHandles(this, mark);
    }
    if (this.bench.chosen.size) grip(this);
    for (const what of ["energizer", "rods"]) fixed(this, what);
  }

  removePoint({ run: id, index }) {
    const run = this.bench.run(id);
    if (run.points.length <= 2) {
      this.say("A line needs two points. Choose the whole line and take it off instead.");
      return;
    }
    this.bench.do({ do: "reshape", run: id, points: run.points.filter((_, i) => i !== index) });
  }
}

export function mount(bench, ground) {
  return new Arrange(bench, ground);
}
