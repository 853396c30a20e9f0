// Drawing on the ground: lines point by point, moving and deleting points, gates, switches, energizer, rods.

import { el } from "./dom.js";
import { carryJoins, distance, lengthOf, nearest, pointAt, tidy } from "./geometry.js";
import { at, icon, metres } from "./ground.js";
import { lengthWords } from "./scales.js";
import * as L from "/static/vendor/leaflet/leaflet-src.esm.js";

const SNAP_PX = 12;
const TOOLS = [
  ["walk", "Walk"], ["points", "Move points"], ["draw", "Draw a line"], ["gate", "Gate"], ["switch", "Switch"], ["energizer", "Energizer"], ["rods", "Rods"],
];
const HINTS = {
  walk: "Click the line to stand there.",
  points: "Drag a point to move it, a small one to add a point. Click one and press Delete to take it off.",
  draw: "Click point after point from the energizer outward. Double click or Enter ends the line, Backspace takes back, Esc gives up. Ends on another line join it.",
  gate: "Click the line where the gate goes.",
  switch: "Click the line where the switch goes.",
  energizer: "Click where the energizer hangs.",
  rods: "Click where the first rod goes: damp, shaded, 10 m from buildings.",
};

export function mountTools(bench, ground) {
  const bar = document.getElementById("tools");
  if (!ground || bar.hidden) return;
  const says = document.getElementById("says");
  const { map } = ground;
  const handles = L.layerGroup().addTo(map);
  let drawn = [];
  let chosen = null;
  let pointer = null;
  const ghost = L.polyline([], { color: "#20241f", weight: 3, dashArray: "6 5", interactive: false }).addTo(map);

  function say(words) { says.textContent = words; says.hidden = !words; }

  function choose(tool) {
    ground.tool = tool;
    drawn = [];
    chosen = null;
    ghost.setLatLngs([]);
    for (const button of bar.querySelectorAll("[data-tool]")) {
      button.classList.toggle("on", button.dataset.tool === tool);
      button.setAttribute("aria-pressed", button.dataset.tool === tool);
    }
    map.getContainer().style.cursor = tool === "walk" || tool === "points" ? "" : "crosshair";
    say(HINTS[tool]);
    showHandles();
  }

  /** A point pulled onto a near point or line, so that it joins. */
  function snapped(point, except = null) {
    const reach = SNAP_PX / map.getZoomScale(map.getZoom(), 0);
    let best = { away: reach, point: tidy(point) };
    for (const run of bench.doc.runs) {
      for (const [i, p] of run.points.entries()) {
        if (except && run.id === except.run && i === except.index) continue;
        const away = distance(p, point);
        if (away < best.away) best = { away, point: p };
      }
    }
    if (best.away < reach) return best.point;
    for (const run of bench.doc.runs) {
      if (except && run.id === except.run) continue;
      const met = nearest(run.points, point);
      if (met.away < best.away) best = { away: met.away, point: tidy(met.point) };
    }
    if (drawn.length > 2 && distance(drawn[0], point) < reach) return drawn[0];
    return best.point;
  }

  function finish() {
    const points = drawn.filter((p, i) => i === 0 || distance(p, drawn[i - 1]) > 0.05);
    choose("points");
    if (points.length < 2) { say("A line needs two points apart from each other."); return; }
    bench.change(`Drew a line of ${lengthWords(lengthOf(points), bench.units)}`, (doc) => {
      let n = doc.runs.length + 1;
      while (doc.runs.some((r) => r.id === `line${n}`)) n += 1;
      doc.runs.push({ id: `line${n}`, name: n === 1 ? "First line" : `Line ${n}`, points });
      if (!doc.energizer_at && doc.runs.length === 1) doc.energizer_at = tidy([points[0][0] - 5, points[0][1] - 5]);
    });
  }

  function ghostTo(point) {
    const all = point ? [...drawn, point] : drawn;
    ghost.setLatLngs(all.map(at));
    if (drawn.length) {
      const last = point ? distance(drawn.at(-1), point) : 0;
      say(`${lengthWords(lengthOf(all), bench.units)} so far${last ? `, this stretch ${lengthWords(last, bench.units)}` : ""}. Double click or Enter ends.`);
    }
  }

  const freshId = (rows, stem) => { let n = 1; while (rows.some((r) => r.id === `${stem}${n}`)) n += 1; return `${stem}${n}`; };

  function placeFixture(kind, point) {
    const found = bench.doc.runs.map((r) => ({ run: r, ...nearest(r.points, point) })).sort((a, b) => a.away - b.away)[0];
    if (!found || found.away * map.getZoomScale(map.getZoom(), 0) > 30) { say(`Click nearer to a line: a ${kind} stands on it.`); return; }
    const words = kind === "gate" ? "Gate" : "Switch";
    bench.change(`Placed a ${kind} on ${found.run.name}`, (doc) => {
      const count = doc.fixtures.filter((f) => f.kind === kind).length + 1;
      doc.fixtures.push({ id: freshId(doc.fixtures, kind), kind, run: found.run.id, at_m: Math.round(found.at * 10) / 10, name: `${words} ${count}` });
    });
    choose("points");
  }

  map.on("click", (event) => {
    const point = metres(event.latlng);
    if (ground.tool === "draw") {
      const next = snapped(point);
      if (drawn.length && distance(next, drawn.at(-1)) < 0.05) return;
      drawn.push(next);
      ghostTo(null);
      if (drawn.length > 2 && distance(next, drawn[0]) < 0.01) finish();
    } else if (ground.tool === "gate" || ground.tool === "switch") placeFixture(ground.tool, point);
    else if (ground.tool === "energizer") {
      bench.change("Placed the energizer", (doc) => { doc.energizer_at = tidy(point); });
      choose("points");
    }
    else if (ground.tool === "rods") {
      bench.change("Placed the rods", (doc) => { doc.rods.position = tidy(point); });
      choose("points");
    }
  });
  map.on("mousemove", (event) => {
    pointer = metres(event.latlng);
    if (ground.tool === "draw" && drawn.length) ghostTo(snapped(pointer));
  });
  map.on("dblclick", () => { if (ground.tool === "draw") finish(); });

  document.addEventListener("keydown", (event) => {
    if (event.target.closest("input, select, textarea, dialog")) return;
    if (ground.tool === "draw") {
      if (event.key === "Enter") finish();
      else if (event.key === "Escape") choose("points");
      else if (event.key === "Backspace" && drawn.length) { drawn.pop(); ghostTo(pointer); }
      else return;
      event.preventDefault();
    } else if ((event.key === "Delete" || event.key === "Backspace") && chosen) {
      event.preventDefault();
      removePoint(chosen);
    }
  });

  function removePoint({ run: id, index }) {
    const run = bench.run(id);
    if (run.points.length <= 2) { say("A line needs two points; remove the whole line in the card instead."); return; }
    chosen = null;
    bench.change(`Took a point off ${run.name}`, (doc) => {
      const points = run.points.filter((_, i) => i !== index);
      doc.runs = carryJoins(doc.runs, id, run.points, points);
    });
  }

  /** Lines with one point moved; ends that stood on it or beside it keep their join. */
  function movedTo(doc, id, index, point) {
    const run = doc.runs.find((r) => r.id === id);
    return carryJoins(doc.runs, id, run.points, run.points.map((p, i) => (i === index ? point : p)));
  }

  function showHandles() {
    handles.clearLayers();
    if (ground.tool !== "points") return;
    for (const run of bench.doc.runs) {
      if (run.points.length > 120) continue;
      run.points.forEach((p, index) => handle(run, index, p));
      for (let i = 1; i < run.points.length; i += 1) middle(run, i, pointAt([run.points[i - 1], run.points[i]], distance(run.points[i - 1], run.points[i]) / 2));
    }
  }

  function handle(run, index, p) {
    const name = `Point ${index + 1} of ${run.name}`;
    const marker = L.marker(at(p), { icon: icon("point", name), draggable: true, alt: name, zIndexOffset: 400 }).addTo(handles);
    marker.on("click", () => {
      chosen = { run: run.id, index };
      handles.eachLayer((m) => m.getElement()?.querySelector(".pin")?.classList.remove("chosen"));
      marker.getElement().querySelector(".pin").classList.add("chosen");
      say(`${name}. Delete takes it off.`);
    });
    marker.on("drag", () => {
      const point = snapped(metres(marker.getLatLng()), { run: run.id, index });
      const moved = movedTo(bench.doc, run.id, index, point).find((r) => r.id === run.id);
      ghost.setLatLngs(moved.points.map(at));
      say(`${run.name}: ${lengthWords(lengthOf(moved.points), bench.units)}`);
    });
    marker.on("dragend", () => {
      const point = snapped(metres(marker.getLatLng()), { run: run.id, index });
      ghost.setLatLngs([]);
      bench.change(`Moved a point of ${run.name}`, (doc) => { doc.runs = movedTo(doc, run.id, index, point); });
    });
  }

  function middle(run, index, p) {
    const marker = L.marker(at(p), { icon: icon("point mid", `Add a point to ${run.name}`), draggable: true, alt: `Add a point to ${run.name}`, zIndexOffset: 300 }).addTo(handles);
    marker.on("dragend", () => {
      const point = snapped(metres(marker.getLatLng()));
      bench.change(`Added a point to ${run.name}`, (doc) => {
        const line = doc.runs.find((r) => r.id === run.id);
        const points = [...line.points.slice(0, index), point, ...line.points.slice(index)];
        doc.runs = carryJoins(doc.runs, run.id, line.points, points);
      });
    });
  }

  bar.replaceChildren(...TOOLS.map(([tool, words]) => el("button", { type: "button", class: "act", "data-tool": tool, onclick: () => choose(tool) }, words)),
    el("button", { type: "button", class: "act", onclick: () => ground.fit() }, "Show all"));
  bench.addEventListener("state", showHandles);
  bench.addEventListener("drawn", showHandles);
  choose(bench.doc.runs.length ? "points" : "draw");
}
