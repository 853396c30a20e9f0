// The farm from above, to scale: lines coloured by kV, what stands on them, what lies beside, and where you stand.

import { svg, el } from "./dom.js";
import { along, lengthOf, nearest, niceStep, pointAt, stretch } from "./geometry.js";
import { layLabels } from "./labels.js";
import { readLayers } from "./layers.js";
import { Pool } from "./pool.js";
import { kvBounds, kvClass, kvWords, lengthWords, sample } from "./scales.js";
import { fixtureSign, LAND, spotSign } from "./signs.js";
import { drawUnderlay } from "./underlay.js";
import * as L from "/static/vendor/leaflet/leaflet-src.esm.js";

export const at = (point) => L.latLng(point[1], point[0]);
export const metres = (latLng) => [latLng.lng, latLng.lat];

const colours = new Map();
new MutationObserver(() => colours.clear()).observe(document.documentElement, { attributeFilter: ["data-bs-theme"] });

/** A colour of the theme, asked for once. */
function css(name) {
  if (!colours.has(name)) colours.set(name, getComputedStyle(document.documentElement).getPropertyValue(name).trim());
  return colours.get(name);
}

const plain = { interactive: false, keyboard: false };
const shape = { interactive: false, smoothFactor: 0 };

export function icon(kind, title) {
  return L.divIcon({ className: "", iconSize: [14, 14], html: el("div", { class: `pin ${kind}`, title }) });
}

const pinOf = (sign, size = 16) => L.divIcon({ className: "", iconSize: [size, size], html: sign });

export function mountGround(bench) {
  const root = document.getElementById("ground");
  if (!root) return null;
  const holder = el("div", { id: "map", "aria-label": "The farm from above" });
  root.prepend(holder);
  const map = L.map(holder, { crs: L.CRS.Simple, minZoom: -7, maxZoom: 6, zoomSnap: 0.25, zoomControl: false, attributionControl: false, doubleClickZoom: false, boxZoom: false, keyboard: false, fadeAnimation: false, zoomAnimation: false });
  L.control.zoom({ position: "bottomright" }).addTo(map);
  const layers = Object.fromEntries(["photo", "grid", "land", "blocks", "chosen", "lines", "zones", "marks", "labels", "flag"].map((name) => [name, L.layerGroup().addTo(map)]));
  const areas = L.layerGroup().addTo(layers.land);
  const signs = new Pool(layers.marks);
  const spots = new Pool(layers.land);
  const said = new Pool(layers.labels);
  let words = [];
  let floating = null;
  let shown = readLayers();

  function bounds() {
    const points = [...bench.doc.runs.flatMap((r) => r.points), ...(bench.doc.energizer_at ? [bench.doc.energizer_at] : []), ...(bench.doc.rods.position ? [bench.doc.rods.position] : []), ...bench.doc.rods.places];
    return points.length ? L.latLngBounds(points.map(at)) : L.latLngBounds([[-120, -180], [120, 180]]);
  }

  // Asked once: measuring between additions would lay the page out again each time.
  let slim = root.clientWidth < 480;
  const narrow = () => slim;
  const perPixel = () => 1 / map.getZoomScale(map.getZoom(), 0);
  const fit = () => map.fitBounds(bounds(), { paddingTopLeft: [46, bench.stage === "ground" ? 112 : 62], paddingBottomRight: [46, bench.stage === "ground" ? 100 : 46], animate: false });

  function grid() {
    layers.grid.clearLayers();
    const box = map.getBounds();
    const step = niceStep(perPixel() * 110);
    const lines = [];
    for (let x = Math.ceil(box.getWest() / step) * step; x < box.getEast(); x += step) lines.push([[box.getSouth(), x], [box.getNorth(), x]]);
    for (let y = Math.ceil(box.getSouth() / step) * step; y < box.getNorth(); y += step) lines.push([[y, box.getWest()], [y, box.getEast()]]);
    if (shown.grid) L.polyline(lines, { ...shape, color: css("--ink-soft"), weight: 0.5, opacity: 0.28 }).addTo(layers.grid);
    const imperial = bench.units === "imperial";
    const bar = niceStep(perPixel() * 110 / (imperial ? 0.3048 : 1)) * (imperial ? 0.3048 : 1);
    const scale = document.getElementById("scale");
    const rule = el("i");
    rule.style.width = `${bar / perPixel()}px`;
    scale.replaceChildren(rule, lengthWords(bar, bench.units));
  }

  function land() {
    areas.clearLayers();
    if (shown.land) landmarks();
    spots.done();
  }

  function landmarks() {
    for (const mark of bench.doc.landmarks) {
      const points = mark.points.map(at);
      const look = LAND[mark.kind] ?? {};
      if (points.length === 1) spots.put(mark.kind, points[0], () => pinOf(spotSign(mark.kind)));
      else if (look.area && points.length > 2) {
        const edge = look.edge === undefined ? { stroke: false } : { color: css("--ink"), weight: look.edge === "" ? 1.8 : 1.1, dashArray: look.edge || null };
        L.polygon(points, { ...shape, ...edge, fillColor: css(look.area), fillOpacity: look.thin ? 0.6 : 1 }).addTo(areas);
      } else {
        if (look.casing) L.polyline(points, { ...shape, color: css("--ink-soft"), weight: look.weight + 2 }).addTo(areas);
        L.polyline(points, { ...shape, color: css(look.line ?? "--ink-soft"), weight: look.weight ?? 2, dashArray: look.dash ?? null }).addTo(areas);
      }
      const middle = mark.points.length === 1 ? mark.points[0] : LAND[mark.kind]?.area ? centre(mark.points) : pointAt(mark.points, lengthOf(mark.points) * 0.34);
      if (mark.name && !narrow()) words.push({ at: at(middle), words: mark.name, rank: mark.points.length === 1 ? 6 : 8, soft: true, gap: mark.points.length === 1 ? 11 : 6 });
    }
    for (const note of bench.doc.notes) {
      spots.put("note", at(note.at), () => pinOf(spotSign("note")));
      if (!narrow()) words.push({ at: at(note.at), words: note.name, rank: 7, soft: true });
    }
  }

  const centre = (points) => [0, 1].map((k) => points.reduce((sum, p) => sum + p[k], 0) / points.length);

  /** Stretches of a run by kV class, and those that fall short. */
  function classes(run, scale, wanted, dead) {
    const trace = bench.trace(run.id);
    if (!trace || trace.at_m.length < 2) return null;
    const byClass = [[], [], [], [], []];
    const short = [];
    const size = lengthOf(run.points);
    for (let i = 1; i < trace.at_m.length; i += 1) {
      const [from, to] = [trace.at_m[i - 1], Math.min(trace.at_m[i], size)];
      if (to - from < 1e-6 || dead.some(([low, high]) => from >= low - 0.2 && to <= high + 0.2)) continue;
      const kv = (trace.kv[i - 1] + trace.kv[i]) / 2;
      const part = stretch(run.points, from, to);
      byClass[kvClass(kv, scale) - 1].push(part.map(at));
      if (kv < wanted) short.push(part);
    }
    return { byClass, short };
  }

  /** Lines beside a stretch, a few pixels off, so that they survive any zoom. */
  function beside(part, pixels) {
    return part.map((p, i) => {
      const [a, b] = [part[Math.max(0, i - 1)], part[Math.min(part.length - 1, i + 1)]];
      const size = Math.hypot(b[0] - a[0], b[1] - a[1]) || 1;
      return at([p[0] + ((b[1] - a[1]) / size) * pixels * perPixel(), p[1] - ((b[0] - a[0]) / size) * pixels * perPixel()]);
    });
  }

  function ticks(run) {
    const scale = perPixel();
    const gone = along(run.points);
    const step = Math.max(scale * 13, bench.spacingOn(run.id));
    const out = [];
    let i = 1;
    for (let m = step / 2; m < gone.at(-1); m += step) {
      while (gone[i] < m) i += 1;
      const [a, b] = [run.points[i - 1], run.points[i]];
      const far = gone[i] - gone[i - 1] || 1;
      const share = (m - gone[i - 1]) / far;
      const [x, y] = [a[0] + share * (b[0] - a[0]), a[1] + share * (b[1] - a[1])];
      const [nx, ny] = [(-(b[1] - a[1]) / far) * 5.5 * scale, ((b[0] - a[0]) / far) * 5.5 * scale];
      out.push([at([x - nx, y - ny]), at([x + nx, y + ny])]);
    }
    return out;
  }

  /** Chevrons along a line the way its leak flows, the wider the more of the amps pass there. */
  function flows(run) {
    const trace = bench.trace(run.id);
    if (!trace) return [];
    const most = Math.max(0.1, ...bench.volts.traces.flatMap((t) => t.leak_a.map(Math.abs)));
    const size = lengthOf(run.points);
    const scale = perPixel();
    const out = [];
    for (let m = 22 * scale; m < size - 8 * scale; m += 44 * scale) {
      const share = sample(trace.at_m, trace.leak_a, m) / most;
      if (Math.abs(share) < 0.01) continue;
      const way = Math.sign(share);
      const [tip, tail] = [pointAt(run.points, m), pointAt(run.points, Math.max(0, Math.min(size, m - way * 9 * scale)))];
      const [dx, dy] = [tip[0] - tail[0], tip[1] - tail[1]];
      const half = 0.35 + 0.9 * Math.sqrt(Math.abs(share));
      out.push([[tail[0] - dy * half, tail[1] + dx * half], tip, [tail[0] + dy * half, tail[1] - dx * half]].map(at));
    }
    return out;
  }

  const computed = () => bench.forecast?.ground ?? { joins: [], crossings: [], dead: [], zones: [], blocks: [], strips: [], bumps: [], rods: [] };

  function deadOf(run) {
    const rows = [...computed().dead, ...(bench.kills?.stretches ?? [])];
    return rows.filter(([id]) => id === run.id).map(([, low, high]) => [low, high]);
  }

  function lines() {
    layers.lines.clearLayers();
    const wanted = bench.forecast?.wanted_kv ?? 3;
    const byClass = [[], [], [], [], []];
    const [outline, bare, short, off, dashed] = [[], [], [], [], []];
    for (const run of bench.doc.runs) {
      const size = lengthOf(run.points);
      const dead = deadOf(run);
      off.push(...dead.map(([low, high]) => stretch(run.points, low, Math.min(high, size)).map(at)));
      const live = gaps(dead, size).map(([low, high]) => stretch(run.points, low, high).map(at));
      outline.push(...live);
      if (run.use === "temporary") dashed.push(...live);
      const found = shown.kv && bench.volts ? classes(run, wanted, bench.wantedOn(run.id), dead) : null;
      if (!found) { bare.push(...live); continue; }
      found.byClass.forEach((parts, i) => byClass[i].push(...parts));
      short.push(...found.short.map((part) => beside(part, 11)));
    }
    L.polyline(outline, { ...shape, color: css("--ink"), weight: 8.5, lineJoin: "round" }).addTo(layers.lines);
    L.polyline(bare, { ...shape, color: css("--panel"), weight: 5 }).addTo(layers.lines);
    byClass.forEach((parts, i) => { if (parts.length) L.polyline(parts, { ...shape, color: css(`--kv-${i + 1}`), weight: 5.5, lineCap: "butt" }).addTo(layers.lines); });
    if (dashed.length) L.polyline(dashed, { ...shape, color: css("--ink"), weight: 2, dashArray: "7 7" }).addTo(layers.lines);
    if (short.length) L.polyline(short, { ...shape, color: css("--ink"), weight: 3, dashArray: "4 4", lineCap: "butt" }).addTo(layers.lines);
    if (off.length) L.polyline(off, { ...shape, color: css("--ink"), weight: 2.4, dashArray: "1 5", lineCap: "round" }).addTo(layers.lines);
    L.polyline(bench.doc.runs.flatMap(ticks), { ...shape, color: css("--ink"), weight: 1 }).addTo(layers.lines);
    if (bench.amps && bench.volts) L.polyline(bench.doc.runs.flatMap(flows), { ...shape, color: css("--pulse-ink"), weight: 3 }).addTo(layers.lines);
    const home = bench.doc.energizer_at;
    if (home && bench.doc.runs.length) {
      const near = bench.doc.runs.map((r) => nearest(r.points, bench.doc.feed_at ?? home)).sort((a, b) => a.away - b.away)[0];
      L.polyline([at(home), at(near.point)], { ...shape, color: css("--pulse-ink"), weight: 3 }).addTo(layers.lines);
    }
    zones();
  }

  /** What is left of 0..size without some stretches. */
  function gaps(dead, size) {
    const out = [];
    let from = 0;
    for (const [low, high] of [...dead].sort((a, b) => a[0] - b[0])) {
      if (low - from > 0.05) out.push([from, low]);
      from = Math.max(from, high);
    }
    if (size - from > 0.05) out.push([from, size]);
    return out;
  }

  const DASHES = ["", "10 4", "2 4", "10 3 2 3", "5 5"];

  function zones() {
    layers.zones.clearLayers();
    if (!shown.zones) return;
    computed().zones.forEach((zone, i) => {
      const parts = zone.stretches.map(([id, low, high]) => bench.run(id) && stretch(bench.run(id).points, low, Math.min(high, lengthOf(bench.run(id).points)))).filter(Boolean);
      L.polyline(parts.map((part) => beside(part, -12)), { ...shape, color: css("--ink"), weight: 2.2, dashArray: DASHES[i % DASHES.length] || null }).addTo(layers.zones);
      const longest = parts.sort((a, b) => lengthOf(b) - lengthOf(a))[0];
      if (longest) L.marker(beside([pointAt(longest, lengthOf(longest) * 0.42), pointAt(longest, lengthOf(longest) * 0.43)], -26)[0], { icon: L.divIcon({ className: "", iconSize: [22, 22], html: el("div", { class: "zone-letter" }, zone.letter) }), ...plain }).addTo(layers.zones);
    });
  }

  function blocks() {
    layers.blocks.clearLayers();
    if (shown.blocks) for (const b of computed().blocks) words.push({ at: at(b.at), words: b.name, sub: `${b.words}${b.water ? "" : ", no water"}`, rank: 4, soft: true, gap: 0 });
    for (const strip of shown.blocks ? computed().strips : []) {
      L.polyline(strip.line.map(at), { ...shape, color: css("--ink"), weight: 1.6, dashArray: "3 5" }).addTo(layers.blocks);
      words.push({ at: at(pointAt(strip.line, lengthOf(strip.line) / 2)), words: `${strip.number}`, rank: 5, gap: 3 });
    }
  }

  function marks() {
    if (shown.fixtures) {
      for (const f of bench.doc.fixtures) {
        const run = bench.run(f.run);
        if (!run) continue;
        const point = at(pointAt(run.points, f.at_m));
        signs.put(`${f.kind}${f.is_open}${f.id}`, point, () => pinOf(fixtureSign(f.kind, f.is_open)));
        const sub = f.kind === "gate" || f.kind === "switch" ? (f.is_open ? "open" : "") : "";
        if (!narrow() && f.kind !== "sign") words.push({ at: point, words: f.name, sub, rank: f.is_open ? 2 : 3 });
      }
      for (const w of bench.doc.what_ifs) {
        const run = bench.run(w.run);
        if (run) signs.put(`what-if${w.id}`, at(pointAt(run.points, w.at_m)), () => pinOf(fixtureSign("what_if", false)));
      }
      let last = null;
      for (const b of computed().bumps) {
        const here = map.latLngToContainerPoint(at(b.at));
        if (last && last.distanceTo(here) < 14) continue; // closer than it can be read
        last = here;
        signs.put(b.words, at(b.at), () => L.divIcon({ className: "", iconSize: [12, 12], html: el("div", { class: "bump", title: b.words }, b.words.startsWith("Dip") ? "∪" : "∩") }));
      }
    }
    for (const spot of computed().joins) signs.put(`join${spot}`, at(spot), () => icon("join"));
    for (const c of computed().crossings) {
      const [kind, title] = c.joined ? ["join", "joined"] : c.said ? ["apart", "kept apart"] : ["unsaid", "not said"];
      signs.put(`${kind}${c.at}`, at(c.at), () => icon(kind, title));
      if (!c.said) words.push({ at: at(c.at), words: "crossing: joined or apart?", rank: 3, soft: true });
    }
    for (const run of bench.doc.runs) {
      const trace = shown.kv ? bench.trace(run.id) : null;
      const size = lengthOf(run.points);
      const low = trace ? Math.min(...trace.kv) : 0;
      const high = trace ? Math.max(...trace.kv) : 0;
      const wholly = deadOf(run).some(([from, to]) => to - from > size - 1);
      const range = kvWords(low) === kvWords(high) ? `${kvWords(low)} kV` : `${kvWords(low)} to ${kvWords(high)} kV`;
      words.push({ at: at(pointAt(run.points, size * 0.5)), words: run.name, sub: wholly ? "off" : !trace || narrow() ? "" : range, rank: 1 });
    }
    if (bench.doc.energizer_at) {
      const spot = at(bench.doc.energizer_at);
      const house = () => svg("svg", { viewBox: "0 0 26 26", width: 26, height: 26 }, svg("path", { d: "M3 11 13 3l10 8v12H3Z", fill: "var(--panel)", stroke: "var(--ink)", "stroke-width": 2 }), svg("path", { d: "M14 8l-5 7h4l-1 6 5-8h-4Z", fill: "var(--pulse)" }));
      signs.put("energizer", spot, () => pinOf(house(), 26));
      words.push({ at: spot, words: "Energizer", sub: narrow() ? "" : bench.forecast?.stages?.power?.line ?? "", rank: 0, gap: 17 });
    }
    rods();
    signs.done();
  }

  function rods() {
    const spots = computed().rods ?? [];
    if (!spots.length) return;
    for (const spot of spots) {
      const rod = () => L.divIcon({ className: "", iconSize: [4, 18], iconAnchor: [2, 2], html: svg("svg", { width: 4, height: 18 }, svg("path", { d: "M2 0v18", stroke: "var(--return)", "stroke-width": 3 })) });
      signs.put("rod", at(spot), rod);
    }
    const { monitor } = computed();
    if (monitor) {
      signs.put("monitor", at(monitor), () => L.divIcon({ className: "", iconSize: [12, 18], iconAnchor: [6, 2], html: svg("svg", { width: 12, height: 18 }, svg("path", { d: "M6 5v13", stroke: "var(--return)", "stroke-width": 3 }), svg("circle", { cx: 6, cy: 5, r: 4, fill: "var(--panel)", stroke: "var(--return)", "stroke-width": 1.8 })) }));
      words.push({ at: at(monitor), words: "watches", rank: 3, gap: 18 });
    }
    words.push({ at: at([0, 1].map((k) => spots.reduce((sum, p) => sum + p[k], 0) / spots.length)), words: `${spots.length} rod${spots.length > 1 ? "s" : ""}`, rank: 2, gap: 18 });
  }

  /** Boxes in pixels that labels keep off: signs, the flag, what floats over the ground. */
  function taken() {
    const lying = shown.land ? [...bench.doc.landmarks.filter((m) => m.points.length === 1).map((m) => m.points[0]), ...bench.doc.notes.map((n) => n.at)] : [];
    const home = bench.doc.energizer_at ? [bench.doc.energizer_at] : [];
    const spots = [...lying, ...home, ...(shown.fixtures ? bench.doc.fixtures.map((f) => bench.run(f.run) && pointAt(bench.run(f.run).points, f.at_m)).filter(Boolean) : []), ...computed().joins];
    const boxes = spots.map((p) => { const { x, y } = map.latLngToContainerPoint(at(p)); return [x - 7, y - 7, x + 7, y + 7]; });
    return [...boxes, ...floats(), ...layers.zones.getLayers().filter((l) => l.getIcon).map((l) => { const { x, y } = map.latLngToContainerPoint(l.getLatLng()); return [x - 11, y - 11, x + 11, y + 11]; })];
  }

  const FLOATING = ".ground-tools, .legend, .ground-says, .scale, .leaflet-control-zoom";

  /** What floats over the ground, in pixels: measured when one of them changed its size, not at every drawing. */
  function floats() {
    if (floating) return floating;
    const frame = root.getBoundingClientRect();
    const boxes = [...root.querySelectorAll(FLOATING)].map((e) => e.getBoundingClientRect()).filter((b) => b.width);
    floating = boxes.map((b) => [b.left - frame.left, b.top - frame.top, b.right - frame.left, b.bottom - frame.top]);
    return floating;
  }

  function labels() {
    const busy = taken();
    const run = bench.place && bench.run(bench.place.run);
    if (run) {
      const { x, y } = map.latLngToContainerPoint(at(pointAt(run.points, bench.place.at_m)));
      busy.push([x - 18, y - 52, x + 46, y + 18]);
    }
    layLabels(map, said, shown.labels ? words : [], busy);
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
    L.marker(at(pointAt(run.points, bench.place.at_m)), { icon: L.divIcon({ className: "", iconSize: [0, 0], html: el("div", { class: "flag" }, sign) }), ...plain, zIndexOffset: 900 }).addTo(layers.flag);
  }

  /** What is chosen, with a broad edge under it. */
  function chosen() {
    layers.chosen.clearLayers();
    const look = { ...shape, color: css("--return"), weight: 15, opacity: 0.4 };
    const thin = { ...look, weight: 6, opacity: 0.6 };
    for (const key of bench.chosen) {
      const row = bench.find(key);
      const [what] = key.split(":");
      if (what === "run") L.polyline(row.points.map(at), look).addTo(layers.chosen);
      else if (what === "landmark" && row.points.length > 1) L.polyline([...row.points, ...(LAND[row.kind]?.area ? [row.points[0]] : [])].map(at), thin).addTo(layers.chosen);
      else {
        const point = what === "fixture" ? pointAt(bench.run(row.run).points, row.at_m) : what === "note" ? row.at : row.points[0];
        L.circleMarker(at(point), { ...shape, radius: 14, color: css("--return"), weight: 4, fill: false }).addTo(layers.chosen);
      }
    }
  }

  function legend() {
    const root = document.getElementById("legend");
    root.hidden = !bench.volts || !shown.kv;
    root.classList.toggle("low", ["ground", "earth"].includes(bench.stage));
    if (root.hidden) return;
    const bounds = kvBounds(bench.forecast.wanted_kv);
    root.replaceChildren(el("b", {}, "kV a tester reads"), ...[0, 1, 2, 3, 4].map((i) => {
      const step = el("span", {}, i === 0 ? `< ${kvWords(bounds[0])}` : `${kvWords(bounds[i - 1])}–`);
      step.style.borderTopColor = `var(--kv-${i + 1})`;
      return step;
    }), el("div", {}, svg("svg", { width: 30, height: 6 }, svg("path", { d: "M0 3h30", stroke: "currentColor", "stroke-width": 3, "stroke-dasharray": "4 3" })), ` short of ${new Set(bench.doc.runs.map((r) => bench.wantedOn(r.id))).size > 1 ? "what is wanted there" : `${kvWords(bench.forecast.wanted_kv)} wanted`}`));
  }

  function draw() {
    words = [];
    drawUnderlay(bench, map, layers.photo, shown.photo);
    grid(); land(); blocks(); lines(); marks(); chosen(); flag(); legend(); labels();
  }

  /** Keep the place in view when somebody walks out of it. */
  function follow() {
    flag();
    const run = bench.place && bench.run(bench.place.run);
    if (!run) return;
    const spot = at(pointAt(run.points, bench.place.at_m));
    const { x, y } = map.latLngToContainerPoint(spot);
    const size = map.getSize();
    if (x < 12 || y < 60 || x > size.x - 12 || y > size.y - 12) map.panTo(spot, { animate: false });
  }

  map.on("moveend", () => { grid(); labels(); bench.tell("view"); });
  map.on("zoomend", () => { lines(); });
  map.on("click", (event) => {
    if (ground.tool && ground.tool !== "walk") return;
    const found = bench.doc.runs.map((r) => ({ run: r.id, ...nearest(r.points, metres(event.latlng)) })).sort((a, b) => a.away - b.away)[0];
    if (found) bench.stand(found.run, found.at);
  });
  for (const event of ["state", "drawn", "season", "kills", "amps"]) bench.addEventListener(event, draw);
  bench.addEventListener("place", follow);
  bench.addEventListener("chosen", chosen);
  bench.addEventListener("layers", () => { shown = readLayers(); draw(); });
  new MutationObserver(draw).observe(document.documentElement, { attributeFilter: ["data-bs-theme"] });
  new ResizeObserver(() => { slim = root.clientWidth < 480; map.invalidateSize({ animate: false }); }).observe(root);
  const watch = new ResizeObserver(() => { floating = null; labels(); });
  for (const box of root.querySelectorAll(FLOATING)) watch.observe(box);
  fit();
  const ground = { map, fit, layers, tool: null, perPixel };
  bench.view = () => map.getBounds();
  draw();
  document.fonts?.ready.then(labels);
  holder.adzeMap = map;
  return ground;
}
