// Animals as outlines to scale, drawn from their own body figures: shoulder, nose, head width, and their build.

import { svg } from "./dom.js";

/** Build: length of body over shoulder, belly and leg, and what marks the kind. */
const BUILDS = {
  cow: { long: 1.22, deep: 0.52, leg: 0.105, neck: 0.3, head: 0.36, ear: "side", horn: "short", tail: "switch", udder: true },
  beef_cow: { long: 1.2, deep: 0.56, leg: 0.12, neck: 0.36, head: 0.34, ear: "side", tail: "switch" },
  calf: { long: 1.0, deep: 0.42, leg: 0.11, neck: 0.26, head: 0.36, ear: "side", tail: "switch" },
  horse: { long: 1.02, deep: 0.42, leg: 0.09, neck: 0.36, head: 0.42, ear: "up", tail: "full", mane: true },
  pony: { long: 1.1, deep: 0.48, leg: 0.1, neck: 0.4, head: 0.42, ear: "up", tail: "full", mane: true },
  donkey: { long: 1.05, deep: 0.46, leg: 0.09, neck: 0.34, head: 0.44, ear: "long", tail: "switch", mane: true },
  ewe: { long: 1.12, deep: 0.62, leg: 0.085, neck: 0.34, head: 0.34, ear: "side", tail: "stub", wool: true },
  lamb: { long: 0.95, deep: 0.46, leg: 0.11, neck: 0.28, head: 0.36, ear: "side", tail: "hang" },
  goat: { long: 1.08, deep: 0.5, leg: 0.085, neck: 0.27, head: 0.32, ear: "side", horn: "back", beard: true, tail: "up" },
  dwarf_goat: { long: 1.15, deep: 0.58, leg: 0.1, neck: 0.3, head: 0.36, ear: "side", horn: "back", beard: true, tail: "up" },
  alpaca: { long: 0.86, deep: 0.46, leg: 0.085, neck: 0.52, head: 0.24, ear: "up", tail: "stub", wool: true },
  sow: { long: 1.5, deep: 0.68, leg: 0.12, neck: 0.5, head: 0.46, ear: "flop", tail: "curl", snout: true },
  weaner: { long: 1.35, deep: 0.58, leg: 0.13, neck: 0.44, head: 0.46, ear: "up", tail: "curl", snout: true },
  boar: { long: 1.36, deep: 0.62, leg: 0.1, neck: 0.56, head: 0.52, ear: "up", tail: "hang", snout: true, crest: true, tusk: true },
  deer: { long: 1.02, deep: 0.4, leg: 0.065, neck: 0.26, head: 0.3, ear: "side", horn: "antler", tail: "stub" },
  bear: { long: 1.4, deep: 0.62, leg: 0.18, neck: 0.46, head: 0.36, ear: "round", tail: "none", crest: true },
  fox: { long: 1.3, deep: 0.4, leg: 0.085, neck: 0.26, head: 0.46, ear: "up", tail: "brush" },
  badger: { long: 1.9, deep: 0.68, leg: 0.2, neck: 0.44, head: 0.5, ear: "round", tail: "stub" },
  dog: { long: 1.12, deep: 0.46, leg: 0.1, neck: 0.32, head: 0.4, ear: "flop", tail: "up" },
  cat: { long: 1.45, deep: 0.46, leg: 0.11, neck: 0.28, head: 0.34, ear: "up", tail: "long" },
  rabbit: { crouch: true, long: 1.7, ears: 0.75 },
  hare: { crouch: true, long: 1.55, ears: 0.95 },
  goose: { bird: true, neck: 1, tail: 0.25 },
  hen: { bird: true, neck: 0.4, tail: 0.7 },
};

/** A smooth closed path through points (Catmull and Rom, as cubic curves). */
export function smooth(points) {
  const n = points.length;
  const p = (i) => points[(i + n) % n];
  let d = `M${p(0).map((v) => v.toFixed(2)).join(" ")}`;
  for (let i = 0; i < n; i += 1) {
    const [a, b, c, e] = [p(i - 1), p(i), p(i + 1), p(i + 2)];
    const one = [b[0] + (c[0] - a[0]) / 6, b[1] + (c[1] - a[1]) / 6];
    const two = [c[0] - (e[0] - b[0]) / 6, c[1] - (e[1] - b[1]) / 6];
    d += `C${[...one, ...two, ...c].map((v) => v.toFixed(2)).join(" ")}`;
  }
  return `${d}Z`;
}

const poly = (points) => `M${points.map((p) => p.map((v) => v.toFixed(2)).join(" ")).join("L")}Z`;

/** Four-footed: nose to the left at its height, withers at x = 0. Units: cm, y upward. */
function walker(b, s, nose, headWidth) {
  const L = b.long * s;
  const belly = s * (1 - b.deep);
  const hl = b.head * s;
  const hw = Math.min(headWidth * 1.1, hl * 0.62);
  const noseX = -(b.neck * 0.9 + b.head * 0.85) * s * (nose > 0.75 * s ? 0.82 : 1);
  const slope = Math.max(-0.75, Math.min(0.5, (s * 0.93 - nose) / (s * 0.95) - 0.12));
  const poll = [noseX + hl * Math.cos(slope), nose + hl * Math.sin(Math.abs(slope)) * (slope > -0.1 ? 1 : 0.7) + hw * 0.42];
  const hump = b.crest ? 1.05 : 1;
  const outline = [
    [0.02 * L, s * hump], [0.28 * L, s * (b.wool ? 1.0 : 0.965)], [0.62 * L, s * (b.wool ? 1.01 : 0.975)], [0.88 * L, s * 0.97], [0.985 * L, s * 0.84],
    [0.99 * L, s * 0.64], [0.92 * L, belly + s * 0.08], [0.76 * L, belly + s * 0.055], [0.5 * L, belly], [0.2 * L, belly - s * 0.015], [0.0, belly + s * 0.03], [-0.075 * L, s * 0.66],
    [-0.075 * L - (b.neck * 0.3) * s, (s * 0.66 + nose) / 2 + (nose < s * 0.6 ? s * 0.06 : s * 0.1)],
    [poll[0] + hw * 0.1, poll[1] - hw * 1.12], [noseX + hl * 0.42, nose - hw * (b.snout ? 0.3 : 0.36)], [noseX + hl * 0.1, nose - hw * 0.34], [noseX, nose - hw * 0.06], [noseX + hl * 0.03, nose + hw * 0.24],
    [noseX + hl * 0.42, nose + hw * 0.42 + (poll[1] - nose) * 0.24], [poll[0], poll[1]],
    [poll[0] + (0 - poll[0]) * 0.5, (poll[1] + s * hump) / 2 + (b.crest ? s * 0.06 : nose < s * 0.6 ? s * 0.045 : s * 0.02)],
  ];
  const parts = [smooth(outline)];
  const leg = b.leg * s;
  const front = (x) => poly([[x, belly + s * 0.12], [x + leg * 0.08, belly * 0.48], [x + leg * 0.16, s * 0.05], [x + leg * 0.02, 0], [x + leg * 0.82, 0], [x + leg * 0.74, s * 0.055], [x + leg * 0.86, belly * 0.48], [x + leg * 1.3, belly + s * 0.12]]);
  const hind = (x) => poly([[x - leg * 0.55, belly + s * 0.18], [x + leg * 0.25, belly * 0.62], [x + leg * 0.42, belly * 0.5], [x + leg * 0.2, s * 0.05], [x + leg * 0.06, 0], [x + leg * 0.84, 0], [x + leg * 0.84, s * 0.06], [x + leg * 1.16, belly * 0.52], [x + leg * 1.12, belly * 0.7], [x + leg * 1.5, belly + s * 0.22]]);
  parts.push(front(0.015 * L), front(0.125 * L), hind(0.775 * L), hind(0.885 * L));
  const [px, py] = poll;
  const e = hl * 0.3;
  const ears = {
    side: poly([[px + hw * 0.06, py - hw * 0.02], [px + e * 0.95, py + e * 0.3], [px + e * 0.3, py - e * 0.42]]),
    up: poly([[px - e * 0.25, py - hw * 0.1], [px + e * 0.1, py + e * 0.95], [px + e * 0.42, py - hw * 0.2]]),
    long: poly([[px - e * 0.22, py - hw * 0.1], [px + e * 0.15, py + e * 1.7], [px + e * 0.42, py - hw * 0.1]]),
    flop: smooth([[px - e * 0.1, py], [px + e * 0.55, py + e * 0.05], [px + e * 0.35, py - e * 0.95], [px - e * 0.05, py - e * 0.6]]),
    round: smooth([[px - e * 0.2, py - e * 0.1], [px, py + e * 0.42], [px + e * 0.4, py + e * 0.3], [px + e * 0.45, py - e * 0.1]]),
  };
  parts.push(ears[b.ear]);
  const tx = 0.975 * L;
  const tails = {
    switch: smooth([[tx, s * 0.93], [tx + s * 0.045, s * 0.86], [tx + s * 0.055, s * 0.5], [tx + s * 0.085, s * 0.36], [tx + s * 0.05, s * 0.25], [tx + s * 0.02, s * 0.36], [tx + s * 0.025, s * 0.6], [tx - s * 0.01, s * 0.82]]),
    full: smooth([[tx - s * 0.02, s * 0.93], [tx + s * 0.1, s * 0.86], [tx + s * 0.15, s * 0.5], [tx + s * 0.1, s * 0.22], [tx + s * 0.035, s * 0.3], [tx + s * 0.02, s * 0.7]]),
    stub: smooth([[tx - s * 0.02, s * 0.88], [tx + s * 0.05, s * 0.84], [tx + s * 0.05, s * 0.68], [tx, s * 0.7]]),
    hang: smooth([[tx - s * 0.02, s * 0.88], [tx + s * 0.035, s * 0.82], [tx + s * 0.045, s * 0.5], [tx + s * 0.01, s * 0.5]]),
    up: smooth([[tx - s * 0.03, s * 0.84], [tx + s * 0.05, s * 0.95], [tx + s * 0.06, s * 1.07], [tx + s * 0.12, s * 1.02], [tx + s * 0.07, s * 0.84]]),
    curl: smooth([[tx, s * 0.8], [tx + s * 0.06, s * 0.84], [tx + s * 0.08, s * 0.74], [tx + s * 0.04, s * 0.74], [tx + s * 0.05, s * 0.8], [tx + s * 0.01, s * 0.76]]),
    brush: smooth([[tx - s * 0.04, s * 0.86], [tx + s * 0.3, s * 0.66], [tx + s * 0.75, s * 0.36], [tx + s * 0.98, s * 0.2], [tx + s * 0.78, s * 0.18], [tx + s * 0.4, s * 0.36], [tx + s * 0.1, s * 0.62]]),
    long: smooth([[tx - s * 0.03, s * 0.86], [tx + s * 0.3, s * 0.62], [tx + s * 0.55, s * 0.62], [tx + s * 0.78, s * 0.8], [tx + s * 0.76, s * 0.68], [tx + s * 0.55, s * 0.52], [tx + s * 0.25, s * 0.5], [tx, s * 0.7]]),
  };
  if (tails[b.tail]) parts.push(tails[b.tail]);
  if (b.udder) parts.push(smooth([[0.66 * L, belly + s * 0.08], [0.66 * L, belly - s * 0.06], [0.74 * L, belly - s * 0.1], [0.81 * L, belly + s * 0.02]]));
  if (b.horn === "short") parts.push(poly([[px - e * 0.2, py - e * 0.05], [px - e * 0.55, py + e * 0.6], [px + e * 0.12, py + e * 0.08]]));
  if (b.horn === "back") parts.push(smooth([[px - e * 0.1, py], [px + e * 0.25, py + e * 0.9], [px + e * 1.2, py + e * 1.1], [px + e * 0.55, py + e * 0.65], [px + e * 0.3, py]]));
  if (b.horn === "antler") {
    const h = s * 0.46;
    for (const lean of [-0.16, 0.2]) parts.push(poly([[px - e * 0.05, py], [px + h * lean, py + h * 0.5], [px + h * (lean - 0.26), py + h * 0.78], [px + h * (lean + 0.03), py + h * 0.62], [px + h * (lean + 0.06), py + h], [px + h * (lean + 0.12), py + h * 0.6], [px + h * (lean + 0.34), py + h * 0.86], [px + h * (lean + 0.13), py + h * 0.46], [px + e * 0.16, py]]));
  }
  if (b.beard) parts.push(poly([[noseX + hl * 0.3, nose - hw * 0.3], [noseX + hl * 0.42, nose - hw * 1.05], [noseX + hl * 0.55, nose - hw * 0.3]]));
  if (b.mane) parts.push(smooth([[px, py + e * 0.1], [px * 0.5, (py + s) / 2 + s * 0.075], [0.06 * L, s * 1.01], [px * 0.45, (py + s) / 2 - s * 0.04]]));
  return { parts, left: noseX, right: tx + (b.tail === "brush" ? s : b.tail === "long" ? 0.8 * s : 0.15 * s) };
}

function croucher(b, s, nose) {
  const L = b.long * s;
  const head = s * 0.5;
  const body = [[0, s * 0.82], [0.3 * L, s * 1.0], [0.62 * L, s * 1.08], [0.9 * L, s * 0.78], [0.98 * L, s * 0.36], [0.9 * L, s * 0.02], [0.55 * L, 0], [0.5 * L, s * 0.18], [0.24 * L, s * 0.14], [0.2 * L, 0], [0.02 * L, 0], [0.04 * L, s * 0.3],
    [-head * 0.35, nose * 0.72], [-head * 0.85, nose * 0.82], [-head * 0.98, nose * 1.05], [-head * 0.6, nose * 1.4], [-head * 0.1, nose * 1.55]];
  const ear = s * b.ears;
  const ears = [0, 0.16].map((lean) => smooth([[-head * 0.25 + lean * s, nose * 1.42], [ear * (0.1 + lean), nose * 1.42 + ear * 0.75], [ear * (0.34 + lean), nose * 1.42 + ear * 0.92], [ear * (0.3 + lean), nose * 1.42 + ear * 0.5], [head * 0.12 + lean * s, nose * 1.42]]));
  return { parts: [smooth(body), ...ears, smooth([[0.93 * L, s * 0.5], [1.06 * L, s * 0.6], [1.08 * L, s * 0.4], [0.96 * L, s * 0.3]])], left: -head, right: 1.1 * L };
}

function bird(b, s) {
  const top = b.neck === 1 ? s * 1.9 : s * 1.35;
  const body = [[0.0, s * 0.95], [0.4 * s, s * 0.98], [0.95 * s, s * (0.8 + b.tail * 0.5)], [1.2 * s, s * (0.85 + b.tail * 0.6)], [1.02 * s, s * 0.62], [0.75 * s, s * 0.36], [0.35 * s, s * 0.3], [-0.02 * s, s * 0.42], [-0.16 * s, s * 0.72],
    [-0.2 * s, top * 0.8], [-0.42 * s, top * 0.84], [-0.66 * s, top * 0.83], [-0.44 * s, top * 0.94], [-0.24 * s, top], [-0.06 * s, top * 0.92], [-0.04 * s, top * 0.75]];
  const legs = [0.28, 0.46].map((x) => poly([[x * s, s * 0.36], [x * s + s * 0.02, 0.03 * s], [x * s - s * 0.12, 0], [x * s + s * 0.1, 0], [x * s + s * 0.07, s * 0.36]]));
  return { parts: [smooth(body), ...legs], left: -0.66 * s, right: 1.25 * s };
}

/** An animal as SVG, its nose at x, feet on y; `scale` pixels for each cm. Returns its group and how wide it is. */
export function animal(kind, figures, { x, y, scale, fill }) {
  const build = BUILDS[kind] ?? BUILDS.dog;
  const make = build.bird ? bird : build.crouch ? croucher : walker;
  const drawn = make(build, figures.shoulder_cm, figures.nose_cm, figures.head_cm);
  const group = svg("g", { fill, transform: `translate(${x - drawn.left * scale} ${y}) scale(${scale} ${-scale})` }, ...drawn.parts.map((d) => svg("path", { d })));
  return { group, width: (drawn.right - drawn.left) * scale };
}
