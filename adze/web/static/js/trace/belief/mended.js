// After a mend: whether what was found explains what was read since the last one, or more is left (mended.py).

import { mended, suspects } from "../constants.js";
import { fresh, partOf } from "./belief.js";
import { CUT, LE, LS, RODS } from "../solver/fence.js";
import { MATERIAL_AFTER } from "./hypotheses.js";
import { Hypotheses, sizeOf } from "../solver/predicted.js";

const { NOTHING_ELSE, FOUND_SIZES, TIMES_BEST, LEAST_LOSS, SURE, LEAST, MOST, HISTORY } = mended;
const { RODS_AFTER } = suspects;

/** The port of a fault that was found. Growth counts as a leak to soil. */
export function portOf(fence, kind, place, piece) {
  if (kind === CUT) return fence.kind.findIndex((own, f) => own === CUT && fence.piece[f] === piece);
  const at = (wanted) => fence.kind.findIndex((own, f) => own === wanted && fence.place[f] === place);
  const found = at(kind);
  return kind === LE && found < 0 ? at(LS) : found;
}

/** Doubts after readings, each as it was taken. */
export function replayed(learner, doubts, block, history) {
  let found = doubts;
  for (const { reading, again } of history.slice(-HISTORY)) found = learner.take(found, block, reading, again);
  return found;
}

function logSum(values) {
  const most = values.reduce((x, y) => Math.max(x, y), -Infinity);
  return most + Math.log(values.reduce((sum, x) => sum + Math.exp(x - most), 0));
}

const logAdd = (x, y) => (x === -Infinity ? y : Math.max(x, y) + Math.log1p(Math.exp(-Math.abs(x - y))));

/** Sizes of a fault that was found: ohms; a cut's are more, rods take a factor. */
function triedOf(kind) {
  const ohms = Float64Array.from({ length: FOUND_SIZES }, (_, k) => 20 * 250 ** (k / (FOUND_SIZES - 1)));
  return ohms.map((ohm) => sizeOf(kind, ohm));
}

/** The size of a fault so many times weaker, which leaves room for one more. */
const weaker = (kind, size, times) => (kind === RODS ? 1 + (size - 1) / times : size * times);

/** The found fault alone against one more, over the readings since the last mend; `told` hears of the progress. */
export function score(fence, learner, fault, { singles, history, told = (share) => void share }) {
  const { sizes, loss, known } = singles;
  const { fault: faults } = singles.hypotheses;
  const kind = fence.kind[fault];
  const tried = triedOf(kind);
  const alone = new Hypotheses(fence, fence.healthy, new Int32Array(FOUND_SIZES).fill(fault), tried);
  const weights = Float64Array.from([-Infinity, ...new Float64Array(FOUND_SIZES)]);
  const own = replayed(learner, fresh(weights, known), alone, history);
  const best = own.logWeight.indexOf(own.logWeight.reduce((x, y) => Math.max(x, y)));
  const nothingElse = logSum(own.logWeight);
  const chosen = Array.from(loss, (_, h) => h).filter((h) => h > 0 && loss[h] > LEAST_LOSS);
  const total = new Float64Array(loss.length).fill(-Infinity);
  const bestMore = total.slice();
  const kept = fresh(new Float64Array(loss.length), known);
  TIMES_BEST.forEach((times, step) => {
    told(step / TIMES_BEST.length);
    const state = fence.withFault(fence.healthy, fault, weaker(kind, tried[best - 1], times));
    const [ports, ohms] = [chosen.map((h) => faults[h]), Float64Array.from(chosen, (h) => sizes[h])];
    const block = new Hypotheses(fence, state, ports, ohms, [fault]);
    const found = replayed(learner, fresh(new Float64Array(chosen.length + 1), known), block, history);
    chosen.forEach((h, k) => {
      const log = found.logWeight[k + 1];
      total[h] = logAdd(total[h], log);
      if (log <= bestMore[h]) return;
      bestMore[h] = log;
      kept.mean.set(found.mean.subarray(3 * (k + 1), 3 * (k + 2)), 3 * h);
      kept.cov.set(found.cov.subarray(6 * (k + 1), 6 * (k + 2)), 6 * h);
    });
  });
  const logRatio = new Float64Array(loss.length);
  for (const h of chosen)
    if (loss[h] > MATERIAL_AFTER) logRatio[h] = Math.min(Math.max(SURE * (total[h] - nothingElse), LEAST), MOST);
  const thinks = partOf(own, [best]);
  kept.mean.set(thinks.mean, 0);
  kept.cov.set(thinks.cov, 0);
  return { logRatio, doubts: kept, alone: thinks, size: tried[best - 1] };
}

/** Means of the doubts on a fence whose rods and growth were set anew by factors. */
export function meanOff(mean, { rods, grass }) {
  const away = [0, Math.log(rods), Math.log(grass)];
  return mean.map((x, k) => x - away[k % 3]);
}

const AT = [0, 3, 5]; // the variance of each doubt in a covariance
const BESIDE = [[], [1, 4], [2, 4]]; // and what joins it to the others

/** The same with rods (1) or growth (2) known anew: the logarithm to what the fence is computed with, its spread. */
export function anew(doubts, which, log, spread) {
  const [mean, cov] = [doubts.mean.slice(), doubts.cov.slice()];
  for (let k = which; k < mean.length; k += 3) mean[k] = log;
  for (let k = 0; k < cov.length; k += 6) {
    for (const other of BESIDE[which]) cov[k + other] = 0;
    cov[k + AT[which]] = spread ** 2;
  }
  return { ...doubts, mean, cov };
}

/** "Nothing more" against every single fault, on a fence with what was found in it already. */
export function scoreAnew(learner, { hypotheses, loss, known }, history) {
  const doubts = replayed(learner, fresh(new Float64Array(loss.length), known), hypotheses, history);
  const [nothing] = doubts.logWeight;
  const ratio = (x, h) => (loss[h] > MATERIAL_AFTER ? Math.min(Math.max(SURE * (x - nothing), LEAST), MOST) : 0);
  return { logRatio: doubts.logWeight.map(ratio), doubts };
}

/** How far rods and growth must be set anew, as factors; 1 where it is less than a tenth. */
export function movedBy({ alone }) {
  const of = (log) => (Math.abs(log) > Math.log(1.1) ? Math.exp(log) : 1);
  return { rods: of(alone.mean[1]), grass: of(alone.mean[2]) };
}

/** The doubts after a mend: kinds and places as at the start, by what the readings say of something more. */
export function believedAfter(fence, { prior, hypotheses }, scored, finds) {
  const isRods = (h) => h > 0 && fence.kind[hypotheses.fault[h]] === RODS;
  const rods = prior.reduce((sum, x, h) => sum + (isRods(h) ? x : 0), 0);
  const own = prior.map((x, h) => (isRods(h) ? (x * RODS_AFTER) / rods : x));
  const others = own.reduce((sum, x, h) => sum + (h ? x : 0), 0);
  const none = NOTHING_ELSE[Math.min(finds, NOTHING_ELSE.length) - 1];
  const logWeight = own.map((x, h) => (h ? Math.log(((1 - none) * x) / others) + scored.logRatio[h] : Math.log(none)));
  return { ...scored.doubts, logWeight };
}
