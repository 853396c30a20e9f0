// Two faults at once: the best singles that lie apart, each with a second leak to soil (candidates.py, with_pairs).

import { hypotheses } from "../constants.js";
import { fresh } from "./belief.js";
import { CUT, LS } from "../solver/fence.js";
import { HypothesisSet } from "./hypotheses.js";
import { CUT_TIMES, Hypotheses, SIZES_OHM } from "../solver/predicted.js";

const { PAIRS, PAIR_PLACES, PAIR_SIZES, PAIR_SHARE, APART_M, APART_SIZE } = hypotheses;

/** The best singles that lie apart in place or in size. */
function spreadOut(candidates, { sizes }) {
  const { fence } = candidates;
  const { fault, count } = candidates.blocks[0].hypotheses;
  const order = Array.from({ length: count }, (_, h) => h).sort((p, q) => candidates.weight[q] - candidates.weight[p]);
  const chosen = [];
  const cellOf = (h) => candidates.cellsOf(fault[h])[0];
  const sizeOf = (h) => sizes[h] / (fence.kind[fault[h]] === CUT ? CUT_TIMES : 1);
  for (const h of order.slice(0, 600)) {
    if (h === 0 || cellOf(h) >= candidates.noneCell) continue;
    const isBeside = chosen.some((other) => {
      const ratio = sizeOf(h) / sizeOf(other);
      const near = fence.walk_m[cellOf(h) * candidates.noneCell + cellOf(other)] < APART_M;
      return near && ratio > 1 / APART_SIZE && ratio < APART_SIZE;
    });
    if (!isBeside) chosen.push(h);
    if (chosen.length === PAIRS) break;
  }
  return chosen;
}

/** Where a second leak is tried: evenly over the fence, and where leaks are likeliest. */
function secondPlaces(candidates) {
  const { fence, noneCell } = candidates;
  const { fault, count } = candidates.blocks[0].hypotheses;
  const byPlace = new Float64Array(noneCell);
  for (let h = 1; h < count; h++)
    if (fence.kind[fault[h]] === LS) byPlace[fence.place[fault[h]]] += candidates.weight[h];
  const evenly = Math.min(noneCell, (PAIR_PLACES * 3) >> 2);
  const found = new Set();
  for (let k = 0; k < evenly; k++) found.add(evenly > 1 ? Math.floor((k * (noneCell - 1)) / (evenly - 1)) : 0);
  const order = Array.from(byPlace, (_, p) => p).sort((p, q) => byPlace[q] - byPlace[p]);
  for (const place of order.slice(0, PAIR_PLACES - found.size)) found.add(place);
  return [...found].sort((p, q) => p - q);
}

/** Pairs joined to the singles, scored on everything that was read. */
export function withPairs(candidates, learner, singles, history) {
  const { fence } = candidates;
  const { sizes, logPrior, known } = singles;
  const { fault } = candidates.blocks[0].hypotheses;
  const tried = Float64Array.from({ length: PAIR_SIZES }, (_, k) => SIZES_OHM[0] * 250 ** (k / (PAIR_SIZES - 1)));
  const nearest = Array.from(tried, (ohm) => {
    const off = Array.from(SIZES_OHM, (own) => Math.abs(Math.log(own / ohm)));
    return off.indexOf(Math.min(...off));
  });
  const rows = secondPlaces(candidates).flatMap((place) =>
    Array.from(tried, (ohm, k) => ({ place, ohm, single: 1 + place * SIZES_OHM.length + nearest[k] })),
  );
  const blocks = [candidates.blocks[0]];
  for (const first of spreadOut(candidates, singles)) {
    const one = fault[first];
    const state = fence.withFault(fence.healthy, one, sizes[first]);
    const second = rows.map(({ place }) => place); // the port of a leak to soil is its place
    const made = new Hypotheses(
      fence,
      state,
      second,
      Float64Array.from(rows, ({ ohm }) => ohm),
      [one],
    );
    const beside = Math.log(PAIR_SHARE) + logPrior[first] + Math.log(SIZES_OHM.length / PAIR_SIZES);
    let doubts = fresh(Float64Array.from([-Infinity, ...rows.map(({ single }) => beside + logPrior[single])]), known);
    for (const { reading, again } of history) doubts = learner.take(doubts, made, reading, again);
    doubts.logWeight[0] = -Infinity;
    const own = candidates.blocks[0].loss;
    const loss = Float64Array.from([0, ...rows.map(({ single }) => own[first] + own[single])]);
    blocks.push({ hypotheses: made, doubts, loss, first: one });
  }
  return new HypothesisSet(fence, blocks, candidates.inspections, candidates.material);
}
