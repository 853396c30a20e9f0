// Names on the ground, laid so that none covers another, and the legend.

import { el, svg } from "../basics/dom.js";
import { pointAt } from "../basics/geometry.js";
import { leadOut } from "./ground_lines.js";
import { layLabels } from "./labels.js";
import { at } from "./map_parts.js";
import { kvBounds, kvWords } from "../basics/scales.js";
import * as L from "../../vendor/leaflet/leaflet-src.esm.js";

const EDGE_PX = 40;

/** What floats over the ground. */
export const FLOATING = ".legend, .scale, .leaflet-control-zoom";

const SIGN_PX = 8; // half of a sign, and what is kept free around it
const FLAG = [-18, -52, 46, 18]; // the box of the flag around its foot
const HOVER_PX = 16;

const around = ({ x, y }, half) => [x - half, y - half, x + half, y + half];

/** Where signs stand, in metres. */
function signSpots(view) {
  const { bench, shown } = view;
  const { doc } = bench;
  const computed = () => view.computed();
  const onLine = (row) => bench.run(row.run) && pointAt(bench.run(row.run).points, row.at_m);
  const seated = (what, row, place) => place && view.seat(`${what}:${row.id}`, place);
  const lying = [
    ...doc.landmarks.filter((m) => m.points.length === 1).map((m) => seated("landmark", m, m.points[0])),
    ...doc.notes.map((n) => seated("note", n, n.at)),
  ];
  return [
    ...(shown.land ? lying : []),
    ...(shown.fixtures
      ? [...doc.fixtures.map((f) => seated("fixture", f, onLine(f))), ...doc.what_ifs.map(onLine)].filter(Boolean)
      : []),
    ...computed().joins,
    ...computed().crossings.map((c) => c.at),
    ...(shown.fixtures ? computed().bumps.map((b) => b.at) : []),
    ...(computed().rods ?? []),
  ];
}

/** The stretches of lines as pairs of pixels, what lies far outside cut off. */
function stretchesOf(view, lines) {
  const size = view.map.getSize();
  const bounds = L.bounds([-EDGE_PX, -EDGE_PX], [size.x + EDGE_PX, size.y + EDGE_PX]);
  return lines.flatMap((points) => {
    const spots = points.map((p) => view.map.latLngToContainerPoint(at(p)));
    return spots
      .slice(1)
      .map((spot, i) => L.LineUtil.clipSegment(spots[i], spot, bounds))
      .filter(Boolean);
  });
}

/** What labels keep off: signs, the flag, what floats, fences; if they can, what lies along the ground. */
function taken(view) {
  const { bench, map, shown } = view;
  const spot = (p) => map.latLngToContainerPoint(at(p));
  const boxes = signSpots(view).map((p) => around(spot(p), SIGN_PX));
  const { energizer_at: home, landmarks, runs } = bench.doc;
  if (home) boxes.push(around(spot(home), 13));
  for (const letter of view.layers.zones.getLayers().filter((l) => l.getIcon)) {
    boxes.push(around(map.latLngToContainerPoint(letter.getLatLng()), 11));
  }
  const stands = bench.place && bench.run(bench.place.run);
  if (stands) {
    const { x, y } = spot(pointAt(stands.points, bench.place.at_m));
    boxes.push([x + FLAG[0], y + FLAG[1], x + FLAG[2], y + FLAG[3]]);
  }
  const lying = shown.land ? landmarks.filter((m) => m.points.length > 1).map((m) => m.points) : [];
  const fences = stretchesOf(view, [...runs.map((r) => r.points), ...leadOut(bench)]);
  return { boxes: [...boxes, ...floats(view)], fences, lines: stretchesOf(view, lying) };
}

function boxesOf(view, what) {
  const frame = view.root.getBoundingClientRect();
  const boxes = [...view.root.querySelectorAll(what)].map((e) => e.getBoundingClientRect()).filter((b) => b.width);
  return boxes.map((b) => [b.left - frame.left, b.top - frame.top, b.right - frame.left, b.bottom - frame.top]);
}

/** What floats over the ground, in pixels: measured when one of them changed its size, not at every drawing. */
function floats(view) {
  view.floating ??= boxesOf(view, FLOATING);
  return view.floating;
}

export function labels(view) {
  const place = { map: view.map, pool: view.said, layer: view.layers.leaders };
  const words = view.shown.labels ? view.words : [];
  view.unsaid = layLabels(place, words, taken(view), view.onPaper);
}

/** Names that found no room are said while one points at what they name. */
export function sayWhenPointedAt(view) {
  const box = el("div", { class: "pointed-label", dir: "auto", hidden: true });
  view.root.append(box);
  view.map.on("mousemove", ({ containerPoint }) => {
    const near = (view.unsaid ?? []).find((label) => label.spot.distanceTo(containerPoint) < HOVER_PX);
    box.hidden = !near;
    if (!near) return;
    box.replaceChildren(el("b", {}, near.words), near.sub ?? "");
    const { x, y } = near.spot;
    const [wide, high] = [box.offsetWidth, box.offsetHeight];
    const right = x + 14 + wide < view.map.getSize().x;
    box.style.left = `${right ? x + 14 : x - 14 - wide}px`;
    box.style.top = `${Math.max(4, y - high - 4)}px`;
  });
  view.map.on("mouseout movestart", () => {
    box.hidden = true;
  });
  const drawn = (onPaper) => () => {
    view.onPaper = onPaper;
    labels(view);
  };
  window.addEventListener("beforeprint", drawn(true));
  window.addEventListener("afterprint", drawn(false));
}

const CORNERS = ["nw", "se", "sw", "ne"];
const WORSE = 1000; // to cover a fence than to cover a sign

/** Set the legend into the corner where it covers least fence, not at every move; whether it covers none there. */
export function seatLegend(view) {
  const root = document.getElementById("legend");
  if (root.hidden) return true;
  const frame = view.root.getBoundingClientRect();
  const others = boxesOf(view, FLOATING.replace(".legend, ", ""));
  const fences = stretchesOf(
    view,
    view.bench.doc.runs.map((r) => r.points),
  );
  const home = view.bench.doc.energizer_at;
  const signs = [...signSpots(view), ...(home ? [home] : [])].map((p) => view.map.latLngToContainerPoint(at(p)));
  const covers = (corner) => {
    root.dataset.corner = corner;
    const b = root.getBoundingClientRect();
    const box = L.bounds([b.left - frame.left, b.top - frame.top], [b.right - frame.left, b.bottom - frame.top]);
    if (others.some(([l, t, r, d]) => box.overlaps(L.bounds([l, t], [r, d])))) return Infinity;
    return (
      fences.filter(([from, to]) => L.LineUtil.clipSegment(from, to, box)).length * WORSE +
      signs.filter((spot) => box.contains(spot)).length
    );
  };
  const counted = CORNERS.map((corner) => ({ corner, count: covers(corner) }));
  const { corner: best, count } = counted.reduce((one, other) => (other.count < one.count ? other : one));
  root.dataset.corner = best;
  view.floating = null;
  return count < WORSE;
}

const wantedOnLinesDiffers = (bench) => new Set(bench.doc.runs.map((r) => bench.wantedOn(r.id))).size > 1;

export function legend(view) {
  const root = document.getElementById("legend");
  root.hidden = !view.bench.volts || !view.shown.kv;
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
      ` below ${wantedOnLinesDiffers(view.bench) ? "what is needed there" : `the ${kvWords(wanted)} kV needed`}`,
    ),
  );
}
