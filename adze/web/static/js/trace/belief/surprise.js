// How far a reading lies from what the likely explanations expected (search.py).

import { search } from "../constants.js";
import { partOf } from "./belief.js";
import { part } from "../solver/predicted.js";

export const { SURPRISE } = search;
const { EXPLAINED, LIKELY_SHARE } = search;

/** How many spreads a reading lies off what the best of the likely single faults expected. */
export function surpriseOf({ candidates, learner }, { place, kv, amps, opened }, again) {
  const [best] = candidates.blocks;
  const most = candidates.weight.reduce((x, y) => Math.max(x, y), 0);
  const likely = Array.from(best.loss, (_, h) => h).filter((h) => candidates.weight[h] > LIKELY_SHARE * most);
  if (!likely.length) return 0;
  const predicted = part(best.hypotheses.under(opened).predict(place), likely);
  const [kvVar, ampsVar] = learner.spread(partOf(best.doubts, likely), predicted);
  const off = likely.map((_, k) => {
    const volts = kv !== null && !again ? Math.abs(kv - predicted.kv[k]) / Math.sqrt(kvVar[k]) : 0;
    const flow = amps !== null && place.leg ? Math.abs(amps - predicted.amps[k]) / Math.sqrt(ampsVar[k]) : 0;
    return Math.max(volts, flow);
  });
  return Math.min(...off);
}

/** The switch which, the other way about, would explain a reading that nothing explains; else none. */
export function doubtfulSwitch(search, reading, again) {
  let [best, least] = ["", EXPLAINED];
  for (const { id } of search.fence.switches) {
    const opened = reading.opened.includes(id) ? reading.opened.filter((own) => own !== id) : [...reading.opened, id];
    const off = surpriseOf(search, { ...reading, opened }, again);
    if (off < least) [best, least] = [id, off];
  }
  return best;
}
