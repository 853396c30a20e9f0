// What lies on the ground beside the fence, and the grid with its scale.

import { el } from "../basics/dom.js";
import { lengthOf, niceStep, pointAt } from "../basics/geometry.js";
import { at, css, draw, pinOf, shape } from "./map_parts.js";
import { M_PER_FT, lengthWords } from "../basics/scales.js";
import { spotSign } from "../basics/signs.js";
import * as L from "../../vendor/leaflet/leaflet-src.esm.js";

const GRID_PX = 110;

const multiples = (low, high, step) => {
  const first = Math.ceil(low / step);
  return Array.from({ length: Math.max(0, Math.ceil(high / step) - first) }, (_, i) => (first + i) * step);
};

function gridLines(box, step) {
  const [south, west, north, east] = [box.getSouth(), box.getWest(), box.getNorth(), box.getEast()];
  const upright = multiples(west, east, step).map((x) => [
    [south, x],
    [north, x],
  ]);
  const level = multiples(south, north, step).map((y) => [
    [y, west],
    [y, east],
  ]);
  return [...upright, ...level];
}

export function grid(view) {
  const { bench, layers, map, shown } = view;
  layers.grid.clearLayers();
  const step = niceStep(view.perPixel() * GRID_PX);
  if (shown.grid) {
    draw(layers.grid, gridLines(map.getBounds(), step), { color: css("--ink-soft"), weight: 0.5, opacity: 0.28 });
  }
  const unit = bench.units === "imperial" ? M_PER_FT : 1;
  const bar = niceStep((view.perPixel() * GRID_PX) / unit) * unit;
  const rule = el("i");
  rule.style.width = `${bar / view.perPixel()}px`;
  document.getElementById("scale").replaceChildren(rule, lengthWords(bar, bench.units));
}

export function land(view) {
  view.areas.clearLayers();
  if (view.shown.land) {
    for (const mark of view.bench.doc.landmarks) landmark(view, mark);
    for (const note of view.bench.doc.notes) {
      const spot = at(view.seat(`note:${note.id}`, note.at));
      view.spots.put("note", spot, () => pinOf(spotSign("note")));
      if (!view.narrow) view.words.push({ at: spot, words: note.name, rank: 7, soft: true });
    }
  }
  view.spots.done();
}

/** How lines and areas of a kind are drawn (landmarks.csv). */
export const lookOf = ({ shared }, kind) => shared.landmark_kinds[kind].look;

/** Strokes and gaps as the map takes them: "10-4" in the table. */
const dashOf = (text) => (typeof text === "string" ? text.replaceAll("-", " ") : null);

function landmark(view, mark) {
  const look = lookOf(view.bench, mark.kind);
  const isSpot = mark.points.length === 1;
  const spot = at(view.seat(`landmark:${mark.id}`, mark.points[0]));
  if (isSpot) view.spots.put(mark.kind, spot, () => pinOf(spotSign(mark.kind)));
  else if (look.area && mark.points.length > 2) area(view, mark, look);
  else line(view, mark, look);
  if (!mark.name || view.narrow) return;
  view.words.push({ words: mark.name, soft: true, ...placeOf(mark, look, spot) });
}

/** Where a landmark's name may lie. */
function placeOf(mark, look, spot) {
  if (mark.points.length === 1) return { at: spot, rank: 6 };
  if (look.area) return { at: at(centre(mark.points)), rank: 8, centred: true };
  return { spots: spotsAlong(mark.points, [0.34, 0.6, 0.15, 0.8, 0.47]), rank: 8, gap: 7 };
}

/** Some places along a line, as shares of its length. */
export const spotsAlong = (points, shares) => shares.map((share) => at(pointAt(points, lengthOf(points) * share)));

function area(view, mark, look) {
  const broad = look.edge === 0;
  const whole = { color: css("--ink"), weight: broad ? 1.8 : 1.1, dashArray: dashOf(look.edge) };
  const edge = look.edge === undefined ? { stroke: false } : whole;
  const fill = { fillColor: css(`--${look.area}`), fillOpacity: look.thin ? 0.6 : 1 };
  L.polygon(mark.points.map(at), { ...shape, ...edge, ...fill }).addTo(view.areas);
}

function line(view, mark, look) {
  const points = mark.points.map(at);
  if (look.casing) draw(view.areas, points, { color: css("--ink-soft"), weight: look.weight + 2 });
  const { line: colour = "ink-soft", weight = 2 } = look;
  draw(view.areas, points, { color: css(`--${colour}`), weight, dashArray: dashOf(look.dash) });
}

export const centre = (points) => [0, 1].map((k) => points.reduce((sum, p) => sum + p[k], 0) / points.length);
