// What a reading may show under the hypotheses that are weighed, and what that would teach (next_step.py).

import { nextStep } from "../constants.js";
import { everyone } from "../solver/predicted.js";

const { WEIGHED, WIDER } = nextStep;

/** The heaviest hypotheses, in order of their numbers. */
export function heaviest(weight, most) {
  return Array.from(everyone(weight.length))
    .sort((p, q) => weight[q] - weight[p] || p - q)
    .slice(0, most);
}

/** The hypotheses that are weighed against each other, with their weights. */
export function weighed(candidates) {
  const { weight } = candidates;
  const heavy = heaviest(weight, WEIGHED);
  const chosen = heavy.filter((h) => weight[h] > weight[heavy[0]] * 1e-7).sort((p, q) => p - q);
  const total = chosen.reduce((sum, h) => sum + weight[h], 0);
  return { chosen, weight: chosen.map((h) => weight[h] / total) };
}

/** What some hypotheses expect of a reading while switches stand open; a tester without amps shows kV alone. */
export function quicklyPredicted(candidates, chosen, { number, leg }, opened = []) {
  const place = { number, leg: candidates.fence.meter.shows_amps ? leg : "" };
  let whole = null;
  candidates.blocks.forEach(({ hypotheses }, k) => {
    const [low, high] = [candidates.offsets[k], candidates.offsets[k + 1]];
    const own = chosen.filter((h) => h >= low && h < high).map((h) => h - low);
    if (!own.length) return;
    const found = hypotheses.under(opened).quickPrediction(place, own);
    if (!whole) whole = found;
    else
      for (const name of ["kv", "amps", "rodsKv", "rodsA"])
        whole = { ...whole, [name]: Float64Array.from([...whole[name], ...found[name]]) };
  });
  return whole;
}

/** Standard errors of so many readings, the same for every reading that is compared. */
function errorsOf({ errors }, count) {
  const from = count * (count - 1);
  return [errors.subarray(from, from + count), errors.subarray(from + count, from + 2 * count)];
}

/** How well each hypothesis would explain what each truth may show, errors and all: a row for each truth. */
export function likelihood(fence, predicted, spreads, truths) {
  const { kv, amps } = predicted;
  const [kvVar, ampsVar] = spreads.map((row) => row.map((x) => WIDER * x));
  const [kvErrors, ampsErrors] = errorsOf(fence, truths.length);
  const isRead = !Number.isNaN(amps[0]);
  const scale = kvVar.map((x, m) => 1 / Math.sqrt(isRead ? x * ampsVar[m] : x));
  return truths.map((truth, t) => {
    const kvShown = kv[truth] + kvErrors[t] * Math.sqrt(kvVar[truth]);
    const ampsShown = isRead ? amps[truth] + ampsErrors[t] * Math.sqrt(ampsVar[truth]) : 0;
    const found = new Float64Array(kv.length);
    for (let m = 0; m < kv.length; m++) {
      const kvOff = kvShown - kv[m];
      const ampsOff = ampsShown - amps[m];
      const off = (kvOff * kvOff) / kvVar[m] + (isRead ? (ampsOff * ampsOff) / ampsVar[m] : 0);
      found[m] = Math.exp(-0.5 * Math.min(off, 60)) * scale[m];
    }
    return found;
  });
}

/** So many of some weights, evenly by their sum, and how much each counts. */
export function sampled(weight, count) {
  const total = [];
  weight.reduce((sum, x) => (total.push(sum + x), sum + x), 0);
  const times = new Map();
  let at = 0;
  for (let k = 0; k < count; k++) {
    const mark = ((k + 0.5) / count) * total.at(-1);
    while (total[at] < mark) at++;
    times.set(at, (times.get(at) ?? 0) + 1);
  }
  return { picked: [...times.keys()], times: [...times.values()].map((n) => n / count) };
}

/** How far a distribution lies from the one before, bits; its mean is the fall of entropy. */
export function learnedBits(after, before) {
  const total = after.reduce((x, y) => x + y, 0);
  return after.reduce((sum, x, c) => {
    const p = x / total;
    return sum + p * Math.log2(Math.max(p, 1e-12) / Math.max(before[c], 1e-12));
  }, 0);
}
