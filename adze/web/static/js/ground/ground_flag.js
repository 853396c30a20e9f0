// The flag where you stand on the ground, with the kV there.

import { el, svg } from "../basics/dom.js";
import { pointAt } from "../basics/geometry.js";
import { at, plain } from "./map_parts.js";
import { readWords, sample } from "../basics/scales.js";
import * as L from "../../vendor/leaflet/leaflet-src.esm.js";

export function flag(view) {
  view.layers.flag.clearLayers();
  const run = view.bench.place && view.bench.run(view.bench.place.run);
  if (!run) return;
  const trace = view.bench.trace(run.id);
  const kv = trace ? readWords(view.bench, sample(trace.at_m, trace.kv, view.bench.place.at_m), true) : "";
  const sign = svg(
    "svg",
    { width: 70, height: 70 },
    svg("circle", {
      cx: 18,
      cy: 52,
      r: 16,
      fill: "none",
      stroke: "var(--ink)",
      "stroke-width": 1.3,
      "stroke-dasharray": "2 3",
    }),
    svg("circle", { cx: 18, cy: 52, r: 5.5, fill: "var(--ink)", stroke: "var(--panel)", "stroke-width": 1.5 }),
    svg("path", { d: "M18 52V6", stroke: "var(--ink)", "stroke-width": 2.2 }),
    svg("path", { d: "M18 4h40l-6 10 6 10H18Z", fill: "var(--ink)" }),
    svg(
      "text",
      { x: 34, y: 19, "text-anchor": "middle", "font-size": 13, "font-weight": 700, style: "fill:var(--panel)" },
      kv,
    ),
  );
  L.marker(at(pointAt(run.points, view.bench.place.at_m)), {
    icon: L.divIcon({ className: "", iconSize: [0, 0], html: el("div", { class: "flag" }, sign) }),
    ...plain,
    zIndexOffset: 900,
  }).addTo(view.layers.flag);
}
