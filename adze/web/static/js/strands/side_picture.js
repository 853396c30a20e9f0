// Parts of the side view, each as SVG in a view's scale: posts, strands, netting, animals and what they ask.

import { svg } from "../basics/dom.js";
import { heightWords } from "../basics/scales.js";
import { animal, animalWidth } from "./silhouettes.js";

const LOOK = {
  live: { stroke: "var(--pulse)", "stroke-width": 2.6 },
  earth: { stroke: "var(--return)", "stroke-width": 2.4, "stroke-dasharray": "14 7" },
  dead: { stroke: "var(--dead)", "stroke-width": 1.4, "stroke-dasharray": "1.5 4" },
};
const [LEFT, RIGHT] = [40, 100]; // where strands begin, and how far before the edge they end
const BROAD_PX = 3.5; // tape and rope are drawn as broad as they are, where that is more than the line
const text = (x, y, size, words, more = {}) => svg("text", { x, y, "font-size": size, ...more }, words);
const soft = { style: "fill:var(--ink-soft)" };
const middle = { "text-anchor": "middle" };

export function hatch() {
  const look = { id: "hatch", width: 7, height: 7, patternUnits: "userSpaceOnUse", patternTransform: "rotate(45)" };
  const line = svg("path", { d: "M0 0v7", stroke: "var(--ink)", "stroke-width": 1, opacity: 0.55 });
  return svg("defs", {}, svg("pattern", look, line));
}

function titleOf(bench, beasts) {
  const ofPurpose = (purpose) => beasts.filter((b) => b.purpose === purpose).map((b) => b.plural);
  const [held, out] = [ofPurpose("hold"), ofPurpose("out")];
  const name = bench.doc.fences.length ? `${bench.fence?.name ?? ""}: ` : "";
  const who = [held.length ? `${held.join(", ")} in` : "", out.length ? `${out.join(", ")} out` : ""];
  const words = `${name}${who.filter(Boolean).join("; ")}`;
  return words.replace(/^./, (c) => c.toUpperCase()) || "The fence from the side";
}

/** The ground, the title, and how to go on. */
export function heading(view, bench, beasts, strands) {
  const { width, height, soil, foot, narrow } = view;
  const legend = narrow ? "." : "; live ticked, earth long-dashed, dead dotted.";
  const parts = [
    svg("rect", { x: 0, y: soil, width, height: foot, fill: "var(--grass)" }),
    svg("path", { d: `M0 ${soil}H${width}`, stroke: "var(--ink)", "stroke-width": 1.6 }),
    text(16, 26, 18, titleOf(bench, beasts), { "font-weight": 650, style: "font-family:var(--head)" }),
    text(16, 46, 13, strands.length ? `To scale. Drag a strand by its label${legend}` : "", soft),
  ];
  const empty = "Choose the animals in the card. Heights follow from their bodies.";
  return beasts.length ? parts : [...parts, text(width / 2, height / 2, 15, empty, middle)];
}

/** The story pole: a stick with every height, true to the drawing's scale. */
export function pole({ y, top, soil }, units) {
  const imperial = units === "imperial";
  const step = imperial ? 2.54 * 2 : 5;
  const [longEvery, saidEvery] = imperial ? [6, 6] : [2, 4];
  const parts = [{ x: 8, y: y(top), width: 20, height: soil - y(top), fill: "var(--soil)" }].map((box) =>
    svg("rect", { ...box, stroke: "var(--ink)", "stroke-width": 1 }),
  );
  for (let cm = 0, n = 0; cm <= top; cm += step, n += 1) {
    const d = `M10 ${y(cm)}h${n % longEvery === 0 ? 16 : 9}`;
    parts.push(svg("path", { d, stroke: "var(--ink)", "stroke-width": 1 }));
    if (n % saidEvery === 0) parts.push(text(30, y(cm) + 4, 11, imperial ? `${n * 2}″` : `${cm}`));
  }
  return parts;
}

/** The openings that dragged strands leave, hatched: never told by colour alone. */
export function openings({ y, width }, gaps) {
  return gaps.map(({ gap: [low, high], status }) => {
    const box = { x: LEFT, y: y(high), width: width - LEFT - RIGHT, height: Math.max(2, y(low) - y(high)) };
    const edge = { stroke: "var(--ink)", "stroke-width": status === "fails" ? 1.6 : 0.8, "stroke-dasharray": "3 3" };
    return svg("rect", { ...box, ...edge, fill: "url(#hatch)", "data-opening": "" });
  });
}

/** What stands behind the strands: a board wall, or the old fence that carries them on brackets. */
export function backing(view, behind, strands) {
  const { y, width, scale } = view;
  const top = Math.min(view.top - 16, Math.max(100, ...strands.map((s) => s.cm + 15)));
  const wide = width - LEFT - RIGHT;
  if (behind === "barrier") {
    const look = { fill: "var(--soil)", stroke: "var(--post)", "stroke-width": 0.8, opacity: 0.55 };
    const boards = Array.from({ length: Math.ceil((top - 8) / 22) }, (_, k) => 8 + 22 * k);
    return boards.map((cm) => svg("rect", { x: LEFT, y: y(cm + 16), width: wide, height: 16 * scale, ...look }));
  }
  const mesh = 15 * scale;
  const upright = Array.from({ length: Math.floor(wide / mesh) }, (_, k) => `M${LEFT + k * mesh} ${y(top)}V${y(0)}`);
  const level = Array.from({ length: Math.floor(top / 15) }, (_, k) => `M${LEFT} ${y((k + 1) * 15)}H${width - RIGHT}`);
  const d = [...upright, ...level].join("");
  return [svg("path", { d, stroke: "var(--dead)", "stroke-width": 0.7, fill: "none" })];
}

/** Bare mesh laid before the line. */
export function mesh({ soil }) {
  const d = `M30 ${soil + 3}h58M34 ${soil - 1}v7m8 -7v7m8 -7v7m8 -7v7m8 -7v7m8 -7v7`;
  return [svg("path", { d, stroke: "var(--return)", "stroke-width": 1.8 }), text(30, soil + 20, 11, "mesh")];
}

export function posts({ y, soil, foot, postX }, postCm) {
  const top = y(postCm);
  return postX.flatMap((x) => [
    svg("path", { d: `M${x} ${top}V${soil + foot * 0.6}`, stroke: "var(--post)", "stroke-width": 8 }),
    svg("path", { d: `M${x - 8} ${top}h16`, stroke: "var(--post)", "stroke-width": 5 }),
  ]);
}

/** Netting: its uprights, and one label for all that is woven in. */
export function net({ y, width, scale }, { label, top_cm: top }, units) {
  const step = 15 * scale;
  const count = Math.max(0, Math.ceil((width - LEFT - RIGHT) / step) - 1);
  const uprights = Array.from({ length: count }, (_, k) => `M${(LEFT + (k + 1) * step).toFixed(1)} ${y(top)}V${y(3)}`);
  return [
    svg("path", { d: uprights.join(""), stroke: "var(--ink-soft)", "stroke-width": 0.8 }),
    text(width - 94, y(top / 2), 12.5, label.split(",")[0], { "font-weight": 700 }),
    text(width - 94, y(top / 2) + 16, 12.5, heightWords(top, units)),
  ];
}

/** An animal with its nose ringed, its name, and what it asks of the strands. */
export function beast(view, b, x, units) {
  const { y, soil, scale } = view;
  const drawn = animal(b, { x, y: soil, scale, fill: "var(--beast)" });
  drawn.group.setAttribute("class", "outlined"); // one before the other
  const under = x + drawn.width * 0.45;
  return [
    drawn.group,
    ...asks(view, b, { x, wide: drawn.width }),
    svg("circle", { cx: x, cy: y(b.nose_cm), r: 4, fill: "none", stroke: "var(--ink)", "stroke-width": 1.6 }),
    text(under, soil + 18, 13, b.label, { ...middle, "font-weight": 700 }),
    text(under, soil + 34, 12, `nose ${heightWords(b.nose_cm, units)}`, { ...middle, ...soft }),
  ];
}

/** What an animal asks: how far its nose wanders, the step it goes under, the top it springs over. */
function asks({ y }, b, { x, wide }) {
  if (!b.top_cm) return [];
  const thin = (d, more = {}) =>
    svg("path", { d, fill: "none", stroke: "var(--ink-soft)", "stroke-width": 1.3, ...more });
  const sway = b.head_cm * (b.sniffs ? 0.6 : 0.125);
  const [nose, top] = [y(b.nose_cm), y(b.top_cm)];
  const sniff = `M${x + 3} ${nose}C${x + wide * 0.12} ${nose} ${x + wide * 0.1} ${y(b.nose_cm * 0.4)}`;
  const spring = `M${x + wide * 0.2} ${y(b.shoulder_cm * 0.72)}C${x + wide * 0.2} ${y(b.top_cm * 1.04)}`;
  const parts = [
    thin(`M${x - 5} ${y(b.nose_cm + sway)}h5V${y(b.nose_cm - sway)}h-5`),
    thin(`${sniff} ${x + wide * 0.2} ${y(b.nose_cm * 0.25)}`, { "stroke-dasharray": "1 4", "stroke-linecap": "round" }),
    thin(`M${x + wide * 0.1} ${y(b.lowest_cm)}h${wide * 0.3}m-4 -3l4 3l-4 3`),
  ];
  if (b.top_cm > b.chest_cm) {
    parts.push(
      thin(`${spring} ${x + wide * 0.02} ${y(b.top_cm * 1.04)} ${x - 4} ${top}`, { "stroke-dasharray": "5 3" }),
    );
  }
  return [...parts, thin(`M${x - 10} ${top}h14`, { "stroke-width": 2 })];
}

const [WORDS_PX, CLEAR_PX] = [11, 3];

/** How high the strands must go for an animal, beside its head and between the strands. */
export function topWords({ y, narrow, scale }, b, x, { strands, units }) {
  if (!b.top_cm || narrow || animalWidth(b) * scale <= 90) return [];
  const lines = strands.map((s) => y(s.cm));
  const isFree = (base) => lines.every((line) => line > base + CLEAR_PX || line < base - WORDS_PX);
  const base = [-4, -16, 14, -26].map((off) => y(b.top_cm) + off).find(isFree) ?? y(b.top_cm) - 4;
  return [text(x - 12, base, WORDS_PX, `top ${heightWords(b.top_cm, units)}`, { class: "halo" })];
}

/** A strand: tape and rope as broad as they are, the live ones ticked, an insulator on every post. */
export function strand({ y, width, scale, postX }, s) {
  const at = y(s.cm);
  const d = `M${LEFT} ${at}H${width - RIGHT}`;
  const broad = ((s.width_mm ?? 0) / 10) * scale;
  const parts = [];
  if (broad > BROAD_PX) {
    parts.push(svg("path", { d, stroke: "var(--panel)", "stroke-width": broad + 1.6 }));
    parts.push(svg("path", { d, stroke: LOOK[s.role].stroke, opacity: 0.45, "stroke-width": broad }));
  }
  parts.push(svg("path", { d, fill: "none", ...LOOK[s.role] }));
  const live = s.role === "live";
  if (live) {
    const ticks = Array.from({ length: Math.floor((width - 150) / 32) }, (_, k) => `M${52 + k * 32} ${at - 4.5}v9`);
    parts.push(svg("path", { d: ticks.join(""), stroke: "var(--pulse)", "stroke-width": 1.4 }));
  }
  const fill = live ? "var(--panel)" : "var(--post)";
  const held = { cy: at, r: 4.5, fill, stroke: "var(--ink)", "stroke-width": 1.5 };
  return [...parts, ...postX.map((cx) => svg("circle", { cx, ...held }))];
}
