// Practice without signal: the farm of a round answers on the device (core/practice/simulated_farm.py).
//
// A round holds what every reading shows for every set of faults that may be left. Walking costs minutes, faults are
// come upon as often as people come upon them, and the tester has its errors.

import { walkM } from "../steps/next_step.js";
import { ends, stops, sweepOrder } from "../belief/places.js";
import { after } from "../steps/steps.js";
import { fedPlace } from "../belief/switches.js";

const MOST_DEEDS = 120;

/** Chances that are the same for the same word: mulberry32. */
export function chancesOf(word) {
  let state = Array.from(word).reduce((sum, letter) => (Math.imul(sum, 31) + letter.charCodeAt(0)) | 0, 7);
  return () => {
    state = (state + 0x6d2b79f5) | 0;
    let t = Math.imul(state ^ (state >>> 15), 1 | state);
    t = (t + Math.imul(t ^ (t >>> 7), 61 | t)) ^ t;
    return ((t ^ (t >>> 14)) >>> 0) / 4294967296;
  };
}

const gauss = (chance) => Math.sqrt(-2 * Math.log(1 - chance())) * Math.cos(2 * Math.PI * chance());
const numbered = (faults, left) => faults.map((fault, k) => ({ ...fault, k })).filter(({ k }) => (left >> k) & 1);

/** How the farm stands before anything was done. */
export const untouched = (fence, { faults }) => ({
  here: fence.start,
  minutes: 0,
  metres: 0,
  left: 2 ** faults.length - 1,
  opened: [],
});

class Walker {
  constructor(search, farm, world, chance) {
    this.search = search;
    this.fence = search.fence;
    this.farm = farm;
    this.round = farm.round;
    this.chance = chance;
    this.here = world.here;
    this.minutes = world.minutes;
    this.metres = world.metres;
    this.left = world.left;
    this.opened = world.opened;
  }

  get world() {
    const { here, minutes, metres, left, opened } = this;
    return { here, minutes, metres, left, opened };
  }

  walk(metres) {
    this.metres += metres;
    this.minutes += metres / this.fence.pace_m_per_min;
  }

  /** What was come upon, mended on the spot. */
  found({ k, place, run, at_m: atM, kind, cause, span }) {
    this.left &= ~(1 << k);
    this.here = place;
    return { what: "found", run, at_m: atM, kind, cause, span };
  }

  /** To a place by the shortest way; what is come upon on it, else nothing. */
  go(to) {
    const way = stops(this.fence, this.here, to);
    for (let k = 1; k < way.length; k++) {
      this.walk(walkM(this.fence, way[k - 1], way[k]));
      this.here = way[k];
      for (const fault of numbered(this.round.faults, this.left))
        if (fault.place === this.here && this.chance() < this.fence.looking.passing_finds) return this.found(fault);
    }
    this.here = to;
    return null;
  }

  noisyKv(kv) {
    const { kv_share: share, kv_least: least } = this.fence.meter;
    return Number(Math.max(0, kv * (1 + share * gauss(this.chance)) + least * gauss(this.chance)).toFixed(1));
  }

  read(nextStep) {
    const place = fedPlace(this, nextStep);
    const seen = this.go(place.number);
    if (seen) return seen;
    this.minutes += this.fence.minutes.reading;
    const { amps_share: share, amps_least: least, shows_amps: showsAmps } = this.fence.meter;
    const kv = this.noisyKv(this.farm.kvAt(place.number, this));
    if (!showsAmps) return { what: "read", kv, amps: null };
    const noisy = this.farm.ampsAt(place, this) * (1 + share * gauss(this.chance)) + least * gauss(this.chance);
    return { what: "read", kv, amps: Number(noisy.toFixed(1)) };
  }

  switch({ switch: id, opens }) {
    const seen = this.go(this.fence.switches.find((one) => one.id === id).fed);
    if (seen) return seen;
    this.minutes += this.fence.minutes.switch;
    this.opened = [...this.opened.filter((other) => other !== id), ...(opens ? [id] : [])];
    return { what: "switch", switch: id, opens };
  }

  rods() {
    const seen = this.go(this.fence.start);
    if (seen) return seen;
    this.minutes += this.fence.minutes.rods;
    return { what: "rods", kv: this.noisyKv(this.farm.rodsKv(this)) };
  }

  look({ number }) {
    const seen = this.go(number);
    if (seen) return seen;
    this.minutes += this.fence.minutes.look;
    const here = numbered(this.round.faults, this.left).find(({ place }) => place === number);
    return here && this.chance() < this.fence.looking.finds ? this.found(here) : { what: "look" };
  }

  /** Along every line, the likeliest first. */
  sweep() {
    const { fence } = this;
    for (const span of sweepOrder({ ...this.search, here: this.here })) {
      const both = ends(fence, fence.spans.indexOf(span));
      const [near, far] = both.toSorted((p, q) => walkM(fence, this.here, p) - walkM(fence, this.here, q));
      const seen = this.go(near);
      if (seen) return seen;
      const own = numbered(this.round.faults, this.left).filter((fault) => fault.span === span);
      const first = own.find(() => this.chance() < fence.looking.finds);
      this.walk(walkM(fence, near, first?.place ?? far));
      if (first) return this.found(first);
      this.here = far;
    }
    return { what: "sweep" };
  }
}

/** What became of a step in practice, and how the farm stands after it. */
export function answered(search, farm, world, nextStep, word) {
  const walker = new Walker(search, farm, world, chancesOf(`${farm.round.seed} ${word}`));
  const told = walker[nextStep.what](nextStep);
  return { ...told, world: walker.world };
}

/** The step of a search as practice does it. */
const practiceStepOf = ({ do: what, ...nextStep }) => ({ ...nextStep, what: what === "read_rods" ? "rods" : what });

/** Every advice followed on the same faults: how many minutes it takes, and whether the fence is restored. */
export function byAdvice(first, farm, told = (share) => void share) {
  let [search, world] = [first, untouched(first.fence, farm.round)];
  for (let count = 0; count < MOST_DEEDS; count++) {
    const nextStep = search.nextStep();
    if (nextStep.do === "stop") break;
    const done = answered(search, farm, world, practiceStepOf(nextStep), `advice ${count}`);
    world = done.world;
    search = after(search, stepAt(search.fence, done, nextStep));
    told(count / MOST_DEEDS);
  }
  return { minutes: Math.round(world.minutes), restored: farm.shut(world).restored && !world.opened.length };
}

/** What was done as the search takes it: at the step's place, or where something was come upon. */
function stepAt(fence, done, { number, leg }) {
  if (done.what === "found") return { ...done, ...spotAt(fence, done.world.here, done.span) };
  if (["rods", "sweep", "switch"].includes(done.what)) return done;
  return { ...done, ...spotAt(fence, number, leg), leg };
}

/** A place as a span and metres from its a: on the given span where it lies there. */
function spotAt(fence, place, wanted) {
  const span = fence.legs[place].includes(wanted) ? wanted : fence.legs[place][0];
  const number = fence.spans.indexOf(span);
  const begins = fence.span.findIndex((of, k) => of === number && fence.a[k] === place);
  if (begins >= 0) return { span, atM: fence.from_m[begins] };
  const piece = fence.span.findIndex((of, k) => of === number && fence.b[k] === place);
  return { span, atM: fence.from_m[piece] + fence.length_m[piece] };
}
