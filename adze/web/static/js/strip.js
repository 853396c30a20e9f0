// The strip: the chosen way unrolled, its kV, and everything fixed on it. Drag or walk along it.

import { el, svg } from "./dom.js";
import { niceStep, pointAt } from "./geometry.js";
import { kvWords, lengthWords, sample } from "./scales.js";

const LEFT = 46, RIGHT = 20, TOP = 26, AXIS = 58, RELIEF = 46;
const ORDER = ["start", "end", "what_if", "gate", "switch", "crossing", "join", "rods", "test", "apart", "diverter", "strain", "sign", "corner", "dip", "rise"];
const QUIET = ["corner", "sign", "dip", "rise"];

/** Samples of a route: distance along it, and a trace's columns. */
function unroll(route, traces, columns) {
  const rows = [];
  let gone = 0;
  for (const leg of route.legs) {
    const trace = traces.find((t) => t.run === leg.run);
    const [low, high] = [Math.min(leg.from_m, leg.to_m), Math.max(leg.from_m, leg.to_m)];
    if (trace) {
      const inner = trace.at_m.map((at, i) => ({ at, i })).filter(({ at }) => at > low && at < high).map(({ at, i }) => ({
        at, values: columns.map((c) => trace[c][i]),
      }));
      const ends = [low, high].map((at) => ({ at, values: columns.map((c) => sample(trace.at_m, trace[c], at)) }));
      const all = [ends[0], ...inner, ends[1]].map(({ at, values }) => ({ at: gone + Math.abs(at - leg.from_m), values }));
      rows.push(...(leg.to_m >= leg.from_m ? all : all.reverse()));
    }
    gone += high - low;
  }
  return rows;
}

export function mountStrip(bench) {
  const root = document.getElementById("strip");
  if (!root) return;
  const select = document.getElementById("route");
  const says = document.getElementById("strip-says");
  let band = null;
  let scale = null;
  let listed = "";
  let size = root.getBoundingClientRect();

  function options() {
    const now = JSON.stringify([bench.units, bench.routes.map((r) => [r.name, Math.round(r.length_m)])]);
    if (now === listed) { select.value = String(bench.route); return; }
    listed = now;
    select.replaceChildren(...bench.routes.map((route, i) => el("option", { value: i, selected: i === bench.route },
      `${route.name}, ${lengthWords(route.length_m, bench.units)}`)));
    select.hidden = !bench.routes.length;
  }

  async function fetchBand() {
    band = null;
    if (!bench.volts) return;
    const season = bench.season;
    try {
      const found = await bench.api.ask(`/band?season=${season}`);
      if (season === bench.season) { band = found.traces; draw(); }
    } catch { /* the likely line stands without its band */ }
  }

  function draw() {
    const { width, height } = size;
    const route = bench.routes[bench.route];
    bench.askWay();
    root.setAttribute("viewBox", `0 0 ${width} ${height}`);
    if (!route || !bench.volts || width < 80) {
      const line = bench.forecast?.blocked || "The line unrolls here once there is one.";
      root.replaceChildren(svg("text", { x: 16, y: 40, "font-size": 15 }, line));
      says.textContent = "";
      scale = null;
      return;
    }
    document.getElementById("middle").classList.toggle("hilly", bench.way.profile.length > 1);
    const rows = unroll(route, bench.volts.traces, ["kv"]);
    const wanted = Math.max(...route.legs.map((leg) => bench.wantedOn(leg.run)));
    const shownKv = bench.stage === "volts" ? Object.values(bench.forecast.seasons).flatMap((s) => unroll(route, s.traces, ["kv"]).map((r) => r.values[0])) : rows.map((r) => r.values[0]);
    const most = shownKv.reduce((a, b) => Math.max(a, b), wanted * 1.25) * 1.06;
    const hilly = bench.way.profile.length > 1;
    const bottom = height - AXIS - (hilly ? RELIEF : 0);
    const x = (m) => LEFT + (m / (route.length_m || 1)) * (width - LEFT - RIGHT);
    const y = (kv) => bottom - (kv / most) * (bottom - TOP);
    scale = { x, length: route.length_m, width };
    const parts = [];
    if (band) {
      const both = unroll(route, band, ["low", "high"]);
      const up = both.map((r) => `${x(r.at).toFixed(1)} ${y(r.values[1]).toFixed(1)}`);
      const down = both.map((r) => `${x(r.at).toFixed(1)} ${y(r.values[0]).toFixed(1)}`).reverse();
      parts.push(svg("path", { d: `M${[...up, ...down].join("L")}Z`, fill: "var(--kv-2)", opacity: 0.6 }));
    }
    for (let kv = 0; kv <= most; kv += most > 8 ? 2 : 1) {
      parts.push(svg("path", { d: `M${LEFT} ${y(kv)}H${width - RIGHT}`, stroke: "var(--rule)", "stroke-width": kv ? 0.7 : 1.4 }),
        svg("text", { x: LEFT - 8, y: y(kv) + 4, "text-anchor": "end", "font-size": 12 }, `${kv}`));
    }
    parts.push(svg("text", { x: 8, y: TOP - 10, "font-size": 12 }, "kV"));
    parts.push(svg("path", { d: limits(route).map(({ from, to, kv }) => `M${x(from).toFixed(1)} ${y(kv).toFixed(1)}H${x(to).toFixed(1)}`).join(""), stroke: "var(--ink)", "stroke-width": 1.3, "stroke-dasharray": "7 4" }),
      svg("text", { x: width - RIGHT, y: y(wanted) - 5, "text-anchor": "end", "font-size": 12, class: "halo" }, `${kvWords(wanted)} wanted`));
    if (bench.stage === "volts") parts.push(...otherSeasons(route, x, y, width));
    parts.push(svg("path", { d: `M${rows.map((r) => `${x(r.at).toFixed(1)} ${y(r.values[0]).toFixed(1)}`).join("L")}`, fill: "none", stroke: "var(--pulse-ink)", "stroke-width": 2.6, "stroke-linejoin": "round" }));
    if (hilly) parts.push(...relief(route, x, height, width));
    parts.push(...seen(route, x));
    parts.push(...short(rows, limits(route), x, bottom), ...posts(route, x, bottom, width), ...marks(route, x, bottom, width), ...flag(rows, x, y, bottom, width));
    root.replaceChildren(...parts);
    const at = bench.routeDistance();
    root.setAttribute("aria-valuemax", Math.round(route.length_m));
    root.setAttribute("aria-valuenow", Math.round(at ?? 0));
    root.setAttribute("aria-valuetext", at === null ? "not on this way" : `${lengthWords(at, bench.units)} along ${route.name}`);
    says.textContent = bench.volts ? "band: the range of soil and growth" : "";
  }

  /** The seasons that are not chosen, thin beside the one that is: dotted when it is dry, dashed when wet. */
  function otherSeasons(route, x, y, width) {
    const dash = { dry: "1.5 4", usual: "", wet: "9 5" };
    const ends = [];
    return Object.entries(bench.forecast.seasons).filter(([season]) => season !== bench.season).flatMap(([season, { traces }]) => {
      const rows = unroll(route, traces, ["kv"]);
      const end = rows.at(-1);
      if (!end) return [];
      let at = y(end.values[0]) - 4;
      while (ends.some((other) => Math.abs(other - at) < 12)) at += 12;
      ends.push(at);
      return [
        svg("path", { d: `M${rows.map((r) => `${x(r.at).toFixed(1)} ${y(r.values[0]).toFixed(1)}`).join("L")}`, fill: "none", stroke: "var(--pulse)", "stroke-width": 1.4, "stroke-dasharray": dash[season], opacity: 0.75 }),
        svg("text", { x: width - RIGHT - 92, y: at, "text-anchor": "end", "font-size": 11, class: "halo" }, season),
      ];
    });
  }

  /** The kV wanted from leg to leg: each line's own animals say. */
  function limits(route) {
    let gone = 0;
    return route.legs.map((leg) => {
      const from = gone;
      gone += Math.abs(leg.to_m - leg.from_m);
      return { from, to: gone, kv: bench.wantedOn(leg.run) };
    });
  }

  /** A broken line under the stretches that fall short: weak never means faint. */
  function short(rows, wants, x, bottom) {
    const out = [];
    for (let i = 1, leg = 0; i < rows.length; i += 1) {
      while (leg < wants.length - 1 && rows[i].at > wants[leg].to + 1e-6) leg += 1;
      const wanted = wants[leg].kv;
      if (Math.min(rows[i - 1].values[0], rows[i].values[0]) < wanted) out.push(`M${x(rows[i - 1].at).toFixed(1)} ${bottom - 4}H${x(rows[i].at).toFixed(1)}`);
    }
    return out.length ? [svg("path", { d: out.join(""), stroke: "var(--ink)", "stroke-width": 3.4, "stroke-dasharray": "4 3" })] : [];
  }

  function posts(route, x, bottom, width) {
    let step = bench.spacingOn(bench.place?.run);
    while ((width - LEFT - RIGHT) / (route.length_m / step) < 5) step *= 2;
    let d = "";
    for (let m = 0; m <= route.length_m; m += step) d += `M${x(m).toFixed(1)} ${bottom + 3}v6`;
    const far = niceStep(route.length_m / 5);
    for (let m = far; m < route.length_m; m += far) d += `M${x(m).toFixed(1)} ${bottom + 3}v11`;
    return [svg("path", { d, stroke: "var(--ink)", "stroke-width": 1 })];
  }

  /** The ground under the line, drawn taller than it is; the stretch and its heights are said. */
  function relief(route, x, height, width) {
    const heights = bench.way.profile.map(([, h]) => h);
    const [low, high] = [Math.min(...heights), Math.max(...heights)];
    const y = (h) => height - 8 - ((h - low) / Math.max(high - low, 0.5)) * (RELIEF - 20);
    const points = bench.way.profile.map(([at, h]) => `${x(at).toFixed(1)} ${y(h).toFixed(1)}`);
    const feet = (m) => (bench.units === "imperial" ? `${Math.round(m / 0.3048)} ft` : `${m.toFixed(1)} m`);
    return [
      svg("path", { d: `M${x(bench.way.profile[0][0]).toFixed(1)} ${height}L${points.join("L")}L${x(bench.way.profile.at(-1)[0]).toFixed(1)} ${height}Z`, fill: "var(--soil)" }),
      svg("path", { d: `M${points.join("L")}`, fill: "none", stroke: "var(--ink)", "stroke-width": 1.2 }),
      svg("text", { x: width - RIGHT, y: height - 4, "text-anchor": "end", "font-size": 11, class: "halo" }, `ground ${feet(low)} to ${feet(high)}`),
    ];
  }

  /** A bracket over what the ground view shows of this way. */
  function seen(route, x) {
    if (!bench.view) return [];
    const view = bench.view();
    const [west, east, south, north] = [view.getWest(), view.getEast(), view.getSouth(), view.getNorth()];
    const inside = ([x, y]) => x >= west && x <= east && y >= south && y <= north;
    const steps = 120;
    const spans = [];
    let gone = 0;
    for (const leg of route.legs) {
      const run = bench.run(leg.run);
      const size = Math.abs(leg.to_m - leg.from_m);
      if (!run) continue;
      const count = Math.max(2, Math.round((steps * size) / (route.length_m || 1)));
      for (let i = 0; i < count; i += 1) {
        const share = (i + 0.5) / count;
        if (inside(pointAt(run.points, leg.from_m + (leg.to_m - leg.from_m) * share))) spans.push([gone + (size * i) / count, gone + (size * (i + 1)) / count]);
      }
      gone += size;
    }
    const whole = spans.reduce((sum, [a, b]) => sum + b - a, 0) > 0.995 * route.length_m;
    if (whole || !spans.length) return [];
    const d = spans.map(([a, b]) => `M${x(a).toFixed(1)} ${TOP - 4}H${x(b).toFixed(1)}`).join("");
    return [svg("path", { d, stroke: "var(--return)", "stroke-width": 3 }), svg("text", { x: x(spans[0][0]), y: TOP - 9, "font-size": 11 }, "in view above")];
  }

  function mark(kind, cx, cy) {
    const look = { fill: "var(--panel)", stroke: "var(--ink)", "stroke-width": 1.6 };
    if (kind === "what_if") return svg("g", {}, svg("path", { d: `M${cx} ${cy - 9}l8 14h-16Z`, fill: "var(--ink)" }), svg("path", { d: `M${cx} ${cy - 4}v4m0 2v1.500`, stroke: "var(--panel)", "stroke-width": 2 }));
    const line = (d, more = {}) => svg("path", { d, fill: "none", stroke: "var(--ink)", "stroke-width": 1.8, ...more });
    const shapes = {
      gate: () => svg("path", { d: `M${cx - 6} ${cy}l6 -6 6 6 -6 6Z`, ...look }),
      switch: () => svg("rect", { x: cx - 5, y: cy - 5, width: 10, height: 10, ...look }),
      corner: () => line(`M${cx} ${cy - 6}v12`, { "stroke-width": 2.4 }),
      dip: () => line(`M${cx - 4} ${cy - 3}l4 6 4 -6`),
      rise: () => line(`M${cx - 4} ${cy + 3}l4 -6 4 6`),
      crossing: () => line(`M${cx - 4} ${cy - 6}v12M${cx + 4} ${cy - 6}v12`),
      rods: () => line(`M${cx} ${cy - 6}v13`, { stroke: "var(--return)", "stroke-width": 3 }),
      test: () => svg("circle", { cx, cy, r: 5, ...look }),
      sign: () => svg("rect", { x: cx - 4, y: cy - 3, width: 8, height: 5, ...look, "stroke-width": 1.1 }),
      diverter: () => svg("path", { d: `M${cx} ${cy - 6}l5 10h-10Z`, ...look }),
      strain: () => line(`M${cx - 4} ${cy - 4}l8 8m0 -8l-8 8`),
      apart: () => svg("circle", { cx, cy, r: 4.5, ...look, "stroke-dasharray": "2 2" }),
    };
    return (shapes[kind] ?? (() => svg("circle", { cx, cy, r: kind === "join" ? 4.5 : 5.5, ...look, fill: "var(--ink)" })))();
  }

  function marks(route, x, bottom, width) {
    const out = [];
    const placed = [];
    for (const m of [...bench.way.marks].sort((a, b) => ORDER.indexOf(b.kind) - ORDER.indexOf(a.kind))) out.push(mark(m.kind, x(m.at_m), bottom + 6));
    for (const m of [...bench.way.marks].sort((a, b) => ORDER.indexOf(a.kind) - ORDER.indexOf(b.kind))) {
      if (QUIET.includes(m.kind)) continue;
      const cx = x(m.at_m);
      const size = m.label.length * 6.4 + 8;
      const left = m.kind === "end" ? cx - size : m.kind === "start" ? cx - 8 : cx - size / 2;
      const row = [0, 1].find((r) => placed.every((p) => p.row !== r || left > p.right || left + size < p.left));
      if (row === undefined || left < 0 || left + size > width) continue;
      placed.push({ row, left, right: left + size });
      out.push(svg("text", { x: left + 4, y: bottom + 29 + row * 16, "font-size": 12 }, m.label));
    }
    return out;
  }

  function flag(rows, x, y, bottom, width) {
    const at = bench.routeDistance();
    if (at === null) return [];
    const kv = sample(rows.map((r) => r.at), rows.map((r) => r.values[0]), at);
    const cx = x(at);
    const flip = cx > width - 80 ? -1 : 1;
    return [
      svg("path", { d: `M${cx} ${TOP - 18}V${bottom + 14}`, stroke: "var(--ink)", "stroke-width": 2 }),
      svg("path", { d: `M${cx} ${TOP - 20}h${flip * 62}l${flip * -7} 10 ${flip * 7} 10h${flip * -62}Z`, fill: "var(--ink)" }),
      svg("text", { x: cx + flip * 27, y: TOP - 5.500, "text-anchor": "middle", "font-size": 13, "font-weight": 700, style: "fill:var(--panel)" }, `${kvWords(kv)} kV`),
      svg("circle", { cx, cy: y(kv), r: 4.5, fill: "var(--panel)", stroke: "var(--ink)", "stroke-width": 2 }),
    ];
  }

  const atPointer = (event) => {
    const box = root.getBoundingClientRect();
    return ((event.clientX - box.left - LEFT) / (box.width - LEFT - RIGHT)) * scale.length;
  };
  root.addEventListener("pointerdown", (event) => { if (scale) { root.setPointerCapture(event.pointerId); bench.standOnRoute(atPointer(event)); } });
  root.addEventListener("pointermove", (event) => { if (scale && root.hasPointerCapture(event.pointerId)) bench.standOnRoute(atPointer(event)); });
  select.addEventListener("change", () => bench.choose({ route: Number(select.value) }));
  bench.addEventListener("state", () => { options(); fetchBand(); draw(); });
  bench.addEventListener("season", () => { fetchBand(); draw(); });
  bench.addEventListener("place", () => { select.value = String(bench.route); draw(); });
  bench.addEventListener("view", draw);
  bench.addEventListener("way", draw);
  new ResizeObserver(() => { size = root.getBoundingClientRect(); draw(); }).observe(root);
  options();
  fetchBand();
  draw();
}
