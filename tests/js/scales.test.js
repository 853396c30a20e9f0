// kV and lengths as said by the browser: the same as the server says them.

import assert from "node:assert/strict";
import { test } from "node:test";
import {
  heightWords,
  kvBounds,
  kvClass,
  kvWords,
  lengthWords,
  sample,
} from "../../adze/web/static/js/basics/scales.js";
import { smooth } from "../../adze/web/static/js/basics/curves.js";

test("kV to two significant figures", () => {
  assert.deepEqual([3.449, 0.314, 12.4, 9.96, 0.3].map(kvWords), ["3.4", "0.31", "12", "10", "0.3"]);
});

test("classes grow with kV and the wanted figure starts the fourth", () => {
  const classes = [0, 2.9, 3, 4, 5, 6.4, 6.5, 12].map((kv) => kvClass(kv, 5));
  assert.deepEqual(classes, [1, 1, 2, 3, 4, 4, 5, 5]);
  assert.equal(kvBounds(5)[2], 5);
});

test("lengths and heights, metric and imperial", () => {
  assert.equal(lengthWords(1240, "metric"), "1.24 km");
  assert.equal(lengthWords(2125, "metric"), "2.12 km");
  assert.equal(lengthWords(2375, "metric"), "2.38 km");
  assert.equal(lengthWords(12.5, "metric"), "12 m");
  assert.equal(lengthWords(13.5, "metric"), "14 m");
  assert.equal(lengthWords(100, "imperial"), "328 ft");
  assert.equal(lengthWords(3218.688, "imperial"), "2.00 mi");
  assert.equal(heightWords(105, "metric"), "105 cm");
  assert.equal(heightWords(167.64, "imperial"), "5 ft 6 in");
});

test("samples between points, also where two stand on one spot", () => {
  assert.equal(sample([0, 10, 20], [1, 3, 3], 5), 2);
  assert.equal(sample([0, 10, 10, 20], [1, 2, 8, 10], 15), 9);
  assert.equal(sample([0, 10], [1, 2], 99), 2);
  assert.equal(sample([0, 10], [1, 2], -1), 1);
});

test("a smooth path is closed and passes its first point", () => {
  const d = smooth([
    [0, 0],
    [10, 0],
    [10, 10],
  ]);
  assert.match(d, /^M0\.00 0\.00C.*Z$/);
  assert.equal(d.match(/C/g).length, 3);
});
