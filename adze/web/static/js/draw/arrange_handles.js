// Handles of what is chosen: its points, one grip for all, energizer and rods as they are.

import { lengthOf, nearest, tidy } from "../basics/geometry.js";
import { at, icon, metres } from "../ground/map_parts.js";
import { lengthWords } from "../basics/scales.js";

import { snapped } from "./snap.js";
import * as L from "../../vendor/leaflet/leaflet-src.esm.js";

/** One grip moves all that is chosen. */
export function grip(view) {
  const spots = [...view.bench.chosen].map((key) => view.spotOf(key)).filter(Boolean);
  const middle = [0, 1].map((k) => spots.reduce((sum, p) => sum + p[k], 0) / spots.length);
  const single = view.bench.chosen.size === 1 && [...view.bench.chosen][0].startsWith("fixture:");
  const marker = L.marker(at(middle), {
    icon: icon("grip", "Move what is chosen"),
    draggable: true,
    alt: "Move what is chosen",
    zIndexOffset: 600,
  }).addTo(view.handles);
  marker.on("drag", () => {
    const [x, y] = metres(marker.getLatLng());
    if (single) {
      const f = view.bench.find([...view.bench.chosen][0]);
      const met = nearest(view.bench.run(f.run).points, [x, y]);
      view.say(`${f.name}: ${lengthWords(met.at, view.bench.units)} along ${view.bench.run(f.run).name}`);
    } else view.say(`${lengthWords(Math.hypot(x - middle[0], y - middle[1]), view.bench.units)} from where it lay`);
  });
  marker.on("dragend", () => {
    const [x, y] = metres(marker.getLatLng());
    view.bench.do({ do: "move", chosen: view.bench.pairs(), east_m: x - middle[0], north_m: y - middle[1] });
  });
}

/** Energizer and rods are dragged as they are. */
export function fixed(view, what) {
  const point =
    what === "energizer"
      ? view.bench.doc.energizer_at
      : view.bench.doc.rods.count
        ? view.bench.doc.rods.position
        : null;
  if (!point) return;
  const words = what === "energizer" ? "Energizer" : "Rods";
  const marker = L.marker(at(point), {
    icon: icon(`hold ${what}`, words),
    draggable: true,
    alt: words,
    zIndexOffset: 350,
  }).addTo(view.handles);
  marker.on("dragend", () => {
    const to = tidy(metres(marker.getLatLng()));
    view.bench.do(what === "energizer" ? { do: "place_energizer", at: to } : { do: "place_rods", at: to, keep: true });
  });
}

export function runHandles(view, run) {
  run.points.forEach((p, index) => {
    const name = `Point ${index + 1} of ${run.name}`;
    const marker = L.marker(at(p), {
      icon: icon("point", name),
      draggable: true,
      alt: name,
      zIndexOffset: 400,
    }).addTo(view.handles);
    const moved = () => {
      const s = snapped(view.bench, view.ground, metres(marker.getLatLng()), { except: { run: run.id, index } });
      return { points: run.points.map((q, i) => (i === index ? s.point : q)), words: s.words };
    };
    marker.on("click", () => {
      view.chosenPoint = { run: run.id, index };
      view.handles.eachLayer((m) => m.getElement()?.querySelector(".pin")?.classList.remove("chosen"));
      marker.getElement().querySelector(".pin").classList.add("chosen");
      view.say(`${name}. Delete takes it off.`);
    });
    marker.on("drag", () => {
      const { points, words } = moved();
      view.ghost.setLatLngs(points.map(at));
      view.say(`${run.name}: ${lengthWords(lengthOf(points), view.bench.units)}${words ? `; ${words}` : ""}`);
    });
    marker.on("dragend", () => {
      view.ghost.setLatLngs([]);
      view.bench.do({ do: "reshape", run: run.id, points: moved().points });
    });
  });
  for (let i = 1; i < run.points.length; i += 1) {
    const half = [0, 1].map((k) => (run.points[i - 1][k] + run.points[i][k]) / 2);
    const marker = L.marker(at(half), {
      icon: icon("point mid", `Add a point to ${run.name}`),
      draggable: true,
      alt: `Add a point to ${run.name}`,
      zIndexOffset: 300,
    }).addTo(view.handles);
    marker.on("dragend", () => {
      const { point } = snapped(view.bench, view.ground, metres(marker.getLatLng()));
      view.bench.do({ do: "reshape", run: run.id, points: [...run.points.slice(0, i), point, ...run.points.slice(i)] });
    });
  }
}

export function markHandles(view, mark) {
  mark.points.forEach((p, index) => {
    const name = `Point ${index + 1} of ${mark.name || mark.kind}`;
    const marker = L.marker(at(p), {
      icon: icon("point", name),
      draggable: true,
      alt: name,
      zIndexOffset: 400,
    }).addTo(view.handles);
    marker.on("dragend", () => {
      const to = tidy(metres(marker.getLatLng()));
      const points = mark.points.map((q, k) => (k === index ? to : q));
      view.bench.do({ do: "shape_landmark", landmark: mark.id, points });
    });
  });
}
