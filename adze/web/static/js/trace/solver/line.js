// Admittances of pieces of line, with more growth or less (eq. 6 of docs/physics.md; adze/core/pulse/line.py).

import { line as figures } from "../constants.js";
import { add, less, over, root, scaled, size, times } from "./complex.js";

const { SMALL, SAME_EIGENVALUE } = figures;

/** g coth(g l) and -g / sinh(g l), 1/m. */
function ends(gamma, lengthM) {
  const x = scaled(gamma, lengthM);
  if (Math.abs(x[0]) + Math.abs(x[1]) < SMALL) {
    const square = times(x, x);
    const own = scaled(add([1, 0], scaled(square, 1 / 3)), 1 / lengthM);
    return [own, scaled(less(scaled(square, 1 / 6), [1, 0]), 1 / lengthM)];
  }
  const decay = scaled([Math.cos(x[1]), -Math.sin(x[1])], Math.exp(-x[0]));
  const square = times(decay, decay);
  const part = over(gamma, less([1, 0], square));
  return [times(part, add([1, 0], square)), scaled(times(part, decay), -2)];
}

/** Of one group of strands: own and across, one entry each. @type {(a: any[], s: any[], m: number) => any[]} */
function ofOne([admittance], [shunt], lengthM) {
  const [own, across] = ends(root(over(shunt, admittance)), lengthM);
  return [[times(own, admittance)], [times(across, admittance)]];
}

/** The two eigenvalues of impedance times shunt; equal ones are parted a little. */
function eigenvalues([a0, a1, a2], [y0, y1, y2]) {
  const determinant = less(times(a0, a2), times(a1, a1));
  const first = over(less(times(a2, y0), times(a1, y1)), determinant);
  const last = over(less(times(a0, y2), times(a1, y1)), determinant);
  const right = over(less(times(a2, y1), times(a1, y2)), determinant);
  const left = over(less(times(a0, y1), times(a1, y0)), determinant);
  const mean = scaled(add(first, last), 0.5);
  const half = root(less(times(mean, mean), less(times(first, last), times(right, left))));
  const part = size(half) < SAME_EIGENVALUE * size(mean) ? scaled(mean, SAME_EIGENVALUE) : half;
  return [add(mean, part), less(mean, part)];
}

/** Of live and earth strands: own and across, three entries each (live, live with earth, earth), by Sylvester. */
function ofTwo(admittance, shunt, lengthM) {
  const [one, other] = eigenvalues(admittance, shunt);
  const found = [one, other].map((value) => ends(root(value), lengthM));
  const apart = less(one, other);
  return [0, 1].map((what) => {
    const beta = over(less(found[0][what], found[1][what]), apart);
    const alpha = less(found[0][what], times(beta, one));
    return admittance.map((entry, k) => add(times(alpha, entry), times(beta, shunt[k])));
  });
}

/** Own and across admittances of a length of line whose leak is so many times as large: three rows each, S. */
export function pieceRows({ admittance, charge, leak, groups, size: count }, line, lengthM, grass) {
  const found = [0, 1].map(() => [0, 1, 2].map(() => new Float64Array(count)));
  const entries = groups[line] === 1 ? [0] : [0, 1, 2];
  for (let i = 0; i < count; i += 2) {
    const at = (rows) => entries.map((entry) => [0, 1].map((part) => rows[(3 * line + entry) * count + i + part]));
    const shunt = at(charge).map((own, k) => add(own, scaled(at(leak)[k], grass)));
    const told = entries.length === 1 ? ofOne(at(admittance), shunt, lengthM) : ofTwo(at(admittance), shunt, lengthM);
    told.forEach((rows, what) => rows.forEach((value, entry) => found[what][entry].set(value, i)));
  }
  return found;
}
