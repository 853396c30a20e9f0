// Choosing and moving what is on the ground: points, whole things by their grip, many at once.

import { distance, lengthOf, nearest, pointAt, tidy } from "./geometry.js";
import { at, icon, metres } from "./ground.js";
import { lengthWords } from "./scales.js";
import { LAND } from "./signs.js";
import { snapped } from "./snap.js";
import * as L from "/static/vendor/leaflet/leaflet-src.esm.js";

const MOST_HANDLES = 150; // of one chosen thing
const FEW_POINTS = 24; // so few are shown without choosing
const NEAR_PX = 11;

export function mountArrange(bench, ground) {
  const { map, say } = ground;
  const handles = L.layerGroup().addTo(map);
  const ghost = L.polyline([], { color: "#20241f", weight: 3, dashArray: "6 5", interactive: false }).addTo(map);
  let chosenPoint = null;
  let box = null;

  const spotOf = (key) => {
    const [what] = key.split(":");
    const row = bench.find(key);
    if (!row) return null;
    if (what === "fixture") return pointAt(bench.run(row.run).points, row.at_m);
    if (what === "note") return row.at;
    return what === "run" ? pointAt(row.points, lengthOf(row.points) / 2) : row.points[0];
  };

  /** The thing under a spot: what stands on the line first, then spots, lines, lines and areas of the land. */
  function under(point) {
    const reach = NEAR_PX * ground.perPixel();
    const near = (keys, away) => keys.map((key) => ({ key, away: away(key) })).filter((x) => x.away <= reach).sort((a, b) => a.away - b.away)[0]?.key;
    const spots = [...bench.doc.fixtures.filter((f) => bench.run(f.run)).map((f) => `fixture:${f.id}`), ...bench.doc.notes.map((n) => `note:${n.id}`), ...bench.doc.landmarks.filter((m) => m.points.length === 1).map((m) => `landmark:${m.id}`)];
    return near(spots, (key) => distance(spotOf(key), point))
      ?? near(bench.doc.runs.map((r) => `run:${r.id}`), (key) => nearest(bench.find(key).points, point).away)
      ?? near(bench.doc.landmarks.filter((m) => m.points.length > 1).map((m) => `landmark:${m.id}`), (key) => nearest(outline(bench.find(key)), point).away);
  }

  const outline = (mark) => (LAND[mark.kind]?.area && mark.points.length > 2 ? [...mark.points, mark.points[0]] : mark.points);

  map.on("click", (event) => {
    if (ground.tool !== "arrange" || ground.photoPins) return;
    const key = under(metres(event.latlng));
    bench.pick(key ? [key] : [], { add: event.originalEvent.shiftKey });
    if (key?.startsWith("run:")) bench.stand(key.slice(4), nearest(bench.find(key).points, metres(event.latlng)).at);
    if (key?.startsWith("fixture:")) { const f = bench.find(key); bench.stand(f.run, f.at_m); }
  });

  // A box with Shift and drag.
  map.on("mousedown", (event) => {
    if (ground.tool !== "arrange" || !event.originalEvent.shiftKey) return;
    map.dragging.disable();
    box = { from: event.latlng, shape: L.rectangle([event.latlng, event.latlng], { color: "#1d6a72", weight: 2, dashArray: "4 4", interactive: false }).addTo(map) };
  });
  map.on("mousemove", (event) => { if (box) box.shape.setBounds(L.latLngBounds(box.from, event.latlng)); });
  map.on("mouseup", () => {
    if (!box) return;
    const bounds = box.shape.getBounds();
    box.shape.remove();
    box = null;
    map.dragging.enable();
    if (map.distance(bounds.getSouthWest(), bounds.getNorthEast()) < 8 * ground.perPixel()) return;
    const inside = (p) => bounds.contains(at(p));
    const keys = [
      ...bench.doc.runs.filter((r) => r.points.every(inside)).map((r) => `run:${r.id}`),
      ...bench.doc.fixtures.filter((f) => bench.run(f.run) && inside(spotOf(`fixture:${f.id}`))).map((f) => `fixture:${f.id}`),
      ...bench.doc.landmarks.filter((m) => m.points.every(inside)).map((m) => `landmark:${m.id}`),
      ...bench.doc.notes.filter((n) => inside(n.at)).map((n) => `note:${n.id}`),
    ];
    bench.pick(keys);
    say(keys.length ? `${keys.length} things chosen.` : "Nothing lies wholly inside that box.");
  });

  function show() {
    handles.clearLayers();
    chosenPoint = null;
    if (ground.tool !== "arrange") return;
    const total = bench.doc.runs.reduce((sum, r) => sum + r.points.length, 0);
    for (const run of bench.doc.runs) {
      const own = bench.chosen.has(`run:${run.id}`);
      if (run.points.length <= MOST_HANDLES && (total <= FEW_POINTS || own)) runHandles(run);
    }
    for (const key of bench.chosen) {
      const mark = key.startsWith("landmark:") ? bench.find(key) : null;
      if (mark && mark.points.length <= MOST_HANDLES) markHandles(mark);
    }
    if (bench.chosen.size) grip();
    for (const what of ["energizer", "rods"]) fixed(what);
  }

  /** One grip moves all that is chosen. */
  function grip() {
    const spots = [...bench.chosen].map(spotOf).filter(Boolean);
    const middle = [0, 1].map((k) => spots.reduce((sum, p) => sum + p[k], 0) / spots.length);
    const single = bench.chosen.size === 1 && [...bench.chosen][0].startsWith("fixture:");
    const marker = L.marker(at(middle), { icon: icon("grip", "Move what is chosen"), draggable: true, alt: "Move what is chosen", zIndexOffset: 600 }).addTo(handles);
    marker.on("drag", () => {
      const [x, y] = metres(marker.getLatLng());
      if (single) {
        const f = bench.find([...bench.chosen][0]);
        const met = nearest(bench.run(f.run).points, [x, y]);
        say(`${f.name}: ${lengthWords(met.at, bench.units)} along ${bench.run(f.run).name}`);
      } else say(`${lengthWords(Math.hypot(x - middle[0], y - middle[1]), bench.units)} from where it lay`);
    });
    marker.on("dragend", () => {
      const [x, y] = metres(marker.getLatLng());
      bench.edit({ do: "move", chosen: bench.pairs(), east_m: x - middle[0], north_m: y - middle[1] });
    });
  }

  /** Energizer and rods are dragged as they are. */
  function fixed(what) {
    const point = what === "energizer" ? bench.doc.energizer_at : bench.doc.rods.count ? bench.doc.rods.position : null;
    if (!point) return;
    const words = what === "energizer" ? "Energizer" : "Rods";
    const marker = L.marker(at(point), { icon: icon(`hold ${what}`, words), draggable: true, alt: words, zIndexOffset: 350 }).addTo(handles);
    marker.on("dragend", () => {
      const to = tidy(metres(marker.getLatLng()));
      bench.change(`Moved the ${words.toLowerCase()}`, (doc) => { if (what === "energizer") doc.energizer_at = to; else { const by = [0, 1].map((k) => to[k] - doc.rods.position[k]); doc.rods.places = doc.rods.places.map((p) => tidy(p.map((x, k) => x + by[k]))); doc.rods.position = to; } });
    });
  }

  function runHandles(run) {
    run.points.forEach((p, index) => {
      const name = `Point ${index + 1} of ${run.name}`;
      const marker = L.marker(at(p), { icon: icon("point", name), draggable: true, alt: name, zIndexOffset: 400 }).addTo(handles);
      const moved = () => {
        const s = snapped(bench, ground, metres(marker.getLatLng()), { except: { run: run.id, index } });
        return { points: run.points.map((q, i) => (i === index ? s.point : q)), words: s.words };
      };
      marker.on("click", () => {
        chosenPoint = { run: run.id, index };
        handles.eachLayer((m) => m.getElement()?.querySelector(".pin")?.classList.remove("chosen"));
        marker.getElement().querySelector(".pin").classList.add("chosen");
        say(`${name}. Delete takes it off.`);
      });
      marker.on("drag", () => {
        const { points, words } = moved();
        ghost.setLatLngs(points.map(at));
        say(`${run.name}: ${lengthWords(lengthOf(points), bench.units)}${words ? `; ${words}` : ""}`);
      });
      marker.on("dragend", () => {
        ghost.setLatLngs([]);
        bench.edit({ do: "reshape", run: run.id, points: moved().points });
      });
    });
    for (let i = 1; i < run.points.length; i += 1) {
      const half = [0, 1].map((k) => (run.points[i - 1][k] + run.points[i][k]) / 2);
      const marker = L.marker(at(half), { icon: icon("point mid", `Add a point to ${run.name}`), draggable: true, alt: `Add a point to ${run.name}`, zIndexOffset: 300 }).addTo(handles);
      marker.on("dragend", () => {
        const { point } = snapped(bench, ground, metres(marker.getLatLng()));
        bench.edit({ do: "reshape", run: run.id, points: [...run.points.slice(0, i), point, ...run.points.slice(i)] });
      });
    }
  }

  function markHandles(mark) {
    mark.points.forEach((p, index) => {
      const name = `Point ${index + 1} of ${mark.name || mark.kind}`;
      const marker = L.marker(at(p), { icon: icon("point", name), draggable: true, alt: name, zIndexOffset: 400 }).addTo(handles);
      marker.on("dragend", () => {
        const to = tidy(metres(marker.getLatLng()));
        bench.change(`Moved a point of ${mark.name || mark.kind}`, (doc) => { doc.landmarks.find((m) => m.id === mark.id).points[index] = to; });
      });
    });
  }

  function removePoint({ run: id, index }) {
    const run = bench.run(id);
    if (run.points.length <= 2) { say("A line needs two points; choose the whole line and take it off instead."); return; }
    bench.edit({ do: "reshape", run: id, points: run.points.filter((_, i) => i !== index) });
  }

  document.addEventListener("keydown", (event) => {
    if (event.target.closest("input, select, textarea, dialog") || ground.tool !== "arrange") return;
    const nudge = { ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, 1], ArrowDown: [0, -1] }[event.key];
    if (event.key === "Delete" || event.key === "Backspace") {
      if (chosenPoint) removePoint(chosenPoint);
      else if (bench.chosen.size) bench.edit({ do: "remove", chosen: bench.pairs() });
      else return;
    } else if (event.altKey && nudge && bench.chosen.size) {
      const step = event.shiftKey ? 10 : 1;
      bench.edit({ do: "move", chosen: bench.pairs(), east_m: nudge[0] * step, north_m: nudge[1] * step });
    } else if (event.key === "a" && (event.ctrlKey || event.metaKey)) {
      bench.pick([...bench.doc.runs.map((r) => `run:${r.id}`), ...bench.doc.fixtures.map((f) => `fixture:${f.id}`), ...bench.doc.landmarks.map((m) => `landmark:${m.id}`), ...bench.doc.notes.map((n) => `note:${n.id}`)]);
    } else return;
    event.preventDefault();
    event.stopImmediatePropagation();
  }, true);

  for (const name of ["state", "drawn", "chosen", "tool"]) bench.addEventListener(name, show);
}
