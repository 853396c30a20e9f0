// Every kind in the tables is drawn as itself.

import assert from "node:assert/strict";
import { test } from "node:test";
import { animalWidth } from "../../adze/web/static/js/strands/silhouettes.js";
import { SPOTS } from "../../adze/web/static/js/basics/signs.js";
import { table, wordParts } from "./tables.js";

test("every fixture kind has a sign of its own", () => {
  const rows = table("fixtures.csv");
  const paths = rows.map((row) => row.outline + row.strokes);
  assert.equal(new Set(paths).size, rows.length);
  assert.ok(!paths.includes(""));
});

test("every landmark that is a spot has its sign; every other has a look", () => {
  for (const { key, shape, look } of table("landmarks.csv"))
    if (shape === "point") assert.ok(SPOTS[key], `no sign for ${key}`);
    else assert.ok(look, `no look for ${key}`);
});

test("an animal without an outline is refused, not drawn as another", () => {
  const dog = { key: "dog", shoulder_cm: 60, nose_cm: 50, head_cm: 12 };
  assert.throws(() => animalWidth(dog), /dog: no outline/);
  assert.throws(() => animalWidth({ ...dog, outline: { body: "snake" } }), /dog: no outline/);
});

test("every animal is drawn by the outline of its own row", () => {
  for (const row of table("animals.csv")) {
    const figures = ["shoulder_cm", "nose_cm", "head_cm"].map((name) => [name, Number(row[name])]);
    const outline = { ...wordParts(row.outline), body: row.outline.split(" ")[0] };
    const width = animalWidth({ key: row.key, outline, ...Object.fromEntries(figures) });
    assert.ok(width > 0.5 * row.shoulder_cm && width < 4 * row.shoulder_cm, `${row.key} is ${width} cm wide`);
  }
});
