// Where a point comes to lie: ends and corners before lines, lines before what lies around.

import assert from "node:assert/strict";
import { test } from "node:test";
import { snapped } from "../../adze/web/static/js/draw/snap.js";

const GROUND = { perPixel: () => 1 };
const doc = {
  runs: [
    {
      id: "a",
      name: "Lane side",
      points: [
        [0, 0],
        [100, 0],
        [100, 80],
      ],
    },
    {
      id: "b",
      name: "Bank",
      points: [
        [300, 0],
        [300, 100],
      ],
    },
  ],
  landmarks: [
    { id: "w", name: "Well", points: [[200, 50]] },
    {
      id: "r",
      name: "",
      points: [
        [0, 200],
        [100, 200],
      ],
    },
  ],
};
const at = (point, options) => snapped({ doc }, GROUND, point, options);

test("an end, a corner, a line, a spot and the edge of what lies around", () => {
  assert.deepEqual([at([3, 4]).point, at([3, 4]).words], [[0, 0], "joins the end of Lane side"]);
  assert.equal(at([96, 5]).words, "joins Lane side at a corner");
  assert.deepEqual([at([50, 6]).point, at([50, 6]).words], [[50, 0], "joins Lane side"]);
  assert.equal(at([204, 50]).words, "at Well");
  assert.equal(at([40, 205]).words, "on what lies there");
});

test("far from all it stays where it is", () => {
  assert.deepEqual([at([500, 500]).point, at([500, 500]).words], [[500, 500], ""]);
});

test("the point that moves does not catch itself, nor its own line", () => {
  assert.equal(at([3, 4], { except: { run: "a", index: 0 } }).words, "");
});

test("a line of three points closes on its first", () => {
  const drawn = [
    [500, 500],
    [600, 500],
    [600, 600],
  ];
  assert.equal(at([503, 503], { drawn }).words, "closes the ring");
  assert.equal(at([503, 503], { drawn: drawn.slice(0, 2) }).words, "");
});
