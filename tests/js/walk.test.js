// A way along the fence, walked outward and back.

import assert from "node:assert/strict";
import { test } from "node:test";
import { distanceAlong, legsOf, placeAlong, stretchesAlong } from "../../adze/web/static/js/basics/walk.js";

const WAY = {
  legs: [
    { run: "stem", from_m: 0, to_m: 300 },
    { run: "ring", from_m: 500, to_m: 100 },
  ],
};

test("legs know where on the way they lie and which way their line is walked", () => {
  assert.deepEqual(
    legsOf(WAY).map(({ gone, to, way }) => [gone, to, way]),
    [
      [0, 300, 1],
      [300, 700, -1],
    ],
  );
  assert.deepEqual(legsOf(null), []);
});

test("a place and its distance along the way lead to each other", () => {
  for (const at of [0, 12.5, 299.9, 450, 700]) {
    const place = placeAlong(WAY, at);
    assert.ok(Math.abs(distanceAlong(WAY, place) - at) < 1e-9, `${at} m`);
  }
  assert.deepEqual(placeAlong(WAY, 400), { run: "ring", at_m: 400 });
  assert.equal(distanceAlong(WAY, { run: "ring", at_m: 50 }), null);
  assert.equal(distanceAlong(WAY, { run: "other", at_m: 50 }), null);
});

test("past its ends a way is held", () => {
  assert.deepEqual(placeAlong(WAY, -20), { run: "stem", at_m: 0 });
  assert.deepEqual(placeAlong(WAY, 9999), { run: "ring", at_m: 100 });
  assert.equal(placeAlong({ legs: [] }, 5), null);
});

test("a part of the way is a stretch of each line it lies on, low end first", () => {
  assert.deepEqual(stretchesAlong(WAY, 250, 400), [
    { run: "stem", from_m: 250, to_m: 300 },
    { run: "ring", from_m: 400, to_m: 500 },
  ]);
  assert.deepEqual(stretchesAlong(WAY, 10, 10.4), []);
});
