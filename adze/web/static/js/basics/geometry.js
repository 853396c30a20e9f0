// Plain geometry of lines in metres; knows no page. Points are [east, north].

export const distance = (a, b) => Math.hypot(a[0] - b[0], a[1] - b[1]);

const measured = new WeakMap();

/** Distances of each point from the start of a line; measured once, as a line's points are never changed in place. */
export function along(points) {
  let out = measured.get(points);
  if (out) return out;
  out = [0];
  for (let i = 1; i < points.length; i += 1) out.push(out[i - 1] + distance(points[i - 1], points[i]));
  measured.set(points, out);
  return out;
}

export const lengthOf = (points) => along(points).at(-1);

/** The point at a distance along a line. */
export function pointAt(points, at) {
  const gone = along(points);
  const end = points.length - 1;
  if (at <= 0) return points[0];
  for (let i = 1; i <= end; i += 1) {
    if (at <= gone[i] || i === end) {
      const share = Math.min(1, (at - gone[i - 1]) / (gone[i] - gone[i - 1] || 1));
      return [0, 1].map((k) => points[i - 1][k] + share * (points[i][k] - points[i - 1][k]));
    }
  }
  return points[end];
}

/** The stretch of a line between two distances, as points. */
export function stretch(points, from, to) {
  const gone = along(points);
  const inner = points.filter((_, i) => gone[i] > from + 1e-6 && gone[i] < to - 1e-6);
  return [pointAt(points, from), ...inner, pointAt(points, to)];
}

/** The nearest place on a line to a point: {at, away, segment, share, point}. */
export function nearest(points, point) {
  const gone = along(points);
  let best = { away: Infinity };
  for (let i = 1; i < points.length; i += 1) {
    const [a, b] = [points[i - 1], points[i]];
    const [dx, dy] = [b[0] - a[0], b[1] - a[1]];
    const share = Math.max(
      0,
      Math.min(1, ((point[0] - a[0]) * dx + (point[1] - a[1]) * dy) / (dx * dx + dy * dy || 1)),
    );
    const spot = [a[0] + share * dx, a[1] + share * dy];
    const away = distance(spot, point);
    if (away < best.away) best = { away, at: gone[i - 1] + share * distance(a, b), segment: i - 1, share, point: spot };
  }
  return best;
}

/** A round number of metres near a wanted one: 1, 2 or 5 times a power of ten. */
export function niceStep(wanted) {
  const power = 10 ** Math.floor(Math.log10(wanted));
  return [1, 2, 5, 10].map((x) => x * power).find((x) => x >= wanted * 0.7) ?? power * 10;
}

/** To the millimetre, so that documents stay short. */
export const tidy = (point) => point.map((x) => Math.round(x * 1000) / 1000);

/** What is left of 0..size without some stretches. */
export function gaps(dead, size) {
  const out = [];
  let from = 0;
  for (const [low, high] of [...dead].sort((a, b) => a[0] - b[0])) {
    if (low - from > 0.05) out.push([from, low]);
    from = Math.max(from, high);
  }
  if (size - from > 0.05) out.push([from, size]);
  return out;
}
