// The farm from above, to scale: lines coloured by kV, what stands on them, and where you stand.

import { svg, el } from "./dom.js";
import { along, lengthOf, nearest, niceStep, pointAt, stretch } from "./geometry.js";
import { kvBounds, kvClass, kvWords, lengthWords, sample } from "./scales.js";
import * as L from "/static/vendor/leaflet/leaflet-src.esm.js";

export const at = (point) => L.latLng(point[1], point[0]);
export const metres = (latLng) => [latLng.lng, latLng.lat];

const css = (name) => getComputedStyle(document.documentElement).getPropertyValue(name).trim();
const LAND = { sand: "--sand", field: "--grass", wood: "--wood", water: "--water" };

export function icon(kind, title) {
  return L.divIcon({ className: "", iconSize: [14, 14], html: el("div", { class: `pin ${kind}`, title }) });
}

function label(words, sub, side) {
  const text = el("div", { class: "ground-label" }, el("b", {}, words), sub ?? "");
  const width = 150;
  text.style.cssText = `width:${width}px;text-align:${side === "left" || side === "far" ? "right" : side === "middle" ? "center" : "left"}`;
  const anchor = { right: [-12, 8], left: [width + 12, 8], far: [width + 44, 8], middle: [width / 2, -10] }[side];
  return L.divIcon({ className: "", iconSize: [width, 30], iconAnchor: anchor, html: text });
}

export function mountGround(bench) {
  const root = document.getElementById("ground");
  if (!root) return null;
  const holder = el("div", { id: "map", "aria-label": "The farm from above" });
  root.prepend(holder);
  const map = L.map(holder, { crs: L.CRS.Simple, minZoom: -6, maxZoom: 6, zoomSnap: 0.25, zoomControl: false, attributionControl: false, doubleClickZoom: false, keyboard: false, fadeAnimation: false, zoomAnimation: false, preferCanvas: false });
  L.control.zoom({ position: "bottomright" }).addTo(map);
  const layers = Object.fromEntries(["grid", "land", "lines", "marks", "flag"].map((name) => [name, L.layerGroup().addTo(map)]));

  function bounds() {
    const points = [...bench.doc.runs.flatMap((r) => r.points), ...(bench.doc.energizer_at ? [bench.doc.energizer_at] : []), ...(bench.doc.rods.position ? [bench.doc.rods.position] : [])];
    return points.length ? L.latLngBounds(points.map(at)) : L.latLngBounds([[-120, -180], [120, 180]]);
  }

  const narrow = () => root.clientWidth < 480;

  const fit = () => map.fitBounds(bounds(), { paddingTopLeft: [46, 62], paddingBottomRight: [46, 46], animate: false });

  function grid() {
    layers.grid.clearLayers();
    const box = map.getBounds();
    const perPixel = (box.getEast() - box.getWest()) / (map.getSize().x || 1);
    const step = niceStep(perPixel * 110);
    const lines = [];
    for (let x = Math.ceil(box.getWest() / step) * step; x < box.getEast(); x += step) lines.push([[box.getSouth(), x], [box.getNorth(), x]]);
    for (let y = Math.ceil(box.getSouth() / step) * step; y < box.getNorth(); y += step) lines.push([[y, box.getWest()], [y, box.getEast()]]);
    L.polyline(lines, { color: css("--ink-soft"), weight: 0.5, opacity: 0.28, interactive: false }).addTo(layers.grid);
    const imperial = bench.units === "imperial";
    const bar = niceStep(perPixel * 110 / (imperial ? 0.3048 : 1)) * (imperial ? 0.3048 : 1);
    const scale = document.getElementById("scale");
    const rule = el("i");
    rule.style.width = `${bar / perPixel}px`;
    scale.replaceChildren(rule, lengthWords(bar, bench.units));
  }

  function land() {
    layers.land.clearLayers();
    for (const mark of bench.doc.landmarks) {
      const points = mark.points.map(at);
      if (LAND[mark.kind]) L.polygon(points, { stroke: false, fillColor: css(LAND[mark.kind]), fillOpacity: 1, interactive: false, smoothFactor: 0 }).addTo(layers.land);
      else if (mark.kind === "stream") L.polyline(points, { color: css("--water"), weight: 7, interactive: false }).addTo(layers.land);
      else if (mark.kind === "path") L.polyline(points, { color: css("--ink-soft"), weight: 1.7, dashArray: "2 6", interactive: false }).addTo(layers.land);
      else if (mark.kind === "building") L.polygon(points, { color: css("--ink"), weight: 1.8, fillColor: css("--panel"), fillOpacity: 1, interactive: false }).addTo(layers.land);
      if (mark.name && mark.kind !== "building" && !narrow()) {
        const middle = mark.points[Math.floor((mark.points.length - 1) * (mark.kind === "path" ? 0.34 : 0.75))];
        if (["path", "stream"].includes(mark.kind)) L.marker(at(middle), { icon: L.divIcon({ className: "", iconSize: [110, 16], iconAnchor: [-8, 8], html: el("div", { class: "ground-label place" }, mark.name) }), interactive: false, keyboard: false }).addTo(layers.land);
      }
    }
  }

  /** Stretches of a run by kV class, and those that fall short. */
  function classes(run, wanted) {
    const trace = bench.trace(run.id);
    const byClass = [[], [], [], [], []];
    const short = [];
    const size = lengthOf(run.points);
    if (!trace || Math.abs(trace.at_m.at(-1) - size) > Math.max(1, size * 0.02)) return null;
    for (let i = 1; i < trace.at_m.length; i += 1) {
      const [from, to] = [trace.at_m[i - 1], trace.at_m[i]];
      if (to - from < 1e-6) continue;
      const kv = (trace.kv[i - 1] + trace.kv[i]) / 2;
      const part = stretch(run.points, from, Math.min(to, size));
      byClass[kvClass(kv, wanted) - 1].push(part.map(at));
      if (kv < wanted) short.push(part);
    }
    return { byClass, short };
  }

  /** Lines beside a stretch, a few pixels off, so that they survive any zoom. */
  function beside(part, pixels) {
    const perPixel = 1 / map.getZoomScale(map.getZoom(), 0);
    return part.map((p, i) => {
      const [a, b] = [part[Math.max(0, i - 1)], part[Math.min(part.length - 1, i + 1)]];
      const size = Math.hypot(b[0] - a[0], b[1] - a[1]) || 1;
      return at([p[0] + ((b[1] - a[1]) / size) * pixels * perPixel, p[1] - ((b[0] - a[0]) / size) * pixels * perPixel]);
    });
  }

  function ticks(run) {
    const perPixel = 1 / map.getZoomScale(map.getZoom(), 0);
    const size = lengthOf(run.points);
    const step = Math.max(perPixel * 13, bench.doc.post_spacing_m);
    const out = [];
    for (let m = step / 2; m < size; m += step) {
      const [a, b] = [pointAt(run.points, m - 0.5), pointAt(run.points, m + 0.5)];
      const far = Math.hypot(b[0] - a[0], b[1] - a[1]) || 1;
      const [nx, ny] = [(-(b[1] - a[1]) / far) * 5.5 * perPixel, ((b[0] - a[0]) / far) * 5.5 * perPixel];
      const p = pointAt(run.points, m);
      out.push([at([p[0] - nx, p[1] - ny]), at([p[0] + nx, p[1] + ny])]);
    }
    return out;
  }

  function lines() {
    layers.lines.clearLayers();
    const wanted = bench.forecast?.wanted_kv ?? 3;
    const shown = [[], [], [], [], []];
    const plain = [];
    const short = [];
    for (const run of bench.doc.runs) {
      L.polyline(run.points.map(at), { color: css("--ink"), weight: 8.5, lineJoin: "round", interactive: false, smoothFactor: 0 }).addTo(layers.lines);
      const found = bench.volts ? classes(run, wanted) : null;
      if (!found) { plain.push(run.points.map(at)); continue; }
      found.byClass.forEach((parts, i) => shown[i].push(...parts));
      short.push(...found.short.map((part) => beside(part, 11)));
    }
    L.polyline(plain, { color: css("--panel"), weight: 5, interactive: false, smoothFactor: 0 }).addTo(layers.lines);
    shown.forEach((parts, i) => { if (parts.length) L.polyline(parts, { color: css(`--kv-${i + 1}`), weight: 5.5, lineCap: "butt", interactive: false, smoothFactor: 0 }).addTo(layers.lines); });
    if (short.length) L.polyline(short, { color: css("--ink"), weight: 3, dashArray: "4 4", lineCap: "butt", interactive: false, smoothFactor: 0 }).addTo(layers.lines);
    L.polyline(bench.doc.runs.flatMap(ticks), { color: css("--ink"), weight: 1, interactive: false, smoothFactor: 0 }).addTo(layers.lines);
    const ground = bench.doc.energizer_at;
    if (ground && bench.doc.runs.length) {
      const near = bench.doc.runs.map((r) => nearest(r.points, ground)).sort((a, b) => a.away - b.away)[0];
      L.polyline([at(ground), at(near.point)], { color: css("--pulse-ink"), weight: 3, interactive: false }).addTo(layers.lines);
    }
  }

  function marks() {
    layers.marks.clearLayers();
    const put = (point, kind, words, sub, side = "right") => {
      L.marker(at(point), { icon: icon(kind, words), interactive: false, keyboard: false }).addTo(layers.marks);
      if (words) L.marker(at(point), { icon: label(words, sub, side), interactive: false, keyboard: false }).addTo(layers.marks);
    };
    const middle = bounds().getCenter().lng;
    const sideOf = (point) => (point[0] > middle ? "right" : "left");
    for (const f of bench.doc.fixtures) {
      const run = bench.run(f.run);
      if (!run) continue;
      const point = pointAt(run.points, f.at_m);
      put(point, `${f.kind}${f.is_open ? " open" : ""}`, narrow() ? "" : f.name, f.is_open ? "open" : f.kind === "gate" && f.under_cable ? "shut, fed under" : f.kind === "gate" ? "shut" : "", sideOf(point));
    }
    for (const run of bench.doc.runs) {
      for (const other of bench.doc.runs) {
        if (other.id === run.id) continue;
        for (const end of [other.points[0], other.points.at(-1)]) {
          const met = nearest(run.points, end);
          if (met.away < 0.5) put(end, "join");
        }
      }
      const trace = bench.trace(run.id);
      const half = pointAt(run.points, lengthOf(run.points) * 0.5);
      const [low, high] = trace ? [Math.min(...trace.kv), Math.max(...trace.kv)].map(kvWords) : [];
      const sub = !trace || narrow() ? "" : low === high ? `${low} kV` : `${low} to ${high} kV`;
      L.marker(at(half), { icon: label(run.name, sub, sideOf(half)), interactive: false, keyboard: false }).addTo(layers.marks);
    }
    if (bench.doc.energizer_at) {
      const sign = L.divIcon({ className: "", iconSize: [26, 26], html: svg("svg", { viewBox: "0 0 26 26", width: 26, height: 26 }, svg("path", { d: "M3 11 13 3l10 8v12H3Z", fill: "var(--panel)", stroke: "var(--ink)", "stroke-width": 2 }), svg("path", { d: "M14 8l-5 7h4l-1 6 5-8h-4Z", fill: "var(--pulse)" })) });
      L.marker(at(bench.doc.energizer_at), { icon: sign, interactive: false, keyboard: false }).addTo(layers.marks);
      L.marker(at(bench.doc.energizer_at), { icon: label("Energizer", (bench.forecast?.stages?.power?.line ?? ""), "far"), interactive: false, keyboard: false }).addTo(layers.marks);
    }
    rods(put);
  }

  function rods() {
    const { position, count, spacing_m: spacing } = bench.doc.rods;
    if (!position || !count) return;
    for (let i = 0; i < count; i += 1) {
      const rod = L.divIcon({ className: "", iconSize: [4, 18], iconAnchor: [2, 2], html: svg("svg", { width: 4, height: 18 }, svg("path", { d: "M2 0v18", stroke: "var(--return)", "stroke-width": 3 })) });
      L.marker(at([position[0] + i * spacing, position[1]]), { icon: rod, interactive: false, keyboard: false }).addTo(layers.marks);
    }
    L.marker(at([position[0] + ((count - 1) * spacing) / 2, position[1]]), { icon: L.divIcon({ className: "", iconSize: [150, 16], iconAnchor: [75, -20], html: el("div", { class: "ground-label", style: "text-align:center" }, el("b", {}, `${count} rods`)) }), interactive: false, keyboard: false }).addTo(layers.marks);
  }

  function flag() {
    layers.flag.clearLayers();
    const run = bench.place && bench.run(bench.place.run);
    if (!run) return;
    const trace = bench.trace(run.id);
    const kv = trace ? kvWords(sample(trace.at_m, trace.kv, bench.place.at_m)) : "";
    const sign = svg("svg", { width: 70, height: 70 },
      svg("circle", { cx: 18, cy: 52, r: 16, fill: "none", stroke: "var(--ink)", "stroke-width": 1.3, "stroke-dasharray": "2 3" }),
      svg("circle", { cx: 18, cy: 52, r: 5.5, fill: "var(--ink)", stroke: "var(--panel)", "stroke-width": 1.5 }),
      svg("path", { d: "M18 52V6", stroke: "var(--ink)", "stroke-width": 2.2 }), svg("path", { d: "M18 4h40l-6 10 6 10H18Z", fill: "var(--ink)" }),
      svg("text", { x: 34, y: 19, "text-anchor": "middle", "font-size": 13, "font-weight": 700, style: "fill:var(--panel)" }, kv));
    L.marker(at(pointAt(run.points, bench.place.at_m)), { icon: L.divIcon({ className: "", iconSize: [0, 0], html: el("div", { class: "flag" }, sign) }), interactive: false, keyboard: false, zIndexOffset: 900 }).addTo(layers.flag);
  }

  function legend() {
    const root = document.getElementById("legend");
    root.hidden = !bench.volts;
    root.classList.toggle("low", bench.stage === "ground");
    if (!bench.volts) return;
    const bounds = kvBounds(bench.forecast.wanted_kv);
    root.replaceChildren(el("b", {}, "kV a tester reads"), ...[0, 1, 2, 3, 4].map((i) => {
      const step = el("span", {}, i === 0 ? `< ${kvWords(bounds[0])}` : `${kvWords(bounds[i - 1])}–`);
      step.style.borderTopColor = `var(--kv-${i + 1})`;
      return step;
    }), el("div", {}, svg("svg", { width: 30, height: 6 }, svg("path", { d: "M0 3h30", stroke: "currentColor", "stroke-width": 3, "stroke-dasharray": "4 3" })), ` short of ${kvWords(bench.forecast.wanted_kv)} wanted`));
  }

  function draw() { land(); lines(); marks(); flag(); legend(); }

  map.on("moveend", () => { grid(); });
  map.on("zoomend", () => { lines(); });
  map.on("click", (event) => {
    if (ground.tool && ground.tool !== "walk") return;
    const found = bench.doc.runs.map((r) => ({ run: r.id, ...nearest(r.points, metres(event.latlng)) })).sort((a, b) => a.away - b.away)[0];
    if (found) bench.stand(found.run, found.at);
  });
  bench.addEventListener("state", draw);
  bench.addEventListener("drawn", draw);
  bench.addEventListener("season", draw);
  bench.addEventListener("place", flag);
  new MutationObserver(draw).observe(document.documentElement, { attributeFilter: ["data-bs-theme"] });
  new ResizeObserver(() => map.invalidateSize({ animate: false })).observe(root);
  fit();
  grid();
  draw();
  const ground = { map, fit, layers, tool: null, lines, along };
  holder.adzeMap = map;
  return ground;
}
