// Pulling a point onto what it should meet: ends, lines, existing fences, corners of what lies around.

import { distance, nearest, tidy } from "../basics/geometry.js";

const SNAP_PX = 12;

const placed = (p, words) => ({ p, words });

/** Corners of the lines, except the point that moves, and the first point of what is drawn. */
function corners({ doc }, except, drawn) {
  const found = doc.runs.flatMap((run) =>
    run.points.map((p, i) => {
      if (except && run.id === except.run && i === except.index) return null;
      const end = i === 0 || i === run.points.length - 1;
      return placed(p, end ? `joins the end of ${run.name}` : `joins ${run.name} at a corner`);
    }),
  );
  return [...found.filter(Boolean), ...(drawn.length > 2 ? [placed(drawn[0], "closes the ring")] : [])];
}

/** The nearest places on the other lines. */
function lines({ doc }, except, point) {
  const others = doc.runs.filter((run) => run.id !== except?.run);
  return others.map((run) => placed(tidy(nearest(run.points, point).point), `joins ${run.name}`));
}

/** The nearest places of what lies around. */
function around({ doc }, point) {
  return doc.landmarks.map((mark) => {
    if (mark.points.length < 2) return placed(mark.points[0], `at ${mark.name || "the spot"}`);
    return placed(tidy(nearest(mark.points, point).point), `on ${mark.name || "what lies there"}`);
  });
}

/** {point, words}: the point as it should be, and what it meets. `except` is {run, index} of a moving point. */
export function snapped(bench, ground, point, { except = null, drawn = [] } = {}) {
  const reach = SNAP_PX * ground.perPixel();
  // What joins goes before what only lies near, ends and corners before the line between them.
  const offers = [() => corners(bench, except, drawn), () => lines(bench, except, point), () => around(bench, point)];
  for (const offer of offers) {
    const near = offer()
      .map(({ p, words }) => ({ point: p, words, away: distance(p, point) }))
      .filter((x) => x.away < reach)
      .sort((a, b) => a.away - b.away)[0];
    if (near) return near;
  }
  return { point: tidy(point), words: "", away: reach };
}
