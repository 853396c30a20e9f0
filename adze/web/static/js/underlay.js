// The aerial photo under the plan: drawn by its matrix, pinned by points known in the photo and on the ground.

import { svg } from "./dom.js";
import * as L from "/static/vendor/leaflet/leaflet-src.esm.js";

/** Pixel to metres and back for [a, d, b, e, c, f]: east = a x + b y + c, north = d x + e y + f. */
export const place = ([a, d, b, e, c, f], [x, y]) => [a * x + b * y + c, d * x + e * y + f];
export function pixel([a, d, b, e, c, f], [east, north]) {
  const size = a * e - b * d;
  const [u, v] = [east - c, north - f];
  return [(e * u - b * v) / size, (a * v - d * u) / size];
}

/** The matrix of a photo from its first two known points: turn, size and shift, no mirror. */
export function matrixOf(points) {
  const [one, two] = points;
  const [px, py] = [two.pixel[0] - one.pixel[0], -(two.pixel[1] - one.pixel[1])];
  const [gx, gy] = [two.at[0] - one.at[0], two.at[1] - one.at[1]];
  const size = px * px + py * py || 1;
  const [re, im] = [(gx * px + gy * py) / size, (gy * px - gx * py) / size];
  const [a, b, d, e] = [re, im, im, -re];
  return [a, d, b, e, one.at[0] - a * one.pixel[0] - b * one.pixel[1], one.at[1] - d * one.pixel[0] - e * one.pixel[1]];
}

export function drawUnderlay(bench, map, layer, on) {
  layer.clearLayers();
  const photo = bench.doc.underlay;
  if (!photo || !on) return;
  const matrix = bench.forecast?.ground?.underlay?.matrix ?? matrixOf(photo.points);
  const corners = [[0, 0], [photo.width_px, 0], [photo.width_px, photo.height_px], [0, photo.height_px]].map((p) => place(matrix, p));
  const [west, east] = [Math.min(...corners.map((p) => p[0])), Math.max(...corners.map((p) => p[0]))];
  const [south, north] = [Math.min(...corners.map((p) => p[1])), Math.max(...corners.map((p) => p[1]))];
  const [a, d, b, e, c, f] = matrix;
  // The overlay's own space: metres right of its west edge and down from its north edge.
  const turned = `matrix(${a} ${-d} ${b} ${-e} ${c - west} ${north - f})`;
  const image = svg("image", { href: `/plans/${bench.plan}/pictures/${photo.picture}`, width: photo.width_px, height: photo.height_px, transform: turned, opacity: photo.opacity, preserveAspectRatio: "none" });
  const picture = svg("svg", { viewBox: `0 0 ${east - west} ${north - south}`, preserveAspectRatio: "none" }, image);
  L.svgOverlay(picture, [[south, west], [north, east]], { interactive: false, pane: "tilePane" }).addTo(layer);
}
