// Which signs stand on the ground, the most important first, and where each is shown.

import { leadOut } from "./ground_lines.js";
import { pointAt } from "../basics/geometry.js";
import { at, css, draw } from "./map_parts.js";
import { standApart } from "./signs_apart.js";

const HALF_PX = 8.5; // half of a sign and what parts it from the next
const HOUSE_PX = 13.5;
const DOT_PX = 6;

const free = (key, spot) => ({ key, at: spot, half: HALF_PX });

const onLines = (bench) =>
  bench.doc.fixtures
    .filter((f) => bench.run(f.run))
    .map((f) => free(`fixture:${f.id}`, pointAt(bench.run(f.run).points, f.at_m)));

const onLand = ({ landmarks, notes }) => [
  ...landmarks.filter((m) => m.points.length === 1).map((m) => free(`landmark:${m.id}`, m.points[0])),
  ...notes.map((note) => free(`note:${note.id}`, note.at)),
];

/** Signs in the order in which they keep their places: [{key, at, half, fixed}]. */
function signsOf(view) {
  const { bench, shown } = view;
  const { doc } = bench;
  const { rods = [], monitor, joins } = view.computed();
  const fixed = (key, spot, half) => ({ key, at: spot, half, fixed: true });
  const signs = doc.energizer_at ? [fixed("energizer", doc.energizer_at, HOUSE_PX)] : [];
  if (rods.length) signs.push(fixed("rods", rods[0], HALF_PX));
  if (monitor) signs.push(fixed("monitor", monitor, HALF_PX));
  for (const spot of joins) signs.push(fixed(`join${spot}`, spot, DOT_PX));
  if (shown.fixtures) signs.push(...onLines(bench));
  if (shown.land) signs.push(...onLand(doc));
  return signs;
}

const stretches = (points) => points.slice(1).map((end, i) => [...points[i], ...end]);

/** Where signs are shown that would cover others at their own places, in metres by key; drawn with a thread home. */
export function seatSigns(view) {
  const metre = 1 / view.perPixel();
  const inPx = (numbers) => numbers.map((x) => x * metre);
  const signs = signsOf(view);
  const placed = signs.map((sign) => ({ ...sign, x: sign.at[0] * metre, y: sign.at[1] * metre }));
  const fences = [...view.bench.doc.runs.map((r) => r.points), ...leadOut(view.bench)];
  const moved = standApart(placed, fences.flatMap(stretches).map(inPx));
  view.seats = new Map([...moved].map(([key, spot]) => [key, spot.map((x) => x / metre)]));
  view.layers.threads.clearLayers();
  for (const sign of signs) {
    const seat = view.seats.get(sign.key);
    if (seat) draw(view.layers.threads, [at(sign.at), at(seat)], { color: css("--ink"), weight: 1.2 });
  }
}
