// The scale of the strip: metres along the way to the right, kV upward, the ground under it where heights are known.

import { sample } from "../basics/scales.js";

export const [LEFT, RIGHT, TOP] = [46, 20, 26];
const [AXIS, RELIEF] = [58, 46];
const OVER = { wanted: 1.25, most: 1.06 }; // room over what is wanted, and over the highest kV shown
export const RELIEF_PX = RELIEF;

/** Samples of a leg: distance along the route, and a trace's columns. */
function unrollLeg(leg, trace, columns, gone) {
  const [low, high] = [Math.min(leg.from_m, leg.to_m), Math.max(leg.from_m, leg.to_m)];
  const inner = trace.at_m
    .map((at, i) => ({ at, values: columns.map((c) => trace[c][i]) }))
    .filter(({ at }) => at > low && at < high);
  const ends = [low, high].map((at) => ({ at, values: columns.map((c) => sample(trace.at_m, trace[c], at)) }));
  const rows = [ends[0], ...inner, ends[1]];
  const along = rows.map(({ at, values }) => ({ at: gone + Math.abs(at - leg.from_m), values }));
  return leg.to_m >= leg.from_m ? along : along.reverse();
}

/** Samples of a route: distance along it, and a trace's columns. */
export function unroll(route, traces, columns) {
  const rows = [];
  let gone = 0;
  for (const leg of route.legs) {
    const trace = traces.find((t) => t.run === leg.run);
    if (trace) rows.push(...unrollLeg(leg, trace, columns, gone));
    gone += Math.abs(leg.to_m - leg.from_m);
  }
  return rows;
}

/** What a strip of a size is drawn in: the route's samples, its limits, and where metres and kV lie. */
export function scaleOf(bench, { width, height }) {
  const route = bench.routes[bench.route];
  const rows = unroll(route, bench.volts.traces, ["kv"]);
  const wanted = Math.max(...route.legs.map((leg) => bench.wantedOn(leg.run)));
  const everySeason = bench.stage === "volts" ? Object.values(bench.forecast.seasons) : [bench.volts];
  const shown = everySeason.flatMap(({ traces }) => unroll(route, traces, ["kv"]).map((r) => r.values[0]));
  const most = shown.reduce((a, b) => Math.max(a, b), wanted * OVER.wanted) * OVER.most;
  const hilly = bench.way.profile.length > 1;
  const bottom = height - AXIS - (hilly ? RELIEF : 0);
  const x = (m) => LEFT + (m / (route.length_m || 1)) * (width - LEFT - RIGHT);
  const y = (kv) => bottom - (kv / most) * (bottom - TOP);
  return { route, rows, wanted, most, hilly, bottom, width, height, x, y };
}

/** Rows of samples as the points of a path. */
export const course = (rows, x, y) => rows.map((r) => `${x(r.at).toFixed(1)} ${y(r.values[0]).toFixed(1)}`).join("L");

/** The kV wanted from leg to leg: each line's own animals say. */
export function limits(bench, route) {
  let gone = 0;
  return route.legs.map((leg) => {
    const from = gone;
    gone += Math.abs(leg.to_m - leg.from_m);
    return { from, to: gone, kv: bench.wantedOn(leg.run) };
  });
}
