// The strip: the chosen way unrolled, its kV, and everything fixed on it. Drag or walk along it.

import { el, svg } from "./dom.js";
import { niceStep } from "./geometry.js";
import { kvWords, lengthWords, sample } from "./scales.js";

const LEFT = 46, RIGHT = 20, TOP = 26, AXIS = 58;

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

  function options() {
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
    const { width, height } = root.getBoundingClientRect();
    const route = bench.routes[bench.route];
    root.setAttribute("viewBox", `0 0 ${width} ${height}`);
    if (!route || !bench.volts || width < 80) {
      const line = bench.forecast?.blocked || "The line unrolls here once there is one.";
      root.replaceChildren(svg("text", { x: 16, y: 40, "font-size": 15 }, line));
      says.textContent = "";
      scale = null;
      return;
    }
    const rows = unroll(route, bench.volts.traces, ["kv"]);
    const wanted = bench.forecast.wanted_kv;
    const most = Math.max(wanted * 1.25, ...rows.map((r) => r.values[0])) * 1.06;
    const bottom = height - AXIS;
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
    parts.push(svg("path", { d: `M${LEFT} ${y(wanted)}H${width - RIGHT}`, stroke: "var(--ink)", "stroke-width": 1.3, "stroke-dasharray": "7 4" }),
      svg("text", { x: width - RIGHT, y: y(wanted) - 5, "text-anchor": "end", "font-size": 12, class: "halo" }, `${kvWords(wanted)} wanted`));
    parts.push(svg("path", { d: `M${rows.map((r) => `${x(r.at).toFixed(1)} ${y(r.values[0]).toFixed(1)}`).join("L")}`, fill: "none", stroke: "var(--pulse-ink)", "stroke-width": 2.6, "stroke-linejoin": "round" }));
    parts.push(...short(rows, wanted, x, bottom), ...posts(route, x, bottom, width), ...marks(route, x, bottom, width), ...flag(rows, x, y, bottom, width));
    root.replaceChildren(...parts);
    const at = bench.routeDistance();
    root.setAttribute("aria-valuemax", Math.round(route.length_m));
    root.setAttribute("aria-valuenow", Math.round(at ?? 0));
    root.setAttribute("aria-valuetext", at === null ? "not on this way" : `${lengthWords(at, bench.units)} along ${route.name}`);
    says.textContent = bench.volts ? "band: the range of soil and growth" : "";
  }

  /** A broken line under the stretches that fall short: weak never means faint. */
  function short(rows, wanted, x, bottom) {
    const out = [];
    for (let i = 1; i < rows.length; i += 1) {
      if (Math.min(rows[i - 1].values[0], rows[i].values[0]) < wanted) out.push(`M${x(rows[i - 1].at).toFixed(1)} ${bottom - 4}H${x(rows[i].at).toFixed(1)}`);
    }
    return out.length ? [svg("path", { d: out.join(""), stroke: "var(--ink)", "stroke-width": 3.4, "stroke-dasharray": "4 3" })] : [];
  }

  function posts(route, x, bottom, width) {
    let step = bench.doc.post_spacing_m;
    while ((width - LEFT - RIGHT) / (route.length_m / step) < 5) step *= 2;
    let d = "";
    for (let m = 0; m <= route.length_m; m += step) d += `M${x(m).toFixed(1)} ${bottom + 3}v6`;
    const far = niceStep(route.length_m / 5);
    for (let m = far; m < route.length_m; m += far) d += `M${x(m).toFixed(1)} ${bottom + 3}v11`;
    return [svg("path", { d, stroke: "var(--ink)", "stroke-width": 1 })];
  }

  function marks(route, x, bottom, width) {
    const out = [];
    const order = { start: 0, end: 1, gate: 2, switch: 3, join: 4, corner: 5 };
    const placed = [];
    for (const m of [...route.marks].sort((a, b) => order[a.kind] - order[b.kind])) {
      const cx = x(m.at_m);
      const look = { fill: m.kind === "gate" || m.kind === "switch" ? "var(--panel)" : "var(--ink)", stroke: "var(--ink)", "stroke-width": 1.6 };
      const cy = bottom + 6;
      out.push(m.kind === "gate" ? svg("path", { d: `M${cx - 6} ${cy}l6 -6 6 6 -6 6Z`, ...look })
        : m.kind === "switch" ? svg("rect", { x: cx - 5, y: cy - 5, width: 10, height: 10, ...look })
        : m.kind === "corner" ? svg("path", { d: `M${cx} ${cy - 6}v12`, stroke: "var(--ink)", "stroke-width": 2.4 })
        : svg("circle", { cx, cy, r: m.kind === "join" ? 4.5 : 5.5, ...look }));
      if (m.kind === "corner") continue;
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
  new ResizeObserver(draw).observe(root);
  options();
  fetchBand();
  draw();
}
