// Words on the ground that never lie over each other: the most important first, each on the first free side.

import { el } from "./dom.js";
import * as L from "../vendor/leaflet/leaflet-src.esm.js";

const LINE = 15;
const MOST = 140; // labels at once
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

/** The spots beside a point where a label of a size may lie, best first: left, top, alignment. */
function spotsBeside({ x, y }, wide, high, gap) {
  return [
    [x + gap, y - high / 2, "left"],
    [x - gap - wide, y - high / 2, "right"],
    [x - wide / 2, y - gap - high, "center"],
    [x - wide / 2, y + gap, "center"],
    [x + gap, y + gap / 2, "left"],
    [x - gap - wide, y - gap - high / 2, "right"],
  ];
}

function sizeOf({ words, sub, soft }) {
  const wide = Math.max(width(words, !soft), sub ? width(sub, false) : 0) + 2;
  return [wide, sub ? 2 * LINE : LINE];
}

const boxOf = (left, top, wide, high) => [left - 2, top - 1, left + wide + 2, top + high + 1];

function put(map, pool, label, [left, top, side], [wide, high]) {
  const { words, sub = "", soft } = label;
  const look = { class: `ground-label ${soft ? "place" : ""}`, style: `width:${wide}px;text-align:${side}` };
  const html = () => el("div", look, el(soft ? "span" : "b", {}, words), sub);
  const icon = () => L.divIcon({ className: "", iconSize: [wide, high], iconAnchor: [0, 0], html: html() });
  pool.put(`${words}|${sub}|${soft ? "soft" : ""}|${side}`, map.containerPointToLatLng([left, top]), icon);
}

/** Lay labels {at: latlng, words, sub, rank, soft, gap} into a pool; `taken` are boxes in pixels to keep free. */
export function layLabels(map, pool, labels, taken) {
  const view = map.getSize();
  const boxes = [...taken];
  const within = (b) => b[0] > 0 && b[1] > 1 && b[2] < view.x - 2 && b[3] < view.y - 2;
  let laid = 0;
  for (const label of [...labels].sort((a, b) => a.rank - b.rank)) {
    if (laid > MOST) break;
    const here = map.latLngToContainerPoint(label.at);
    if (here.x < -20 || here.y < -20 || here.x > view.x + 20 || here.y > view.y + 20) continue;
    const [wide, high] = sizeOf(label);
    const spot = spotsBeside(here, wide, high, label.gap ?? 11).find(([left, top]) => {
      const box = boxOf(left, top, wide, high);
      return within(box) && boxes.every((b) => !overlaps(box, b));
    });
    if (!spot) continue;
    boxes.push(boxOf(spot[0], spot[1], wide, high));
    put(map, pool, label, spot, [wide, high]);
    laid += 1;
  }
  pool.done();
}
