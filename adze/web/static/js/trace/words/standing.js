// How a search stands in words, as the page of Trace says it (adze/services/trace/words.py).

import { filled } from "../../basics/scales.js";
import { sentences } from "../constants.js";
import { howLikely, NEAR_ZERO } from "../belief/chances.js";
import { growthTimes } from "../belief/growth.js";
import { SURPRISE } from "../belief/surprise.js";

/** What is said of a reading that nothing explains. */
export const surpriseWords = ({ surprise }) => (surprise < SURPRISE ? "" : sentences.NOTHING_EXPLAINS);

/** How it stands: each kind of trouble that is not ruled out, likeliest first. */
export function stands(kinds, finds, growth) {
  const rows = [
    [sentences.KIND_HARD_SHORT, kinds.hardShort],
    [sentences.KIND_LEAK, kinds.leak],
    [sentences.KIND_EARTH_STRAND, kinds.earthStrand],
    [sentences.KIND_CUT, kinds.cut],
    [sentences.KIND_RODS, kinds.rods],
    [sentences.KIND_SEVERAL, kinds.several],
    ...(finds ? [[sentences.KIND_NOTHING, kinds.nothing]] : []),
  ];
  if (growth.share > 0) {
    for (const row of rows) row[1] *= 1 - growth.share;
    const times = growth.share < NEAR_ZERO ? "" : `, ${growthTimes(growth)}`;
    rows.push([filled(sentences.KIND_GROWTH, { times }), growth.share]);
  }
  return rows.sort((p, q) => q[1] - p[1]).map(([words, share]) => [words, howLikely(share)]);
}
