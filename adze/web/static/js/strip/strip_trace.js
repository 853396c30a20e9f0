// The strip's kV: axis, band, what is wanted, the seasons, what falls short, where you stand.

import { svg } from "../basics/dom.js";
import { kvWords, readWords, sample } from "../basics/scales.js";
import { course, LEFT, limits, RIGHT, TOP, unroll } from "./strip_scale.js";

const DASH = { dry: "1.5 4", usual: "", wet: "9 5" };
const end = { "text-anchor": "end" };
const text = (x, y, size, words, more = {}) => svg("text", { x, y, "font-size": size, ...more }, words);

export function axis({ most, width, y }) {
  const parts = [text(8, TOP - 10, 12, "kV")];
  for (let kv = 0; kv <= most; kv += most > 8 ? 2 : 1) {
    const d = `M${LEFT} ${y(kv)}H${width - RIGHT}`;
    parts.push(svg("path", { d, stroke: "var(--rule)", "stroke-width": kv ? 0.7 : 1.4 }));
    parts.push(text(LEFT - 8, y(kv) + 4, 12, `${kv}`, end));
  }
  return parts;
}

const WORDS_PX = 13;
const WORDS_WIDE = 120;

/** The range of soil and growth. */
export function band({ route, x, y }, traces) {
  const both = unroll(route, traces, ["low", "high"]);
  const edge = (k) => both.map((r) => `${x(r.at).toFixed(1)} ${y(r.values[k]).toFixed(1)}`);
  const d = `M${[...edge(1), ...edge(0).reverse()].join("L")}Z`;
  return [svg("path", { d, fill: "var(--kv-2)", opacity: 0.6 })];
}

export function wantedLine({ route, wanted, width, x, y }, bench) {
  const steps = limits(bench, route).map(
    ({ from, to, kv }) => `M${x(from).toFixed(1)} ${y(kv).toFixed(1)}H${x(to).toFixed(1)}`,
  );
  const look = { stroke: "var(--ink)", "stroke-width": 1.3, "stroke-dasharray": "7 4" };
  const words = `${kvWords(wanted)} kV needed`;
  // The words lie above the line unless a trace runs there.
  const ends = Object.values(bench.forecast.seasons).map(({ traces }) => unroll(route, traces, ["kv"]).at(-1));
  const isAbove = ends.every((row) => !row || Math.abs(y(row.values[0]) - y(wanted) + WORDS_PX) > WORDS_PX);
  return [
    svg("path", { d: steps.join(""), ...look }),
    text(width - RIGHT, y(wanted) + (isAbove ? -5 : WORDS_PX), 12, words, { ...end, class: "halo" }),
  ];
}

export function trace({ rows, x, y }) {
  const look = { fill: "none", stroke: "var(--pulse-ink)", "stroke-width": 2.6, "stroke-linejoin": "round" };
  return [svg("path", { d: `M${course(rows, x, y)}`, ...look })];
}

/** The least of the strands that are apart from the others, where any are: thin under the live ones. */
export function lowStrands({ route, width, x, y }, bench) {
  if (!bench.volts.traces[0]?.low_kv) return [];
  const rows = unroll(route, bench.volts.traces, ["low_kv", "kv"]);
  if (!rows.length) return [];
  const look = { fill: "none", stroke: "var(--pulse-ink)", "stroke-width": 1.2, "stroke-linejoin": "round" };
  const below = ({ values: [low, kv] }) => kv - low;
  const most = rows.reduce((a, b) => (below(b) > below(a) ? b : a));
  const middle = Math.min(Math.max(x(most.at), LEFT + WORDS_WIDE / 2), width - RIGHT - WORDS_WIDE / 2);
  return [
    svg("path", { d: `M${course(rows, x, y)}`, ...look, "data-low-strands": "" }),
    text(middle, y(most.values[0]) + WORDS_PX, 11, "lowest strands apart", { "text-anchor": "middle", class: "halo" }),
  ];
}

/** The seasons that are not chosen, thin beside the one that is: dotted when it is dry, dashed when wet. */
export function otherSeasons({ route, width, x, y }, bench) {
  const ends = [];
  const others = Object.entries(bench.forecast.seasons).filter(([season]) => season !== bench.season);
  return others.flatMap(([season, { traces }]) => {
    const rows = unroll(route, traces, ["kv"]);
    if (!rows.length) return [];
    let at = y(rows.at(-1).values[0]) - 4;
    while (ends.some((other) => Math.abs(other - at) < 12)) at += 12;
    ends.push(at);
    const look = { fill: "none", stroke: "var(--pulse)", "stroke-width": 1.4, opacity: 0.75 };
    return [
      svg("path", { d: `M${course(rows, x, y)}`, ...look, "stroke-dasharray": DASH[season] }),
      text(width - RIGHT - 92, at, 11, season, { ...end, class: "halo" }),
    ];
  });
}

/** A broken line under the stretches that fall short: weak never means faint. */
export function short({ route, rows, x, bottom }, bench) {
  const wants = limits(bench, route);
  const out = [];
  for (let i = 1, leg = 0; i < rows.length; i += 1) {
    while (leg < wants.length - 1 && rows[i].at > wants[leg].to + 1e-6) leg += 1;
    const least = Math.min(rows[i - 1].values[0], rows[i].values[0]);
    if (least < wants[leg].kv) out.push(`M${x(rows[i - 1].at).toFixed(1)} ${bottom - 4}H${x(rows[i].at).toFixed(1)}`);
  }
  const look = { stroke: "var(--ink)", "stroke-width": 3.4, "stroke-dasharray": "4 3" };
  return out.length ? [svg("path", { d: out.join(""), ...look })] : [];
}

export function flag({ rows, width, bottom, x, y }, bench) {
  const at = bench.routeDistance();
  if (at === null) return [];
  const columns = [rows.map((r) => r.at), rows.map((r) => r.values[0])];
  const kv = sample(...columns, at);
  const cx = x(at);
  const flip = cx > width - 80 ? -1 : 1;
  const cloth = `M${cx} ${TOP - 20}h${flip * 62}l${flip * -7} 10 ${flip * 7} 10h${flip * -62}Z`;
  const words = { "text-anchor": "middle", "font-weight": 700, style: "fill:var(--panel)" };
  return [
    svg("path", { d: `M${cx} ${TOP - 18}V${bottom + 14}`, stroke: "var(--ink)", "stroke-width": 2 }),
    svg("path", { d: cloth, fill: "var(--ink)" }),
    text(cx + flip * 27, TOP - 5.5, 13, `${readWords(bench, kv, true)} kV`, words),
    svg("circle", { cx, cy: y(kv), r: 4.5, fill: "var(--panel)", stroke: "var(--ink)", "stroke-width": 2 }),
  ];
}
