// What the last mend brought where it was read again, beside what a well fence shows there (trace_words.py).

import { filled } from "../../basics/scales.js";
import { history, sentences } from "../constants.js";
import { STAY_KINDS } from "../steps/found.js";
import { nearestPlace } from "../belief/places.js";
import { spotOf } from "../belief/spots.js";

const { WITHIN, NEAR_M } = history;

function kvWords(kv) {
  const rounded = Number(kv.toPrecision(2));
  if (rounded < 0.001) return "0";
  return rounded >= 1 && rounded < 10 ? rounded.toFixed(1) : String(rounded);
}

const hasKv = ({ what, kv }) => what === "read" && kv !== null && kv !== undefined;
const isNear = (one, other) => one.run === other.run && (!one.run || Math.abs(one.at_m - other.at_m) <= NEAR_M);

/** The gain of the last mend in words; empty where nothing was read since. */
export function gainWords(search, steps, field) {
  const mend = steps.findLastIndex(({ what }) => what === "found");
  if (mend < 0 || STAY_KINDS.includes(steps[mend].kind)) return "";
  const again = steps.slice(mend).find(hasKv);
  if (!again) return "";
  const { span, atM } = spotOf(field, again);
  const number = again.run ? nearestPlace(search.fence, span, atM) : search.fence.start;
  const { well } = search.singles.hypotheses.kvAt(number);
  const left = well - again.kv;
  const isWhole = left <= WITHIN * well;
  const missing = isWhole ? sentences.NONE_MISSING : filled(sentences.STILL_MISSING, { left_kv: kvWords(left) });
  const here = filled(sentences.WELL_WOULD_BE, { well_kv: kvWords(well), missing });
  const before = steps.slice(0, mend).findLast((step) => hasKv(step) && isNear(step, again));
  if (!before) return here;
  const gain = again.kv - before.kv;
  const cost = well - before.kv;
  if (gain <= 0 || cost <= 0) return filled(sentences.NO_GAIN, { before_kv: kvWords(before.kv), here });
  const share = isWhole ? "" : filled(sentences.OF_MISSING, { cost_kv: kvWords(cost) });
  return filled(sentences.GAIN, { gain_kv: kvWords(gain), share, here });
}
