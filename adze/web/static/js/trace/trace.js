// A search for faults: where it may lie on the ground, the way to the next place, and the steps that are typed.

import { token } from "../basics/api.js";
import { stretch } from "../basics/geometry.js";
import { legend } from "../ground/ground_words.js";
import { readLayers } from "../ground/layers.js";
import { at, css, draw, shape } from "../ground/map_parts.js";
import { sendNow } from "../basics/send.js";
import { stepsIn } from "./phone/input.js";
import "./words/mend_note.js";
import { toldOf } from "./trace_told.js";
import * as L from "../../vendor/leaflet/leaflet-src.esm.js";

const [NARROWEST, WIDEST] = [7, 22];
const OVER_SIGNS = 620; // of panes: signs and names lie at 600

const value = (id) => document.getElementById(id)?.value ?? "";

/** What was read, where to go, and where half of it lies, as names on the ground. */
function wordsOf({ readings, go, here, half }) {
  const isHere = go && JSON.stringify(go.xy) === JSON.stringify(here);
  return [
    ...(go?.xy ? [{ at: at(go.xy), words: isHere ? "here" : "go here", rank: -2, gap: 14 }] : []),
    ...readings.filter(({ xy }) => xy).map(({ xy, words }) => ({ at: at(xy), words, rank: 0, gap: 10 })),
    ...(half ? [{ at: at(half.xy), words: half.words, rank: -1, gap: 14 }] : []),
  ];
}

class Trace {
  constructor(bench, ground) {
    this.bench = bench;
    this.ground = ground;
    this.layer = L.layerGroup().addTo(ground.map);
    const pane = ground.map.createPane("search");
    Object.assign(pane.style, { zIndex: OVER_SIGNS, pointerEvents: "none" });
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

  /** While a search goes on, lines are plain: their width says how likely it lies there, not kV. */
  draw() {
    const told = toldOf();
    const rail = document.querySelector('#rail [data-stage="trace"] [data-line]');
    rail.textContent = document.querySelector("[data-rail]")?.dataset.rail ?? rail.textContent;
    this.names(told);
    this.layer.clearLayers();
    if (!told) return;
    for (const piece of told.pieces) this.piece(piece);
    if (told.way.length > 1) {
      draw(this.layer, told.way.map(at), { color: css("--pulse"), weight: 3.5, dashArray: "9 7", interactive: false });
    }
    for (const { xy } of told.readings) this.spot(xy, css("--panel"), 6);
    this.spot(told.here, css("--panel"));
    this.spot(told.go?.xy, css("--pulse"));
  }

  /** The names of a search on the ground; no kV while one goes on. */
  names(told) {
    const { ground } = this;
    const kv = readLayers().kv && !told;
    const words = told ? wordsOf(told) : [];
    if (ground.shown.kv === kv && JSON.stringify(words) === JSON.stringify(ground.more)) return;
    ground.shown = { ...ground.shown, kv };
    ground.more = words;
    legend(ground);
    ground.draw();
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

  spot(point, fillColor, radius = 9) {
    if (!point) return;
    const look = {
      ...shape,
      pane: "search",
      radius,
      color: css("--ink"),
      weight: 3,
      fillColor,
      fillOpacity: 1,
      fill: true,
    };
    L.circleMarker(at(point), { ...look, interactive: false }).addTo(this.layer);
  }

  send(path, body, origin) {
    return sendNow(this.bench, `/trace${path}`, body, origin);
  }

  pressed(button) {
    const { trace, mended } = button?.dataset ?? {};
    if (mended) sendNow(this.bench, "/log/defects", { mended: Number(mended), stage: "trace" }, button);
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

  /** What was typed for a step; places are those of the next step, or of the form that the key stands in. */
  step(what, button) {
    const form = button.closest("[data-trace-form]") ?? document.getElementById("trace-next-step");
    /** @type {Record<string, any>} */
    const typed = { what, once: token(), ...stepsIn(form) };
    if ("traceEmpty" in button.dataset) typed.kv = "";
    return typed;
  }
}

export const mount = (bench, ground) => new Trace(bench, ground);
