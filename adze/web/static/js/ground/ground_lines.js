// The lines on the ground: kV by class, what falls short, what is off, zones, blocks.

import { el } from "../basics/dom.js";
import { along, gaps, lengthOf, nearest, pointAt, stretch } from "../basics/geometry.js";
import { at, css, draw, plain } from "./map_parts.js";
import { kvClass, sample } from "../basics/scales.js";
import * as L from "../../vendor/leaflet/leaflet-src.esm.js";

/** Stretches of a run by kV class, and those that fall short. */
export function classes(view, run, scale, wanted, dead) {
  const trace = view.bench.trace(run.id);
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
export function beside(view, part, pixels) {
  return part.map((p, i) => {
    const [a, b] = [part[Math.max(0, i - 1)], part[Math.min(part.length - 1, i + 1)]];
    const size = Math.hypot(b[0] - a[0], b[1] - a[1]) || 1;
    return at([
      p[0] + ((b[1] - a[1]) / size) * pixels * view.perPixel(),
      p[1] - ((b[0] - a[0]) / size) * pixels * view.perPixel(),
    ]);
  });
}

const POST_PX = { apart: 9, long: 5, off: 4 };

/** Every line's posts at their true places, on the side of the stock; none where they would run together. */
export function posts(view) {
  const layer = view.layers.posts.clearLayers();
  const seen = view.map.getBounds().pad(0.05);
  const rows = view.bench.doc.runs
    .filter((run) => view.bench.spacingOn(run.id) >= POST_PX.apart * view.perPixel())
    .flatMap((run) => postsOf(view, run, seen));
  draw(layer, rows, { color: css("--ink"), weight: 2.6, lineCap: "butt" });
}

function postsOf(view, run, seen) {
  const side = (view.computed().stock_sides?.[run.id] === "right" ? -1 : 1) * view.perPixel();
  const gone = along(run.points);
  const count = Math.max(1, Math.round(gone.at(-1) / view.bench.spacingOn(run.id)));
  const rows = [];
  for (let i = 0, k = 1; i <= count; i += 1) {
    const m = (i * gone.at(-1)) / count;
    while (k < gone.length - 1 && gone[k] < m) k += 1;
    const [x, y] = pointAt(run.points, m);
    if (!seen.contains(at([x, y]))) continue;
    const [a, b, far] = [run.points[k - 1], run.points[k], gone[k] - gone[k - 1] || 1];
    const [left, up] = [(-(b[1] - a[1]) / far) * side, ((b[0] - a[0]) / far) * side];
    rows.push([POST_PX.off, POST_PX.off + POST_PX.long].map((away) => at([x + left * away, y + up * away])));
  }
  return rows;
}

/** Chevrons along a line the way its leak flows, the wider the more of the amps pass there. */
export function flows(view, run) {
  const trace = view.bench.trace(run.id);
  if (!trace) return [];
  const most = Math.max(0.1, ...view.bench.volts.traces.flatMap((t) => t.leak_a.map(Math.abs)));
  const size = lengthOf(run.points);
  const scale = view.perPixel();
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

export function deadOf(view, run) {
  const rows = [...view.computed().dead, ...(view.bench.kills?.stretches ?? [])];
  return rows.filter(([id]) => id === run.id).map(([, low, high]) => [low, high]);
}

/** What of every line is drawn how: whole, by kV class, short of what is wanted, off, temporary. */
function sorted(view) {
  const { bench } = view;
  const byKv = view.shown.kv && bench.volts;
  const parts = { outline: [], bare: [], short: [], off: [], dashed: [], byClass: [[], [], [], [], []] };
  for (const run of bench.doc.runs) {
    const size = lengthOf(run.points);
    const dead = deadOf(view, run);
    parts.off.push(...dead.map(([low, high]) => stretch(run.points, low, Math.min(high, size)).map(at)));
    const live = gaps(dead, size).map(([low, high]) => stretch(run.points, low, high).map(at));
    parts.outline.push(...live);
    if (run.use === "temporary") parts.dashed.push(...live);
    const found = byKv ? classes(view, run, bench.forecast.wanted_kv, bench.wantedOn(run.id), dead) : null;
    if (!found) {
      parts.bare.push(...live);
      continue;
    }
    found.byClass.forEach((own, i) => parts.byClass[i].push(...own));
    parts.short.push(...found.short.map((part) => beside(view, part, 11)));
  }
  return parts;
}

export function lines(view) {
  const { bench } = view;
  const layer = view.layers.lines.clearLayers();
  const [ink, pulse] = [css("--ink"), css("--pulse-ink")];
  const { outline, bare, short, off, dashed, byClass } = sorted(view);
  draw(layer, outline, { color: ink, weight: 7, lineJoin: "round" });
  draw(layer, bare, { color: css("--panel"), weight: 4 });
  byClass.forEach((parts, i) => draw(layer, parts, { color: css(`--kv-${i + 1}`), weight: 4.5, lineCap: "butt" }));
  draw(layer, dashed, { color: ink, weight: 2, dashArray: "7 7" });
  draw(layer, short, { color: ink, weight: 3, dashArray: "4 4", lineCap: "butt" });
  draw(layer, off, { color: ink, weight: 2.4, dashArray: "1 5", lineCap: "round" });
  if (bench.amps && bench.volts) {
    const chevrons = bench.doc.runs.flatMap((run) => flows(view, run));
    draw(layer, chevrons, { color: pulse, weight: 3 });
  }
  draw(
    layer,
    leadOut(bench).map((points) => points.map(at)),
    { color: pulse, weight: 3 },
  );
}

/** The lead-out by its own points to the nearest line, or to where it is led in: one line or none, in metres. */
export function leadOut(bench) {
  const { energizer_at: home, feed_at: feed, lead_out: lead, runs } = bench.doc;
  if (!home || !runs.length) return [];
  const near = runs
    .map((r) => nearest(r.points, feed ?? lead.points.at(-1) ?? home))
    .sort((a, b) => a.away - b.away)[0];
  return [[home, ...lead.points, near.point]];
}

const ZONE = { weight: 24, lineCap: "butt", lineJoin: "round" };
const ZONE_OPACITY = [0.16, 0.34];

/** What each switch parts: a pale band under the fence, with its letter; neighbours differ in strength. */
export function zones(view) {
  const layer = view.layers.zones.clearLayers();
  if (!view.shown.zones) return;
  view.computed().zones.forEach((zone, i) => {
    const parts = zone.stretches.map((part) => stretchOf(view.bench, part)).filter(Boolean);
    const look = { ...ZONE, color: css("--return"), opacity: ZONE_OPACITY[i % 2] };
    draw(
      layer,
      parts.map((part) => part.map(at)),
      look,
    );
    const longest = parts.sort((a, b) => lengthOf(b) - lengthOf(a))[0];
    if (longest) letter(view, layer, longest, zone.letter);
  });
}

function stretchOf(bench, [id, low, high]) {
  const run = bench.run(id);
  return run && stretch(run.points, low, Math.min(high, lengthOf(run.points)));
}

function letter(view, layer, part, words) {
  const size = lengthOf(part);
  const [spot] = beside(view, [pointAt(part, size * 0.42), pointAt(part, size * 0.43)], -26);
  const html = el("div", { class: "zone-letter" }, words);
  L.marker(spot, { icon: L.divIcon({ className: "", iconSize: [22, 22], html }), ...plain }).addTo(layer);
}

export function blocks(view) {
  const layer = view.layers.blocks.clearLayers();
  if (!view.shown.blocks) return;
  for (const b of view.computed().blocks) {
    const sub = `${b.words}${b.water ? "" : ", no water"}`;
    view.words.push({ at: at(b.at), words: b.name, sub, rank: 4, soft: true, centred: true });
  }
  for (const strip of view.computed().strips) {
    draw(layer, strip.line.map(at), { color: css("--ink"), weight: 1.6, dashArray: "3 5" });
    const middle = pointAt(strip.line, lengthOf(strip.line) / 2);
    view.words.push({ at: at(middle), words: `${strip.number}`, rank: 5, gap: 3 });
  }
}
