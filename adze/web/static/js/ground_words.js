// Names on the ground, laid so that none covers another, and the legend.

import { el, svg } from "./dom.js";
import { pointAt } from "./geometry.js";
import { layLabels } from "./labels.js";
import { at } from "./map_parts.js";
import { kvBounds, kvWords } from "./scales.js";

/** What floats over the ground. */
export const FLOATING = ".ground-tools, .legend, .ground-says, .scale, .leaflet-control-zoom";

/** Boxes in pixels that labels keep off: signs, the flag, what floats over the ground. */
function taken(view) {
  const lying = view.shown.land
    ? [
        ...view.bench.doc.landmarks.filter((m) => m.points.length === 1).map((m) => m.points[0]),
        ...view.bench.doc.notes.map((n) => n.at),
      ]
    : [];
  const home = view.bench.doc.energizer_at ? [view.bench.doc.energizer_at] : [];
  const spots = [
    ...lying,
    ...home,
    ...(view.shown.fixtures
      ? view.bench.doc.fixtures
          .map((f) => view.bench.run(f.run) && pointAt(view.bench.run(f.run).points, f.at_m))
          .filter(Boolean)
      : []),
    ...view.computed().joins,
  ];
  const boxes = spots.map((p) => {
    const { x, y } = view.map.latLngToContainerPoint(at(p));
    return [x - 7, y - 7, x + 7, y + 7];
  });
  return [
    ...boxes,
    ...floats(view),
    ...view.layers.zones
      .getLayers()
      .filter((l) => l.getIcon)
      .map((l) => {
        const { x, y } = view.map.latLngToContainerPoint(l.getLatLng());
        return [x - 11, y - 11, x + 11, y + 11];
      }),
  ];
}

/** What floats over the ground, in pixels: measured when one of them changed its size, not at every drawing. */
function floats(view) {
  if (view.floating) return view.floating;
  const frame = view.root.getBoundingClientRect();
  const boxes = [...view.root.querySelectorAll(FLOATING)].map((e) => e.getBoundingClientRect()).filter((b) => b.width);
  view.floating = boxes.map((b) => [
    b.left - frame.left,
    b.top - frame.top,
    b.right - frame.left,
    b.bottom - frame.top,
  ]);
  return view.floating;
}

export function labels(view) {
  const busy = taken(view);
  const run = view.bench.place && view.bench.run(view.bench.place.run);
  if (run) {
    const { x, y } = view.map.latLngToContainerPoint(at(pointAt(run.points, view.bench.place.at_m)));
    busy.push([x - 18, y - 52, x + 46, y + 18]);
  }
  layLabels(view.map, view.said, view.shown.labels ? view.words : [], busy);
}

const wantedOnLinesDiffers = (bench) => new Set(bench.doc.runs.map((r) => bench.wantedOn(r.id))).size > 1;

export function legend(view) {
  const root = document.getElementById("legend");
  root.hidden = !view.bench.volts || !view.shown.kv;
  root.classList.toggle("low", ["ground", "earth"].includes(view.bench.stage));
  if (root.hidden) return;
  const wanted = view.bench.forecast.wanted_kv;
  const bounds = kvBounds(wanted);
  root.replaceChildren(
    el("b", {}, "kV a tester reads"),
    ...[0, 1, 2, 3, 4].map((i) => {
      const step = el("span", {}, i === 0 ? `< ${kvWords(bounds[0])}` : `${kvWords(bounds[i - 1])}–`);
      step.style.borderTopColor = `var(--kv-${i + 1})`;
      return step;
    }),
    el(
      "div",
      {},
      svg(
        "svg",
        { width: 30, height: 6 },
        svg("path", { d: "M0 3h30", stroke: "currentColor", "stroke-width": 3, "stroke-dasharray": "4 3" }),
      ),
      ` short of ${wantedOnLinesDiffers(view.bench) ? "what is wanted there" : `${kvWords(wanted)} wanted`}`,
    ),
  );
}
