// What an input says: numbers, lengths in the page's unit, rows, empty and ticked.

import assert from "node:assert/strict";
import { test } from "node:test";
import { lengthOf, numberOf, pairsOf, spotOf, valueOf } from "../../adze/web/static/js/basics/inputs.js";

const typed = (value, kind, units = "metric") => valueOf({ type: "text", value, kind }, units);

test("numbers, with a comma for a point; what is none stays for the server to refuse", () => {
  assert.equal(numberOf("4,6"), 4.6);
  assert.equal(numberOf("-12"), -12);
  assert.equal(numberOf("a lot"), "a lot");
  assert.equal(numberOf(""), "");
  assert.equal(typed("4,6", "number"), 4.6);
});

test("a bare length gets the unit of the page, one with a unit keeps it", () => {
  assert.equal(lengthOf("120", "metric"), "120 m");
  assert.equal(lengthOf("120", "imperial"), "120 ft");
  assert.equal(lengthOf("48", "imperial", "height"), "48 in");
  assert.equal(lengthOf("400 ft", "metric"), "400 ft");
  assert.equal(typed("90", "height"), "90 cm");
  assert.equal(typed("3.5", "optional-length"), "3.5 m");
});

test("an optional input that is empty says null, any other says nothing", () => {
  assert.equal(typed("", "optional"), null);
  assert.equal(typed("  ", "optional-number"), null);
  assert.equal(typed("", "number"), "");
  assert.equal(typed(" Top field ", undefined), "Top field");
});

test("ticks and yes or no are true or false", () => {
  assert.equal(valueOf({ type: "checkbox", value: "on", checked: false }, "metric"), false);
  assert.equal(typed("yes", "yes"), true);
  assert.equal(typed("no", "yes"), false);
});

test("rows of numbers and a spot, however they are parted", () => {
  assert.deepEqual(pairsOf("0 10\n\n50;12,5\n100 : x"), [
    [0, 10],
    [50, 12.5],
    [100, "x"],
  ]);
  assert.deepEqual(spotOf("12, -4.5"), [12, -4.5]);
  assert.deepEqual(spotOf(" 12 -4.5 "), [12, -4.5]);
  assert.deepEqual(typed("0 1\n2 3", "pairs"), [
    [0, 1],
    [2, 3],
  ]);
});
