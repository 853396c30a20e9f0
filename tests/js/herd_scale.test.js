// Where the animals of a herd's picture stand: one scale, nobody over another, nobody out of the picture.

import assert from "node:assert/strict";
import { test } from "node:test";
import { placed } from "../../adze/web/static/js/strands/herd_scale.js";
import { animalWidth } from "../../adze/web/static/js/strands/silhouettes.js";
import { animals } from "./tables.js";

const figures = animals();
const HERDS = [["ewe"], ["ewe", "beef_cow", "goose", "fox", "deer"], Object.keys(figures).slice(0, 12), []];

test("all animals fit into the picture at one scale", () => {
  for (const keys of HERDS) {
    for (const [width, height] of [
      [740, 560],
      [370, 480],
      [1240, 900],
    ]) {
      const beasts = keys.map((key) => figures[key]);
      const { scale, places } = placed(beasts, width, height);
      assert.equal(places.length, beasts.length);
      places.forEach(({ x, wide }, i) => {
        assert.ok(x >= -0.5 && x + wide <= width + 0.5);
        assert.ok(animalWidth(beasts[i]) * scale <= wide);
      });
    }
  }
});

test("no two animals of a row share a place", () => {
  const { places } = placed(
    HERDS[1].map((key) => figures[key]),
    740,
    560,
  );
  places.forEach((one, i) =>
    places.slice(i + 1).forEach((other) => {
      const isOneRow = one.soil === other.soil;
      assert.ok(!isOneRow || one.x + one.wide <= other.x + 0.01 || other.x + other.wide <= one.x + 0.01);
    }),
  );
});

test("more room makes them larger", () => {
  const herd = HERDS[1].map((key) => figures[key]);
  assert.ok(placed(herd, 1200, 900).scale > placed(herd, 740, 560).scale);
});
