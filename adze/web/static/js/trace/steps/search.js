// A search as it goes, on the device: what was done so far, what is believed, the next step (search.py).

import { search as figures } from "../constants.js";
import { Learner } from "../belief/belief.js";
import { nextInClosing, roundAfter } from "./closing.js";
import { nextInSearch, walkM } from "./next_step.js";
import { Fence } from "../solver/fence.js";
import { asksRods, isUnread } from "./first.js";
import { growthOf } from "../belief/growth.js";
import { HypothesisSet } from "../belief/hypotheses.js";
import { Inspections } from "../belief/inspections.js";
import { withPairs } from "../belief/pairs.js";
import { ends, sweepOrder, wayPieces } from "../belief/places.js";
import { singlesOf } from "../belief/singles.js";
import { fedPlace, whileOpen } from "../belief/switches.js";
import { doubtfulSwitch, SURPRISE, surpriseOf } from "../belief/surprise.js";

const { PAIRS_FROM, PAIRS_EVERY, STAGE_1, MOST_ACTIONS, MOST_MINUTES, LEAST_ACTIONS, MOST_CLOSING } = figures;
const { MOST_SWEEPS, LOOKS_GONE, RODS_LIKELY, SURE } = figures;

export class FaultSearch {
  /** A search as the server packed it: nothing read since its beginning or its last mend. */
  static of(kit, peaks) {
    const fence = new Fence({ ...kit, from_place: kit.legs.length }, peaks);
    const known = { mean: kit.known_mean, cov: kit.known_cov };
    const singles = singlesOf(fence, { ...kit, known });
    const doubts = { logWeight: kit.log_weight, mean: kit.mean, cov: kit.cov };
    const block = { hypotheses: singles.hypotheses, doubts, loss: kit.loss, first: -1 };
    const inspections = new Inspections(kit.looks_place, kit.looks_half);
    const { looked, is_thorough: isThorough, closing, reads_mend: readsMend, ...rest } = kit.search;
    const { in_earnest: inEarnest, is_mown: isMown } = kit.search;
    return new FaultSearch({
      ...rest,
      fence,
      singles,
      candidates: new HypothesisSet(fence, [block], inspections, kit.material),
      learner: new Learner(kit, kit.search.finds > 0),
      looked: new Set(looked),
      isThorough,
      closing,
      readsMend,
      inEarnest,
      isMown,
      readings: [],
      skipped: [],
      surprise: 0,
      doubtful: "",
    });
  }

  constructor(fields) {
    Object.assign(this, fields);
  }

  with(fields) {
    return new FaultSearch({ ...this, ...fields });
  }

  get isClosing() {
    return this.finds > 0 && this.candidates.pMaterial < STAGE_1;
  }

  get done() {
    const whole = this.readings.filter(({ reading }) => !reading.opened.length);
    return [...whole.map(({ reading }) => reading.place), ...this.skipped];
  }

  minutesTo(place) {
    return walkM(this.fence, this.here, place) / this.fence.pace_m_per_min;
  }

  /** Whether so much was done since the last mend that readings no longer part what is left. */
  get isOver() {
    const spent = this.minutes - this.since;
    return this.actions >= MOST_ACTIONS || (spent > MOST_MINUTES && this.actions >= LEAST_ACTIONS);
  }

  /** Where much lies with the rods: their kV, then a look at them; else null. */
  get atRods() {
    const { fence, candidates, done } = this;
    const [share, there] = [candidates.cells[candidates.noneCell + 1], this.minutesTo(fence.start)];
    const nextStep = { number: -1, leg: "" };
    if (share > RODS_LIKELY && fence.rods_ohm > 0 && !done.some(({ number }) => number < 0))
      return { do: "read_rods", ...nextStep, minutes: there + fence.minutes.rods };
    return share > SURE && this.inEarnest
      ? { do: "look_rods", ...nextStep, minutes: there + fence.minutes.look }
      : null;
  }

  nextStep() {
    const { fence, candidates, learner, here, done, isOver } = this;
    const { reading, rods } = fence.minutes;
    if (this.opened.length) return whileOpen(this);
    if (asksRods(this)) return { do: "read_rods", number: -1, leg: "", minutes: rods };
    if (this.readsMend || isUnread(this))
      return { do: "read", number: here, leg: fence.legs[here][0], minutes: reading, gain: 0 };
    if (this.isClosing) return this.closingStep();
    if (growthOf(this).share > SURE)
      return { do: "look_growth", number: here, leg: "", minutes: fence.minutes.look, gain: 0 };
    if (isOver && this.sweeps < MOST_SWEEPS[Math.min(this.finds, 1)])
      return { do: "sweep", number: here, leg: "", spans: sweepOrder(this) };
    if (this.atRods) return this.atRods;
    const worked = new Set(this.readings.flatMap(({ reading: own }) => own.opened));
    const nextStep = isOver ? null : nextInSearch(candidates, learner, here, done, { looked: this.looked, worked });
    return nextStep ?? this.stop();
  }

  closingStep() {
    const { candidates, learner, here, done } = this;
    const nextStep = nextInClosing(candidates, learner, here, done, {
      round: this.closing,
      isThorough: this.isThorough,
    });
    return this.actions >= MOST_CLOSING ? this.stop() : nextStep;
  }

  stop() {
    return { do: "stop", number: this.here, leg: "", minutes: 0, clear: 1 - this.candidates.pMaterial };
  }

  /** After walking to a place without coming upon anything. */
  walked(place, minutes) {
    const pieces = wayPieces(this.fence, this.here, place);
    const inspections = this.candidates.inspections.passed(this.fence, pieces, this.fence.looking.passing_finds);
    return this.with({ here: place, minutes: this.minutes + minutes, actions: this.actions + 1 }).seen(inspections);
  }

  /** With inspections; where they ruled out nearly everything, the model was too sure. */
  seen(inspections) {
    const candidates = this.candidates.seen(inspections);
    if (candidates.leftByLooks >= LOOKS_GONE) return this.with({ candidates });
    const [block] = candidates.blocks;
    const logWeight = block.doubts.logWeight.map((x) => x / 2);
    const doubts = { ...block.doubts, logWeight };
    return this.with({
      candidates: new HypothesisSet(this.fence, [{ ...block, doubts }], inspections.faded(0.6), candidates.material),
    });
  }

  lookedAt(place) {
    const inspections = this.candidates.inspections.looked(this.fence, place, this.fence.looking.finds);
    return this.with({ looked: new Set([...this.looked, place]) }).seen(inspections);
  }

  /** After a place where nothing could be read: it is not asked for again before the next mend. */
  skippedAt(place) {
    return this.with({ skipped: [...this.skipped, place], readsMend: false });
  }

  /** After a look at the growth: it is none. */
  growthDenied() {
    return this.with({ isMown: true, minutes: this.minutes + this.fence.minutes.look });
  }

  sweptAll() {
    const pieces = Array.from(this.fence.a, (_, k) => k);
    const inspections = this.candidates.inspections.passed(this.fence, pieces, this.fence.looking.finds);
    const here = ends(this.fence, this.fence.spans.length - 1)[1];
    return this.with({ here, sweeps: this.sweeps + 1, actions: 0, since: this.minutes }).seen(inspections);
  }

  /** After a switch was opened or shut where the person stands. */
  switched(id, opens) {
    const others = this.opened.filter((own) => own !== id);
    return this.with({ opened: opens ? [...others, id].sort() : others, doubtful: "" });
  }

  read(shown) {
    const { opened } = this;
    const reading = { ...shown, place: fedPlace(this, shown.place), opened };
    const isSame = ({ place, kv, opened: own }) =>
      place.number === reading.place.number && kv !== null && own.join() === opened.join();
    const again = this.readings.some(({ reading: own }) => isSame(own));
    const surprise = surpriseOf(this, reading, again);
    const doubtful = surprise >= SURPRISE ? doubtfulSwitch(this, reading, again) : "";
    const candidates = this.candidates.after(this.learner, reading, again);
    const readings = [...this.readings, { reading, again }];
    const counts = this.isClosing && !this.readsMend && reading.place.number >= 0 && !opened.length;
    const closing = counts ? roundAfter(this.closing, this, reading.place, candidates) : this.closing;
    const after = this.with({ candidates, readings, closing, readsMend: false, surprise, doubtful });
    const isTime = readings.length >= PAIRS_FROM && (readings.length - PAIRS_FROM) % PAIRS_EVERY === 0;
    if (this.finds || !isTime) return after;
    return after.with({ candidates: withPairs(candidates, this.learner, this.singles, readings) });
  }
}
