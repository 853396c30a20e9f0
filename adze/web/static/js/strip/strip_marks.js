// The strip's ground: posts, heights, and the signs of what is fixed along the way.

import { M_PER_FT } from "../basics/scales.js";
import { svg } from "../basics/dom.js";
import { niceStep, pointAt } from "../basics/geometry.js";
import { fixtureParts, mishapParts } from "../basics/signs.js";
import { LEFT, RELIEF_PX, RIGHT, TOP } from "./strip_scale.js";

const ORDER = [
  "start",
  "end",
  "what_if",
  "gate",
  "switch",
  "crossing",
  "join",
  "joined",
  "rods",
  "test",
  "apart",
  "diverter",
  "strain",
  "sign",
  "corner",
  "dip",
  "rise",
];
const QUIET = ["corner", "sign", "dip", "rise"];
const SEEN_STEPS = 120; // how finely the way is looked at for what the ground shows of it

/** A tick for every post, a longer one for round distances. */
export function posts({ route, bottom, width, x }, bench) {
  let step = bench.spacingOn(bench.place?.run);
  while ((width - LEFT - RIGHT) / (route.length_m / step) < 5) step *= 2;
  let d = "";
  for (let m = 0; m <= route.length_m; m += step) d += `M${x(m).toFixed(1)} ${bottom + 3}v6`;
  const far = niceStep(route.length_m / 5);
  for (let m = far; m < route.length_m; m += far) d += `M${x(m).toFixed(1)} ${bottom + 3}v11`;
  return [svg("path", { d, stroke: "var(--ink)", "stroke-width": 1 })];
}

/** The ground under the line, drawn taller than it is; the stretch and its heights are said. */
export function relief({ width, height, x }, bench) {
  const { profile } = bench.way;
  const heights = profile.map(([, h]) => h);
  const [low, high] = [Math.min(...heights), Math.max(...heights)];
  const y = (h) => height - 8 - ((h - low) / Math.max(high - low, 0.5)) * (RELIEF_PX - 20);
  const points = profile.map(([at, h]) => `${x(at).toFixed(1)} ${y(h).toFixed(1)}`).join("L");
  const ends = [profile[0], profile.at(-1)].map(([at]) => `${x(at).toFixed(1)} ${height}`);
  const words = (m) => (bench.units === "imperial" ? `${Math.round(m / M_PER_FT)} ft` : `${m.toFixed(1)} m`);
  // Where the ground lies lower, the words have room above it.
  const isLowLast = profile.at(-1)[1] <= profile[0][1];
  const side = isLowLast ? { x: width - RIGHT, "text-anchor": "end" } : { x: LEFT };
  const end = { ...side, y: height - RELIEF_PX + 12, "font-size": 11 };
  return [
    svg("path", { d: `M${ends[0]}L${points}L${ends[1]}Z`, fill: "var(--soil)" }),
    svg("path", { d: `M${points}`, fill: "none", stroke: "var(--ink)", "stroke-width": 1.2 }),
    svg("text", end, `ground ${words(low)} to ${words(high)}`),
  ];
}

/** The stretches of a route that lie inside a view of the ground: from, to. */
function spansInside(bench, route, view) {
  const [west, east, south, north] = [view.getWest(), view.getEast(), view.getSouth(), view.getNorth()];
  const inside = ([x, y]) => x >= west && x <= east && y >= south && y <= north;
  const spans = [];
  let gone = 0;
  for (const leg of route.legs) {
    const run = bench.run(leg.run);
    if (!run) continue;
    const size = Math.abs(leg.to_m - leg.from_m);
    const count = Math.max(2, Math.round((SEEN_STEPS * size) / (route.length_m || 1)));
    for (let i = 0; i < count; i += 1) {
      const at = leg.from_m + ((leg.to_m - leg.from_m) * (i + 0.5)) / count;
      if (inside(pointAt(run.points, at))) spans.push([gone + (size * i) / count, gone + (size * (i + 1)) / count]);
    }
    gone += size;
  }
  return spans;
}

/** A bracket over what the ground view shows of this way. */
export function seen({ route, x }, bench) {
  if (!bench.view) return [];
  const spans = spansInside(bench, route, bench.view());
  const whole = spans.reduce((sum, [a, b]) => sum + b - a, 0) > 0.995 * route.length_m;
  if (whole || !spans.length) return [];
  const d = spans.map(([a, b]) => `M${x(a).toFixed(1)} ${TOP - 4}H${x(b).toFixed(1)}`).join("");
  return [
    svg("path", { d, stroke: "var(--return)", "stroke-width": 3 }),
    svg("text", { x: x(spans[0][0]), y: TOP - 9, "font-size": 11 }, "in view above"),
  ];
}

const line = (d, wide) => svg("path", { d, fill: "none", stroke: "var(--ink)", "stroke-width": wide });
const circle = (r, look) => svg("circle", { cx: 8, cy: 8, r, stroke: "var(--ink)", "stroke-width": 1.6, ...look });

// What the way itself has, in the square of 16 by 16 that the signs of fixtures have.
const OF_THE_WAY = {
  what_if: mishapParts,
  corner: () => [line("M8 1v14", 2.6)],
  dip: () => [line("M3 5l5 7 5-7", 2)],
  rise: () => [line("M3 12l5-7 5 7", 2)],
  apart: () => [circle(5, { fill: "var(--panel)", "stroke-dasharray": "2 2" })],
  joined: () => [circle(5, { fill: "var(--ink)" })],
  start: () => [circle(6, { fill: "var(--ink)" })],
  end: () => [circle(6, { fill: "var(--ink)" })],
};

function mark(kind, cx, cy, fixtures) {
  const parts = fixtures[kind] ? fixtureParts(fixtures[kind], false) : OF_THE_WAY[kind]();
  return svg("g", { transform: `translate(${cx - 7} ${cy - 7}) scale(0.875)` }, ...parts);
}

const byRank = (a, b) => ORDER.indexOf(a.kind) - ORDER.indexOf(b.kind);

/** Where a mark's words begin, by what it marks. */
function startOf(kind, cx, size) {
  if (kind === "end") return cx - size;
  return kind === "start" ? cx - 8 : cx - size / 2;
}

export function marks({ width, bottom, x }, bench) {
  const ranked = [...bench.way.marks].sort(byRank);
  const out = ranked.toReversed().map((m) => mark(m.kind, x(m.at_m), bottom + 6, bench.shared.fixture_kinds));
  const placed = [];
  for (const m of ranked.filter(({ kind }) => !QUIET.includes(kind))) {
    const size = m.label.length * 6.4 + 8;
    const left = startOf(m.kind, x(m.at_m), size);
    const row = [0, 1].find((r) => placed.every((p) => p.row !== r || left > p.right || left + size < p.left));
    if (row === undefined || left < 0 || left + size > width) continue;
    placed.push({ row, left, right: left + size });
    out.push(svg("text", { x: left + 4, y: bottom + 29 + row * 16, "font-size": 12 }, m.label));
  }
  return out;
}
