// The small signs on the ground: what stands on the line and what lies beside it. Each also has its word.

import { svg } from "./dom.js";

const ink = { stroke: "var(--ink)", "stroke-width": 1.6, fill: "var(--panel)" };
const dark = { fill: "var(--ink)" };
const cool = { stroke: "var(--return)", "stroke-width": 2.6, fill: "none" };

export const FIXTURES = {
  gate: (open) => [
    svg("path", { d: "M2 8l6-6 6 6-6 6Z", ...ink }),
    open ? svg("path", { d: "M4 12L12 4", stroke: "var(--ink)", "stroke-width": 1.6 }) : null,
  ],
  switch: (open) => [
    svg("rect", { x: 3, y: 3, width: 10, height: 10, rx: 2, ...ink }),
    svg("path", { d: open ? "M5 11l5-6" : "M5 8h6", stroke: "var(--ink)", "stroke-width": 1.8 }),
  ],
  crossing: () => [
    svg("path", { d: "M1 4h14M1 12h14", ...ink }),
    svg("path", { d: "M8 4v8", stroke: "var(--ink)", "stroke-width": 1.4, "stroke-dasharray": "2 1.5" }),
  ],
  join: () => [svg("path", { d: "M5 2v12M11 2v12", stroke: "var(--ink)", "stroke-width": 1.6 })],
  strain: () => [svg("path", { d: "M3 3l10 10M13 3L3 13", stroke: "var(--ink)", "stroke-width": 2 })],
  rods: () => [svg("path", { d: "M5 3v10M11 3v10M5 3h6", ...cool })],
  diverter: () => [
    svg("path", { d: "M8 1l6 12H2Z", ...ink }),
    svg("path", { d: "M8 6v4", stroke: "var(--pulse)", "stroke-width": 2 }),
  ],
  test: () => [svg("circle", { cx: 8, cy: 8, r: 5.5, ...ink }), svg("circle", { cx: 8, cy: 8, r: 2, ...dark })],
  what_if: () => [
    svg("path", { d: "M8 1l7.500 13.500H.5Z", fill: "var(--ink)" }),
    svg("path", { d: "M8 6v4.500m0 1.500v1.500", stroke: "var(--panel)", "stroke-width": 1.8 }),
  ],
  sign: () => [svg("path", { d: "M2 3h12v7H2ZM8 10v5", ...ink })],
};

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

export const fixtureSign = (kind, open, size = 16) => drawn(FIXTURES[kind](open), size);
export const spotSign = (kind, size = 16) => drawn(SPOTS[kind](), size);
