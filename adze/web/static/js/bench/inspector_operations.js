// The ground's buttons and inputs as operations on the plan.

import { lengthOf, spotOf } from "../basics/inputs.js";

const text = (id) => document.getElementById(id).value;
const typedLength = (bench, id) => lengthOf(text(id).trim(), bench.units);

const pointsOf = (text) =>
  text
    .split("\n")
    .filter((row) => row.trim())
    .map(spotOf);

function reshaped(input, d) {
  const [what, id] = d.corners.split(":");
  const points = pointsOf(input.value);
  return what === "run" ? { do: "reshape", run: id, points } : { do: "shape_landmark", landmark: id, points };
}

/** What a changed input of the ground's panel does, by the name of its data attribute; null for no change. */
export const TYPED = {
  carries: (input, d) => ({
    do: "carry_strands",
    fixture: d.carries,
    strands: [...document.querySelectorAll("[data-carries]:checked")].map((box) => Number(box.value)),
  }),
  heights: (input, d) => ({ do: "heights", run: d.heights, text: input.value }),
  corners: reshaped,
  blockHerd: (input, d) => ({ do: "graze_block", block: d.blockHerd, herd: input.value, grazes: input.checked }),
  buildRuns: (input, d) =>
    input.value === "?" ? null : { do: "build_lines", runs: d.buildRuns.split(" "), fence: input.value },
  block: (input, d) => ({ do: "name_block", block: d.block, name: input.value.trim() }),
  blockAt: (input, d) => ({ do: "name_block", at: spotOf(d.blockAt), name: input.value.trim() }),
};

/** What a button does with the chosen things, given as pairs of kind and id. */
export const CHOSEN = {
  reverse: (bench, [[, run]]) => ({ do: "reverse", run }),
  split: (bench, [[, run]]) => ({ do: "split", run, at_m: bench.place?.run === run ? bench.place.at_m : 0 }),
  thin: (bench, [[, run]]) => ({ do: "thin", run, tolerance_m: 1 }),
  join: (bench, [[, first], [, second]]) => ({ do: "join", first, second }),
  move: (bench, chosen) => ({
    do: "move",
    chosen,
    east_m: typedLength(bench, "move-east"),
    north_m: typedLength(bench, "move-north"),
  }),
  remove: (bench, chosen) => ({ do: "remove", chosen }),
};

const beside = (bench, left) => ({ do: "beside", of: text("off-of"), distance_m: typedLength(bench, "off-m"), left });

function square(bench, name) {
  const typed = text("sq-at").trim();
  const at = typed ? spotOf(typed) : bench.standPoint();
  return { do: name, at, side_m: typedLength(bench, "sq-side"), bearing_deg: text("sq-way") };
}

function legs(bench) {
  const start = text("legs-from") === "stand" ? bench.standPoint() : spotOf(text("legs-at"));
  return { do: "legs", start, text: text("legs") };
}

/** What is set out by figures. */
export const SET_OUT = {
  legs,
  ring: (bench) => ({ do: "ring", landmark: text("off-of"), distance_m: typedLength(bench, "off-m") }),
  left: (bench) => beside(bench, true),
  right: (bench) => beside(bench, false),
  onleft: () => ({ do: "brackets", landmark: text("off-of"), left: true }),
  onright: () => ({ do: "brackets", landmark: text("off-of"), left: false }),
  pen: (bench) => square(bench, "pen"),
  square: (bench) => square(bench, "square"),
};

/** A block divided by cross-fences, or its moves planned. */
export function divided(how) {
  const at = spotOf(text("div-block"));
  const figures = { at, parts: Number(text("div-parts")), bearing_deg: text("div-way") };
  return { do: how === "cross" ? "divide" : "moves", ...figures };
}

/** The width typed for a lane. */
export const laneWidth = (bench) => typedLength(bench, "lane-m");
