// Words on the ground that lie over no line, no sign and no other words: the most important first, each as near as can
// be, with a leader where it had to go farther off.

import { el } from "../basics/dom.js";
import { cross, cuts } from "../basics/crossings.js";
import { css, draw } from "./map_parts.js";
import { Occupied } from "./occupied.js";
import * as L from "../../vendor/leaflet/leaflet-src.esm.js";

const LINE_PX = 15;
const EDGE_PX = 3; // kept free around a label
const GAP_PX = 12; // from what it names
const OUTSIDE_PX = 20;
const FARTHER_PX = [0, 9, 20, 34, 50, 70]; // beyond the gap of its own
const LEADER_FROM_PX = 9;
const NEAR_PX = 9; // so near, a name is worth more than a stream's line under it
const SOFT_MOST_PX = 34;
const FENCE_PX = 5;
const SOFT_PX = 3;
const ROOM_PX2 = 5500; // of the picture for each label
const FAR_OUT_M = 6000; // high is the picture when only lines and what feeds them keep their names
const SIDES = [
  [1, 0],
  [-1, 0],
  [0, -1],
  [0, 1],
  [1, -1],
  [-1, -1],
  [1, 1],
  [-1, 1],
];
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

/** The widths measured before the page's own letters came are wrong. */
export const forgetWidths = () => sizes.clear();

function sizeOf({ words, sub, soft }) {
  const wide = Math.max(width(words, !soft), sub ? width(sub, false) : 0) + 2;
  return [wide, sub ? 2 * LINE_PX : LINE_PX];
}

/** The box beside a spot on one of its sides: [left, top, right, bottom]. */
/** @param {{ x: number, y: number }} from @param {number[]} side @param {number[]} size @param {number} away */
function boxBeside({ x, y }, [east, south], [wide, high], away) {
  const slant = east && south ? 0.75 : 1;
  const left = x + east * away * slant + (east > 0 ? 0 : east < 0 ? -wide : -wide / 2);
  const top = y + south * away * slant + (south > 0 ? 0 : south < 0 ? -high : -high / 2);
  return [left, top, left + wide, top + high];
}

/** @type {(box: number[], by: number) => number[]} */
const grown = ([left, top, right, bottom], by) => [left - by, top - by, right + by, bottom + by];
const clamp = (value, low, high) => Math.max(low, Math.min(high, value));

/** Every box where a label may lie, best first: {box, from, leads}. */
function* boxesFor(label, spots, size, mostPx) {
  if (label.centred) {
    for (const [dx, dy] of [[0, 0], ...SIDES]) {
      const [x, y] = [spots[0].x + dx * 30, spots[0].y + dy * 20];
      yield { box: [x - size[0] / 2, y - size[1] / 2, x + size[0] / 2, y + size[1] / 2], from: spots[0], leads: false };
    }
    return;
  }
  for (const farther of FARTHER_PX.filter((px) => px <= mostPx)) {
    for (const from of spots) {
      for (const side of SIDES) {
        const box = boxBeside(from, side, size, (label.gap ?? GAP_PX) + farther);
        yield { box, from, leads: farther >= LEADER_FROM_PX };
      }
    }
  }
}

/** The leader of a label, from its nearest edge almost to what it names. */
function leaderOf(label, { box, from }) {
  const end = { x: clamp(from.x, box[0], box[2]), y: clamp(from.y, box[1], box[3]) };
  const far = Math.hypot(end.x - from.x, end.y - from.y) || 1;
  const rest = Math.min(1, Math.max(3, (label.gap ?? GAP_PX) - 3) / far);
  return [end, { x: from.x + (end.x - from.x) * rest, y: from.y + (end.y - from.y) * rest }];
}

/** What is taken in the picture: `hard` may never be covered, `soft` only where there is no other way. */
class Room {
  constructor({ x, y }, { boxes, fences, lines }) {
    this.size = [x, y];
    this.hard = new Occupied(x, y);
    this.soft = new Occupied(x, y);
    this.leaders = [];
    this.laid = [];
    for (const box of boxes) this.hard.take(box);
    for (const [from, to] of fences) this.hard.takeLine(from, to, FENCE_PX);
    for (const [from, to] of lines) this.soft.takeLine(from, to, SOFT_PX);
  }

  holds([left, top, right, bottom]) {
    return left > 0 && top > 0 && right < this.size[0] && bottom < this.size[1];
  }

  fits(label, spot, keepsOff) {
    const box = /** @type {any} */ (grown(spot.box, EDGE_PX));
    if (!this.holds(box) || !this.hard.isFree(box) || (keepsOff && !this.soft.isFree(box))) return false;
    if (!spot.leads) return true;
    const leader = leaderOf(label, spot);
    return !this.leaders.some((other) => cross(leader, other)) && !this.laid.some((other) => cuts(leader, other));
  }

  /** The best box for a label, off everything if one is, else off what may never be covered. */
  search(label, spots, size) {
    const mostPx = label.soft ? SOFT_MOST_PX : Infinity;
    for (const [keepsOff, px] of [
      [true, NEAR_PX],
      [false, NEAR_PX],
      [true, mostPx],
      [false, mostPx],
    ]) {
      for (const spot of boxesFor(label, spots, size, px)) if (this.fits(label, spot, keepsOff)) return spot;
    }
    return null;
  }

  lay(label, spot) {
    this.hard.take(grown(spot.box, EDGE_PX));
    this.laid.push(spot.box);
    if (!spot.leads) return null;
    const leader = leaderOf(label, spot);
    this.hard.takeLine(...leader, 1);
    this.leaders.push(leader);
    return leader;
  }
}

/** Where the words begin: at the edge that faces what they name. */
function alignOf({ box, from }) {
  if (box[0] >= from.x - 1) return "left";
  return box[2] <= from.x + 1 ? "right" : "center";
}

function put(map, pool, label, spot) {
  const { words, sub = "", soft } = label;
  const [wide, high] = [spot.box[2] - spot.box[0], spot.box[3] - spot.box[1]];
  const align = alignOf(spot);
  const look = {
    class: `ground-label ${soft ? "place" : ""}`,
    style: `width:${wide}px;text-align:${align}`,
  };
  const html = () =>
    el("div", look, el(soft ? "span" : "b", { dir: "auto", style: `text-align:${align}` }, words), sub);
  const icon = () => L.divIcon({ className: "", iconSize: [wide, high], iconAnchor: [0, 0], html: html() });
  const place = map.containerPointToLatLng([spot.box[0], spot.box[1]]);
  pool.put(`${words}|${sub}|${soft ? "soft" : ""}|${align}`, place, icon);
}

/** Whether a label is worth its room at this scale: far out only lines and what feeds them keep their names. */
const worth = (label, isAll, farOut) => isAll || !farOut || label.rank <= 2;

function inView({ x, y }, view) {
  return x > -OUTSIDE_PX && y > -OUTSIDE_PX && x < view.x + OUTSIDE_PX && y < view.y + OUTSIDE_PX;
}

/**
 * Lay labels {at: latlng, or several in `spots`, words, sub, rank, soft, gap, centred} into a pool, leaders on a layer.
 *
 * `taken` has boxes and stretches in pixels: {boxes, fences, lines}. `isAll` lays as many as fit (on paper).
 * Gives those that found no room, to be shown when pointed at.
 */
export function layLabels({ map, pool, layer }, labels, taken, isAll = false) {
  const view = map.getSize();
  const room = new Room(view, taken);
  const farOut = view.y / map.getZoomScale(map.getZoom(), 0) > FAR_OUT_M;
  const most = isAll ? Infinity : (view.x * view.y) / ROOM_PX2;
  const [left, leaders] = [[], []];
  for (const label of [...labels].sort((a, b) => a.rank - b.rank)) {
    const spots = (label.spots ?? [label.at]).map((s) => map.latLngToContainerPoint(s)).filter((p) => inView(p, view));
    if (!spots.length) continue;
    const mayLie = room.laid.length < most && worth(label, isAll, farOut);
    const found = mayLie && room.search(label, spots, sizeOf(label));
    if (!found) {
      left.push({ ...label, spot: spots[0] });
      continue;
    }
    const leader = room.lay(label, found);
    if (leader) leaders.push(leader.map((p) => map.containerPointToLatLng([p.x, p.y])));
    put(map, pool, label, found);
  }
  pool.done();
  layer.clearLayers();
  draw(layer, leaders, { color: css("--ink-soft"), weight: 1.2 });
  return left;
}
