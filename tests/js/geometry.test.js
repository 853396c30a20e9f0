// Plain geometry of lines, run by node's own test runner.

import assert from "node:assert/strict";
import { test } from "node:test";
import {
  along,
  lengthOf,
  nearest,
  niceStep,
  pointAt,
  stretch,
  tidy,
} from "../../adze/web/static/js/basics/geometry.js";

const BENT = [
  [0, 0],
  [30, 40],
  [30, 100],
];

test("distances along a line", () => {
  assert.deepEqual(along(BENT), [0, 50, 110]);
  assert.equal(lengthOf(BENT), 110);
});

test("points at distances, held to the ends", () => {
  assert.deepEqual(pointAt(BENT, 80), [30, 70]);
  assert.deepEqual(pointAt(BENT, -5), [0, 0]);
  assert.deepEqual(pointAt(BENT, 999), [30, 100]);
});

test("a stretch keeps the corners between", () => {
  assert.deepEqual(stretch(BENT, 25, 80), [
    [15, 20],
    [30, 40],
    [30, 70],
  ]);
  assert.deepEqual(stretch(BENT, 60, 70), [
    [30, 50],
    [30, 60],
  ]);
});

test("the nearest place tells where and how far", () => {
  const met = nearest(BENT, [34, 60]);
  assert.equal(met.away, 4);
  assert.equal(met.at, 70);
  assert.equal(met.segment, 1);
  assert.deepEqual(nearest(BENT, [-3, -4]).point, [0, 0]);
});

test("round steps for grid and scale", () => {
  assert.deepEqual([3, 7.2, 12, 45, 130].map(niceStep), [5, 10, 10, 50, 100]);
});

test("points are tidied to the millimetre", () => {
  assert.deepEqual(tidy([1.23456, -7.0004]), [1.235, -7]);
});
