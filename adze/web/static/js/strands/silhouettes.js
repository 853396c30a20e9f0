// Animals as outlines to scale, drawn from their own body figures and the outline of their kind (animals.csv).

import { poly, smooth } from "../basics/curves.js";
import { svg } from "../basics/dom.js";
import { walker } from "./silhouette_walker.js";

function croucher(b, s, nose) {
  const L = b.long * s;
  const head = s * 0.5;
  const body = [
    [0, s * 0.82],
    [0.3 * L, s * 1.0],
    [0.62 * L, s * 1.08],
    [0.9 * L, s * 0.78],
    [0.98 * L, s * 0.36],
    [0.9 * L, s * 0.02],
    [0.55 * L, 0],
    [0.5 * L, s * 0.18],
    [0.24 * L, s * 0.14],
    [0.2 * L, 0],
    [0.02 * L, 0],
    [0.04 * L, s * 0.3],
    [-head * 0.35, nose * 0.72],
    [-head * 0.85, nose * 0.82],
    [-head * 0.98, nose * 1.05],
    [-head * 0.6, nose * 1.4],
    [-head * 0.1, nose * 1.55],
  ];
  const ear = s * b.ears;
  const ears = [0, 0.16].map((lean) =>
    smooth([
      [-head * 0.25 + lean * s, nose * 1.42],
      [ear * (0.1 + lean), nose * 1.42 + ear * 0.75],
      [ear * (0.34 + lean), nose * 1.42 + ear * 0.92],
      [ear * (0.3 + lean), nose * 1.42 + ear * 0.5],
      [head * 0.12 + lean * s, nose * 1.42],
    ]),
  );
  return {
    parts: [
      smooth(body),
      ...ears,
      smooth([
        [0.93 * L, s * 0.5],
        [1.06 * L, s * 0.6],
        [1.08 * L, s * 0.4],
        [0.96 * L, s * 0.3],
      ]),
    ],
    left: -head,
    right: 1.1 * L,
  };
}

function bird(b, s) {
  const top = b.neck === 1 ? s * 1.9 : s * 1.35;
  const body = [
    [0.0, s * 0.95],
    [0.4 * s, s * 0.98],
    [0.95 * s, s * (0.8 + b.tail * 0.5)],
    [1.2 * s, s * (0.85 + b.tail * 0.6)],
    [1.02 * s, s * 0.62],
    [0.75 * s, s * 0.36],
    [0.35 * s, s * 0.3],
    [-0.02 * s, s * 0.42],
    [-0.16 * s, s * 0.72],
    [-0.2 * s, top * 0.8],
    [-0.42 * s, top * 0.84],
    [-0.66 * s, top * 0.83],
    [-0.44 * s, top * 0.94],
    [-0.24 * s, top],
    [-0.06 * s, top * 0.92],
    [-0.04 * s, top * 0.75],
  ];
  const legs = [0.28, 0.46].map((x) =>
    poly([
      [x * s, s * 0.36],
      [x * s + s * 0.02, 0.03 * s],
      [x * s - s * 0.12, 0],
      [x * s + s * 0.1, 0],
      [x * s + s * 0.07, s * 0.36],
    ]),
  );
  return { parts: [smooth(body), ...legs], left: -0.66 * s, right: 1.25 * s };
}

const BODIES = { walker, croucher, bird };

function pathsOf({ key, outline, shoulder_cm: shoulder, nose_cm: nose, head_cm: head }) {
  const body = BODIES[outline?.body];
  if (!body) throw new Error(`${key}: no outline for this kind of animal`);
  return body(outline, shoulder, nose, head);
}

/** How wide an animal is, cm. */
export function animalWidth(figures) {
  const { left, right } = pathsOf(figures);
  return right - left;
}

/** An animal as SVG, its nose at x, feet on y; `scale` pixels for each cm. Returns its group and how wide it is. */
export function animal(figures, { x, y, scale, fill }) {
  const { parts, left, right } = pathsOf(figures);
  const transform = `translate(${x - left * scale} ${y}) scale(${scale} ${-scale})`;
  const group = svg("g", { fill, transform }, ...parts.map((d) => svg("path", { d })));
  return { group, width: (right - left) * scale };
}
