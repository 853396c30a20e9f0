// Placing things on the line and on the ground, and ending what was drawn.

import { distance, nearest, tidy } from "../basics/geometry.js";
import { landmarkOf } from "./tools_bar.js";

const NEAR_PX = 30; // a click farther from every line places nothing

async function make(tools, operation) {
  const done = await tools.bench.do(operation);
  if (done?.made) tools.bench.pick([done.made]);
  return done;
}

const placeLandmark = (tools, kind, points) => make(tools, { do: "place_landmark", kind, points: points.map(tidy) });

export function finish(tools) {
  const points = tools.drawn.filter((p, i) => i === 0 || distance(p, tools.drawn[i - 1]) > 0.05);
  const { tool } = tools.ground;
  const kind = landmarkOf(tool);
  const isArea = kind !== null && tools.kinds[kind].shape === "area";
  if (isArea && points.length > 2 && distance(points[0], points.at(-1)) < 0.05) points.pop();
  tools.choose("arrange");
  if (points.length < (isArea ? 3 : 2)) tools.say("That needs more points, farther apart.");
  else if (tool === "lane") tools.bench.do({ do: "lane", points, width_m: tools.lane });
  else if (tool === "lead-out") tools.bench.do({ do: "draw_lead_out", points: points.map(tidy) });
  else if (kind) placeLandmark(tools, kind, points);
  else tools.bench.do({ do: "draw", points, use: tools.use.value });
}

const wordsOf = (tools, kind) => tools.fixtures[kind].label.toLowerCase();

/** One more of a kind; the tool stays at hand for the next. */
export async function placeFixture(tools, kind, run, at_m) {
  const done = await make(tools, { do: "place_fixture", kind, run: run.id, at_m });
  if (!done?.made || tools.ground.tool !== kind) return;
  tools.say(`Placed on ${run.name} at ${Math.round(at_m)} m. Click for the next ${wordsOf(tools, kind)}; Esc ends.`);
}

/** One of a kind at every step along the line where one stands, on it or beside it. */
export async function placeEvery(tools, tool, typed) {
  const kind = landmarkOf(tool) ?? tool;
  const run = tools.bench.place && tools.bench.run(tools.bench.place.run);
  if (!run) {
    tools.say("Stand on a line first: click it with Walk.");
    return;
  }
  const box = document.getElementById("every");
  const done = await tools.bench.do({ do: "place_every", kind, run: run.id, every_m: typed }, box);
  if (done) tools.choose("arrange");
}

/** What is one spot on the ground: a landmark, the energizer, the first rod, a note. */
export async function placeSpot(tools, tool, point) {
  const kind = landmarkOf(tool);
  const spots = { energizer: "place_energizer", "rods-near": "place_rods", note: "place_note" };
  if (!kind && !spots[tool]) return;
  const isOne = tool === "energizer" || tool === "rods-near"; // a farm has one of each
  if (isOne) tools.choose("arrange");
  if (kind) await placeLandmark(tools, kind, [point]);
  else await make(tools, { do: spots[tool], at: tidy(point) });
}

export function placeAt(tools, kind, point) {
  const found = tools.bench.doc.runs
    .map((run) => ({ run, ...nearest(run.points, point) }))
    .sort((a, b) => a.away - b.away)[0];
  if (found && found.away <= NEAR_PX * tools.ground.perPixel()) placeFixture(tools, kind, found.run, found.at);
  else tools.say(`Click nearer to a line: a ${wordsOf(tools, kind)} stands on it.`);
}
