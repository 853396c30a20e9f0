// What every layer of the map is drawn with: spots, colours of the theme, pins.

import { el } from "../basics/dom.js";
import * as L from "../../vendor/leaflet/leaflet-src.esm.js";

/** A point in metres as the map takes it. */
export const at = (point) => L.latLng(point[1], point[0]);

/** A spot of the map in metres. */
export const metres = (latLng) => [latLng.lng, latLng.lat];

const colours = new Map();
new MutationObserver(() => colours.clear()).observe(document.documentElement, { attributeFilter: ["data-bs-theme"] });

/** A colour of the theme, asked for once. */
export function css(name) {
  if (!colours.has(name)) colours.set(name, getComputedStyle(document.documentElement).getPropertyValue(name).trim());
  return colours.get(name);
}

export const plain = { interactive: false, keyboard: false };
export const shape = { interactive: false, smoothFactor: 0 };

export function icon(kind, title) {
  return L.divIcon({ className: "", iconSize: [14, 14], html: el("div", { class: `pin ${kind}`, title }) });
}

export const pinOf = (sign, size = 16) => L.divIcon({ className: "", iconSize: [size, size], html: sign });

/** A line on a layer. */
export function draw(layer, points, look) {
  if (points.length) L.polyline(points, { ...shape, ...look }).addTo(layer);
}
