// Pulling a point onto what it should meet: ends, lines, existing fences, corners of what lies around.

import { distance, nearest, tidy } from "./geometry.js";

const SNAP_PX = 12;

/** {point, words}: the point as it should be, and what it meets. `except` is {run, index} of a moving point. */
export function snapped(bench, ground, point, { except = null, drawn = [] } = {}) {
  const reach = SNAP_PX * ground.perPixel();
  let best = { away: reach, point: tidy(point), words: "" };
  const offer = (p, words) => {
    const away = distance(p, point);
    if (away < best.away) best = { away, point: p, words };
  };
  for (const run of bench.doc.runs) {
    run.points.forEach((p, i) => {
      if (except && run.id === except.run && i === except.index) return;
      const end = i === 0 || i === run.points.length - 1;
      offer(p, end ? `joins the end of ${run.name}` : `joins ${run.name} at a corner`);
    });
  }
  if (drawn.length > 2) offer(drawn[0], "closes the ring");
  if (best.words) return best;
  for (const run of bench.doc.runs) {
    if (except && run.id === except.run) continue;
    const met = nearest(run.points, point);
    if (met.away < best.away) best = { away: met.away, point: tidy(met.point), words: `joins ${run.name}` };
  }
  if (best.words) return best;
  for (const mark of bench.doc.landmarks) {
    if (mark.points.length < 2) { offer(mark.points[0], `at ${mark.name || "the spot"}`); continue; }
    const met = nearest(mark.points, point);
    if (met.away < best.away) best = { away: met.away, point: tidy(met.point), words: `on ${mark.name || "what lies there"}` };
  }
  return best;
}
