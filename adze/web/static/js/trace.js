// A search for faults: where it may lie on the ground, the way to the next place, and the steps that are typed.

import { token } from "./api.js";
import { stretch } from "./geometry.js";
import { legend } from "./ground_words.js";
import { readLayers } from "./layers.js";
import { at, css, draw, shape } from "./map_parts.js";
import { sendNow } from "./send.js";
import { stepsIn } from "./trace/input.js";
import * as L from "../vendor/leaflet/leaflet-src.esm.js";

const [NARROWEST, WIDEST] = [7, 22];

const value = (id) => document.getElementById(id)?.value ?? "";

class Trace {
  constructor(bench, ground) {
    Object.assign(this, { bench, ground });
    this.layer = L.layerGroup().addTo(ground.map);
    document.getElementById("bench").addEventListener("click", ({ target }) => this.pressed(target.closest("button")));
    document.getElementById("bench").addEventListener("keydown", (event) => {
      if (event.key === "Enter" && event.target.closest("[data-trace-form]")) {
        event.preventDefault();
        event.target.closest("[data-trace-form]").querySelector("[data-trace]").click();
      }
    });
    bench.on("state drawn season layers", () => this.draw());
    this.draw();
  }

  get told() {
    const holder = document.querySelector("[data-trace-drawn]");
    return holder ? JSON.parse(holder.dataset.traceDrawn) : null;
  }

  /** While a search goes on, lines are plain: their width says how likely it lies there, not kV. */
  draw() {
    const { ground, told } = this;
    const kv = readLayers().kv && !told;
    if (ground.shown.kv !== kv) {
      ground.shown = { ...ground.shown, kv };
      legend(ground);
      ground.draw();
    }
    this.layer.clearLayers();
    if (!told) return;
    for (const piece of told.pieces) this.piece(piece);
    if (told.way.length > 1) {
      draw(this.layer, told.way.map(at), { color: css("--pulse"), weight: 3.5, dashArray: "9 7", interactive: false });
    }
    if (told.here) this.spot(told.here, css("--panel"));
    if (told.go) this.spot(told.go, css("--pulse"));
  }

  /** A stretch of fence, the wider the likelier per metre; hatched where half of it lies. */
  piece({ run, from, to, strength, half, most }) {
    const line = this.bench.run(run);
    if (!most || !line) return;
    const ends = stretch(line.points, from, to).map(at);
    const weight = NARROWEST + (WIDEST - NARROWEST) * Math.sqrt(strength);
    const look = { lineCap: "butt", interactive: false };
    draw(this.layer, ends, { ...look, color: css("--dead"), weight, opacity: half ? 0.75 : 0.4 });
    if (half) draw(this.layer, ends, { ...look, color: css("--ink"), weight: weight - 3, dashArray: "2 5" });
  }

  spot(point, fillColor) {
    const look = { ...shape, radius: 9, color: css("--ink"), weight: 3, fillColor, fillOpacity: 1, fill: true };
    L.circleMarker(at(point), { ...look, interactive: false }).addTo(this.layer);
  }

  send(path, body, origin) {
    return sendNow(this.bench, `/trace${path}`, body, origin);
  }

  pressed(button) {
    const { trace } = button?.dataset ?? {};
    if (!trace) return;
    if (trace === "begin") {
      const ticked = (id) => document.getElementById(id)?.checked ?? false;
      const how = { quick: ticked("trace-quick"), with_log: ticked("trace-log"), kv_alone: ticked("trace-kv-alone") };
      this.send("", { season: value("trace-season"), ...how }, button);
    } else if (trace === "practice") {
      const lesson = value("trace-lesson");
      const hidden = lesson ? 0 : Number(value("trace-hidden"));
      const alone = document.getElementById("trace-kv-alone").checked;
      this.send("", { season: value("trace-season"), hidden, lesson, kv_alone: alone }, button);
    } else if (trace === "undo" || trace === "end") this.send(`/${trace}`, {}, button);
    else this.send("/steps", this.step(trace, button), button);
  }

  /** What was typed for a step; places are those of the next deed, or of the form that the key stands in. */
  step(what, button) {
    const form = button.closest("[data-trace-form]") ?? document.getElementById("trace-deed");
    const typed = { what, once: token(), ...stepsIn(form) };
    if ("traceEmpty" in button.dataset) typed.kv = "";
    return typed;
  }
}

export const mount = (bench, ground) => new Trace(bench, ground);
