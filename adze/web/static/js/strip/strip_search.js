// A search on the strip: where it may lie along the way, the higher the likelier each metre, what was read, the next.

import { svg } from "../basics/dom.js";
import { toldOf } from "../trace/trace_told.js";
import { distanceAlong, legsOf } from "../basics/walk.js";

const [LOWEST, HIGHEST, HATCH_PX, WORDS_PX] = [8, 52, 5, 150];

/** The parts of a stretch of fence that lie on a way: from, to, along it. */
function along(route, { run, from, to }) {
  return legsOf(route).flatMap((leg) => {
    const [low, high] = [Math.min(leg.from_m, leg.to_m), Math.max(leg.from_m, leg.to_m)];
    const ends = [Math.max(from, low), Math.min(to, high)].map((at) => leg.gone + Math.abs(at - leg.from_m));
    return leg.run === run && Math.min(to, high) > Math.max(from, low) ? [ends.sort((a, b) => a - b)] : [];
  });
}

/** A stretch, hatched where half of it lies. */
function stretch({ x, bottom }, [from, to], { strength, half }) {
  const [left, right] = [x(from), x(to)];
  const high = LOWEST + (HIGHEST - LOWEST) * Math.sqrt(strength);
  const box = { x: left, y: bottom - high, width: right - left, height: high };
  const parts = [svg("rect", { ...box, fill: "var(--dead)", opacity: half ? 0.75 : 0.4, "data-likely": "" })];
  if (!half) return parts;
  let d = "";
  for (let at = left + HATCH_PX / 2; at < right; at += HATCH_PX) d += `M${at.toFixed(1)} ${bottom}v${-high.toFixed(1)}`;
  return [...parts, svg("path", { d, stroke: "var(--ink)", "stroke-width": 1.6 })];
}

/** A reading at its kV. */
function reading({ route, x, y, most, width }, row) {
  const at = distanceAlong(route, row);
  if (at === null || row.kv === null) return [];
  const [cx, cy] = [x(at), y(Math.min(row.kv, most))];
  // Near the end its words stand before it.
  const side = cx > width - WORDS_PX ? { x: cx - 9, "text-anchor": "end" } : { x: cx + 9 };
  return [
    svg("circle", { cx, cy, r: 5, fill: "var(--panel)", stroke: "var(--ink)", "stroke-width": 2, "data-read": "" }),
    svg("text", { ...side, y: cy + 4, "font-size": 12, "font-weight": 700, class: "halo" }, row.words),
  ];
}

/** All of a search that lies on this way. */
export function searched(view) {
  const told = toldOf();
  if (!told) return [];
  const { route, x, bottom } = view;
  const at = told.go && distanceAlong(route, told.go);
  const go = { cx: x(at), cy: bottom, r: 8, fill: "var(--pulse)", stroke: "var(--ink)", "stroke-width": 2.5 };
  return [
    ...told.pieces
      .filter(({ most }) => most)
      .flatMap((piece) => along(route, piece).flatMap((ends) => stretch(view, ends, piece))),
    ...(at === null || at === undefined ? [] : [svg("circle", { ...go, "data-next": "" })]),
    ...told.readings.flatMap((row) => reading(view, row)),
  ];
}
