// What is chosen on the ground, its figures and deeds; tabs of the panel; setting out by figures; photos of places.

import { showLayer } from "./layers.js";

export function mountInspector(bench, ground) {
  const panel = document.querySelector("#panel");
  if (!panel || bench.stage !== "ground") return;
  let asked = 0;
  let tab = sessionStorage.getItem("adze-tab") ?? "findings";

  const length = (id) => {
    const text = document.getElementById(id).value.trim();
    return /^[+-]?[\d.,]+$/.test(text) ? `${text} ${bench.units === "imperial" ? "ft" : "m"}` : text;
  };
  const spot = (text) => text.split(/[,;\s]+/).filter(Boolean).map((x) => Number(x));

  function openTab(name) {
    tab = panel.querySelector(`[data-tab="${name}"]`) ? name : "findings";
    bench.pane = ["lines", "feed", "blocks"].includes(tab) ? tab : "findings";
    try { sessionStorage.setItem("adze-tab", tab); } catch { /* storage may be shut */ }
    for (const button of panel.querySelectorAll("[data-tab]")) {
      const on = button.dataset.tab === tab;
      button.setAttribute("aria-selected", on);
      button.tabIndex = on ? 0 : -1;
      const pane = document.getElementById(`pane-${button.dataset.tab}`);
      if (pane) pane.hidden = !on;
    }
    fill(document.getElementById(`pane-${tab}`));
    if (tab === "blocks") showLayer(bench, "blocks", true);
    if (tab === "feed") showLayer(bench, "zones", true);
  }

  /** A list that comes when it is looked at. */
  async function fill(pane) {
    const what = pane?.dataset.later;
    if (!what) return;
    delete pane.dataset.later;
    try {
      const { html } = await bench.api.ask(`/pane/${what}`);
      if (pane.isConnected) pane.innerHTML = html;
    } catch (error) { pane.textContent = error.message; }
  }

  async function inspect() {
    const box = document.getElementById("inspector");
    if (!box) return;
    asked += 1;
    const own = asked;
    if (!bench.chosen.size) { box.replaceChildren(); return; }
    try {
      const { html } = await bench.api.ask(`/inspect?${new URLSearchParams({ chosen: [...bench.chosen].join(",") })}`);
      const now = document.getElementById("inspector");
      if (own !== asked || !now) return;
      const held = now.contains(document.activeElement) ? document.activeElement.id : "";
      const word = (details) => details.querySelector("summary").textContent.split(":")[0];
      const open = new Set([...now.querySelectorAll("details[open]")].map(word));
      now.innerHTML = html;
      for (const details of now.querySelectorAll("details")) details.open = open.has(word(details));
      if (held) document.getElementById(held)?.focus({ preventScroll: true });
    } catch (error) { box.textContent = error.message; }
  }

  async function kills(id) {
    const { stretches } = await bench.api.ask(`/zone?${new URLSearchParams({ switch: id })}`);
    bench.kills = { switch: id, stretches };
    const name = bench.doc.fixtures.find((f) => f.id === id)?.name ?? "The switch";
    bench.tell("kills");
    ground?.say?.(`Dotted: what goes dead when ${name} is opened. Esc shows the fence as it is.`);
  }

  const deeds = {
    reverse: (d) => bench.edit({ do: "reverse", run: d[0][1] }),
    split: (d) => bench.edit({ do: "split", run: d[0][1], at_m: bench.place?.run === d[0][1] ? bench.place.at_m : 0 }),
    thin: (d) => bench.edit({ do: "thin", run: d[0][1], tolerance_m: 1 }),
    join: (d) => bench.edit({ do: "join", first: d[0][1], second: d[1][1] }),
    move: (d) => bench.edit({ do: "move", chosen: d, east_m: length("move-east"), north_m: length("move-north") }),
    remove: (d) => bench.edit({ do: "remove", chosen: d }),
    none: () => bench.pick([]),
  };

  const sets = {
    legs: () => {
      const from = document.getElementById("legs-from").value === "stand" ? bench.standPoint() : spot(document.getElementById("legs-at").value);
      return { do: "legs", start: from, text: document.getElementById("legs").value };
    },
    ring: () => ({ do: "ring", landmark: document.getElementById("off-of").value, distance_m: length("off-m") }),
    left: () => ({ do: "beside", of: document.getElementById("off-of").value, distance_m: length("off-m"), left: true }),
    right: () => ({ do: "beside", of: document.getElementById("off-of").value, distance_m: length("off-m"), left: false }),
    onleft: () => ({ do: "brackets", landmark: document.getElementById("off-of").value, left: true }),
    onright: () => ({ do: "brackets", landmark: document.getElementById("off-of").value, left: false }),
    pen: () => ({ ...sets.square(), do: "pen" }),
    square: () => {
      const typed = document.getElementById("sq-at").value.trim();
      return { do: "square", at: typed ? spot(typed) : bench.standPoint(), side_m: length("sq-side"), bearing_deg: document.getElementById("sq-way").value };
    },
  };

  function divide(how) {
    const where = spot(document.getElementById("div-block").value);
    const parts = Number(document.getElementById("div-parts").value);
    const way = document.getElementById("div-way").value;
    if (how === "cross") { bench.edit({ do: "divide", at: where, parts, bearing_deg: way }); return; }
    bench.edit({ do: "moves", at: where, parts, bearing_deg: way });
    showLayer(bench, "blocks", true);
  }

  panel.addEventListener("click", (event) => {
    const button = event.target.closest("button");
    if (!button) return;
    const d = button.dataset;
    if (d.tab) openTab(d.tab);
    else if (d.choose) {
      bench.pick([d.choose], { add: event.shiftKey });
      const row = bench.find(d.choose);
      if (d.choose.startsWith("run:")) bench.stand(row.id, 0);
      else if (d.choose.startsWith("fixture:")) bench.stand(row.run, row.at_m);
      panel.closest("aside").scrollTop = 0;
    } else if (d.do) deeds[d.do](bench.pairs());
    else if (d.set === "lane") ground.drawLane(length("lane-m"));
    else if (d.set) bench.edit(sets[d.set]());
    else if (d.kills) kills(d.kills);
    else if (d.divide) divide(d.divide);
    else if (d.remove) bench.edit({ do: "remove", chosen: [d.remove.split(":")] });
  });

  panel.addEventListener("keydown", (event) => {
    if (!event.target.dataset?.tab || !["ArrowLeft", "ArrowRight"].includes(event.key)) return;
    const tabs = [...panel.querySelectorAll("[data-tab]")];
    const next = tabs[(tabs.indexOf(event.target) + (event.key === "ArrowRight" ? 1 : tabs.length - 1)) % tabs.length];
    openTab(next.dataset.tab);
    next.focus();
    event.preventDefault();
    event.stopPropagation();
  });

  panel.addEventListener("change", async (event) => {
    const input = event.target;
    const { corners, heights, block, blockAt, blockHerd, buildRuns, note } = input.dataset;
    if (heights) bench.edit({ do: "heights", run: heights, text: input.value });
    else if (corners) {
      const [what, id] = corners.split(":");
      const points = input.value.split("\n").filter((row) => row.trim()).map(spot);
      if (what === "run") bench.edit({ do: "reshape", run: id, points });
      else bench.change("Corners typed", (doc) => { doc.landmarks.find((m) => m.id === id).points = points; });
    } else if (blockHerd) {
      bench.change("Who grazes a block", (doc) => {
        const row = doc.blocks.find((b) => b.id === blockHerd);
        row.herds = input.checked ? [...row.herds, input.value] : row.herds.filter((id) => id !== input.value);
      });
    } else if (buildRuns) {
      if (input.value === "?") return;
      const ids = new Set(buildRuns.split(" "));
      bench.change("How lines are built", (doc) => { for (const run of doc.runs) if (ids.has(run.id)) run.fence = input.value || null; });
    } else if (block) bench.change("Named a block", (doc) => { doc.blocks.find((b) => b.id === block).name = input.value.trim(); });
    else if (blockAt) {
      bench.change("Named a block", (doc) => {
        let n = 1;
        while (doc.blocks.some((b) => b.id === `block${n}`)) n += 1;
        doc.blocks.push({ id: `block${n}`, name: input.value.trim(), at: spot(blockAt) });
      });
    } else if (note && input.files.length) {
      try {
        const kept = await bench.api.send("/pictures?purpose=photo", input.files[0]);
        await bench.change("Added a photo", (doc) => { const row = doc.notes.find((x) => x.id === note); row.photos = [...row.photos, kept.id]; });
      } catch (error) { bench.tell("refused", { message: error.message, faults: [{ path: "picture", message: error.message }] }); }
    }
  });

  bench.addEventListener("state", () => { openTab(tab); inspect(); });
  bench.addEventListener("chosen", inspect);
  openTab(tab);
}
