// A search after something was found: what was read since the last mend is weighed (search.py, found and rods_found).

import { mended } from "../constants.js";
import { Learner } from "../belief/belief.js";
import { roundOf } from "./closing.js";
import { HypothesisSet, MATERIAL_AFTER } from "../belief/hypotheses.js";
import { growthTold } from "../belief/growth.js";
import { anew, believedAfter, meanOff, movedBy, portOf, score, scoreAnew } from "../belief/mended.js";
import { grassinessOf, singlesAnew } from "../belief/singles.js";

const { LOOKS_FADE } = mended;

/** What is believed after a find, on a fence with its singles. */
function believing(search, { fence, singles, scored, place, ...more }) {
  const isSame = fence === search.fence;
  const doubts = believedAfter(fence, singles, scored, search.finds + 1);
  const block = { hypotheses: singles.hypotheses, doubts, loss: singles.loss, first: -1 };
  const minutes = search.minutes + search.minutesTo(place) + fence.minutes.look;
  const grassy = isSame ? search.learner.grassy : grassinessOf(fence);
  return search.with({
    fence,
    singles,
    candidates: new HypothesisSet(fence, [block], search.candidates.inspections.faded(LOOKS_FADE), MATERIAL_AFTER),
    learner: new Learner({ ...fence, grassy }, true),
    here: place,
    readings: [],
    finds: search.finds + 1,
    minutes,
    since: minutes,
    actions: 0,
    closing: roundOf(search.finds + 1),
    readsMend: true,
    skipped: [],
    sweeps: 0,
    ...more,
  });
}

/** With rods and growth so many times what they were, and what was known of them before. */
function weighed(search, scored, moved, { known, place, ...more }) {
  if (moved.rods === 1 && moved.grass === 1)
    return believing(search, { fence: search.fence, singles: { ...search.singles, known }, scored, place, ...more });
  const fence = search.fence.with(moved);
  const knownOff = { ...known, mean: meanOff(known.mean, moved) };
  const singles = singlesAnew(fence, { ...search.singles, known: knownOff });
  const doubts = { ...scored.doubts, mean: meanOff(scored.doubts.mean, moved) };
  return believing(search, { fence, singles, scored: { ...scored, doubts }, place, ...more });
}

const scoredBy = ({ fence, learner, singles, readings }, fault, told) =>
  score(fence, learner, fault, { singles, history: readings, told });

/** What stays as it is. */
const staying = ({ stays }, what, isMended) => ({
  readsMend: isMended,
  stays: isMended ? stays : [...stays, what],
});

/** After a fault on the fence was found and mended. */
export function found(search, kind, place, piece, told) {
  const scored = scoredBy(search, portOf(search.fence, kind, place, piece), told);
  return weighed(search, scored, movedBy(scored), { place, known: search.singles.known });
}

/** After the rods were looked at: mended, or nothing but their ground that has dried out and stays so. */
function rodsFound(search, isMended, told) {
  const { fence, singles } = search;
  const scored = scoredBy(search, fence.rodsFault, told);
  const rods = isMended ? 1 : scored.size * Math.exp(scored.alone.mean[1]);
  const spread = isMended ? fence.doubt_rods : Math.sqrt(scored.alone.cov[3]);
  const now = { ...scored, doubts: anew(scored.doubts, 1, Math.log(rods), spread) };
  const known = anew(singles.known, 1, Math.log(rods), spread);
  const moved = { rods, grass: movedBy(scored).grass };
  return weighed(search, now, moved, { place: fence.start, known, ...staying(search, "rods", isMended) });
}

/** After growth all along was seen: cut, or left as it is. */
function growthFound(search, isMended) {
  const { fence, singles, learner, readings, here } = search;
  const { times, spread: left } = growthTold(search);
  const tall = fence.with({ rods: 1, grass: times });
  const grown = singlesAnew(tall, { ...singles, known: anew(singles.known, 2, 0, left) });
  const scored = scoreAnew(new Learner({ ...tall, grassy: learner.grassy }, search.finds > 0), grown, readings);
  const spread = isMended ? fence.doubt_grass : left;
  const now = { ...scored, doubts: anew(scored.doubts, 2, 0, spread) };
  const known = anew(singles.known, 2, 0, spread);
  const on = isMended ? { fence, singles: { ...singles, known } } : { fence: tall, singles: { ...grown, known } };
  return believing(search, { ...on, scored: now, place: here, ...staying(search, "growth", isMended) });
}

// What lies at no one place of the fence: what it is, and whether it was mended or stays as it is.
export const WHOLE_KINDS = {
  rods: (search, told) => rodsFound(search, true, told),
  dry: (search, told) => rodsFound(search, false, told),
  mown: (search) => growthFound(search, true),
  grown: (search) => growthFound(search, false),
};

export const STAY_KINDS = ["dry", "grown"];
