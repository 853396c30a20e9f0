// What a reading of the closing round would mean: where it lies if nothing more is left (explanation.py).

import { explanation } from "../constants.js";
import { A_SIDE, whereMost } from "./meaning.js";
import { quicklyPredicted, weighed } from "./worth.js";

const { OUTSIDE } = explanation;

const sumOf = (row) => row.reduce((sum, x) => sum + x, 0);

/** Where most of what lies on one side is. */
function sideOf({ fence, candidates }, chosen, left) {
  const whole = new Float64Array(candidates.count);
  chosen.forEach((h, m) => (whole[h] = left[m]));
  const cells = candidates.spreadOf(whole);
  const pieces = Float64Array.from(fence.a, (a, k) => (cells[a] + cells[fence.b[k]]) * fence.length_m[k]);
  return { chance: sumOf(left), at: whereMost(fence, pieces) };
}

/** From where to where it lies if nothing more is left, amps or kV, and what lies outside means; null: hardly told. */
export function closingRange(search, nextStep) {
  const { fence, candidates, learner } = search;
  const { chosen, weight } = weighed(candidates);
  const nothing = chosen.indexOf(0);
  const left = Array.from(chosen, (h, m) => (h > 0 && candidates.loss[h] > candidates.material ? weight[m] : 0));
  const whole = sumOf(left);
  if (nothing < 0 || whole <= 0) return null;
  const predicted = quicklyPredicted(candidates, chosen, nextStep);
  const [kvVar, ampsVar] = learner.spread(candidates.doubtsOf(chosen), predicted);
  const tried = [["kV", predicted.kv, kvVar]];
  if (fence.meter.shows_amps) tried.unshift(["A", predicted.amps, ampsVar]);
  const [best] = tried
    .map(([unit, values, variance]) => {
      const [middle, spread] = [values[nothing], Math.sqrt(variance[nothing])];
      const off = Array.from(values, (value) => (value - middle) / spread);
      const told = sumOf(off.map((x, m) => left[m] * Math.min(Math.abs(x), 2 * OUTSIDE)));
      return { unit, middle, spread, off, told };
    })
    .sort((one, other) => other.told - one.told);
  const side = (isOwn) =>
    sideOf(
      search,
      chosen,
      left.map((w, m) => (isOwn(best.off[m]) ? w : 0)),
    );
  const [under, over] = [side((x) => x < -OUTSIDE), side((x) => x > OUTSIDE)];
  if (under.chance + over.chance < A_SIDE * whole) return null;
  const [low, high] = [-OUTSIDE, OUTSIDE].map((off) => best.middle + off * best.spread);
  return { unit: best.unit, low: best.unit === "kV" ? Math.max(0, low) : low, high, under, over };
}
