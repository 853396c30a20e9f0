// Where the unit's stop is followed, and what it leaves under faults (adze/core/trace/pulse_base.py).

import { oneWay as figures, pulseBase } from "../constants.js";
import { OneWay } from "./one_way.js";
import { addProduct, product } from "./rows.js";

/** A matrix of the unknowns, every row of it times a factor. */
function productRows(matrix, factor) {
  const found = new Float64Array(matrix.length);
  for (let at = 0; at < matrix.length; at += factor.length)
    addProduct(found, at, matrix, at, factor, 0, factor.length, 1);
  return found;
}

/** The unit's stop where the kV of the fence when well show it somewhere (else null), and the volts that it leaves. */
export function stopOf(fence) {
  const across = { ports: Array.from(fence.kit.source), shares: [1, -1], piece: -1, direct: null };
  const free = { across, oneWay: null, wellVolts: [fence.volts, fence.grassyVolts] };
  if (!fence.kit.is_one_way) return free;
  const oneWay = new OneWay(fence.kit);
  const wellVolts = free.wellVolts.map((volts) => productRows(volts, oneWay.left(fence.seen(volts, across))));
  const kvOf = (volts, unknown) => Math.abs(fence.peaks.one(product(fence.row(volts, unknown), fence.follow)));
  const matters = fence.live.some((unknown) => {
    const kv = unknown < 0 ? 0 : kvOf(fence.volts, unknown);
    return kv > pulseBase.LEAST_SHOWN_KV && Math.abs(kvOf(wellVolts[0], unknown) - kv) > figures.REVERSAL_MATTERS * kv;
  });
  return matters ? { across, oneWay, wellVolts } : free;
}

/** What it leaves of every volt and amp under faults that drive so much on top of a state; null where it is not. */
export function leftUnder(fence, state, fault, drive) {
  if (!fence.oneWay) return null;
  const { size } = fence;
  const here = fence.seen(state.volts, fence.across);
  const does = fence.atFaults(fence.sensitivity(fence.across, state));
  const across = new Float32Array(drive.length);
  fault.forEach((port, h) => {
    across.set(here, h * size);
    addProduct(across, h * size, does, port * size, drive, h * size, size, -1);
  });
  return fence.oneWay.left(across);
}
