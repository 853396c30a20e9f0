// What marks a kind of animal: ears, tails, horns and the rest, as paths on a body's frame.

import { poly, smooth } from "../basics/curves.js";

/** Ears at the poll (px, py), by their length e. */
export const EARS = {
  side: ({ px, py, hw, e }) =>
    poly([
      [px + hw * 0.06, py - hw * 0.02],
      [px + e * 0.95, py + e * 0.3],
      [px + e * 0.3, py - e * 0.42],
    ]),
  up: ({ px, py, hw, e }) =>
    poly([
      [px - e * 0.25, py - hw * 0.1],
      [px + e * 0.1, py + e * 0.95],
      [px + e * 0.42, py - hw * 0.2],
    ]),
  long: ({ px, py, hw, e }) =>
    poly([
      [px - e * 0.22, py - hw * 0.1],
      [px + e * 0.15, py + e * 1.7],
      [px + e * 0.42, py - hw * 0.1],
    ]),
  flop: ({ px, py, e }) =>
    smooth([
      [px - e * 0.1, py],
      [px + e * 0.55, py + e * 0.05],
      [px + e * 0.35, py - e * 0.95],
      [px - e * 0.05, py - e * 0.6],
    ]),
  round: ({ px, py, e }) =>
    smooth([
      [px - e * 0.2, py - e * 0.1],
      [px, py + e * 0.42],
      [px + e * 0.4, py + e * 0.3],
      [px + e * 0.45, py - e * 0.1],
    ]),
};

/** Tails at the rump (tx), by the shoulder's height s. */
export const TAILS = {
  switch: ({ tx, s }) =>
    smooth([
      [tx, s * 0.93],
      [tx + s * 0.045, s * 0.86],
      [tx + s * 0.055, s * 0.5],
      [tx + s * 0.085, s * 0.36],
      [tx + s * 0.05, s * 0.25],
      [tx + s * 0.02, s * 0.36],
      [tx + s * 0.025, s * 0.6],
      [tx - s * 0.01, s * 0.82],
    ]),
  full: ({ tx, s }) =>
    smooth([
      [tx - s * 0.02, s * 0.93],
      [tx + s * 0.1, s * 0.86],
      [tx + s * 0.15, s * 0.5],
      [tx + s * 0.1, s * 0.22],
      [tx + s * 0.035, s * 0.3],
      [tx + s * 0.02, s * 0.7],
    ]),
  stub: ({ tx, s }) =>
    smooth([
      [tx - s * 0.02, s * 0.88],
      [tx + s * 0.05, s * 0.84],
      [tx + s * 0.05, s * 0.68],
      [tx, s * 0.7],
    ]),
  hang: ({ tx, s }) =>
    smooth([
      [tx - s * 0.02, s * 0.88],
      [tx + s * 0.035, s * 0.82],
      [tx + s * 0.045, s * 0.5],
      [tx + s * 0.01, s * 0.5],
    ]),
  up: ({ tx, s }) =>
    smooth([
      [tx - s * 0.03, s * 0.84],
      [tx + s * 0.05, s * 0.95],
      [tx + s * 0.06, s * 1.07],
      [tx + s * 0.12, s * 1.02],
      [tx + s * 0.07, s * 0.84],
    ]),
  curl: ({ tx, s }) =>
    smooth([
      [tx, s * 0.8],
      [tx + s * 0.06, s * 0.84],
      [tx + s * 0.08, s * 0.74],
      [tx + s * 0.04, s * 0.74],
      [tx + s * 0.05, s * 0.8],
      [tx + s * 0.01, s * 0.76],
    ]),
  brush: ({ tx, s }) =>
    smooth([
      [tx - s * 0.04, s * 0.86],
      [tx + s * 0.3, s * 0.66],
      [tx + s * 0.75, s * 0.36],
      [tx + s * 0.98, s * 0.2],
      [tx + s * 0.78, s * 0.18],
      [tx + s * 0.4, s * 0.36],
      [tx + s * 0.1, s * 0.62],
    ]),
  long: ({ tx, s }) =>
    smooth([
      [tx - s * 0.03, s * 0.86],
      [tx + s * 0.3, s * 0.62],
      [tx + s * 0.55, s * 0.62],
      [tx + s * 0.78, s * 0.8],
      [tx + s * 0.76, s * 0.68],
      [tx + s * 0.55, s * 0.52],
      [tx + s * 0.25, s * 0.5],
      [tx, s * 0.7],
    ]),
};

/** Horns at the poll. */
export const HORNS = {
  short: ({ px, py, e }) => [
    poly([
      [px - e * 0.2, py - e * 0.05],
      [px - e * 0.55, py + e * 0.6],
      [px + e * 0.12, py + e * 0.08],
    ]),
  ],
  back: ({ px, py, e }) => [
    smooth([
      [px - e * 0.1, py],
      [px + e * 0.25, py + e * 0.9],
      [px + e * 1.2, py + e * 1.1],
      [px + e * 0.55, py + e * 0.65],
      [px + e * 0.3, py],
    ]),
  ],
  antler: ({ px, py, e, s }) => [-0.16, 0.2].map((lean) => antler(px, py, e, { h: s * 0.46, lean })),
};

function antler(px, py, e, { h, lean }) {
  return poly([
    [px - e * 0.05, py],
    [px + h * lean, py + h * 0.5],
    [px + h * (lean - 0.26), py + h * 0.78],
    [px + h * (lean + 0.03), py + h * 0.62],
    [px + h * (lean + 0.06), py + h],
    [px + h * (lean + 0.12), py + h * 0.6],
    [px + h * (lean + 0.34), py + h * 0.86],
    [px + h * (lean + 0.13), py + h * 0.46],
    [px + e * 0.16, py],
  ]);
}

/** Other marks by the word of the outline. */
export const MARKS = {
  udder: ({ L, belly, s }) =>
    smooth([
      [0.66 * L, belly + s * 0.08],
      [0.66 * L, belly - s * 0.06],
      [0.74 * L, belly - s * 0.1],
      [0.81 * L, belly + s * 0.02],
    ]),
  beard: ({ noseX, hl, hw, nose }) =>
    poly([
      [noseX + hl * 0.3, nose - hw * 0.3],
      [noseX + hl * 0.42, nose - hw * 1.05],
      [noseX + hl * 0.55, nose - hw * 0.3],
    ]),
  mane: ({ px, py, e, s, L }) =>
    smooth([
      [px, py + e * 0.1],
      [px * 0.5, (py + s) / 2 + s * 0.075],
      [0.06 * L, s * 1.01],
      [px * 0.45, (py + s) / 2 - s * 0.04],
    ]),
};
