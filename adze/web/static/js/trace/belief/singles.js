// Every single fault that may be (suspects.py).

import { suspects } from "../constants.js";
import { lostShare } from "../steps/closing.js";
import { GRASSIER } from "../solver/fence.js";
import { Hypotheses, sizesOf } from "../solver/predicted.js";
import { product } from "../solver/rows.js";

const { LEAST_KV } = suspects;

/** Every single fault of a farm at each of its sizes, with what each would cost and how likely it is beforehand. */
export function singlesOf(fence, { loss, prior, known }) {
  const faults = Array.from(fence.kind).flatMap((_, f) => new Array(15).fill(f));
  const sizes = Array.from(fence.kind).flatMap((kind) => Array.from(sizesOf(kind)));
  const hypotheses = new Hypotheses(fence, fence.healthy, faults, sizes);
  const logPrior = prior.map((x, h) => Math.log(x * (0.03 + 0.97 * lostShare(loss[h]))));
  return { hypotheses, sizes: Float64Array.from([Infinity, ...sizes]), loss, prior, logPrior, known };
}

/** The same on a fence whose rods or growth were set anew: what each would cost there. */
export function singlesAnew(fence, { prior, known }) {
  const found = singlesOf(fence, { loss: prior.map(() => 1), prior, known });
  const loss = lossOf(found.hypotheses);
  return { ...found, loss };
}

/** The largest share of kV that each takes at any node which is live when well. */
function lossOf(hypotheses) {
  const most = new Float64Array(hypotheses.count);
  for (const node of hypotheses.fence.nodes) {
    const { kv, well } = hypotheses.kvAt(node);
    if (well > LEAST_KV) kv.forEach((x, h) => (most[h] = Math.max(most[h], 1 - x / well)));
  }
  return most;
}

/** The largest turn of ln kV with ln growth at any node. */
export function grassinessOf(fence) {
  const turns = Array.from(fence.nodes, (node) => {
    const [well, grassy] = fence.wellVolts.map((volts) =>
      Math.abs(fence.peaks.one(product(fence.row(volts, fence.live[node]), fence.follow))),
    );
    return well > 0.05 ? Math.abs(Math.log(grassy / well)) / Math.log(GRASSIER) : 0;
  });
  return Math.max(0, ...turns);
}
