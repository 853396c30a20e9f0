// Growth all over as one more suspect, weighed against all others before the first find (mended.py, growth_told).

import { filled } from "../../basics/scales.js";
import { mended, suspects, sentences } from "../constants.js";
import { fresh } from "./belief.js";
import { howLikely } from "./chances.js";
import { anew, replayed } from "./mended.js";
import { Hypotheses } from "../solver/predicted.js";

const { GROWN_SHARE, GROWN_SPREAD, MOST_EVIDENCE, MOST_GROWN } = mended;
const { GROWN } = suspects;
const NONE = { share: 0, times: 1, spread: 0 };

const talls = new WeakMap(); // by fence: the same with growth all along, nothing else wrong
const known = new WeakMap(); // by search

const nothingOn = (fence) => new Hypotheses(fence, fence.healthy, new Int32Array(0), new Float64Array(0));

function tallOf(fence) {
  if (!talls.has(fence)) talls.set(fence, nothingOn(fence.with({ rods: 1, grass: GROWN })));
  return talls.get(fence);
}

/** Growth all over against everything else that was weighed. */
export function growthTold({ fence, learner, singles, candidates, readings }) {
  const nothing = replayed(learner, fresh(new Float64Array(1), singles.known), nothingOn(fence), readings);
  const wide = anew(singles.known, 2, 0, GROWN_SPREAD);
  const grown = replayed(learner, fresh(new Float64Array(1), wide), tallOf(fence), readings);
  const { logPrior } = singles;
  const most = logPrior.reduce((x, y) => Math.max(x, y), -Infinity);
  const prior = Math.exp(logPrior[0] - most) / logPrior.reduce((sum, x) => sum + Math.exp(x - most), 0);
  const evidence = Math.min(grown.logWeight[0] - nothing.logWeight[0], MOST_EVIDENCE);
  const times = GROWN * Math.exp(grown.mean[2]);
  const odds =
    times > MOST_GROWN ? 0 : ((GROWN_SHARE / (1 - GROWN_SHARE)) * Math.exp(evidence) * candidates.weight[0]) / prior;
  return { share: odds / (1 + odds), times, spread: Math.sqrt(grown.cov[5]) };
}

/** How likely growth all along is all of it, before anything was found. */
export function growthOf(search) {
  if (!search.inEarnest || search.finds || search.isMown || !search.readings.length) return NONE;
  if (!known.has(search)) known.set(search, growthTold(search));
  return known.get(search);
}

/** How much growth there would be. */
export const growthTimes = ({ times }) => filled(sentences.GROWTH_TIMES, { times: times.toFixed(1) });

/** A look at the growth: why. */
export function growthWords(search) {
  const told = growthOf(search);
  const reason = filled(sentences.GROWTH_REASON, { likely: howLikely(told.share), times: growthTimes(told) });
  return { title: sentences.LOOK_GROWTH, reason };
}
