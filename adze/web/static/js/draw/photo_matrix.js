// How a photo lies on the ground: its pixels to metres and back; knows no page.

/**
 * Pixel to metres for [a, d, b, e, c, f]: east = a x + b y + c, north = d x + e y + f.
 * @type {(matrix: number[], spot: number[]) => number[]}
 */
export const place = ([a, d, b, e, c, f], [x, y]) => [a * x + b * y + c, d * x + e * y + f];
/** Metres to pixel. @type {(matrix: number[], spot: number[]) => number[]} */
export function pixel([a, d, b, e, c, f], [east, north]) {
  const size = a * e - b * d;
  const [u, v] = [east - c, north - f];
  return [(e * u - b * v) / size, (a * v - d * u) / size];
}

/** The matrix of a photo from its first two known points: turn, size and shift, no mirror. */
export function matrixOf(points) {
  const [one, two] = points;
  const [px, py] = [two.pixel[0] - one.pixel[0], -(two.pixel[1] - one.pixel[1])];
  const [gx, gy] = [two.at[0] - one.at[0], two.at[1] - one.at[1]];
  const size = px * px + py * py || 1;
  const [re, im] = [(gx * px + gy * py) / size, (gy * px - gx * py) / size];
  const [a, b, d, e] = [re, im, im, -re];
  return [a, d, b, e, one.at[0] - a * one.pixel[0] - b * one.pixel[1], one.at[1] - d * one.pixel[0] - e * one.pixel[1]];
}
