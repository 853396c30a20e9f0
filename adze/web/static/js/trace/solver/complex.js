// Complex numbers as pairs [re, im], where there are too few of them to matter.

/** @typedef {(x: number[], y: number[]) => number[]} OfTwo */

/** @type {OfTwo} */
export const add = ([a, b], [c, d]) => [a + c, b + d];
/** @type {OfTwo} */
export const less = ([a, b], [c, d]) => [a - c, b - d];
/** @type {OfTwo} */
export const times = ([a, b], [c, d]) => [a * c - b * d, a * d + b * c];
/** @type {(x: number[], factor: number) => number[]} */
export const scaled = ([a, b], factor) => [a * factor, b * factor];
/** @type {(x: number[]) => number} */
export const size = ([a, b]) => Math.hypot(a, b);

/** @type {OfTwo} */
export function over([a, b], [c, d]) {
  const scale = 1 / (c * c + d * d);
  return [(a * c + b * d) * scale, (b * c - a * d) * scale];
}

/** The root whose real part is not negative. */
export function root(z) {
  const whole = size(z);
  const re = Math.sqrt((whole + Math.abs(z[0])) / 2);
  const im = re ? z[1] / (2 * re) : 0;
  if (z[0] >= 0) return [re, im];
  return [Math.abs(im), z[1] < 0 ? -re : re];
}
