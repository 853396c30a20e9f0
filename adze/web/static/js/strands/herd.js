// The animals of a plan side by side, to one scale, with what each of them wants of the fence.

import { svg } from "../basics/dom.js";
import { placed } from "./herd_scale.js";
import { heightWords, kvWords } from "../basics/scales.js";
import { animal } from "./silhouettes.js";

const SEASONS = { dry: "driest week", usual: "usual week", wet: "wettest week" };
const HEAD_PX = 58;
const LINE_PX = 17;
const NARROW_PX = 520;

class Herd {
  constructor(bench) {
    this.bench = bench;
    this.root = document.getElementById("side");
    this.picture = svg("svg", { role: "group", "aria-label": "The animals side by side" });
    this.root.append(this.picture);
    bench.on("state season", () => this.draw());
    new ResizeObserver(() => this.draw()).observe(this.root);
    this.draw();
  }

  /** The groups as the panel tells them: body, purpose, count, limits and kV. */
  beasts() {
    const { kinds } = this.bench.shared;
    const rows = [...document.querySelectorAll("[data-beast]")].map((e) => JSON.parse(e.dataset.beast));
    return rows.map((row) => ({ ...kinds[row.kind], ...row, key: row.kind }));
  }

  draw() {
    const { width, height } = this.root.getBoundingClientRect();
    if (width < 80) return;
    const beasts = this.beasts();
    const { scale, places, high } = placed(beasts, width - 20, height - HEAD_PX);
    const tall = Math.max(height, high + HEAD_PX);
    this.picture.setAttribute("viewBox", `0 0 ${width} ${tall}`);
    this.picture.style.minHeight = `${tall}px`;
    const title = beasts.length ? "Who meets the fence" : "No animals yet";
    const isNarrow = width < NARROW_PX;
    const turns = isNarrow ? "" : " “Turns it”: through its own body and this soil,";
    const says = beasts.length
      ? `Drawn to one scale.${turns} ${SEASONS[this.bench.season]}.`
      : "Choose an animal under “Add a kind”. Heights and kV follow from its body.";
    this.picture.replaceChildren(
      svg("text", { x: 16, y: 27, "font-size": 18, "font-weight": 650, style: "font-family:var(--head)" }, title),
      svg("text", { x: 16, y: 47, "font-size": 13, style: "fill:var(--ink-soft)" }, says),
      ...beasts.flatMap((b, i) => this.beast(b, { ...places[i], x: places[i].x + 10, scale })),
    );
  }

  beast(b, { x, wide, soil, scale }) {
    const feet = soil + HEAD_PX;
    const fill = b.purpose === "hold" ? "var(--beast)" : "var(--dead)";
    const outline = animal(b, { x: 0, y: feet, scale, fill });
    const left = x + (wide - outline.width) / 2;
    const drawn = animal(b, { x: left, y: feet, scale, fill });
    const nose = {
      cx: left,
      cy: feet - b.nose_cm * scale,
      r: 4,
      fill: "none",
      stroke: "var(--ink)",
      "stroke-width": 1.6,
    };
    const ground = `M${x + 8} ${feet}H${x + wide - 8}`;
    return [
      drawn.group,
      svg("path", { d: ground, stroke: "var(--ink)", "stroke-width": 1.4 }),
      svg("circle", nose),
      ...this.words(b).map(([words, more], i) =>
        svg("text", { x: x + wide / 2, y: feet + LINE_PX * (i + 1), "text-anchor": "middle", ...more }, words),
      ),
    ];
  }

  /** What is said under an animal. */
  words(b) {
    const { units, season } = this.bench;
    const soft = { "font-size": 12, style: "fill:var(--ink-soft)" };
    const plain = { "font-size": 12.5 };
    const takes = b.soil_kv[season];
    const heights = `strands ${heightWords(b.lowest_cm, units)} to ${heightWords(b.top_cm, units)}`;
    return [
      [b.count > 1 ? `${b.count} ${b.plural}` : b.label, { "font-size": 14, "font-weight": 700 }],
      [`${b.purpose === "hold" ? `held in, ${b.state}` : "kept out"}${b.ways ? ` · ${b.ways}` : ""}`, soft],
      [`needs ${kvWords(b.wanted_kv)} kV`, { "font-size": 14, "font-weight": 700 }],
      [heights, plain],
      [b.soil_alone[season] ? `${kvWords(takes)} kV turns it` : "soil alone will not turn it", soft],
    ];
  }
}

export const mount = (bench) => new Herd(bench);
