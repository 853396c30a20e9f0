// The strip's leaks: amps under the kV with their way, growth on stretches, and what is being drawn.

import { svg } from "../basics/dom.js";
import { lengthWords } from "../basics/scales.js";
import { TOP, unroll } from "./strip_scale.js";
import { legsOf } from "../basics/walk.js";

const TALL = 0.34; // of the kV's height: the most that amps take
const text = (x, y, size, words, more = {}) => svg("text", { x, y, "font-size": size, class: "halo", ...more }, words);

/** The leak's share of the amps under the kV: how much flows on outward (or back) in live and in earth strands. */
export function amps({ route, bottom, x }, bench) {
  const { traces } = bench.volts;
  const legs = legsOf(route).map((leg) => {
    const back = bench.trace(leg.run)?.return_a.length ? unroll({ legs: [leg] }, traces, ["return_a"]) : [];
    return { ...leg, back, rows: unroll({ legs: [leg] }, traces, ["leak_a"]) };
  });
  const all = legs.flatMap(({ rows, back }) => [...rows, ...back].map((r) => Math.abs(r.values[0])));
  const most = Math.max(0.1, ...all);
  const up = (a) => bottom - (Math.abs(a) / most) * (bottom - TOP) * TALL;
  return legs
    .filter(({ rows }) => rows.length)
    .flatMap((leg) => [...leak(leg, { x, up, bottom }), ...flow(leg, { x, up, most })]);
}

function leak({ rows, back, gone, to }, { x, up, bottom }) {
  const course = (own) => own.map((r) => `${x(gone + r.at).toFixed(1)} ${up(r.values[0]).toFixed(1)}`).join("L");
  const under = `M${x(gone)} ${bottom}L${course(rows)}L${x(to)} ${bottom}Z`;
  const parts = [
    svg("path", { d: under, fill: "var(--pulse)", opacity: 0.16 }),
    svg("path", { d: `M${course(rows)}`, fill: "none", stroke: "var(--pulse)", "stroke-width": 1.5 }),
  ];
  const look = { fill: "none", stroke: "var(--return)", "stroke-width": 1.8, "stroke-dasharray": "7 3" };
  return back.length ? [...parts, svg("path", { d: `M${course(back)}`, ...look })] : parts;
}

/** An arrow the way the leak flows, with its amps, where there is room for it. */
function flow({ rows, gone, way, to }, { x, up, most }) {
  const middle = rows[Math.floor(rows.length / 2)];
  const [amperes] = middle.values;
  if (x(to) - x(gone) <= 50 || Math.abs(amperes) <= 0.02 * most) return [];
  const on = Math.sign(amperes) * way;
  const [cx, cy] = [x(gone + middle.at), up(amperes)];
  const anchor = { "text-anchor": on > 0 ? "start" : "end" };
  return [
    svg("path", { d: `M${cx - 6 * on} ${cy - 12}l${12 * on} 5 ${-12 * on} 5Z`, fill: "var(--pulse-ink)" }),
    text(cx + 12 * on, cy - 3, 11, `${Math.abs(amperes).toFixed(1)} A`, anchor),
  ];
}

/** The stretches of a route that have growth of their own: from, to. */
function grownStretches({ doc }, route) {
  return legsOf(route).flatMap((leg) => {
    const ends = [Math.min(leg.from_m, leg.to_m), Math.max(leg.from_m, leg.to_m)];
    const own = doc.growths.filter((g) => g.run === leg.run);
    const cut = own.map((g) => [Math.max(g.from_m, ends[0]), Math.min(g.to_m, ends[1])]);
    const along = cut.filter(([low, high]) => high > low).map((pair) => (leg.way > 0 ? pair : pair.toReversed()));
    return along.map((pair) => pair.map((at) => leg.gone + Math.abs(at - leg.from_m)));
  });
}

function blades([from, to], x, bottom) {
  let d = "";
  for (let at = x(from) + 2; at < x(to); at += 7)
    d += `M${at.toFixed(1)} ${bottom}q0 -6 -2.500 -10m2.500 10q1 -7 3 -11`;
  return d;
}

/** Growth of its own on stretches of this way, and what is being drawn. */
export function grown({ route, bottom, x }, bench, drag) {
  const look = { fill: "none", stroke: "var(--ink)" };
  const rows = grownStretches(bench, route).map((stretch) => blades(stretch, x, bottom));
  const parts = rows.length ? [svg("path", { d: rows.join(""), ...look, "stroke-width": 1.1 })] : [];
  if (!drag) return parts;
  const [a, b] = [Math.min(drag.from, drag.to), Math.max(drag.from, drag.to)];
  const box = { x: x(a), y: TOP, width: Math.max(1, x(b) - x(a)), height: bottom - TOP };
  const words = `${lengthWords(b - a, bench.units)} of it`;
  return [
    ...parts,
    svg("rect", { ...box, fill: "var(--grass)", opacity: 0.5 }),
    svg("path", { d: blades([a, b], x, bottom), ...look, "stroke-width": 1.3 }),
    text(x((a + b) / 2), TOP + 14, 12, words, { "text-anchor": "middle" }),
  ];
}
