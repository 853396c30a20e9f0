// What looking has ruled out: at a place, and in each half of every piece (inspections.py).

import { CUT, LE } from "../solver/fence.js";

export class Inspections {
  constructor(place, half) {
    Object.assign(this, { place, half });
  }

  /** After a look at a place that found nothing: it, and the near half of each piece that meets it. */
  looked({ a, b }, at, finds) {
    const [place, half] = [this.place.slice(), this.half.slice()];
    place[at] *= 1 - finds;
    for (let k = 0; k < a.length; k++) {
      if (a[k] === at) half[2 * k] *= 1 - finds;
      if (b[k] === at) half[2 * k + 1] *= 1 - finds;
    }
    return new Inspections(place, half);
  }

  /** After walking along pieces and seeing nothing: fully against cuts in them, by half against their ends. */
  passed({ a, b }, pieces, finds) {
    const [place, half] = [this.place.slice(), this.half.slice()];
    for (const k of pieces) {
      half[2 * k] *= 1 - finds;
      half[2 * k + 1] *= 1 - finds;
      place[a[k]] *= 1 - finds / 2;
      place[b[k]] *= 1 - finds / 2;
    }
    return new Inspections(place, half);
  }

  /** The same believed less. */
  faded(power) {
    return new Inspections(
      this.place.map((x) => x ** power),
      this.half.map((x) => x ** power),
    );
  }

  /** What is left of a fault. */
  ofFault({ kind, place, piece }, fault) {
    if (kind[fault] <= LE) return this.place[place[fault]];
    if (kind[fault] === CUT) return (this.half[2 * piece[fault]] + this.half[2 * piece[fault] + 1]) / 2;
    return 1;
  }
}
