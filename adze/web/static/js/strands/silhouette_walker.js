// Four-footed animals: the trunk with neck and head, and the legs, on a frame from the body's own figures.

import { poly, smooth } from "../basics/curves.js";
import { EARS, HORNS, MARKS, TAILS } from "./silhouette_features.js";

const LONG_TAILS = { brush: 1, long: 0.8 }; // of the shoulder's height; others hang close

/** The frame of a body: cm, y upward, withers at x = 0, nose to the left at its height. */
function frameOf(b, s, nose, headWidth) {
  const L = b.long * s;
  const belly = s * (1 - b.deep);
  const hl = b.head * s;
  const hw = Math.min(headWidth * 1.1, hl * 0.62);
  const noseX = -(b.neck * 0.9 + b.head * 0.85) * s * (nose > 0.75 * s ? 0.82 : 1);
  const slope = Math.max(-0.75, Math.min(0.5, (s * 0.93 - nose) / (s * 0.95) - 0.12));
  const lift = hl * Math.sin(Math.abs(slope)) * (slope > -0.1 ? 1 : 0.7);
  const [px, py] = [noseX + hl * Math.cos(slope), nose + lift + hw * 0.42];
  return { L, s, belly, hl, hw, noseX, nose, px, py, e: hl * 0.3, tx: 0.975 * L, leg: b.leg * s };
}

function trunk(b, f) {
  const { L, s, belly, hl, hw, noseX, nose } = f;
  const poll = [f.px, f.py];
  const hump = b.crest ? 1.05 : 1;
  const low = nose < s * 0.6;
  const crest = b.crest ? s * 0.06 : low ? s * 0.045 : s * 0.02;
  return smooth([
    [0.02 * L, s * hump],
    [0.28 * L, s * (b.wool ? 1.0 : 0.965)],
    [0.62 * L, s * (b.wool ? 1.01 : 0.975)],
    [0.88 * L, s * 0.97],
    [0.985 * L, s * 0.84],
    [0.99 * L, s * 0.64],
    [0.92 * L, belly + s * 0.08],
    [0.76 * L, belly + s * 0.055],
    [0.5 * L, belly],
    [0.2 * L, belly - s * 0.015],
    [0.0, belly + s * 0.03],
    [-0.075 * L, s * 0.66],
    [-0.075 * L - b.neck * 0.3 * s, (s * 0.66 + nose) / 2 + (low ? s * 0.06 : s * 0.1)],
    [poll[0] + hw * 0.1, poll[1] - hw * 1.12],
    [noseX + hl * 0.42, nose - hw * (b.snout ? 0.3 : 0.36)],
    [noseX + hl * 0.1, nose - hw * 0.34],
    [noseX, nose - hw * 0.06],
    [noseX + hl * 0.03, nose + hw * 0.24],
    [noseX + hl * 0.42, nose + hw * 0.42 + (poll[1] - nose) * 0.24],
    [poll[0], poll[1]],
    [poll[0] + (0 - poll[0]) * 0.5, (poll[1] + s * hump) / 2 + crest],
  ]);
}

const front = (x, { leg, belly, s }) =>
  poly([
    [x, belly + s * 0.12],
    [x + leg * 0.08, belly * 0.48],
    [x + leg * 0.16, s * 0.05],
    [x + leg * 0.02, 0],
    [x + leg * 0.82, 0],
    [x + leg * 0.74, s * 0.055],
    [x + leg * 0.86, belly * 0.48],
    [x + leg * 1.3, belly + s * 0.12],
  ]);

const hind = (x, { leg, belly, s }) =>
  poly([
    [x - leg * 0.55, belly + s * 0.18],
    [x + leg * 0.25, belly * 0.62],
    [x + leg * 0.42, belly * 0.5],
    [x + leg * 0.2, s * 0.05],
    [x + leg * 0.06, 0],
    [x + leg * 0.84, 0],
    [x + leg * 0.84, s * 0.06],
    [x + leg * 1.16, belly * 0.52],
    [x + leg * 1.12, belly * 0.7],
    [x + leg * 1.5, belly + s * 0.22],
  ]);

/** Paths of a four-footed animal, and how far it reaches to both sides. */
export function walker(b, s, nose, headWidth) {
  const f = frameOf(b, s, nose, headWidth);
  const { L } = f;
  const parts = [trunk(b, f), front(0.015 * L, f), front(0.125 * L, f), hind(0.775 * L, f), hind(0.885 * L, f)];
  parts.push(EARS[b.ear](f), ...(TAILS[b.tail] ? [TAILS[b.tail](f)] : []), ...(HORNS[b.horn]?.(f) ?? []));
  for (const [name, mark] of Object.entries(MARKS)) if (b[name]) parts.push(mark(f));
  return { parts, left: f.noseX, right: f.tx + (LONG_TAILS[b.tail] ?? 0.15) * s };
}
