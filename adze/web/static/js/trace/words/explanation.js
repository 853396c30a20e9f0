// What a search tells: where it probably lies, what it may be (explanation.py).

import { explanation } from "../constants.js";
import { CUT, LE, LS } from "../solver/fence.js";
import { growthOf } from "../belief/growth.js";

const { HARD_SHORT_OHM, HALF, MOST } = explanation;

/**
 * Every piece with its share, and whether it is of the half or the nine tenths that are likeliest per metre. Where
 * rods and growth all along have more of it than places of the fence they come first: half may lie with them.
 */
export function piecesTold(search) {
  const { fence, candidates } = search;
  const { a, b, span, from_m: fromM, length_m: lengthM, from_place: places } = fence;
  const metres = new Float64Array(places);
  for (let k = 0; k < a.length; k++) {
    metres[a[k]] += lengthM[k];
    metres[b[k]] += lengthM[k];
  }
  const perM = metres.map((m, p) => candidates.cells[p] / Math.max(m, 1e-9));
  const found = Array.from(span, (of, k) => ({
    span: fence.spans[of],
    from: fromM[k],
    to: fromM[k] + lengthM[k],
    share: (perM[a[k]] + perM[b[k]]) * lengthM[k],
    inHalf: false,
    inMost: false,
  }));
  const onFence = found.reduce((sum, { share }) => sum + share, 0);
  const { share: grown } = growthOf(search);
  const elsewhere = candidates.cells[candidates.noneCell + 1] + grown / Math.max(1 - grown, 1e-12);
  let before = elsewhere > onFence ? elsewhere : 0;
  const whole = Math.max(onFence + before, 1e-12);
  for (const piece of found.toSorted((p, q) => q.share / (q.to - q.from) - p.share / (p.to - p.from))) {
    piece.inHalf = before / whole < HALF;
    piece.inMost = before / whole < MOST;
    before += piece.share;
  }
  return found;
}

/** The stretches that hold half of it, the likeliest first. */
export function stretches(pieces) {
  const found = [];
  for (const { span, from, to, share, inHalf } of pieces) {
    if (!inHalf) continue;
    const last = found.at(-1);
    if (last?.span === span && Math.abs(last.to - from) < 1e-6) Object.assign(last, { to, share: last.share + share });
    else found.push({ span, from, to, share });
  }
  return found.sort((p, q) => q.share - p.share);
}

/** How likely each kind of trouble is. */
export function kindsTold({ fence, candidates, singles }) {
  const found = { hardShort: 0, leak: 0, earthStrand: 0, cut: 0 };
  const single = singles.loss.length;
  for (let h = 1; h < single; h++) {
    if (!(candidates.loss[h] > candidates.material)) continue;
    const kind = fence.kind[singles.hypotheses.fault[h]];
    const weight = candidates.weight[h];
    if (kind === LS) found[singles.sizes[h] < HARD_SHORT_OHM ? "hardShort" : "leak"] += weight;
    else if (kind === LE) found.earthStrand += weight;
    else if (kind === CUT) found.cut += weight;
  }
  const several = candidates.weight.reduce((sum, x, h) => sum + (h >= single ? x : 0), 0);
  const { cells, noneCell } = candidates;
  return { ...found, rods: cells[noneCell + 1], nothing: cells[noneCell], several };
}
