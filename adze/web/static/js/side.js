// The fence from the side, to scale, with the animals that meet it. Drag a strand by its label.

import { el, mark, svg } from "./dom.js";
import { heightWords } from "./scales.js";
import { animal } from "./silhouettes.js";

const LOOK = {
  live: { stroke: "var(--pulse)", "stroke-width": 2.6 },
  earth: { stroke: "var(--return)", "stroke-width": 2.4, "stroke-dasharray": "14 7" },
  dead: { stroke: "var(--dead)", "stroke-width": 1.4, "stroke-dasharray": "1.5 4" },
};
const POST_OVER_CM = 5;
const LEAST_FREE = 0.55; // of an animal's width, free of the next one

export function mountSide(bench) {
  const root = document.getElementById("side");
  if (!root) return;
  const kinds = JSON.parse(document.getElementById("kinds").textContent);
  const picture = svg("svg", { role: "group", "aria-label": "The fence from the side" });
  root.append(picture);
  let dragging = null;
  let scale = 1; // pixels for each cm in the drawing that stands

  let trial = null; // what the strands would do as they are dragged
  let asking = false;
  let next = null;
  const verdict = el("div", { class: "trial", role: "status", hidden: true });
  root.append(verdict);

  /** The animals with their own bodies and what each asks; the kinds' until something is computed. */
  const herd = () => bench.fence?.animals.map((a) => ({ ...kinds[a.kind], ...a, key: a.kind })) ?? bench.doc.stock.map((h) => ({ ...kinds[h.kind], key: h.kind }));

  /** The strands as they stand, or as they are being dragged, from the lowest up. */
  const standing = () => (bench.fence?.strands ?? []).map((s, i) => (dragging?.index === i ? { ...s, cm: dragging.cm } : s));

  /** Ask what dragged strands would do; one question at a time, always the newest. */
  async function judge() {
    next = standing().slice(bench.woven).map(({ cm, role }) => ({ cm, role })).sort((a, b) => a.cm - b.cm);
    if (asking) return;
    asking = true;
    while (next && dragging) {
      const strands = next;
      next = null;
      try {
        trial = await bench.api.ask("/try", { method: "POST", body: { strands, fence: bench.fenceId } });
      } catch (error) { trial = { fault: error.message }; }
      if (dragging) draw();
    }
    asking = false;
    next = null;
  }

  function tell() {
    verdict.hidden = !dragging || !trial;
    if (verdict.hidden) return;
    if (trial.fault) { verdict.replaceChildren(el("span", { class: "fault" }, trial.fault)); return; }
    const words = (status) => ({ holds: "holds", marginal: "marginal", fails: "fails" })[status];
    const bad = trial.animals.filter((a) => a.status !== "holds");
    const most = root.clientWidth < 520 ? 1 : 4; // on a phone the strands must stay in sight
    const rows = bad.slice(0, most).map((a) => el("div", {}, mark(a.status), el("b", {}, a.title), ` ${a.figure}${a.limit ? ` / ${a.limit}` : ""}. ${a.reason}`));
    if (!bad.length) rows.push(el("div", {}, mark("holds"), el("b", {}, "Every animal is held by these strands.")));
    for (const f of trial.felt.filter((x) => x.status !== "holds").slice(0, Math.min(3, most))) rows.push(el("div", {}, mark(f.status), el("b", {}, `The ${f.animal} feels ${f.kv} kV`), ` / ${f.wanted} in the driest week: ${words(f.status)}.`));
    verdict.replaceChildren(...rows);
  }

  function draw() {
    const { width, height } = root.getBoundingClientRect();
    if (width < 80) return;
    const narrow = width < 520;
    picture.setAttribute("viewBox", `0 0 ${width} ${height}`);
    const fence = standing();
    tell();
    const beasts = herd().sort((a, b) => a.shoulder_cm - b.shoulder_cm);
    const top = Math.max(80, ...fence.map((s) => s.cm + POST_OVER_CM), ...beasts.map((b) => b.shoulder_cm * 1.22));
    const [head, foot] = [64, 44];
    scale = (height - head - foot) / top;
    const soil = height - foot;
    const widths = beasts.map((b) => animal(b.key, b, { x: 0, y: 0, scale: 1, fill: "none" }).width + 18);
    const last = widths.at(-1) ?? 1;
    const others = widths.reduce((a, b) => a + b, 0) - last;
    // On a phone the animals run out of the picture: their heads are what meets the strands.
    const room = narrow ? width * 2.2 : width - 190;
    const overlap = narrow ? LEAST_FREE / 2 : others > 0 ? Math.min(1, Math.max(LEAST_FREE, (room / scale - last) / others)) : 1;
    scale = Math.min(scale, room / (others * overlap + last));
    const y = (cm) => soil - cm * scale;
    const postX = [92, width - 136];
    const parts = [
      svg("rect", { x: 0, y: soil, width, height: foot, fill: "var(--grass)" }), svg("path", { d: `M0 ${soil}H${width}`, stroke: "var(--ink)", "stroke-width": 1.6 }),
      svg("text", { x: 16, y: 26, "font-size": 18, "font-weight": 650, style: "font-family:var(--head)" }, title(beasts)),
      svg("text", { x: 16, y: 46, "font-size": 13, style: "fill:var(--ink-soft)" }, !fence.length ? "" : narrow ? "To scale. Drag a strand by its label." : "To scale. Drag a strand by its label; live ticked, earth long-dashed, dead dotted."),
    ];
    if (bench.fence?.behind) parts.push(...backing(bench.fence.behind, y, Math.min(top - 16, Math.max(100, ...fence.map((s) => s.cm + 15))), width));
    parts.push(...pole(y, top, soil), ...openings(y, width));
    if (bench.construction().apron) parts.push(svg("path", { d: `M30 ${soil + 3}h58M34 ${soil - 1}v7m8 -7v7m8 -7v7m8 -7v7m8 -7v7m8 -7v7`, stroke: "var(--return)", "stroke-width": 1.8 }), svg("text", { x: 30, y: soil + 20, "font-size": 11 }, "mesh"));
    let x = postX[0] + 26;
    for (const b of beasts) {
      const drawn = animal(b.key, b, { x, y: soil, scale, fill: "var(--beast)" });
      parts.push(drawn.group);
      const nose = y(b.nose_cm);
      parts.push(...asks(b, x, y, drawn.width, narrow), svg("circle", { cx: x, cy: nose, r: 4, fill: "none", stroke: "var(--ink)", "stroke-width": 1.6 }));
      parts.push(svg("text", { x: x + drawn.width * 0.45, y: soil + 18, "text-anchor": "middle", "font-size": 13, "font-weight": 700 }, b.label),
        svg("text", { x: x + drawn.width * 0.45, y: soil + 34, "text-anchor": "middle", "font-size": 12, style: "fill:var(--ink-soft)" }, `nose ${heightWords(b.nose_cm, bench.units)}`));
      x += (drawn.width + 18 * scale) * overlap;
    }
    const postTop = y(bench.fence?.post_cm ?? 75);
    for (const px of postX) parts.push(svg("path", { d: `M${px} ${postTop}V${soil + foot * 0.6}`, stroke: "var(--post)", "stroke-width": 8 }), svg("path", { d: `M${px - 8} ${postTop}h16`, stroke: "var(--post)", "stroke-width": 5 }));
    if (bench.fence?.netting) parts.push(...net(bench.fence.netting, y, width));
    let labelTop = Infinity;
    const labels = [];
    fence.forEach((s, i) => {
      const sy = y(s.cm);
      // Tape and rope are drawn as broad as they are, where that is more than the line.
      if ((s.width_mm ?? 0) / 10 * scale > 3.5) parts.push(svg("path", { d: `M40 ${sy}H${width - 100}`, stroke: "var(--panel)", "stroke-width": s.width_mm / 10 * scale + 1.6 }), svg("path", { d: `M40 ${sy}H${width - 100}`, stroke: LOOK[s.role].stroke, opacity: 0.45, "stroke-width": s.width_mm / 10 * scale }));
      parts.push(svg("path", { d: `M40 ${sy}H${width - 100}`, fill: "none", ...LOOK[s.role] }));
      if (s.role === "live") parts.push(svg("path", { d: Array.from({ length: Math.floor((width - 150) / 32) }, (_, k) => `M${52 + k * 32} ${sy - 4.5}v9`).join(""), stroke: "var(--pulse)", "stroke-width": 1.4 }));
      for (const px of postX) parts.push(svg("circle", { cx: px, cy: sy, r: 4.500, fill: s.role === "live" ? "var(--panel)" : "var(--post)", stroke: "var(--ink)", "stroke-width": 1.5 }));
      if (i < bench.woven) return;
      const ly = Math.min(sy, labelTop - 25);
      labelTop = ly;
      labels.push(label(s, i, ly, sy, width));
    });
    if (!beasts.length) parts.push(svg("text", { x: width / 2, y: height / 2, "text-anchor": "middle", "font-size": 15 }, "Choose the animals in the card: heights follow from their bodies."));
    const hatch = svg("defs", {}, svg("pattern", { id: "hatch", width: 7, height: 7, patternUnits: "userSpaceOnUse", patternTransform: "rotate(45)" }, svg("path", { d: "M0 0v7", stroke: "var(--ink)", "stroke-width": 1, opacity: 0.55 })));
    picture.replaceChildren(hatch, ...parts, ...labels);
  }

  /** Netting: its uprights, and one label for all that is woven in. */
  function net({ label: words, top_cm: top }, y, width) {
    const uprights = [];
    for (let x = 40 + 15 * scale; x < width - 100; x += 15 * scale) uprights.push(`M${x.toFixed(1)} ${y(top)}V${y(3)}`);
    return [
      svg("path", { d: uprights.join(""), stroke: "var(--ink-soft)", "stroke-width": 0.8 }),
      svg("text", { x: width - 94, y: y(top / 2), "font-size": 12.5, "font-weight": 700 }, words.split(",")[0]),
      svg("text", { x: width - 94, y: y(top / 2) + 16, "font-size": 12.5 }, heightWords(top, bench.units)),
    ];
  }

  /** What stands behind the strands: a board wall, or the old fence that carries them on brackets. */
  function backing(behind, y, top, width) {
    const boards = [];
    if (behind === "barrier") for (let cm = 8; cm < top; cm += 22) boards.push(svg("rect", { x: 40, y: y(cm + 16), width: width - 140, height: 16 * scale, fill: "var(--soil)", stroke: "var(--post)", "stroke-width": 0.8, opacity: 0.55 }));
    else boards.push(svg("path", { d: Array.from({ length: Math.floor((width - 140) / (15 * scale)) }, (_, k) => `M${40 + k * 15 * scale} ${y(top)}V${y(0)}`).join("") + Array.from({ length: Math.floor(top / 15) }, (_, k) => `M40 ${y((k + 1) * 15)}H${width - 100}`).join(""), stroke: "var(--dead)", "stroke-width": 0.7, fill: "none" }));
    return boards;
  }

  /** What an animal asks: how far its nose wanders, the step it goes under, the top it springs over. */
  function asks(b, x, y, wide, narrow) {
    if (!b.top_cm) return [];
    const sway = b.head_cm * (b.sniffs ? 0.6 : 0.125);
    const thin = { fill: "none", stroke: "var(--ink-soft)", "stroke-width": 1.3 };
    const out = [
      svg("path", { d: `M${x - 5} ${y(b.nose_cm + sway)}h5V${y(b.nose_cm - sway)}h-5`, ...thin }),
      svg("path", { d: `M${x + 3} ${y(b.nose_cm)}C${x + wide * 0.12} ${y(b.nose_cm)} ${x + wide * 0.1} ${y(b.nose_cm * 0.4)} ${x + wide * 0.2} ${y(b.nose_cm * 0.25)}`, ...thin, "stroke-dasharray": "1 4", "stroke-linecap": "round" }),
      svg("path", { d: `M${x + wide * 0.1} ${y(b.lowest_cm)}h${wide * 0.3}m-4 -3l4 3l-4 3`, ...thin }),
    ];
    if (b.top_cm > b.chest_cm) out.push(svg("path", { d: `M${x + wide * 0.2} ${y(b.shoulder_cm * 0.72)}C${x + wide * 0.2} ${y(b.top_cm * 1.04)} ${x + wide * 0.02} ${y(b.top_cm * 1.04)} ${x - 4} ${y(b.top_cm)}`, ...thin, "stroke-dasharray": "5 3" }));
    out.push(svg("path", { d: `M${x - 10} ${y(b.top_cm)}h14`, ...thin, "stroke-width": 2 }));
    if (!narrow && wide > 90) out.push(svg("text", { x: x - 12, y: y(b.top_cm) - 4, "font-size": 11, class: "halo" }, `top ${heightWords(b.top_cm, bench.units)}`));
    return out;
  }

  /** The openings that dragged strands leave, hatched: never told by colour alone. */
  function openings(y, width) {
    const found = dragging && trial?.animals ? trial.animals.filter((a) => a.gap && a.status !== "holds") : [];
    return found.map(({ gap: [low, high], status }) => svg("rect", { x: 40, y: y(high), width: width - 140, height: Math.max(2, y(low) - y(high)), fill: "url(#hatch)", stroke: "var(--ink)", "stroke-width": status === "fails" ? 1.6 : 0.8, "stroke-dasharray": "3 3", "data-opening": "" }));
  }

  function title(beasts) {
    const held = beasts.filter((b) => b.purpose === "hold").map((b) => b.plural);
    const out = beasts.filter((b) => b.purpose === "out").map((b) => b.plural);
    const name = bench.doc.fences.length ? `${bench.fence?.name ?? ""}: ` : "";
    const who = [held.length ? `${held.join(", ")} in` : "", out.length ? `${out.join(", ")} out` : ""].filter(Boolean).join("; ");
    return `${name}${who}`.replace(/^./, (c) => c.toUpperCase()) || "The fence from the side";
  }

  /** The story pole: a stick with every height, true to the drawing's scale. */
  function pole(y, top, soil) {
    const step = bench.units === "imperial" ? 2.54 * 2 : 5;
    const marks = [];
    for (let cm = 0, n = 0; cm <= top; cm += step, n += 1) {
      const long = bench.units === "imperial" ? n % 6 === 0 : n % 2 === 0;
      marks.push(svg("path", { d: `M10 ${y(cm)}h${long ? 16 : 9}`, stroke: "var(--ink)", "stroke-width": 1 }));
      if (bench.units === "imperial" ? n % 6 === 0 : n % 4 === 0) marks.push(svg("text", { x: 30, y: y(cm) + 4, "font-size": 11 }, bench.units === "imperial" ? `${n * 2}″` : `${cm}`));
    }
    return [svg("rect", { x: 8, y: y(top), width: 20, height: soil - y(top), fill: "var(--soil)", stroke: "var(--ink)", "stroke-width": 1 }), ...marks];
  }

  function label(s, i, ly, sy, width) {
    const x = width - 104;
    const group = svg("g", { class: "grip", tabindex: 0, role: "slider", "aria-label": `Strand ${i + 1}, ${s.role}`, "aria-valuenow": Math.round(s.cm), "aria-valuemin": 1, "aria-valuemax": 250, "data-strand-grip": i },
      svg("path", { d: `M${x - 8} ${sy}L${x} ${ly}`, stroke: "var(--ink)", "stroke-width": 1 }),
      svg("rect", { x, y: ly - 11.5, width: 100, height: 23, rx: 5, fill: "var(--panel)", stroke: i === bench.strand ? "var(--ink)" : "var(--dead)", "stroke-width": i === bench.strand ? 2.2 : 1.2 }),
      svg("text", { x: x + 7, y: ly + 4.5, "font-size": 12.5 }, svg("tspan", { "font-weight": 700 }, `${i + 1} `), `${heightWords(s.cm, bench.units)} ${s.role}`));
    group.addEventListener("pointerdown", (event) => {
      dragging = { index: i, cm: s.cm, from: event.clientY, start: s.cm };
      picture.setPointerCapture(event.pointerId);
      event.preventDefault();
    });
    group.addEventListener("keydown", (event) => {
      const step = { ArrowUp: 1, ArrowDown: -1 }[event.key];
      if (!step) return;
      event.preventDefault();
      event.stopPropagation();
      move(i, s.cm + step);
    });
    return group;
  }

  function move(index, cm) {
    bench.change(`Strand ${index + 1} to ${Math.round(cm)} cm`, (doc) => {
      const rows = bench.strandsIn(doc);
      rows[index - bench.woven].cm = Math.round(cm);
      rows.sort((a, b) => a.cm - b.cm);
    });
  }

  picture.addEventListener("pointermove", (event) => {
    if (!dragging) return;
    dragging.cm = Math.max(3, Math.round(dragging.start - (event.clientY - dragging.from) / scale));
    draw();
    judge();
  });
  picture.addEventListener("pointerup", () => {
    if (!dragging) return;
    const { index, cm, start } = dragging;
    dragging = null;
    trial = null;
    tell();
    if (cm !== start) move(index, cm);
    else bench.choose({ strand: index });
  });
  picture.addEventListener("pointercancel", () => { dragging = null; trial = null; draw(); });
  for (const event of ["state", "place", "fence"]) bench.addEventListener(event, draw);
  new ResizeObserver(draw).observe(root);
  draw();
}
