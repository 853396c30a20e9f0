// Closed paths through points.

const written = (point) => point.map((v) => v.toFixed(2)).join(" ");

/** A smooth closed path through points (Catmull and Rom, as cubic curves). */
export function smooth(points) {
  const n = points.length;
  const p = (i) => points[(i + n) % n];
  let d = `M${written(p(0))}`;
  for (let i = 0; i < n; i += 1) {
    const [a, b, c, e] = [p(i - 1), p(i), p(i + 1), p(i + 2)];
    const one = [b[0] + (c[0] - a[0]) / 6, b[1] + (c[1] - a[1]) / 6];
    const two = [c[0] - (e[0] - b[0]) / 6, c[1] - (e[1] - b[1]) / 6];
    d += `C${[one, two, c].map(written).join(" ")}`;
  }
  return `${d}Z`;
}

/** A closed path with straight sides. */
export const poly = (points) => `M${points.map(written).join("L")}Z`;
