// The small signs on the ground: what stands on the line and what lies beside it. Each also has its word.

import { svg } from "./dom.js";

const ink = { stroke: "var(--ink)", "stroke-width": 1.6, fill: "var(--panel)" };
const dark = { fill: "var(--ink)" };

export const SPOTS = {
  mains: () => [
    svg("rect", { x: 3, y: 3, width: 10, height: 10, ...ink }),
    svg("path", { d: "M6 6v3M10 6v3M8 9v4", stroke: "var(--ink)", "stroke-width": 1.5 }),
  ],
  supply_earth: () => [svg("path", { d: "M8 2v5M3 7h10M5 10h6M7 13h2", stroke: "var(--ink)", "stroke-width": 1.6 })],
  trough: () => [svg("path", { d: "M1 5h14l-2 7H3Z", ...ink, fill: "var(--water)" })],
  water_point: () => [svg("path", { d: "M8 2c4 5 5 6 5 8a5 5 0 0 1-10 0c0-2 1-3 5-8Z", ...ink, fill: "var(--water)" })],
  well: () => [
    svg("circle", { cx: 8, cy: 8, r: 5.5, ...ink, fill: "var(--water)" }),
    svg("circle", { cx: 8, cy: 8, r: 2.2, ...ink }),
  ],
  tree: () => [
    svg("circle", { cx: 8, cy: 6, r: 5, ...ink, fill: "var(--wood)" }),
    svg("path", { d: "M8 10v5", stroke: "var(--ink)", "stroke-width": 1.8 }),
  ],
  step: () => [svg("path", { d: "M2 14V10h4V6h4V2h4v12Z", ...ink })],
  hive: () => [svg("path", { d: "M3 13h10M4 10h8M4 7h8M6 4h4", stroke: "var(--ink)", "stroke-width": 1.9 })],
  nest: () => [svg("path", { d: "M2 7c1 6 11 6 12 0", ...ink }), svg("circle", { cx: 8, cy: 8, r: 1.8, ...dark })],
  hutch: () => [svg("path", { d: "M2 8l6-5 6 5v6H2Z", ...ink })],
  mark: () => [svg("path", { d: "M8 15V2h5l-2 2.500 2 2.500H8", ...ink })],
  other_unit: () => [
    svg("path", { d: "M2 7l6-5 6 5v7H2Z", ...ink }),
    svg("path", { d: "M9 6l-3 4h3l-1 3 4-5H9Z", ...dark }),
  ],
  note: () => [
    svg("path", { d: "M3 2h10v12H3Z", ...ink }),
    svg("path", { d: "M5 5h6M5 8h6M5 11h4", stroke: "var(--ink)", "stroke-width": 1.2 }),
  ],
};

const drawn = (parts, size) => svg("svg", { viewBox: "0 0 16 16", width: size, height: size, class: "sign" }, ...parts);

/** The parts of a fixture's sign: its outline, and the strokes of how it stands. `kind` is its row of the table. */
export function fixtureParts(kind, isOpen) {
  const strokes = (isOpen && kind.open_strokes) || kind.strokes;
  const wide = kind.ink === "return" ? 2.6 : 1.7;
  return [
    kind.outline && svg("path", { d: kind.outline, ...ink }),
    strokes && svg("path", { d: strokes, fill: "none", stroke: `var(--${kind.ink})`, "stroke-width": wide }),
  ].filter(Boolean);
}

/** The parts of the sign of something gone wrong. */
export const mishapParts = () => [
  svg("path", { d: "M8 1l7.500 13.500H.5Z", ...dark }),
  svg("path", { d: "M8 6v4.500m0 1.500v1.500", stroke: "var(--panel)", "stroke-width": 1.8 }),
];

export const fixtureSign = (kind, isOpen, size = 16) => drawn(fixtureParts(kind, isOpen), size);
export const mishapSign = (size = 16) => drawn(mishapParts(), size);
export const spotSign = (kind, size = 16) => drawn(SPOTS[kind](), size);
