// The farm of a round of practice on the device: what its tester would show (core/practice/simulated_farm.py).
//
// With all switches shut that stands in the round's own tables. With one open it is computed here: the fence with its
// unit, rods and growth as they really are, the faults at the places nearest to them, the wire parted at the switch.

import { LS, PARTED_OHM } from "../solver/fence.js";
import { portOf } from "../belief/mended.js";
import { nearestPlace, pieceAt } from "../belief/places.js";
import { product } from "../solver/rows.js";
import { KINDS } from "../steps/steps.js";

export class HiddenFarm {
  constructor(fence, round) {
    Object.assign(this, { fence, round, open: new Map() });
  }

  /** The tables of the faults that are left. */
  shut({ left }) {
    return this.round.states[left];
  }

  /** The fence as it really is, well. */
  get real() {
    const { rods, grass } = this.round.truth;
    const { moved } = this.fence;
    this.own ??= this.fence.with({ rods: rods / moved.rods, grass: grass / moved.grass });
    return this.own;
  }

  /** Ports and ohms of a fault: grass leaks at every place along it. */
  changesOf({ kind, span, span_at_m: atM, until_m: untilM, size }) {
    const { real } = this;
    const port = (own, place) => portOf(real, own, place, pieceAt(real, span, atM));
    if (kind !== "grass") return [[port(KINDS[kind], nearestPlace(real, span, atM)), size]];
    const along = Array.from(real.span, (of, k) => k).filter((k) => real.spans[real.span[k]] === span);
    const overlap = (k) => Math.min(untilM, real.from_m[k] + real.length_m[k]) - Math.max(atM, real.from_m[k]);
    const leaky = along.filter((k) => overlap(k) > 0);
    return leaky.map((k) => [port(LS, real.b[k]), 1 / (size * overlap(k))]);
  }

  /** The fence with the faults that are left and the switches that stand open. */
  parted({ left, opened }) {
    const key = `${left} ${opened}`;
    if (!this.open.has(key)) {
      const faults = this.round.faults.filter((_, k) => (left >> k) & 1).flatMap((fault) => this.changesOf(fault));
      const cuts = this.real.partedBy(opened).map((port) => [port, PARTED_OHM]);
      const { real } = this;
      const state = [...faults, ...cuts].reduce((one, [port, ohm]) => real.withFault(one, port, ohm), real.healthy);
      this.open.set(key, state);
    }
    return this.open.get(key);
  }

  /** The peak of what is read with switches open, A. */
  peakOf(watched, world, turn = (row) => row) {
    const { real, round } = this;
    const state = this.parted(world);
    const read = real.reads(watched, state);
    const left = real.oneWay?.left(real.seen(state.volts, real.across));
    return round.truth.unit * real.peaks.one(turn(left ? product(read, left) : read));
  }

  /** kV as the tester follows. */
  kvOf(watched, world) {
    return Math.abs(this.peakOf(watched, world, (row) => product(row, this.real.follow)));
  }

  kvAt(number, world) {
    if (!world.opened.length) return this.shut(world).kv[number];
    return this.kvOf(this.real.voltsAt(number), world);
  }

  ampsAt({ number, leg }, world) {
    const legs = this.fence.legs[number];
    const at = Math.max(0, legs.indexOf(leg));
    if (!world.opened.length) return this.shut(world).amps[number][at];
    return this.peakOf(this.real.ampsAt(number, legs[at]), world);
  }

  rodsKv(world) {
    if (!world.opened.length) return this.shut(world).rods_kv;
    return this.kvOf(this.real.voltsAt(-1), world);
  }
}
