// The search for the cheapest design that holds: its progress, the best so far, and cost against strength as a picture.

import { el, mark, svg } from "./dom.js";

const [WIDE, HIGH, LEFT, BOTTOM, TOP] = [300, 170, 42, 30, 12];

export function mountSearch(bench) {
  const panel = document.querySelector("#panel");
  if (!panel || bench.stage !== "power") return;
  let running = null;
  let found = null; // the last that was heard, kept while the panel is drawn anew

  const box = () => document.getElementById("search-found");
  const wish = (name) => document.getElementById(`wish-${name}`);

  function wishes() {
    const figure = (text) => (text === "" || Number.isNaN(Number(text)) ? text : Number(text));
    const money = wish("money").value.trim().replace(/[,\s]/g, "");
    return {
      supply: wish("supply").value, keep_energizer: wish("energizer").checked, keep_rods: wish("rods").checked,
      keep_conductor: wish("conductor").checked, keep_strands: wish("strands").checked, keep_lines: wish("lines").checked,
      least_rods: figure(wish("least").value.trim()), most_money: money === "" ? null : figure(money),
    };
  }

  async function start() {
    running = new AbortController();
    found = { done: 0, total: 1, front: [], best: [] };
    show();
    try {
      await bench.api.lines("/search", { wishes: wishes() }, { signal: running.signal, heard: (step) => { if (!step.fault) { found = step; show(); } } });
    } catch (error) {
      if (error.name === "AbortError") found.stopped = true;
      else found.fault = error.message.replace(/^wishes\.(\w+)/, (path, name) => ({ least_rods: "Rods at least", most_money: "Costs at most", supply: "Runs on" })[name] ?? path);
    } finally { running = null; show(); }
  }

  function show() {
    if (!box() || !found) return;
    const parts = [];
    if (running) { parts.push(...progress()); } else if (found.fault) parts.push(el("p", { class: "fault", role: "alert" }, found.fault));
    else parts.push(el("p", { class: "small", role: "status" }, `${found.stopped ? "Stopped: the best of" : "Done:"} ${found.done} designs, ${found.computed ?? 0} computed in full; over the others a cheaper one is stronger.${found.best.length ? "" : " None of them costs so little; raise the limit."}`));
    if (found.front.length) parts.push(picture());
    for (const [i, d] of found.best.entries()) parts.push(row(d, i));
    const kept = running && bar.parentNode === box() ? 2 : 0; // bar and button stay where they are
    while (box().childNodes.length > kept) box().lastChild.remove();
    box().append(...parts.slice(kept));
  }

  // Made once: a button that is made anew while it is pressed hears no click.
  const filled = el("i");
  const bar = el("div", { class: "bar mt-1", role: "progressbar", "aria-label": "Trying designs", "aria-valuemin": 0, "aria-valuemax": 100 }, filled);
  const counted = el("span");
  const stop = el("p", { class: "small mb-1" }, counted, " ", el("button", { type: "button", class: "act small", onclick: () => running?.abort() }, "Stop"));

  function progress() {
    const share = found.done / found.total;
    bar.setAttribute("aria-valuenow", Math.round(share * 100));
    filled.style.width = `${share * 100}%`;
    counted.textContent = `${found.done} of ${found.total} designs`;
    return [bar, stop];
  }

  const money = (x) => Math.round(x).toLocaleString("en");

  function row(d, i) {
    const cheapest = d.holds && !found.best.slice(0, i).some((x) => x.holds);
    const dearer = d.more >= 0.5 ? `${money(d.more)} more than now` : d.more <= -0.5 ? `${money(-d.more)} less than now` : "as now";
    return el("div", { class: "school small", "data-design": "" }, mark(d.holds ? "holds" : "fails"), el("b", {}, d.words), cheapest ? el("b", {}, " · cheapest that holds") : "",
      el("br"), `${money(d.cost)} in parts, ${dearer}. Least ${d.least_kv} kV; ${Math.round(d.margin * 100)} % of what is wanted where it is weakest: ${d.weakest}. `,
      el("span", { class: "soft" }, d.holds ? (cheapest ? "Less money than this, and it fails there." : "What more money buys: spare for growth and worse years.") : "What less money leaves out."),
      el("br"), el("button", { type: "button", class: "act small", onclick: () => bench.post("/take", { choice: d.choice }), disabled: Boolean(running) || null }, "Build it so"));
  }

  /** Cost to the right, strength upward; what holds stands over the line at 100 %. */
  function picture() {
    const costs = found.front.map((d) => d.cost);
    const [low, high] = [Math.min(...costs), Math.max(...costs)];
    const most = Math.max(1.25, ...found.front.map((d) => d.margin));
    const x = (cost) => LEFT + ((cost - low) / (high - low || 1)) * (WIDE - LEFT - 14);
    const y = (margin) => HIGH - BOTTOM - (margin / most) * (HIGH - BOTTOM - TOP);
    const steps = found.front.map((d, i) => `${i ? "H" : "M"}${x(d.cost).toFixed(1)}${i ? `V${y(d.margin).toFixed(1)}` : ` ${y(d.margin).toFixed(1)}`}`);
    const dots = found.front.map((d) => (d.holds ? svg("circle", { cx: x(d.cost), cy: y(d.margin), r: 3.2, fill: "var(--pulse-ink)" }) : svg("path", { d: `M${x(d.cost) - 2.6} ${y(d.margin) - 2.6}l5.2 5.2m0 -5.2l-5.2 5.2`, stroke: "var(--ink)", "stroke-width": 1.4 })));
    const words = (text, at, up, anchor = "middle") => svg("text", { x: at, y: up, "text-anchor": anchor, "font-size": 11 }, text);
    return svg("svg", { viewBox: `0 0 ${WIDE} ${HIGH}`, class: "w-100", role: "img", "aria-label": `Cost against strength: ${found.front.length} designs, ${found.front.filter((d) => d.holds).length} of them hold` },
      svg("path", { d: `M${LEFT} ${TOP}V${HIGH - BOTTOM}H${WIDE - 8}`, fill: "none", stroke: "var(--ink)", "stroke-width": 1 }),
      svg("path", { d: `M${LEFT} ${y(1)}H${WIDE - 8}`, stroke: "var(--ink)", "stroke-width": 1.3, "stroke-dasharray": "7 4" }), words("100 %", LEFT - 3, y(1) + 4, "end"),
      svg("path", { d: steps.join(""), fill: "none", stroke: "var(--pulse)", "stroke-width": 1.4 }), ...dots,
      words(money(low), LEFT, HIGH - 15, "start"), words(money(high), WIDE - 8, HIGH - 15, "end"), words("cost of all parts: dots hold, crosses fall short", (LEFT + WIDE) / 2, HIGH - 2));
  }

  panel.addEventListener("click", ({ target }) => { if (target.closest("[data-search]") && !running) start(); });
  bench.addEventListener("state", show);
}
