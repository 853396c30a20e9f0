// Signs on the ground: fixtures, joins, rods, what is chosen.

import { el, svg } from "../basics/dom.js";
import { lengthOf, pointAt } from "../basics/geometry.js";
import { centre, lookOf, spotsAlong } from "./ground_land.js";
import { deadOf } from "./ground_lines.js";
import { at, css, draw, icon, pinOf, shape } from "./map_parts.js";
import { readWords } from "../basics/scales.js";
import { fixtureSign, mishapSign } from "../basics/signs.js";
import * as L from "../../vendor/leaflet/leaflet-src.esm.js";

const APART_PX = 14; // signs of dips and rises closer than this cannot be read

export function marks(view) {
  if (view.shown.fixtures) {
    for (const f of view.bench.doc.fixtures) fixture(view, f);
    for (const w of view.bench.doc.what_ifs) mishap(view, w);
    bumps(view);
  }
  meetings(view);
  for (const run of view.bench.doc.runs) nameOf(view, run);
  energizer(view);
  rods(view);
  view.signs.done();
}

function fixture(view, f) {
  const run = view.bench.run(f.run);
  if (!run) return;
  const point = at(view.seat(`fixture:${f.id}`, pointAt(run.points, f.at_m)));
  const isOpen = Boolean(f.is_open);
  const kind = view.bench.shared.fixture_kinds[f.kind];
  view.signs.put(`${f.kind}${isOpen}${f.id}`, point, () => pinOf(fixtureSign(kind, isOpen)));
  if (view.narrow || f.kind === "sign") return;
  view.words.push({
    at: point,
    words: f.name,
    sub: isOpen ? "open" : "",
    rank: rankOf(view, `fixture:${f.id}`, isOpen ? 2 : 3),
  });
}

function mishap(view, w) {
  const run = view.bench.run(w.run);
  if (!run) return;
  view.signs.put(`what-if${w.id}`, at(pointAt(run.points, w.at_m)), () => pinOf(mishapSign()));
}

function bumps(view) {
  let last = null;
  for (const b of view.computed().bumps) {
    const here = view.map.latLngToContainerPoint(at(b.at));
    if (last && last.distanceTo(here) < APART_PX) continue;
    last = here;
    const html = () => el("div", { class: "bump", title: b.words }, b.is_dip ? "∪" : "∩");
    view.signs.put(b.words, at(b.at), () => L.divIcon({ className: "", iconSize: [12, 12], html: html() }));
  }
}

function meetings(view) {
  for (const spot of view.computed().joins) view.signs.put(`join${spot}`, at(spot), () => icon("join"));
  for (const c of view.computed().crossings) {
    const apart = c.said ? ["apart", "kept apart"] : ["unsaid", "not said"];
    const [kind, title] = c.joined ? ["join", "joined"] : apart;
    view.signs.put(`${kind}${c.at}`, at(c.at), () => icon(kind, title));
    if (!c.said) view.words.push({ at: at(c.at), words: "crossing: joined or apart?", rank: 3, soft: true });
  }
}

/** What is chosen is named before all else. */
const rankOf = (view, key, rank) => (view.bench.chosen.has(key) ? -1 : rank);

/** A line's name at its middle, with the range of its kV. */
function nameOf(view, run) {
  const size = lengthOf(run.points);
  const wholly = deadOf(view, run).some(([from, to]) => to - from > size - 1);
  const trace = view.shown.kv && !view.narrow ? view.bench.trace(run.id) : null;
  const sub = wholly ? "off" : trace ? rangeOf(view.bench, trace.kv) : "";
  const spots = spotsAlong(run.points, [0.5, 0.4, 0.6, 0.3, 0.7, 0.2, 0.8]);
  view.words.push({ spots, words: run.name, sub, rank: rankOf(view, `run:${run.id}`, 1), gap: 9 });
}

function rangeOf(bench, kv) {
  const [low, high] = [Math.min(...kv), Math.max(...kv)].map((x) => readWords(bench, x));
  return low === high ? `${low} kV` : `${low} to ${high} kV`;
}

function energizer(view) {
  const { doc, forecast } = view.bench;
  if (!doc.energizer_at) return;
  const spot = at(doc.energizer_at);
  const house = () =>
    svg(
      "svg",
      { viewBox: "0 0 26 26", width: 26, height: 26 },
      svg("path", { d: "M3 11 13 3l10 8v12H3Z", fill: "var(--panel)", stroke: "var(--ink)", "stroke-width": 2 }),
      svg("path", { d: "M14 8l-5 7h4l-1 6 5-8h-4Z", fill: "var(--pulse)" }),
    );
  view.signs.put("energizer", spot, () => pinOf(house(), 26));
  const sub = view.narrow ? "" : (forecast?.stages?.power?.line ?? "");
  view.words.push({ at: spot, words: "Energizer", sub, rank: 0, gap: 17 });
}

function rods(view) {
  const spots = view.computed().rods ?? [];
  if (!spots.length) return;
  for (const spot of spots) {
    const rod = () =>
      L.divIcon({
        className: "",
        iconSize: [4, 18],
        iconAnchor: [2, 2],
        html: svg(
          "svg",
          { width: 4, height: 18 },
          svg("path", { d: "M2 0v18", stroke: "var(--return)", "stroke-width": 3 }),
        ),
      });
    view.signs.put("rod", at(spot), rod);
  }
  const { monitor } = view.computed();
  if (monitor) {
    view.signs.put("monitor", at(monitor), () =>
      L.divIcon({
        className: "",
        iconSize: [12, 18],
        iconAnchor: [6, 2],
        html: svg(
          "svg",
          { width: 12, height: 18 },
          svg("path", { d: "M6 5v13", stroke: "var(--return)", "stroke-width": 3 }),
          svg("circle", { cx: 6, cy: 5, r: 4, fill: "var(--panel)", stroke: "var(--return)", "stroke-width": 1.8 }),
        ),
      }),
    );
    view.words.push({ at: at(monitor), words: "watches", rank: 3, gap: 18 });
  }
  view.words.push({
    at: at(centre(spots)),
    words: `${spots.length} rod${spots.length > 1 ? "s" : ""}`,
    rank: 2,
    gap: 18,
  });
}

/** What is chosen, with a broad edge under it. */
export function chosen(view) {
  const layer = view.layers.chosen.clearLayers();
  const colour = css("--return");
  for (const key of view.bench.chosen) {
    const row = view.bench.find(key);
    const [what] = key.split(":");
    if (what === "run") draw(layer, row.points.map(at), { color: colour, weight: 15, opacity: 0.4 });
    else if (what === "landmark" && row.points.length > 1) {
      const closing = lookOf(view.bench, row.kind).area ? [row.points[0]] : [];
      draw(layer, [...row.points, ...closing].map(at), { color: colour, weight: 6, opacity: 0.6 });
    } else {
      const ring = { ...shape, radius: 14, color: colour, weight: 4, fill: false };
      L.circleMarker(at(spotOf(view.bench, what, row)), ring).addTo(layer);
    }
  }
}

function spotOf(bench, what, row) {
  if (what === "fixture") return pointAt(bench.run(row.run).points, row.at_m);
  return what === "note" ? row.at : row.points[0];
}
