// A search after something was found: what was read since the last mend is weighed (search.py, found and rods_found).

import { Learner } from "./belief.js";
import { roundOf } from "./closing.js";
import { Hunches, MATERIAL_AFTER } from "./hunches.js";
import { believedAfter, meanOff, movedBy, portOf, rodsAnew, score } from "./mended.js";
import { grassinessOf, singlesAnew } from "./singles.js";

const LOOKS_FADE = 0.7;

/** With rods and growth so many times what they were, and what was known of them before. */
function weighed(search, scored, moved, { place, known, ...more }) {
  const isSame = moved.rods === 1 && moved.grass === 1;
  const fence = isSame ? search.fence : search.fence.with(moved);
  const knownOff = { ...known, mean: meanOff(known.mean, moved) };
  const singles = isSame ? { ...search.singles, known } : singlesAnew(fence, { ...search.singles, known: knownOff });
  const mean = meanOff(scored.doubts.mean, moved);
  const doubts = believedAfter(fence, singles, { ...scored, doubts: { ...scored.doubts, mean } }, search.finds + 1);
  const block = { hypotheses: singles.hypotheses, doubts, loss: singles.loss, first: -1 };
  const minutes = search.minutes + search.minutesTo(place) + fence.minutes.look;
  const grassy = isSame ? search.learner.grassy : grassinessOf(fence);
  return search.with({
    fence,
    singles,
    hunches: new Hunches(fence, [block], search.hunches.looks.faded(LOOKS_FADE), MATERIAL_AFTER),
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

const scoredBy = ({ fence, learner, singles, readings }, fault, told) =>
  score(fence, learner, fault, { singles, history: readings, told });

/** After a fault on the fence was found and mended. */
export function found(search, kind, place, piece, told) {
  const scored = scoredBy(search, portOf(search.fence, kind, place, piece), told);
  return weighed(search, scored, movedBy(scored), { place, known: search.singles.known });
}

/** After the rods were looked at: mended, or nothing but their ground that has dried out and stays so. */
export function rodsFound(search, isMended, told) {
  const { fence, singles } = search;
  const scored = scoredBy(search, fence.rodsFault, told);
  const rods = isMended ? 1 : scored.size * Math.exp(scored.alone.mean[1]);
  const spread = isMended ? fence.doubt_rods : Math.sqrt(scored.alone.cov[3]);
  const anew = { ...scored, doubts: rodsAnew(scored.doubts, Math.log(rods), spread) };
  const known = rodsAnew(singles.known, Math.log(rods), spread);
  const moved = { rods, grass: movedBy(scored).grass };
  return weighed(search, anew, moved, { place: fence.start, known, readsMend: isMended, rodsStay: !isMended });
}
