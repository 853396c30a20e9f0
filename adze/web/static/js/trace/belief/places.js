// Places and pieces of the fence on the device: the nearest place, the way between two, the order of a sweep (grid.py).

import { walkM } from "../steps/next_step.js";

const piecesOf = ({ span }, number) => Array.from(span, (of, k) => (of === number ? k : -1)).filter((k) => k >= 0);

/** The place nearest to so many metres from a span's a. */
export function nearestPlace(fence, span, atM) {
  const own = piecesOf(fence, fence.spans.indexOf(span));
  let [best, off] = [fence.b[own.at(-1)], Math.abs(fence.from_m[own.at(-1)] + fence.length_m[own.at(-1)] - atM)];
  for (const k of own.toReversed()) {
    const here = Math.abs(fence.from_m[k] - atM);
    if (here <= off) [best, off] = [fence.a[k], here];
  }
  return best;
}

/** The piece of a span that holds a spot. */
export function pieceAt(fence, span, atM) {
  const own = piecesOf(fence, fence.spans.indexOf(span));
  return own.findLast((k) => fence.from_m[k] <= atM) ?? own[0];
}

/** The places at both ends of a span. */
export function ends(fence, number) {
  const own = piecesOf(fence, number);
  return [fence.a[own[0]], fence.b[own.at(-1)]];
}

/** The places on the shortest way between two, both included. */
export function stops(fence, from, to) {
  const places = fence.from_place;
  const size = fence.steps_back.length / places;
  const found = [to];
  let here = to;
  while (here !== from && fence.steps_back[from * size + here] >= 0) {
    here = fence.steps_back[from * size + here];
    if (here < places) found.push(here);
  }
  return found.toReversed();
}

/** The pieces walked along on the shortest way between two places. */
export function wayPieces(fence, from, to) {
  const between = new Map();
  for (let k = 0; k < fence.a.length; k++) between.set(pairOf(fence.a[k], fence.b[k]), k);
  const way = stops(fence, from, to);
  return way
    .slice(1)
    .map((place, k) => between.get(pairOf(way[k], place)))
    .filter((k) => k !== undefined);
}

const pairOf = (a, b) => `${Math.min(a, b)} ${Math.max(a, b)}`;

/** Spans to walk and look along: those that hold 80 % of it first, each time the nearest next. */
export function sweepOrder({ fence, candidates, here }) {
  const share = new Float64Array(fence.spans.length);
  fence.span.forEach((of, k) => (share[of] += (candidates.cells[fence.a[k]] + candidates.cells[fence.b[k]]) / 2));
  const order = Array.from(share, (_, k) => k).sort((p, q) => share[q] - share[p]);
  const total = share.reduce((x, y) => x + y, 0);
  let [sum, enough] = [0, 0];
  while (enough < order.length && sum < 0.8 * total) sum += share[order[enough++]];
  const found = [];
  let at = here;
  for (const left of [order.slice(0, enough), order.slice(enough)]) {
    while (left.length) {
      const off = (k) => Math.min(...ends(fence, k).map((end) => walkM(fence, at, end)));
      const nearest = left.reduce((p, q) => (off(q) < off(p) ? q : p));
      at = ends(fence, nearest).toSorted((p, q) => walkM(fence, at, p) - walkM(fence, at, q))[1];
      left.splice(left.indexOf(nearest), 1);
      found.push(fence.spans[nearest]);
    }
  }
  return found;
}
