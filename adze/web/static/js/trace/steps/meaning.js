// What each outcome of a reading would mean: past the place, before it, or not decisive (explanation.py).

import { explanation } from "../constants.js";
import { quicklyPredicted, weighed } from "./worth.js";

export const { A_SIDE } = explanation;
const { DECIDES, STEPS, A_PART } = explanation;

/** Which places lie past a reading's place by its leg: 1, or 0 before it; the place itself counts half. */
function pastPlaces(fence, { number, leg }) {
  const { a, b, joined, span } = fence;
  const beside = Array.from({ length: fence.from_place }, () => []);
  const join = (one, other) => {
    if (one === number || other === number) return;
    beside[one].push(other);
    beside[other].push(one);
  };
  a.forEach((one, k) => join(one, b[k]));
  for (let k = 0; k < joined.length; k += 2) join(joined[k], joined[k + 1]);
  const of = fence.spans.indexOf(leg);
  let ahead = span.findIndex((own, k) => own === of && a[k] === number);
  ahead = ahead >= 0 ? b[ahead] : a[span.findIndex((own, k) => own === of && b[k] === number)];
  const past = new Float64Array(fence.from_place);
  const left = [ahead];
  past[ahead] = 1;
  while (left.length)
    for (const next of beside[left.pop()])
      if (!past[next]) {
        past[next] = 1;
        left.push(next);
      }
  past[number] = 0.5;
  return past;
}

/** Slivers that hardly ever come belong to their neighbour. */
function merged(rows) {
  const found = [];
  for (const row of rows) {
    const last = found.at(-1);
    if (last && (row.chance < 0.02 || last.means === row.means || last.chance < 0.02)) {
      const means = last.chance >= row.chance ? last.means : row.means;
      found[found.length - 1] = { low: last.low, high: row.high, means, chance: last.chance + row.chance };
    } else found.push(row);
  }
  return found;
}

function outcomesOf(unit, values, variance, past, before) {
  const spread = variance.map(Math.sqrt);
  let low = values.reduce((x, v, m) => Math.min(x, v - 2 * spread[m]), Infinity);
  const high = values.reduce((x, v, m) => Math.max(x, v + 2 * spread[m]), -Infinity);
  if (unit === "kV") low = Math.max(0, low);
  const rows = [];
  for (let k = 0; k < STEPS; k++) {
    const mark = low + ((high - low) * k) / (STEPS - 1);
    let [pPast, pBefore] = [0, 0];
    for (let m = 0; m < values.length; m++) {
      const density = Math.exp(-0.5 * ((mark - values[m]) / spread[m]) ** 2) / spread[m];
      pPast += density * past[m];
      pBefore += density * before[m];
    }
    const ratio = pPast / Math.max(pPast + pBefore, 1e-30);
    const means = ratio > DECIDES ? "past" : ratio < 1 - DECIDES ? "before" : "open";
    rows.push({ mark, means, chance: pPast + pBefore });
  }
  const total = Math.max(
    rows.reduce((sum, { chance }) => sum + chance, 0),
    1e-30,
  );
  const found = [];
  for (const { mark, means, chance } of rows) {
    const last = found.at(-1);
    if (last?.means === means) Object.assign(last, { high: mark, chance: last.chance + chance / total });
    else found.push({ low: mark, high: mark, means, chance: chance / total });
  }
  return merged(found);
}

/** What the amps of a reading would mean; kV where amps say little. Null where it divides nothing. */
export function meaningOf({ fence, candidates, learner }, nextStep) {
  const { chosen, weight } = weighed(candidates);
  const places = pastPlaces(fence, nextStep);
  const [past, before] = [[], []];
  chosen.forEach((h, m) => {
    let [there, all] = [0, 0];
    for (let k = 4 * h; k < 4 * h + 4; k++) {
      const cell = candidates.cell[k];
      if (cell >= candidates.noneCell) continue;
      all += candidates.share[k];
      there += candidates.share[k] * places[cell];
    }
    past.push(weight[m] * there);
    before.push(weight[m] * (all - there));
  });
  const [sharePast, shareBefore] = [past, before].map((row) => row.reduce((x, y) => x + y, 0));
  if (Math.min(sharePast, shareBefore) < A_SIDE) return null;
  const predicted = quicklyPredicted(candidates, chosen, nextStep);
  const [kvVar, ampsVar] = learner.spread(candidates.doubtsOf(chosen), predicted);
  const told = [{ unit: "kV", outcomes: outcomesOf("kV", predicted.kv, kvVar, past, before) }];
  if (fence.meter.shows_amps)
    told.unshift({ unit: "A", outcomes: outcomesOf("A", predicted.amps, ampsVar, past, before) });
  const open = ({ outcomes }) => outcomes.reduce((sum, row) => sum + (row.means === "open" ? row.chance : 0), 0);
  const best = told.reduce((one, other) => (open(other) < open(one) ? other : one));
  const means = new Set(best.outcomes.map((row) => row.means));
  return means.has("past") && means.has("before") ? { ...best, past: sharePast, before: shareBefore } : null;
}

/** From where to where on the two spans that hold most of a share of pieces eight tenths of theirs lie. */
export function whereMost(fence, share) {
  const whole = new Float64Array(fence.spans.length);
  fence.span.forEach((of, k) => (whole[of] += share[k]));
  const total = whole.reduce((x, y) => x + y, 0);
  const order = Array.from(whole, (_, k) => k).sort((p, q) => whole[q] - whole[p]);
  const found = [];
  for (const of of order.slice(0, 2)) {
    if (whole[of] <= A_PART * total) continue;
    const own = Array.from(fence.span, (n, k) => (n === of ? k : -1)).filter((k) => k >= 0);
    let sum = 0;
    const upto = own.map((k) => (sum += share[k]) / whole[of]);
    const at = (mark) =>
      own[
        Math.max(
          0,
          upto.findIndex((x) => x >= mark),
        )
      ];
    const [first, last] = [at(0.1), at(0.9)];
    found.push({ span: fence.spans[of], from: fence.from_m[first], to: fence.from_m[last] + fence.length_m[last] });
  }
  return found;
}

/** How the amps of a reading divide what is left where no place lies past another, as on a ring. */
export function splitOf({ fence, candidates }, nextStep) {
  if (!fence.meter.shows_amps) return null;
  const { chosen, weight } = weighed(candidates);
  const { amps } = quicklyPredicted(candidates, chosen, nextStep);
  const order = Array.from(amps, (_, m) => m).sort((p, q) => amps[p] - amps[q]);
  let sum = 0;
  const k = order.findIndex((m) => (sum += weight[m]) >= 0.5);
  if (k <= 0 || k === order.length - 1) return null;
  const middle = (amps[order[k - 1]] + amps[order[k]]) / 2;
  const half = (isOwn) => {
    const whole = new Float64Array(candidates.count);
    chosen.forEach((h, m) => (whole[h] = isOwn(amps[m]) ? weight[m] : 0));
    const cells = candidates.spreadOf(whole);
    return whereMost(
      fence,
      Float64Array.from(fence.a, (a, p) => (cells[a] + cells[fence.b[p]]) * fence.length_m[p]),
    );
  };
  const under = weight.reduce((x, w, m) => x + (amps[m] < middle ? w : 0), 0);
  return { amps: middle, under, underAt: half((x) => x < middle), overAt: half((x) => x >= middle) };
}
