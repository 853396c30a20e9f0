// The strip: samples unrolled along the way, and where metres and kV are drawn.

import assert from "node:assert/strict";
import { test } from "node:test";
import { LEFT, RIGHT, TOP, course, limits, scaleOf, unroll } from "../../adze/web/static/js/strip/strip_scale.js";

const TRACES = [
  { run: "stem", at_m: [0, 100, 200], kv: [7, 6, 5] },
  { run: "ring", at_m: [0, 100, 200], kv: [5, 4, 3] },
];
const ROUTE = {
  length_m: 250,
  legs: [
    { run: "stem", from_m: 0, to_m: 150 },
    { run: "ring", from_m: 200, to_m: 100 },
  ],
};
const bench = (changes = {}) => ({
  route: 0,
  routes: [ROUTE],
  stage: "ground",
  volts: { traces: TRACES },
  forecast: { seasons: { dry: { traces: TRACES }, wet: { traces: [{ run: "stem", at_m: [0, 200], kv: [9, 9] }] } } },
  way: { profile: [] },
  wantedOn: (run) => ({ stem: 3, ring: 4 })[run],
  ...changes,
});

test("samples run along the way, a line walked back from its far end", () => {
  const rows = unroll(ROUTE, TRACES, ["kv"]);
  assert.deepEqual(
    rows.map((r) => [r.at, r.values[0]]),
    [
      [0, 7],
      [100, 6],
      [150, 5.5],
      [150, 3],
      [250, 4],
    ],
  );
  assert.ok(rows.every((row, i) => i === 0 || row.at >= rows[i - 1].at));
});

test("a line without a trace leaves its gap", () => {
  const rows = unroll(ROUTE, [TRACES[1]], ["kv"]);
  assert.deepEqual(
    rows.map((r) => r.at),
    [150, 250],
  );
});

test("the way fills the width, and the highest kV stays under the top", () => {
  const scale = scaleOf(bench(), { width: 800, height: 220 });
  assert.equal(scale.x(0), LEFT);
  assert.equal(scale.x(ROUTE.length_m), 800 - RIGHT);
  assert.equal(scale.y(0), scale.bottom);
  assert.ok(scale.y(7) > TOP);
  assert.equal(scale.wanted, 4);
});

test("Volts makes room for every season, the other stages for the one shown", () => {
  const size = { width: 800, height: 220 };
  assert.ok(scaleOf(bench({ stage: "volts" }), size).most > 9);
  assert.ok(scaleOf(bench(), size).most < 9);
});

test("what is wanted is in sight even where the fence shows less", () => {
  const weak = [{ run: "stem", at_m: [0, 200], kv: [1, 1] }];
  const scale = scaleOf(bench({ volts: { traces: weak } }), { width: 800, height: 220 });
  assert.ok(scale.most > 4 * 1.25);
});

test("known heights take room below", () => {
  const size = { width: 800, height: 220 };
  const hilly = scaleOf(
    bench({
      way: {
        profile: [
          [0, 1],
          [9, 2],
        ],
      },
    }),
    size,
  );
  assert.ok(hilly.hilly);
  assert.ok(hilly.bottom < scaleOf(bench(), size).bottom);
});

test("limits change where the line does; samples become a path", () => {
  assert.deepEqual(limits(bench(), ROUTE), [
    { from: 0, to: 150, kv: 3 },
    { from: 150, to: 250, kv: 4 },
  ]);
  const rows = [
    { at: 0, values: [1] },
    { at: 10, values: [2] },
  ];
  assert.equal(
    course(
      rows,
      (m) => m,
      (kv) => kv,
    ),
    "0.0 1.0L10.0 2.0",
  );
});
