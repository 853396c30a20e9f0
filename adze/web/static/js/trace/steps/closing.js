// The closing round: what would carry most of what may be left, and when it is no longer worth the walk (closing.py).

import { closing } from "../constants.js";
import { favoured, walkM } from "./next_step.js";
import { quicklyPredicted, heaviest, learnedBits, likelihood, sampled } from "./worth.js";

const { MISSED_MINUTES, SETTLED, SURELY, THOROUGH_READINGS, EARNED_BITS } = closing;
const { LEFT, REST, HEAVIEST, EVERY, NEAR, LIKELY, OF_LIKELIEST, LOOKS, APART_M } = closing;

/** How far a loss counts as something wrong, 0 to 1. */
export const lostShare = (loss) => Math.min(Math.max((loss - 0.06) / 0.07, 0), 1);

export const pLeft = ({ weight, loss }) => weight.reduce((sum, x, h) => sum + x * lostShare(loss[h]), 0);

function bits(p) {
  const q = Math.min(Math.max(p, 1e-9), 1 - 1e-9);
  return -q * Math.log2(q) - (1 - q) * Math.log2(1 - q);
}

/** Every node once, all legs where the person stands, near places on spans, and some of the likeliest. */
function closingPlaces(candidates, here, done) {
  const { fence } = candidates;
  const one = (number) => ({ number, leg: fence.legs[number][0] });
  const nodes = new Set(fence.nodes);
  const inside = favoured(fence).filter(({ number }) => !nodes.has(number));
  inside.sort((p, q) => walkM(fence, here, p.number) - walkM(fence, here, q.number));
  const likely = candidates.likeliest(OF_LIKELIEST).map(one);
  const step = Math.max(1, Math.floor(likely.length / LIKELY));
  const found = [
    ...[...nodes].filter((number) => number !== here).map(one),
    ...fence.legs[here].map((leg) => ({ number: here, leg })),
    ...inside.slice(0, NEAR),
    ...likely.filter((_, k) => k % step === 0).slice(0, LIKELY),
  ];
  // Reading on along the same line in steps tells little that is new; other legs where one was read do.
  const read = [...new Set(done.map(({ number }) => number))].filter((number) => number >= 0);
  const isApart = (number) => read.includes(number) || read.every((other) => walkM(fence, other, number) > APART_M);
  // All legs of a place show the same kV.
  const keyOf = ({ number, leg }) => (fence.meter.shows_amps ? `${number} ${leg}` : number);
  const known = new Set(done.map(keyOf));
  const apart = found.filter(({ number }) => isApart(number));
  return apart.filter((place) => {
    const isNew = !known.has(keyOf(place));
    known.add(keyOf(place));
    return isNew;
  });
}

/** The heaviest hypotheses, and every so many of the others, which stand for all of them. */
function sampledWhole({ weight }) {
  const heavy = new Set(heaviest(weight, HEAVIEST));
  const others = [];
  for (let h = 0; h < weight.length; h += EVERY) if (!heavy.has(h)) others.push(h);
  const sum = (rows) => rows.reduce((x, h) => x + weight[h], 0);
  const [rest, some] = [Math.max(0, 1 - sum([...heavy])), sum(others)];
  const chosen = [...heavy, ...others].sort((p, q) => p - q);
  const own = chosen.map((h) => (heavy.has(h) || !some ? weight[h] : (weight[h] * rest) / some));
  const total = own.reduce((x, y) => x + y, 0);
  return { chosen, weight: own.map((x) => x / total) };
}

/** How many bits of "is anything left" each reading is expected to bring. */
function closingGains(candidates, learner, places) {
  const { fence } = candidates;
  const { chosen, weight } = sampledWhole(candidates);
  const left = weight.map((x, m) => x * lostShare(candidates.loss[chosen[m]]));
  const rest = weight.map((x, m) => x - left[m]);
  const [picked, times] = [[], []];
  /** @type {[number[], number][]} */
  const sides = [
    [left, LEFT],
    [rest, REST],
  ];
  for (const [own, count] of sides) {
    const total = own.reduce((x, y) => x + y, 0);
    if (!(total > 0)) continue;
    const found = sampled(own, count);
    picked.push(...found.picked);
    times.push(...found.times.map((x) => x * total));
  }
  const doubts = candidates.doubtsOf(chosen);
  const p = left.reduce((x, y) => x + y, 0);
  return places.map((place) => {
    const predicted = quicklyPredicted(candidates, chosen, place);
    const rows = likelihood(fence, predicted, learner.spread(doubts, predicted), picked);
    return rows.reduce((sum, row, t) => {
      let [whole, damaged] = [0, 0];
      for (let m = 0; m < row.length; m++) {
        whole += row[m] * weight[m];
        damaged += row[m] * left[m];
      }
      const after = [Math.max(whole - damaged, 1e-30), Math.max(damaged, 1e-30)];
      return sum + times[t] * learnedBits(after, [1 - p, p]);
    }, 0);
  });
}

export const roundOf = (finds) => ({ finds, readings: 0, expected_bits: 0, brought_bits: 0 });

/** A closing round after a reading: the bits that its readings were expected to bring, and those that they brought. */
export function roundAfter(round, { candidates, learner }, place, read) {
  const [before, now] = [pLeft(candidates), pLeft(read)];
  return {
    finds: round.finds,
    readings: round.readings + 1,
    expected_bits: round.expected_bits + closingGains(candidates, learner, [place])[0],
    brought_bits: round.brought_bits + learnedBits([1 - now, now], [1 - before, before]),
  };
}

/** The share of expected bits that readings bring: little where what is left looks like the day's growth. */
const earned = ({ expected_bits: expected, brought_bits: brought }) =>
  Math.min(1, (brought + EARNED_BITS) / (expected + EARNED_BITS));

/** The most bits a minute, far or near; or to stop, with the chance that nothing is left. */
export function nextInClosing(candidates, learner, here, done, { round, isThorough }) {
  const p = pLeft(candidates);
  const stop = { do: "stop", number: here, leg: "", minutes: 0, gain: 0, clear: 1 - p };
  const patient = isThorough && round.finds > 1 && round.readings < THOROUGH_READINGS;
  if (p < SURELY || (p < SETTLED && !patient)) return stop;
  const { fence } = candidates;
  const pace = fence.pace_m_per_min;
  const nextSteps = [];
  const places = closingPlaces(candidates, here, done);
  closingGains(candidates, learner, places).forEach((gain, k) => {
    const minutes = walkM(fence, here, places[k].number) / pace + fence.minutes.reading;
    nextSteps.push({ rate: gain / minutes, do: "read", ...places[k], minutes, gain });
  });
  for (const number of candidates.likeliest(LOOKS)) {
    const after = candidates.seen(candidates.inspections.looked(fence, number, fence.looking.finds));
    const chance = 1 - after.leftByLooks / Math.max(candidates.leftByLooks, 1e-12);
    const gain = bits(p) - (1 - chance) * bits(pLeft(after));
    const minutes = walkM(fence, here, number) / pace + fence.minutes.look;
    nextSteps.push({ rate: gain / minutes, do: "look", number, leg: "", minutes, gain });
  }
  if (!nextSteps.length) return stop;
  const best = nextSteps.reduce((one, other) => (other.rate > one.rate ? other : one));
  return bits(p) / Math.max(best.rate * (isThorough ? 1 : earned(round)), 1e-9) > MISSED_MINUTES * p && !patient
    ? stop
    : best;
}
