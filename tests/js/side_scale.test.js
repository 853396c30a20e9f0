// The side view's scale: strands and animals fit, whatever the screen.

import assert from "node:assert/strict";
import { test } from "node:test";
import { scaleOf } from "../../adze/web/static/js/strands/side_scale.js";
import { animals } from "./tables.js";

const figures = animals();
const strands = [30, 60, 90, 120].map((cm) => ({ cm }));
const view = (width, height, keys) => scaleOf({ width, height, strands, beasts: keys.map((k) => figures[k]) });

test("the highest strand and the tallest animal stay in the picture", () => {
  for (const [width, height] of [
    [1000, 420],
    [390, 300],
  ]) {
    const scale = view(width, height, ["beef_cow", "ewe", "fox"]);
    assert.ok(scale.y(120) > 0);
    assert.ok(scale.y(figures.beef_cow.shoulder_cm) > 0);
    assert.equal(scale.y(0), scale.soil);
  }
});

test("animals stand side by side in their order, more of them closer", () => {
  const few = view(1000, 420, ["ewe", "fox"]);
  const many = view(1000, 420, ["cow", "beef_cow", "horse", "ewe", "goat", "fox"]);
  for (const { places } of [few, many]) assert.ok(places.every((x, i) => i === 0 || x > places[i - 1]));
  assert.ok(many.scale <= few.scale);
});

test("a phone is narrow; no animal at all is no trouble", () => {
  assert.ok(view(390, 300, ["ewe"]).narrow);
  assert.ok(!view(1000, 420, ["ewe"]).narrow);
  assert.ok(view(1000, 420, []).scale > 0);
});
