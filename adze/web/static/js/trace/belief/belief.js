// What each hypothesis thinks of unit, rods and growth, one Kalman step a reading; bad readings are capped (belief.py).
//
// Doubts of H hypotheses: logWeight (H), mean (3 H), cov (6 H: the upper triangle, row by row).

import { belief } from "../constants.js";
import { CUT, RODS } from "../solver/fence.js";
import { LOG_RODS } from "../solver/predicted.js";

const { CAP, MEAN_CAP, OWN_PLACE_CAP, OTHER_WAY, MODEL_KV, MODEL_A, LOCAL_GRASS, GRASSY_AMPS } = belief;

/** Hypotheses of these weights that have read nothing; `known` is what is known of the doubts already. */
export function fresh(logWeight, known) {
  const count = logWeight.length;
  const found = { logWeight, mean: new Float64Array(3 * count), cov: new Float64Array(6 * count) };
  for (let h = 0; h < count; h++) {
    found.mean.set(known.mean, 3 * h);
    found.cov.set(known.cov, 6 * h);
  }
  return found;
}

export function partOf(doubts, chosen) {
  const logWeight = Float64Array.from(chosen, (h) => doubts.logWeight[h]);
  const [mean, cov] = [new Float64Array(3 * chosen.length), new Float64Array(6 * chosen.length)];
  chosen.forEach((h, k) => {
    mean.set(doubts.mean.subarray(3 * h, 3 * h + 3), 3 * k);
    cov.set(doubts.cov.subarray(6 * h, 6 * h + 6), 6 * k);
  });
  return { logWeight, mean, cov };
}

/** How kV turn with unit, rods and growth under each hypothesis. */
export function kvSlopes({ kv, rodsKv, grassKv, healthyKv }) {
  const found = new Float64Array(3 * kv.length);
  for (let h = 0; h < kv.length; h++) {
    found[3 * h] = kv[h];
    found[3 * h + 1] = (rodsKv[h] - kv[h]) / LOG_RODS;
    found[3 * h + 2] = (grassKv * kv[h]) / Math.max(healthyKv, 1e-6);
  }
  return found;
}

export function ampsSlopes({ kv, amps, rodsA, grassA, healthyKv }) {
  const found = new Float64Array(3 * amps.length);
  for (let h = 0; h < amps.length; h++) {
    found[3 * h] = amps[h];
    found[3 * h + 1] = (rodsA[h] - amps[h]) / LOG_RODS;
    found[3 * h + 2] = (grassA * kv[h]) / Math.max(healthyKv, 1e-6);
  }
  return found;
}

/** What a covariance makes of a slope: the gain (3) and, with the variance, the whole spread squared. */
function gained(cov, at, s0, s1, s2, into) {
  into[0] = cov[at] * s0 + cov[at + 1] * s1 + cov[at + 2] * s2;
  into[1] = cov[at + 1] * s0 + cov[at + 3] * s1 + cov[at + 4] * s2;
  into[2] = cov[at + 2] * s0 + cov[at + 4] * s1 + cov[at + 5] * s2;
  return s0 * into[0] + s1 * into[1] + s2 * into[2];
}

const clip = (x, low, high) => Math.min(Math.max(x, low), high);

/** One scalar step: `off` is what was read less what was predicted; `cap` (h) says how far one reading counts.
 *
 * `turned` is the same with the sign of what was predicted turned; what is explained so teaches no doubts. */
export function kalman(doubts, off, slopes, variance, { cap, turned = null }) {
  const count = off.length;
  const found = { logWeight: doubts.logWeight.slice(), mean: doubts.mean.slice(), cov: doubts.cov.slice() };
  const gain = new Float64Array(3);
  for (let h = 0; h < count; h++) {
    const [m, c] = [3 * h, 6 * h];
    const [s0, s1, s2] = [slopes[m], slopes[m + 1], slopes[m + 2]];
    const moved = s0 * doubts.mean[m] + s1 * doubts.mean[m + 1] + s2 * doubts.mean[m + 2];
    const whole = gained(doubts.cov, c, s0, s1, s2, gain) + variance[h];
    const spread = Math.sqrt(whole);
    const standard = (off[h] - moved) / spread;
    const square = Math.min(Math.abs(standard), cap(h)) ** 2;
    const other = turned ? Math.min(Math.abs((turned[h] + moved) / spread), cap(h)) ** 2 + 2 * OTHER_WAY : Infinity;
    found.logWeight[h] -= 0.5 * Math.min(square, other) + Math.log(spread);
    if (other < square) gain.fill(0);
    const step = (clip(standard, -MEAN_CAP, MEAN_CAP) * spread) / whole;
    for (let i = 0; i < 3; i++) found.mean[m + i] += gain[i] * step;
    let at = c;
    for (let i = 0; i < 3; i++) for (let j = i; j < 3; j++) found.cov[at++] -= (gain[i] * gain[j]) / whole;
  }
  return found;
}

/** How readings are taken in: the tester's own error, how grassy the fence is, and whether something was found. */
export class Learner {
  constructor(kit, hasFound) {
    Object.assign(this, { meter: kit.meter, grassy: kit.grassy, found: Number(hasFound) });
  }

  kvVariance({ kv }, slopes) {
    const { kv_share: share, kv_least: least } = this.meter;
    const shares = share ** 2 + MODEL_KV[this.found] ** 2;
    return kv.map((x, h) => shares * x * x + least ** 2 + (LOCAL_GRASS * slopes[3 * h + 2]) ** 2);
  }

  ampsVariance({ amps }, slopes) {
    const { amps_share: share, amps_least: least } = this.meter;
    const shares = share ** 2 + MODEL_A[this.found] ** 2 + (GRASSY_AMPS * Math.min(1, this.grassy)) ** 2;
    return amps.map((x, h) => shares * x * x + least ** 2 + (LOCAL_GRASS * slopes[3 * h + 2]) ** 2);
  }

  /** The hypotheses of a block after a reading; `again`: its kV were read at this place already. */
  take(doubts, block, { place, kv, amps, opened }, again) {
    const predicted = block.under(opened).predict(place);
    let found = doubts;
    if (kv !== null && !again) {
      const slopes = kvSlopes(predicted);
      const off = predicted.kv.map((x) => kv - x);
      found = kalman(found, off, slopes, this.kvVariance(predicted, slopes), { cap: () => CAP });
    }
    if (amps !== null && place.leg) {
      const slopes = ampsSlopes(predicted);
      const off = predicted.amps.map((x) => amps - x);
      const isOwn = ownPlace(block, place);
      const cap = (h) => (isOwn(h) ? OWN_PLACE_CAP : CAP);
      const turned = predicted.amps.map((x) => amps + x);
      found = kalman(found, off, slopes, this.ampsVariance(predicted, slopes), { cap, turned });
    }
    return found;
  }

  /** The variance of kV and of amps to come under each hypothesis, doubts included. */
  spread(doubts, predicted) {
    const into = new Float64Array(3);
    /** @type {[Float64Array, (slopes: Float64Array) => Float64Array][]} */
    const both = [
      [kvSlopes(predicted), (slopes) => this.kvVariance(predicted, slopes)],
      [ampsSlopes(predicted), (slopes) => this.ampsVariance(predicted, slopes)],
    ];
    return both.map(([slopes, variance]) =>
      variance(slopes).map(
        (own, h) => own + gained(doubts.cov, 6 * h, slopes[3 * h], slopes[3 * h + 1], slopes[3 * h + 2], into),
      ),
    );
  }
}

/** Where amps cannot tell which side a fault is on: a shunt at the very place, a cut in the very piece. */
function ownPlace(block, place) {
  const { fence } = block;
  const { piece } = fence.ampsAt(place.number, place.leg);
  const isHere = (fault) =>
    (fence.place[fault] === place.number && fence.kind[fault] !== RODS) ||
    (fence.kind[fault] === CUT && fence.piece[fault] === piece);
  if (block.standing.some(isHere)) return () => true;
  return (h) => h > 0 && isHere(block.fault[h]);
}
