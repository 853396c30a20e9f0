// What of the farm the view shows: all of it at first, with room for what floats over it.

import { seatLegend } from "./ground_words.js";
import { at } from "./map_parts.js";
import * as L from "../../vendor/leaflet/leaflet-src.esm.js";

const MOST_ZOOM = 5;
const [TINY, FILLS] = [0.06, 0.7]; // of the width of the view
const LEGEND_PX = 96;
const SIDE_PX = 46;
const BLANK_M = 30; // shown to either side of a blank plan's middle: a side of 4 m can be drawn

function farmBounds({ doc }) {
  const home = [doc.energizer_at, doc.rods.position].filter(Boolean);
  const points = [...doc.runs.flatMap((r) => r.points), ...home, ...doc.rods.places];
  return L.latLngBounds(points.length ? points.map(at) : [L.latLng(-BLANK_M, -BLANK_M), L.latLng(BLANK_M, BLANK_M)]);
}

const RODS_M = 25; // around the rods: what must keep off them lies that near

/** The rods with what lies around them; null where none stand. */
function rodBounds(view) {
  const spots = view.computed().rods ?? [];
  const around = spots.flatMap(([east, north]) => [
    at([east - RODS_M, north - RODS_M]),
    at([east + RODS_M, north + RODS_M]),
  ]);
  return around.length ? L.latLngBounds(around) : null;
}

export function fitRods(view) {
  const bounds = rodBounds(view);
  if (bounds) view.map.fitBounds(bounds, { animate: false });
  return Boolean(bounds);
}

/** What a stage begins with: Earth with its rods, the others with all of the farm. */
export function fitFirst(view) {
  if (view.bench.stage !== "earth" || !fitRods(view)) fitAll(view);
  else seatLegend(view);
}

/** Show all of the farm; where the fence fills every corner the legend gets a strip of its own. */
export function fitAll(view) {
  const between = (top) => {
    const paddings = { paddingTopLeft: [SIDE_PX, top], paddingBottomRight: [SIDE_PX, SIDE_PX] };
    view.map.fitBounds(farmBounds(view.bench), { ...paddings, animate: false });
  };
  between(SIDE_PX);
  if (seatLegend(view)) return;
  between(LEGEND_PX);
  seatLegend(view);
}

/** Show a first stretch that is tiny or fills the view so that the next ones have room: some four times its length. */
export function zoomToStretch(view, points) {
  const bounds = L.latLngBounds(points.map(at));
  const [from, to] = points.map((p) => view.map.latLngToContainerPoint(at(p)));
  const share = from.distanceTo(to) / view.map.getSize().x;
  if (share > TINY && share < FILLS && view.map.getBounds().contains(bounds)) return;
  view.map.fitBounds(bounds.pad(1.5), { maxZoom: MOST_ZOOM, animate: false });
}
