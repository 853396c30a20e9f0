// The ground of a search on a small screen: lines, wider where likelier; hatched where half of it lies; the way.

import { svg } from "../../basics/dom.js";
import { stretch } from "../../basics/geometry.js";

const [WIDTH, HEIGHT, MARGIN] = [360, 240, 14];
const [NARROWEST, WIDEST] = [5, 16];

export function drawSearch(holder, { pieces, here, way }, { runs, lines }) {
  const all = runs.flatMap(({ points }) => points).concat([here], way);
  const [xs, ys] = [all.map(([x]) => x), all.map(([, y]) => y)];
  const [left, top] = [Math.min(...xs), Math.max(...ys)];
  const scale = Math.min(
    (WIDTH - 2 * MARGIN) / Math.max(1, Math.max(...xs) - left),
    (HEIGHT - 2 * MARGIN) / Math.max(1, top - Math.min(...ys)),
  );
  const at = ([x, y]) => [MARGIN + (x - left) * scale, MARGIN + (top - y) * scale];
  const path = (points) => `M${points.map((point) => at(point).map((v) => v.toFixed(1))).join("L")}`;
  const line = (points, look) => svg("path", { d: path(points), fill: "none", ...look });
  const spot = (point, fill) => {
    const [cx, cy] = at(point);
    return svg("circle", { cx, cy, r: 6, fill, stroke: "var(--ink)", "stroke-width": 2 });
  };
  const most = Math.max(...pieces.map(({ share, from, to }) => share / (to - from)), 1e-12);
  const likely = pieces.flatMap(({ span, from, to, share, inHalf }) => {
    const { run, from_m: begins } = lines[span];
    const points = stretch(runs.find(({ id }) => id === run).points, begins + from, begins + to);
    const width = NARROWEST + (WIDEST - NARROWEST) * Math.sqrt(share / (to - from) / most);
    const look = { stroke: "var(--dead)", "stroke-width": width, "stroke-opacity": inHalf ? 0.75 : 0.4 };
    const hatch = { stroke: "var(--ink)", "stroke-width": width - 2, "stroke-dasharray": "2 5" };
    return [line(points, look), ...(inHalf ? [line(points, hatch)] : [])];
  });
  const go = way.at(-1);
  holder.setAttribute("viewBox", `0 0 ${WIDTH} ${HEIGHT}`);
  holder.replaceChildren(
    ...runs.map(({ points }) => line(points, { stroke: "var(--ink)", "stroke-width": 1.5 })),
    ...likely,
    ...(way.length > 1 ? [line(way, { stroke: "var(--pulse)", "stroke-width": 3, "stroke-dasharray": "9 7" })] : []),
    spot(here, "var(--panel)"),
    ...(go ? [spot(go, "var(--pulse)")] : []),
  );
  holder.removeAttribute("hidden");
}
