// The bar over the ground: walking, arranging, drawing, placing things on the line and on the ground.

import * as arrange from "./arrange.js";
import { el } from "../basics/dom.js";
import { distance, lengthOf } from "../basics/geometry.js";
import { mountLocate } from "./locate.js";
import { at, metres } from "../ground/map_parts.js";
import { zoomToStretch } from "../ground/ground_fit.js";
import { lengthOf as lengthOfText } from "../basics/inputs.js";
import { lengthWords } from "../basics/scales.js";
import { snapped } from "./snap.js";
import { barOf, everyStep, hintOf, landmarkOf, nextLeg, useOf } from "./tools_bar.js";
import { finish, placeAt, placeEvery, placeFixture, placeSpot } from "./tools_place.js";
import * as L from "../../vendor/leaflet/leaflet-src.esm.js";

const NO_DRAWING = ["energizer", "lead-out", "rods-near", "note"];
const OF_POINTS = ["draw", "lane", "lead-out"];

export class Tools {
  constructor(bench, ground) {
    const lines = bench.doc.runs.length;
    Object.assign(this, { bench, ground, lines, drawn: [], pointer: null, lane: null });
    this.kinds = bench.shared.landmark_kinds;
    this.fixtures = bench.shared.fixture_kinds;
    this.map = ground.map;
    this.ghost = L.polyline([], { color: "#20241f", weight: 3, dashArray: "6 5", interactive: false }).addTo(this.map);
    this.ring = L.circleMarker([0, 0], { radius: 9, color: "#1d6a72", weight: 3, fill: false, interactive: false });
    this.says = document.getElementById("says");
    this.word = el("span");
    this.use = useOf();
    this.next = nextLeg((event) => this.typed(event));
    this.extras = el("span", { class: "says-extras", hidden: true }, this.use, this.next);
    this.every = everyStep((event) => this.inSteps(event));
    this.says.replaceChildren(this.word, this.extras, this.every);
    this.map.getContainer().tabIndex = 0; // what is chosen in a list is placed by Enter: the ground takes the keys
    this.bar = document.getElementById("tools");
    this.lists = barOf(this);
    ground.tools = this;
    this.listen();
    mountLocate(bench, ground, this.bar);
    arrange.mount(bench, ground);
    this.choose(bench.doc.runs.length ? "arrange" : "draw");
  }

  listen() {
    this.map.on("click", (event) => this.clicked(metres(event.latlng)));
    this.map.on("mousemove", (event) => this.hovered(metres(event.latlng)));
    this.map.on("dblclick", () => {
      if (this.many()) finish(this);
    });
    this.bench.on("state", () => this.settle());
    document.addEventListener("keydown", (event) => {
      if (!event.target.closest("input, select, textarea, dialog") && this.keyed(event)) event.preventDefault();
    });
  }

  say(words) {
    this.word.textContent = words;
    this.says.hidden = !words;
  }

  /** Whether a tool places a fixture on a line. */
  placing(tool) {
    return tool in this.fixtures;
  }

  /** Whether the tool at hand takes point after point. */
  many() {
    const { tool } = this.ground;
    const kind = landmarkOf(tool);
    return OF_POINTS.includes(tool) || (kind !== null && this.kinds[kind].shape !== "point");
  }

  choose(tool) {
    this.ground.tool = tool;
    this.drawn = [];
    this.ghost.setLatLngs([]);
    this.ring.remove();
    for (const button of this.bar.querySelectorAll("[data-tool]")) {
      button.classList.toggle("on", button.dataset.tool === tool);
      button.setAttribute("aria-pressed", button.dataset.tool === tool);
    }
    if (!this.placing(tool)) this.lists.onLine.value = "";
    if (!landmarkOf(tool) && !NO_DRAWING.includes(tool)) this.lists.onGround.value = "";
    this.map.getContainer().style.cursor = tool === "walk" || tool === "arrange" ? "" : "crosshair";
    this.extras.hidden = !this.many();
    this.use.hidden = tool !== "draw";
    this.every.hidden = !this.placing(tool) && this.kinds[landmarkOf(tool)]?.shape !== "point";
    this.say(hintOf(this, tool));
    this.bench.tell("tool");
    if (document.activeElement?.closest("#tools select")) this.map.getContainer().focus({ preventScroll: true });
  }

  /** Lines that came from elsewhere, set out by typing or from a file, end drawing that was not begun. */
  settle() {
    const { runs } = this.bench.doc;
    const grew = runs.length > this.lines;
    this.lines = runs.length;
    if (!grew || this.ground.tool !== "draw" || this.drawn.length) return;
    this.choose("arrange");
    this.ground.fit();
  }

  clicked(point) {
    const { tool } = this.ground;
    if (this.many()) {
      const s = snapped(this.bench, this.ground, point, { drawn: this.drawn });
      this.addPoint(s.point, s.words);
    } else if (this.placing(tool)) placeAt(this, tool, point);
    else placeSpot(this, tool, point);
  }

  hovered(point) {
    this.pointer = point;
    if (!this.many()) return;
    const s = snapped(this.bench, this.ground, point, { drawn: this.drawn });
    if (s.words) this.ring.setLatLng(at(s.point)).addTo(this.map);
    else this.ring.remove();
    if (this.drawn.length) this.ghostTo(s.point, s.words);
  }

  /** Fixtures at equal steps, as typed. */
  inSteps(event) {
    event.preventDefault();
    placeEvery(this, this.ground.tool, lengthOfText(document.getElementById("every").value.trim(), this.bench.units));
  }

  /** The next stretch typed as length and bearing. */
  async typed(event) {
    if (event.key !== "Enter") return;
    event.preventDefault();
    event.stopPropagation();
    if (!this.next.value.trim()) {
      finish(this);
      return;
    }
    const start = this.drawn.at(-1) ?? this.bench.standPoint();
    try {
      const query = new URLSearchParams({ text: this.next.value, east: start[0], north: start[1] });
      const { points } = await this.bench.api.ask(`/walked?${query}`);
      if (!this.drawn.length) this.addPoint(start);
      for (const p of points.slice(1)) this.addPoint(p);
      this.next.value = "";
      if (this.ground.tool === "draw") this.map.panInside(at(this.drawn.at(-1)), { padding: [60, 60], animate: false });
    } catch (error) {
      this.say(error.message);
    }
  }

  /** What a key does; whether it did anything. */
  keyed({ key, target }) {
    const { tool } = this.ground;
    if (key === "Escape") return this.escape(tool);
    if (this.many()) {
      if (key === "Enter") finish(this);
      else if (key === "Backspace" && this.drawn.length) {
        this.drawn = this.drawn.slice(0, -1);
        this.ghostTo(this.pointer);
      } else return false;
      return true;
    }
    const places = key === "Enter" && tool !== "arrange" && tool !== "walk" && this.bench.place;
    if (!places || target.closest("button, a")) return false;
    const { run, at_m } = this.bench.place;
    if (this.placing(tool)) placeFixture(this, tool, this.bench.run(run), at_m);
    else placeSpot(this, tool, this.bench.standPoint());
    return true;
  }

  escape(tool) {
    if (!this.bench.kills && tool === "arrange") return false;
    if (this.bench.kills) {
      this.bench.kills = null;
      this.bench.tell("kills");
      this.say(hintOf(this, tool));
    } else this.choose("arrange");
    return true;
  }

  addPoint(point, words = "") {
    if (this.drawn.length && distance(point, this.drawn.at(-1)) < 0.05) return;
    this.drawn = [...this.drawn, point];
    if (this.drawn.length === 2 && !this.lines) zoomToStretch(this.ground, this.drawn);
    this.ghostTo(null, words);
    if (this.drawn.length > 3 && distance(point, this.drawn[0]) < 0.01 && this.many()) finish(this);
  }

  ghostTo(point, words = "") {
    const { units } = this.bench;
    const all = point ? [...this.drawn, point] : this.drawn;
    this.ghost.setLatLngs(all.map(at));
    if (!this.drawn.length) return;
    const last = point ? distance(this.drawn.at(-1), point) : 0;
    const stretch = last ? `, this stretch ${lengthWords(last, units)}` : "";
    this.say(`${lengthWords(lengthOf(all), units)} so far${stretch}${words ? `; ${words}` : ""}.`);
  }
}

export const mount = (bench, ground) => new Tools(bench, ground);
