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
  const growing = document.getElementById("growing");
  let band = null;
  let drag = null; // the stretch of the way that growth is being drawn on
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
      scale = drag = null;
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
    if (bench.amps) parts.push(...amps(route, x, y, bottom));
    parts.push(...grown(route, x, bottom));
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

  /** The leak's share of the amps under the kV: how much flows on outward (or back) in live and in earth strands. */
  function amps(route, x, y, bottom) {
    const legs = bench.legsOf(route).map((leg) => ({ ...leg, rows: unroll({ legs: [leg] }, bench.volts.traces, ["leak_a"]), back: bench.trace(leg.run)?.return_a.length ? unroll({ legs: [leg] }, bench.volts.traces, ["return_a"]) : [] }));
    const most = Math.max(0.1, ...legs.flatMap(({ rows, back }) => [...rows, ...back].map((r) => Math.abs(r.values[0]))));
    const tall = (bottom - TOP) * 0.34;
    const up = (a) => bottom - (Math.abs(a) / most) * tall;
    const course = (rows, gone) => rows.map((r) => `${x(gone + r.at).toFixed(1)} ${up(r.values[0]).toFixed(1)}`).join("L");
    const out = [];
    for (const { rows, back, gone, way, to } of legs) {
      if (!rows.length) continue;
      out.push(svg("path", { d: `M${x(gone)} ${bottom}L${course(rows, gone)}L${x(to)} ${bottom}Z`, fill: "var(--pulse)", opacity: 0.16 }), svg("path", { d: `M${course(rows, gone)}`, fill: "none", stroke: "var(--pulse)", "stroke-width": 1.5 }));
      if (back.length) out.push(svg("path", { d: `M${course(back, gone)}`, fill: "none", stroke: "var(--return)", "stroke-width": 1.8, "stroke-dasharray": "7 3" }));
      const middle = rows[Math.floor(rows.length / 2)];
      const flow = Math.sign(middle.values[0]) * way;
      const [cx, cy] = [x(gone + middle.at), up(middle.values[0])];
      if (x(to) - x(gone) > 50 && Math.abs(middle.values[0]) > 0.02 * most) out.push(svg("path", { d: `M${cx - 6 * flow} ${cy - 12}l${12 * flow} 5 ${-12 * flow} 5Z`, fill: "var(--pulse-ink)" }), svg("text", { x: cx + 12 * flow, y: cy - 3, "text-anchor": flow > 0 ? "start" : "end", "font-size": 11, class: "halo" }, `${Math.abs(middle.values[0]).toFixed(1)} A`));
    }
    return out;
  }

  /** Growth of its own on stretches of this way, and what is being drawn. */
  function grown(route, x, bottom) {
    const rows = bench.legsOf(route).flatMap((leg) => bench.doc.growths.filter((g) => g.run === leg.run).flatMap((g) => {
      const [low, high] = [Math.max(g.from_m, Math.min(leg.from_m, leg.to_m)), Math.min(g.to_m, Math.max(leg.from_m, leg.to_m))];
      return high > low ? [[leg.gone + Math.abs((leg.way > 0 ? low : high) - leg.from_m), leg.gone + Math.abs((leg.way > 0 ? high : low) - leg.from_m)]] : [];
    }));
    const blades = ([from, to]) => {
      let d = "";
      for (let at = x(from) + 2; at < x(to); at += 7) d += `M${at.toFixed(1)} ${bottom}q0 -6 -2.500 -10m2.500 10q1 -7 3 -11`;
      return d;
    };
    const out = rows.length ? [svg("path", { d: rows.map(blades).join(""), fill: "none", stroke: "var(--ink)", "stroke-width": 1.1 })] : [];
    if (drag) {
      const [a, b] = [Math.min(drag.from, drag.to), Math.max(drag.from, drag.to)];
      out.push(svg("rect", { x: x(a), y: TOP, width: Math.max(1, x(b) - x(a)), height: bottom - TOP, fill: "var(--grass)", opacity: 0.5 }), svg("path", { d: blades([a, b]), fill: "none", stroke: "var(--ink)", "stroke-width": 1.3 }), svg("text", { x: x((a + b) / 2), y: TOP + 14, "text-anchor": "middle", "font-size": 12, class: "halo" }, `${lengthWords(b - a, bench.units)} of it`));
    }
    return out;
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
  root.addEventListener("pointerdown", (event) => {
    if (!scale) return;
    root.setPointerCapture(event.pointerId);
    const at = Math.max(0, Math.min(scale.length, atPointer(event)));
    if (growing?.value) { drag = { from: at, to: at }; draw(); } else bench.standOnRoute(at);
  });
  root.addEventListener("pointermove", (event) => {
    if (!scale || !root.hasPointerCapture(event.pointerId)) return;
    const at = Math.max(0, Math.min(scale.length, atPointer(event)));
    if (drag) { drag.to = at; draw(); } else bench.standOnRoute(at);
  });
  root.addEventListener("pointerup", () => {
    if (!drag) return;
    const [from, to] = [Math.min(drag.from, drag.to), Math.max(drag.from, drag.to)];
    drag = null;
    draw();
    if (to - from >= 1) bench.growOn(bench.routes[bench.route], from, to, growing.value);
  });
  root.addEventListener("pointercancel", () => { drag = null; draw(); });
  root.addEventListener("keydown", (event) => { if (event.key === "Escape" && (drag || growing?.value)) { drag = null; if (growing) growing.value = ""; draw(); } });
  growing?.addEventListener("change", () => root.classList.toggle("growing", Boolean(growing.value)));
  document.getElementById("amps")?.addEventListener("change", ({ target }) => { bench.amps = target.checked; draw(); bench.tell("amps"); });
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
