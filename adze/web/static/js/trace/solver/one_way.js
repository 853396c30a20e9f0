// The discharge that cannot reverse: what the unit's stop leaves of every volt and amp (adze/core/pulse/one_way.py).

import { discharge, oneWay as figures } from "../constants.js";

const { FLOW_STEP_S, FLOW_STEPS } = figures;
const { FLOWS } = discharge;

export class OneWay {
  /** Of a packed search: what drives the unit's current, and what the terminals' volts take off it. */
  constructor({ push, series_s: seriesS, window: [lengthS, dampingPerS], size }) {
    this.push = push;
    this.seriesS = seriesS;
    this.size = size;
    this.perS = 2 / lengthS;
    this.turn = new Float64Array(FLOW_STEPS * size);
    for (let t = 0; t < FLOW_STEPS; t++)
      for (let i = 0; i < size; i += 2) {
        const angle = ((i + 1) * Math.PI * t * FLOW_STEP_S) / lengthS;
        const grown = Math.exp(dampingPerS * t * FLOW_STEP_S);
        this.turn[t * size + i] = grown * Math.cos(angle);
        this.turn[t * size + i + 1] = grown * Math.sin(angle);
      }
  }

  /** What is left, a row for each row of the volts between the terminals, were the current free to reverse. */
  left(acrossV) {
    const { size } = this;
    const found = new Float32Array(acrossV.length);
    const free = new Float64Array(size);
    for (let from = 0; from < acrossV.length; from += size) {
      for (let i = 0; i < size; i += 2) {
        const [re, im] = [acrossV[from + i], acrossV[from + i + 1]];
        free[i] = this.push[i] - (this.seriesS[i] * re - this.seriesS[i + 1] * im);
        free[i + 1] = this.push[i + 1] - (this.seriesS[i] * im + this.seriesS[i + 1] * re);
      }
      const stop = this.untilZero(free);
      if (stop) this.share(free, stop, found.subarray(from, from + size));
      else for (let i = 0; i < size; i += 2) found[from + i] = 1;
    }
    return found;
  }

  /** The current at every step until its first zero, and what of the last step is before it; null: it has none. */
  untilZero(free) {
    const { size, turn } = this;
    const wave = new Float64Array(FLOW_STEPS);
    let most = -Infinity;
    for (let t = 0; t < FLOW_STEPS; t++) {
      const at = t * size;
      let sum = 0;
      for (let i = 0; i < size; i += 2) sum += free[i] * turn[at + i] - free[i + 1] * turn[at + i + 1];
      wave[t] = this.perS * sum;
      most = Math.max(most, wave[t]);
    }
    const begins = wave.findIndex((amps) => amps > FLOWS * most);
    const zero = wave.findIndex((amps, t) => t > Math.max(0, begins) && amps <= 0);
    if (zero < 0) return null;
    return { wave, last: zero - 1, share: wave[zero - 1] / (wave[zero - 1] - wave[zero]) };
  }

  /** The current until its zero over the free one. */
  share(free, { wave, last, share }, into) {
    const { size, turn } = this;
    const flowed = new Float64Array(size);
    for (let t = 0; t <= last; t++) {
      const step = t === last ? (1 + share) / 2 : t ? 1 : 0.5;
      const charge = wave[t] * FLOW_STEP_S * step;
      for (let i = 0; i < size; i += 2) {
        const [re, im] = [turn[t * size + i], turn[t * size + i + 1]];
        const scale = charge / (re * re + im * im);
        flowed[i] += re * scale;
        flowed[i + 1] -= im * scale;
      }
    }
    for (let i = 0; i < size; i += 2) {
      const scale = 1 / (free[i] * free[i] + free[i + 1] * free[i + 1]);
      into[i] = (flowed[i] * free[i] + flowed[i + 1] * free[i + 1]) * scale;
      into[i + 1] = (flowed[i + 1] * free[i] - flowed[i] * free[i + 1]) * scale;
    }
  }
}
