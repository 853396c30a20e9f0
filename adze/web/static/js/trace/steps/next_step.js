// What may be done next, and what a reading or a look is worth: bits of the place, minutes to the end (next_step.py).

import { nextStep as figures } from "../constants.js";
import { quicklyPredicted, learnedBits, likelihood, sampled, weighed } from "./worth.js";

const { NEAREST, FARTHER, LOOKS, FAVOURED_M, WIDE_BITS, WIDE_M, MOST_TRUTHS, BIT_MINUTES } = figures;

const keyOf = ({ number, leg }) => `${number} ${leg}`;

/** Half to even, as the server rounds. */
function rounded(x) {
  const down = Math.floor(x);
  const rest = x - down;
  return rest > 0.5 || (rest === 0.5 && down % 2) ? down + 1 : down;
}

/** Where readings are worth the walk: nodes with each leg, and every 100 m along spans. */
export function favoured(fence) {
  const { nodes, legs, a, span, length_m: lengthM } = fence;
  const found = Array.from(nodes).flatMap((number) => legs[number].map((leg) => ({ number, leg })));
  const known = new Set(nodes);
  const first = new Map();
  span.forEach((of, k) => first.has(of) || first.set(of, k));
  a.forEach((number, k) => {
    const every = Math.max(1, rounded(FAVOURED_M / lengthM[k]));
    if (!known.has(number) && (k - first.get(span[k])) % every === 0) found.push({ number, leg: legs[number][0] });
  });
  return found;
}

export const walkM = (fence, from, to) => fence.walk_m[from * fence.from_place + to];

function placesToRead(candidates, here, done) {
  const { fence } = candidates;
  const read = new Set(done.map(({ number }) => number));
  const known = new Set(done.map(keyOf));
  const showsAmps = fence.meter.shows_amps;
  const wide = candidates.entropyBits > WIDE_BITS;
  const worth = (place) =>
    !known.has(keyOf(place)) &&
    (showsAmps || !read.has(place.number)) &&
    (!wide ||
      read.has(place.number) ||
      [...read].every((other) => other < 0 || walkM(fence, place.number, other) > WIDE_M));
  const nearer = (p, q) => walkM(fence, here, p.number) - walkM(fence, here, q.number);
  const isOwn = ({ number }, k, all) => showsAmps || all.findIndex((other) => other.number === number) === k;
  const near = favoured(fence).sort(nearer).filter(worth).filter(isOwn).slice(0, NEAREST);
  const taken = new Set(near.map(({ number }) => number));
  const far = Array.from(fence.nodes)
    .filter((number) => !taken.has(number))
    .map((number) => ({ number, leg: fence.legs[number][0] }));
  return [...near, ...far.sort(nearer).filter(worth).slice(0, FARTHER)];
}

/** The cells in which some hypotheses lie, numbered anew without those in which none does. */
function usedCells(candidates, chosen) {
  const numbers = new Map();
  const cell = new Int32Array(4 * chosen.length);
  const share = new Float64Array(4 * chosen.length);
  chosen.forEach((h, m) => {
    for (let k = 0; k < 4; k++) {
      const own = candidates.cell[4 * h + k];
      if (!numbers.has(own)) numbers.set(own, numbers.size);
      cell[4 * m + k] = numbers.get(own);
      share[4 * m + k] = candidates.share[4 * h + k];
    }
  });
  return { cell, share, count: numbers.size };
}

/** How many bits of the place each reading is expected to bring, with the switches that are opened for each. */
function readingGains(candidates, learner, places) {
  const { fence } = candidates;
  const { chosen, weight } = weighed(candidates);
  const { picked, times } = sampled(weight, MOST_TRUTHS);
  const doubts = candidates.doubtsOf(chosen);
  const used = usedCells(candidates, chosen);
  const spread = (own) => {
    const found = new Float64Array(used.count);
    for (let m = 0; m < own.length; m++)
      for (let k = 4 * m; k < 4 * m + 4; k++) found[used.cell[k]] += own[m] * used.share[k];
    return found;
  };
  const before = spread(weight);
  return places.map((place) => {
    const predicted = quicklyPredicted(candidates, chosen, place, place.opened);
    const rows = likelihood(fence, predicted, learner.spread(doubts, predicted), picked);
    return rows.reduce((sum, row, t) => {
      for (let m = 0; m < row.length; m++) row[m] *= weight[m];
      return sum + times[t] * learnedBits(spread(row), before);
    }, 0);
  });
}

/** Switches that may be opened for a reading beside them, for a tester that shows no amps. */
function switched(candidates, learner, here, worked) {
  const { fence } = candidates;
  const { reading, switch: switching } = fence.minutes;
  const places = fence.meter.shows_amps
    ? []
    : fence.switches.filter(({ id }) => !worked.has(id)).map(({ id, fed }) => ({ number: fed, leg: "", opened: [id] }));
  if (!places.length) return [];
  return readingGains(candidates, learner, places).map((gain, k) => {
    const { number, opened } = places[k];
    const minutes = walkM(fence, here, number) / fence.pace_m_per_min + reading + 2 * switching;
    return { do: "switch", number, leg: "", minutes, gain, switch: opened[0], opens: true };
  });
}

/** The step of the search: at least half the best bits a minute, then the fewest minutes to be expected. */
export function nextInSearch(candidates, learner, here, done, { looked, worked }) {
  const { fence, cells, noneCell, entropyBits } = candidates;
  const pace = fence.pace_m_per_min;
  const inside = cells.subarray(0, noneCell);
  const total = Math.max(
    inside.reduce((x, y) => x + y, 0),
    1e-12,
  );
  const meanWalk = (from) => inside.reduce((sum, p, to) => sum + p * walkM(fence, from, to), 0) / total / pace;
  const nextSteps = [];
  const places = placesToRead(candidates, here, done);
  readingGains(candidates, learner, places).forEach((gain, k) => {
    const cost = walkM(fence, here, places[k].number) / pace + fence.minutes.reading;
    const rest = meanWalk(places[k].number) + BIT_MINUTES * Math.max(0, entropyBits - gain);
    nextSteps.push({ rate: gain / cost, all: cost + rest, do: "read", ...places[k], minutes: cost, gain });
  });
  for (const nextStep of switched(candidates, learner, here, worked)) {
    const { number, gain, minutes } = nextStep;
    const rest = meanWalk(number) + BIT_MINUTES * Math.max(0, entropyBits - gain);
    nextSteps.push({ rate: gain / minutes, all: minutes + rest, ...nextStep });
  }
  for (const number of candidates.likeliest(LOOKS)) {
    if (looked.has(number) && cells[number] < 0.05) continue;
    const after = candidates.seen(candidates.inspections.looked(fence, number, fence.looking.finds));
    const chance = 1 - after.leftByLooks / Math.max(candidates.leftByLooks, 1e-12);
    const gain = entropyBits - (1 - chance) * after.entropyBits;
    const cost = walkM(fence, here, number) / pace + fence.minutes.look;
    const rest = (1 - chance) * (meanWalk(number) + BIT_MINUTES * Math.max(0, entropyBits - gain));
    nextSteps.push({ rate: gain / cost, all: cost + rest, do: "look", number, leg: "", minutes: cost, gain });
  }
  if (!nextSteps.length) return null;
  const best = Math.max(...nextSteps.map(({ rate }) => rate));
  return nextSteps.filter(({ rate }) => rate >= best / 2).reduce((p, q) => (q.all < p.all ? q : p));
}
