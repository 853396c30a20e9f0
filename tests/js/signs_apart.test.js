// Signs that crowd stand beside their places, none over another.

import assert from "node:assert/strict";
import { test } from "node:test";
import { standApart } from "../../adze/web/static/js/ground/signs_apart.js";

const sign = (key, x, y, half = 8, fixed = false) => ({ key, x, y, half, fixed });

const placed = (signs, moved) => signs.map((s) => ({ ...s, at: moved.get(s.key) ?? [s.x, s.y] }));

function overlaps(signs, moved) {
  const standing = placed(signs, moved);
  return standing.flatMap((a, i) =>
    standing
      .slice(i + 1)
      .filter((b) => [0, 1].every((k) => Math.abs(a.at[k] - b.at[k]) < a.half + b.half - 1e-9))
      .map((b) => `${a.key} and ${b.key}`),
  );
}

test("signs with room stay where they are", () => {
  assert.equal(standApart([sign("a", 0, 0), sign("b", 40, 0)], []).size, 0);
});

test("the first keeps its place, the second stands beside it, off the line", () => {
  const signs = [sign("a", 0, 0), sign("b", 2, 0)];
  const moved = standApart(signs, [[-200, 0, 200, 0]]);
  assert.deepEqual([...moved.keys()], ["b"]);
  assert.ok(Math.abs(moved.get("b")[1]) >= 8 + 6);
  assert.deepEqual(overlaps(signs, moved), []);
});

test("five signs at one place and the house beside them: none over another, none further than it may be", () => {
  const signs = [sign("house", 12, 0, 13, true), ...["a", "b", "c", "d", "e"].map((key) => sign(key, 0, 0))];
  const moved = standApart(signs, [[0, 0, 300, 10]]);
  assert.deepEqual(overlaps(signs, moved), []);
  for (const { x, y, at } of placed(signs, moved)) assert.ok(Math.hypot(at[0] - x, at[1] - y) <= 49 + 1e-9);
});

test("who finds no room keeps its place, and what is fixed is never moved", () => {
  const signs = [sign("a", 0, 0, 100, true), sign("b", 0, 0), sign("c", 5, 5, 8, true)];
  assert.equal(standApart(signs, []).size, 0);
});
