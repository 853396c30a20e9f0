// The photo's matrix: pixels to metres and back.

import assert from "node:assert/strict";
import { test } from "node:test";
import { matrixOf, pixel, place } from "../../adze/web/static/js/draw/photo_matrix.js";

const POINTS = [
  { pixel: [0, 100], at: [10, 20] },
  { pixel: [200, 100], at: [10, 420] },
];
const near = (a, b) => a.forEach((x, i) => assert.ok(Math.abs(x - b[i]) < 1e-9, `${a} is not ${b}`));

test("two known points turn, size and shift the photo", () => {
  const matrix = matrixOf(POINTS);
  for (const p of POINTS) near(place(matrix, p.pixel), p.at);
  // Right in the photo is north here, so up in it is west.
  near(place(matrix, [0, 0]), [-190, 20]);
});

test("pixels come back from metres", () => {
  const matrix = matrixOf(POINTS);
  near(pixel(matrix, place(matrix, [37, 91])), [37, 91]);
});
