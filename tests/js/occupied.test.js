// What is taken in a picture, and which leaders cross.

import assert from "node:assert/strict";
import { test } from "node:test";
import { cross, cuts } from "../../adze/web/static/js/basics/crossings.js";
import { Occupied } from "../../adze/web/static/js/ground/occupied.js";

test("a box that was taken is taken, and what lies beside it is free", () => {
  const taken = new Occupied(200, 100);
  taken.take([40, 20, 90, 50]);
  assert.equal(taken.isFree([60, 30, 70, 40]), false);
  assert.equal(taken.isFree([92, 20, 140, 50]), true);
  assert.equal(taken.isFree([40, 52, 90, 70]), true);
});

test("a line takes its own breadth and no more", () => {
  const taken = new Occupied(200, 100);
  taken.takeLine({ x: 10, y: 50 }, { x: 190, y: 50 }, 4);
  for (let x = 10; x <= 190; x += 5) assert.equal(taken.isFree([x - 1, 47, x + 1, 53]), false);
  assert.equal(taken.isFree([10, 58, 190, 70]), true);
  assert.equal(taken.isFree([10, 20, 190, 42]), true);
});

test("what lies outside the picture neither takes nor fails", () => {
  const taken = new Occupied(50, 50);
  taken.take([-30, -30, -10, 200]);
  taken.take([60, 0, 90, 50]);
  assert.equal(taken.isFree([0, 0, 50, 50]), true);
});

test("leaders cross where they cross", () => {
  const level = [
    { x: 0, y: 10 },
    { x: 20, y: 10 },
  ];
  const steep = (x) => [
    { x, y: 0 },
    { x, y: 20 },
  ];
  assert.equal(cross(level, steep(10)), true);
  assert.equal(cross(level, steep(30)), false);
  assert.equal(cuts(level, [5, 5, 15, 15]), true);
  assert.equal(cuts(level, [5, 12, 15, 25]), false);
});
