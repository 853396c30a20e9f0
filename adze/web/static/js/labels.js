// Words on the ground that never lie over each other: the most important first, each on the first free side.

import { el } from "./dom.js";
import * as L from "/static/vendor/leaflet/leaflet-src.esm.js";

const LINE = 15;
const sizes = new Map();
let pen = null;

function width(words, bold) {
  const key = `${bold ? "b" : "n"}${words}`;
  if (!sizes.has(key)) {
    pen ??= document.createElement("canvas").getContext("2d");
    pen.font = `${bold ? 700 : 400} 13px "Atkinson Hyperlegible", sans-serif`;
    sizes.set(key, Math.ceil(pen.measureText(words).width));
  }
  return sizes.get(key);
}

const overlaps = (a, b) => a[0] < b[2] && a[2] > b[0] && a[1] < b[3] && a[3] > b[1];

/** Lay labels {at: latlng, words, sub, rank, soft, gap} into a pool; `taken` are boxes in pixels to keep free. */
export function layLabels(map, pool, labels, taken) {
  const view = map.getSize();
  const boxes = [...taken];
  const order = [...labels].sort((a, b) => a.rank - b.rank);
  let laid = 0;
  for (const label of order) {
    if (laid > 140) break;
    const { x, y } = map.latLngToContainerPoint(label.at);
    if (x < -20 || y < -20 || x > view.x + 20 || y > view.y + 20) continue;
    const wide = Math.max(width(label.words, !label.soft), label.sub ? width(label.sub, false) : 0) + 2;
    const high = label.sub ? 2 * LINE : LINE;
    const gap = label.gap ?? 11;
    const spots = [[x + gap, y - high / 2, "left"], [x - gap - wide, y - high / 2, "right"], [x - wide / 2, y - gap - high, "center"], [x - wide / 2, y + gap, "center"], [x + gap, y + gap / 2, "left"], [x - gap - wide, y - gap - high / 2, "right"]];
    const spot = spots.find(([left, top]) => {
      const box = [left - 2, top - 1, left + wide + 2, top + high + 1];
      return left > 2 && top > 2 && box[2] < view.x - 2 && box[3] < view.y - 2 && boxes.every((b) => !overlaps(box, b));
    });
    if (!spot) continue;
    const [left, top, side] = spot;
    boxes.push([left - 2, top - 1, left + wide + 2, top + high + 1]);
    const text = () => el("div", { class: `ground-label ${label.soft ? "place" : ""}`, style: `width:${wide}px;text-align:${side}` }, el(label.soft ? "span" : "b", {}, label.words), label.sub ?? "");
    pool.put(`${label.words}|${label.sub ?? ""}|${label.soft ? "soft" : ""}|${side}`, map.containerPointToLatLng([left, top]), () => L.divIcon({ className: "", iconSize: [wide, high], iconAnchor: [0, 0], html: text() }));
    laid += 1;
  }
  pool.done();
}
