// Designs as rows, and cost against strength as a picture.

import { el, mark, svg } from "../basics/dom.js";
const [WIDE, HIGH, LEFT, BOTTOM, TOP] = [300, 170, 42, 30, 12];

export function money(x) {
  const { currency } = document.getElementById("bench").adzeBench.shared;
  const words = Math.round(x).toLocaleString("en");
  return currency ? `${currency} ${words}` : words;
}

function cheapestWords({ running, found }) {
  return running ? ` · cheapest so far (${found.done} of ${found.total})` : " · cheapest that holds";
}

export function row(search, d, i) {
  const cheapest = d.holds && !search.found.best.slice(0, i).some((x) => x.holds);
  const dearer =
    d.more >= 0.5 ? `${money(d.more)} more than now` : d.more <= -0.5 ? `${money(-d.more)} less than now` : "as now";
  return el(
    "div",
    { class: "school small", "data-design": "" },
    mark(d.holds ? "holds" : "fails"),
    el("b", {}, d.words),
    cheapest ? el("b", {}, cheapestWords(search)) : "",
    el("br"),
    `${money(d.cost)} in parts, ${dearer}. Least ${d.least_kv} kV; ` + `weakest: ${d.weakest}. `,
    d.leaves.length ? `${d.leaves.join(", ")}. ` : "Every stage is fine. ",
    el(
      "span",
      { class: "soft" },
      d.holds
        ? cheapest
          ? search.running
            ? "Others are still being tried."
            : "Nothing cheaper is enough if all lines are built alike. Overview can change a single line."
          : "More money buys a reserve for growth and worse years."
        : "What cheaper designs lack.",
    ),
    el("br"),
    el(
      "button",
      {
        type: "button",
        class: "act small",
        onclick: () => search.bench.do({ do: "take_design", choice: d.choice }),
        disabled: Boolean(search.running) || null,
      },
      "Build it so",
    ),
  );
}

/** A design on the picture: a dot where it holds, a cross where it fails. */
function dot(holds, x, y) {
  if (holds) return svg("circle", { cx: x, cy: y, r: 3.2, fill: "var(--pulse-ink)" });
  const cross = `M${x - 2.6} ${y - 2.6}l5.2 5.2m0 -5.2l-5.2 5.2`;
  return svg("path", { d: cross, stroke: "var(--ink)", "stroke-width": 1.4 });
}

/** Cost to the right, strength upward; what holds stands over the line at 100 %. */
export function picture(search) {
  const front = search.found.front;
  const holding = front.filter((d) => d.holds).length;
  const costs = front.map((d) => d.cost);
  const [low, high] = [Math.min(...costs), Math.max(...costs)];
  const most = Math.max(1.25, ...front.map((d) => d.margin));
  const x = (cost) => LEFT + ((cost - low) / (high - low || 1)) * (WIDE - LEFT - 14);
  const y = (margin) => HIGH - BOTTOM - (margin / most) * (HIGH - BOTTOM - TOP);
  const steps = front.map(
    (d, i) =>
      `${i ? "H" : "M"}${x(d.cost).toFixed(1)}${i ? `V${y(d.margin).toFixed(1)}` : ` ${y(d.margin).toFixed(1)}`}`,
  );
  const dots = front.map((d) => dot(d.holds, x(d.cost), y(d.margin)));
  const words = (text, at, up, anchor = "middle") =>
    svg("text", { x: at, y: up, "text-anchor": anchor, "font-size": 11 }, text);
  return svg(
    "svg",
    {
      viewBox: `0 0 ${WIDE} ${HIGH}`,
      class: "w-100",
      role: "img",
      "aria-label": `Cost against strength: ${front.length} designs, ${holding} of them hold`,
    },
    svg("path", {
      d: `M${LEFT} ${TOP}V${HIGH - BOTTOM}H${WIDE - 8}`,
      fill: "none",
      stroke: "var(--ink)",
      "stroke-width": 1,
    }),
    svg("path", {
      d: `M${LEFT} ${y(1)}H${WIDE - 8}`,
      stroke: "var(--ink)",
      "stroke-width": 1.3,
      "stroke-dasharray": "7 4",
    }),
    words("100 %", LEFT - 3, y(1) + 4, "end"),
    svg("path", { d: steps.join(""), fill: "none", stroke: "var(--pulse)", "stroke-width": 1.4 }),
    ...dots,
    words(money(low), LEFT, HIGH - 15, "start"),
    words(money(high), WIDE - 8, HIGH - 15, "end"),
    words("cost of all parts: dots hold, crosses fall short", (LEFT + WIDE) / 2, HIGH - 2),
  );
}
