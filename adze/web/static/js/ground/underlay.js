// The aerial photo under the plan: drawn by its matrix, pinned by points known in the photo and on the ground.

import { svg } from "../basics/dom.js";
import { matrixOf, place } from "../draw/photo_matrix.js";
import * as L from "../../vendor/leaflet/leaflet-src.esm.js";

export function drawUnderlay(bench, map, layer, on) {
  layer.clearLayers();
  const photo = bench.doc.underlay;
  if (!photo || !on) return;
  const matrix = bench.forecast?.ground?.underlay?.matrix ?? matrixOf(photo.points);
  const corners = [
    [0, 0],
    [photo.width_px, 0],
    [photo.width_px, photo.height_px],
    [0, photo.height_px],
  ].map((p) => place(matrix, p));
  const [west, east] = [Math.min(...corners.map((p) => p[0])), Math.max(...corners.map((p) => p[0]))];
  const [south, north] = [Math.min(...corners.map((p) => p[1])), Math.max(...corners.map((p) => p[1]))];
  const [a, d, b, e, c, f] = matrix;
  // The overlay's own space: metres right of its west edge and down from its north edge.
  const turned = `matrix(${a} ${-d} ${b} ${-e} ${c - west} ${north - f})`;
  const image = svg("image", {
    href: `/plans/${bench.plan}/pictures/${photo.picture}`,
    width: photo.width_px,
    height: photo.height_px,
    transform: turned,
    opacity: photo.opacity,
    preserveAspectRatio: "none",
  });
  const picture = svg("svg", { viewBox: `0 0 ${east - west} ${north - south}`, preserveAspectRatio: "none" }, image);
  L.svgOverlay(
    picture,
    [
      [south, west],
      [north, east],
    ],
    { interactive: false, pane: "tilePane" },
  ).addTo(layer);
}
