// What a reading would show under every hypothesis, with the rods as they are and with more ohms (predicted.py).

import { predicted as figures } from "../constants.js";
import { CUT, GRASSIER, PARTED_OHM, RODS } from "./fence.js";
import { product } from "./rows.js";
import { leftUnder } from "./stop.js";

export const SIZES_OHM = Float64Array.from({ length: 15 }, (_, k) => 20 * 250 ** (k / 14));
export const { CUT_TIMES, LOG_RODS } = figures;
const { RODS_FACTOR } = figures;
const LOG_GRASSIER = Math.log(GRASSIER);

/** A size of a kind beside that of a leak: ohms; a cut's is 20 times it, rods take a factor of 12 to 1.3. */
export const sizeOf = (kind, ohm) =>
  kind === CUT ? CUT_TIMES * ohm : kind === RODS ? 1 + 11 * (20 / ohm) ** 0.65 : ohm;

export const sizesOf = (kind) => SIZES_OHM.map((ohm) => sizeOf(kind, ohm));

export const everyone = (count) => Int32Array.from({ length: count }, (_, k) => k);

/** Some of what is predicted. */
export function part(predicted, chosen) {
  const own = (row) => Float64Array.from(chosen, (h) => row[h]);
  const { kv, amps, rodsKv, rodsA } = predicted;
  return { ...predicted, kv: own(kv), amps: own(amps), rodsKv: own(rodsKv), rodsA: own(rodsA) };
}

/** Faults of sizes on top of a state, each by itself; before them stands that nothing is added. */
export class Hypotheses {
  constructor(fence, state, faults, sizes, standing = []) {
    Object.assign(this, { fence, state, standing });
    this.worse = fence.rodsFault < 0 ? state : fence.withFault(state, fence.rodsFault, RODS_FACTOR);
    this.fault = Int32Array.from([0, ...faults]);
    this.sizes = sizes;
    [this.drive, this.worseDrive] = [state, this.worse].map((one) => this.pushed(one, faults, sizes));
    this.left = leftUnder(fence, state, this.fault, this.drive);
    this.worseLeft = leftUnder(fence, this.worse, this.fault, this.worseDrive);
    Object.assign(this, { kept: new Map(), seen: new Map(), quickPredictions: new Map(), others: new Map() });
  }

  /** The same while switches stand open. */
  under(opened) {
    const { fence, standing, others } = this;
    const parted = fence.partedBy(opened);
    if (!parted.length) return this;
    const key = parted.join();
    if (!others.has(key)) {
      const state = parted.reduce((one, port) => fence.withFault(one, port, PARTED_OHM), this.state);
      others.set(key, new Hypotheses(fence, state, this.fault.subarray(1), this.sizes, standing));
    }
    return others.get(key);
  }

  get count() {
    return this.fault.length;
  }

  pushed(state, faults, sizes) {
    const { fence } = this;
    const found = new Float32Array((faults.length + 1) * fence.size);
    for (let k = 0; k < faults.length; k++) {
      const strength = fence.strength(state, faults[k], sizes[k]);
      found.set(product(strength, fence.row(state.drive, faults[k])), (k + 1) * fence.size);
    }
    return found;
  }

  /** What a reading would show under all of them; kept, as it does not change with what is believed. */
  predict(place) {
    const key = `${place.number} ${place.leg}`;
    if (!this.kept.has(key)) this.kept.set(key, this.predictAll(place));
    return this.kept.get(key);
  }

  peaksOf({ here, does }, chosen) {
    return this.fence.peaks.of(here, does, { fault: this.fault, drive: this.drive, left: this.left, chosen });
  }

  worsePeaksOf({ worseHere, worseDoes }, chosen) {
    const how = { fault: this.fault, drive: this.worseDrive, left: this.worseLeft, chosen };
    return this.fence.peaks.of(worseHere, worseDoes, how);
  }

  predictAll(place) {
    const all = everyone(this.count);
    const volts = this.seenAt({ number: place.number, leg: "" });
    const kv = this.peaksOf(volts, all).map(Math.abs);
    const rodsKv = this.worsePeaksOf(volts, all).map(Math.abs);
    const { well: healthyKv, grass: grassKv } = this.healthyAt(this.fence.voltsAt(place.number), true);
    if (!place.leg) {
      const none = new Float64Array(this.count).fill(NaN);
      return { kv, amps: none, rodsKv, rodsA: none, grassKv, grassA: 0, healthyKv, healthyA: NaN };
    }
    const own = this.seenAt(place);
    const amps = this.peaksOf(own, all);
    const rodsA = this.worsePeaksOf(own, all);
    const { well: healthyA, grass: grassA } = this.healthyAt(this.fence.ampsAt(place.number, place.leg), false);
    return { kv, amps, rodsKv, rodsA, grassKv, grassA, healthyKv, healthyA };
  }

  /** What a reading would show under some; how it turns with the rods is taken from the fence without them. */
  quickPrediction(place, chosen) {
    const key = `${place.number} ${place.leg}`;
    if (this.kept.has(key)) return part(this.kept.get(key), chosen);
    if (!this.quickPredictions.has(key)) {
      const unknown = () => new Float64Array(this.count).fill(NaN);
      this.quickPredictions.set(key, { kv: unknown(), amps: unknown(), ...this.wellAt(place) });
    }
    const quickPrediction = this.quickPredictions.get(key);
    const missing = chosen.filter((h) => Number.isNaN(quickPrediction.kv[h]));
    if (missing.length) this.fill(quickPrediction, place, missing);
    const { volts, flow } = quickPrediction;
    const kv = Float64Array.from(chosen, (h) => quickPrediction.kv[h]);
    const amps = Float64Array.from(chosen, (h) => quickPrediction.amps[h]);
    const left = kv.map((x) => x / Math.max(volts.well, 1e-6));
    const rodsKv = kv.map((x, k) => x + volts.rods * left[k]);
    const rodsA = amps.map((x, k) => x + flow.rods * left[k]);
    const grass = { grassKv: volts.grass, grassA: flow.grass };
    return { kv, amps, rodsKv, rodsA, ...grass, healthyKv: volts.well, healthyA: flow.well };
  }

  fill(quickPrediction, place, missing) {
    const volts = this.seenAs({ number: place.number, leg: "" });
    const kv = this.peaksOf(volts, missing);
    missing.forEach((h, k) => (quickPrediction.kv[h] = Math.abs(kv[k])));
    if (!place.leg) return;
    const flow = this.seenAs(place);
    const amps = this.peaksOf(flow, missing);
    missing.forEach((h, k) => (quickPrediction.amps[h] = amps[k]));
  }

  /** Of kV and of A on the fence as it stands when well: the reading, its turn with growth, with worse rods. */
  wellAt(place) {
    const { fence } = this;
    const of = (watched, isVolts) => {
      const peakOf = (state, left) => {
        const read = fence.reads(watched, state);
        return fence.peaks.one(this.scaled(left ? product(read, left.subarray(0, fence.size)) : read, isVolts));
      };
      const [asIs, worse] = [peakOf(this.state, this.left), peakOf(this.worse, this.worseLeft)];
      const rods = isVolts ? Math.abs(worse) - Math.abs(asIs) : worse - asIs;
      return { ...this.healthyAt(watched, isVolts), rods };
    };
    const volts = of(fence.voltsAt(place.number), true);
    const flow = place.leg ? of(fence.ampsAt(place.number, place.leg), false) : { well: NaN, grass: 0, rods: 0 };
    return { volts, flow };
  }

  /** kV at a place under all of them, and when well. */
  kvAt(number) {
    const kv = this.peaksOf(this.seenAs({ number, leg: "" }), everyone(this.count)).map(Math.abs);
    return { kv, well: this.healthyAt(this.fence.voltsAt(number), true).well };
  }

  scaled(row, isVolts) {
    return isVolts ? product(row, this.fence.follow) : row;
  }

  /** At a reading: what stands, and what a unit at each port does there, the rods as they are. */
  seenAs(place) {
    return this.seenOnce(place, "as", this.state);
  }

  seenAt(place) {
    const worse = this.seenOnce(place, "worse", this.worse);
    return { ...this.seenAs(place), worseHere: worse.here, worseDoes: worse.does };
  }

  seenOnce(place, name, state) {
    const key = `${name} ${place.number} ${place.leg}`;
    if (!this.seen.has(key)) this.seen.set(key, this.seenIn(place, state));
    return this.seen.get(key);
  }

  seenIn(place, state) {
    const { fence } = this;
    const isVolts = !place.leg;
    const watched = isVolts ? fence.voltsAt(place.number) : fence.ampsAt(place.number, place.leg);
    const here = this.scaled(fence.reads(watched, state), isVolts);
    const does = fence.atFaults(fence.sensitivity(watched, state));
    for (let f = 0; f < fence.kind.length; f++) {
      const own = fence.row(does, f);
      if (watched.direct && fence.kind[f] === CUT && fence.piece[f] === watched.piece)
        for (let i = 0; i < own.length; i++) own[i] -= watched.direct[i];
      if (isVolts) own.set(product(own, fence.follow));
    }
    return { here, does: Float32Array.from(does) };
  }

  /** The reading of the fence when well, and how it turns with the logarithm of growth. */
  healthyAt(watched, isVolts) {
    const { fence } = this;
    const both = fence.wellVolts.map((volts) => {
      const found = fence.peaks.one(this.scaled(fence.seen(volts, watched), isVolts));
      return isVolts ? Math.abs(found) : found;
    });
    return { well: both[0], grass: (both[1] - both[0]) / LOG_GRASSIER };
  }
}
