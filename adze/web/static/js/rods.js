// Rods laid out on the ground: rows, rings, one by one, along the fence; places proposed and refused with the reason.

import { el, svg } from "./dom.js";
import { distance, tidy } from "./geometry.js";
import { at, metres } from "./ground.js";
import { lengthWords } from "./scales.js";
import * as L from "/static/vendor/leaflet/leaflet-src.esm.js";

const WAYS = [["walk", "Walk"], ["row", "Lay a row"], ["ring", "Ring"], ["one", "One by one"], ["monitor", "Rod that watches"]];
const HINTS = {
  walk: "",
  row: "Click where the first rod goes, then where the row leads. 10 m from buildings, pipes and supply earths.",
  ring: "Click the middle of the ring.",
  one: "Click rod after rod: each is kept 3 m from the others. Esc ends.",
  monitor: "Click where the rod stands that watches: 30 m or more from the others, out of their field.",
};

export function mountRods(bench, ground) {
  if (!ground || bench.stage !== "earth") return;
  const bar = document.getElementById("tools");
  const says = document.getElementById("says");
  const { map } = ground;
  const layer = L.layerGroup().addTo(map);
  const ghost = L.layerGroup().addTo(map);
  let start = null;
  let shown = null; // places proposed and refused, while they are looked at

  function say(...words) { says.replaceChildren(...words.filter(Boolean)); says.hidden = !words.some(Boolean); }

  function choose(way) {
    ground.tool = way;
    start = null;
    ghost.clearLayers();
    for (const button of bar.querySelectorAll("[data-way]")) { button.classList.toggle("on", button.dataset.way === way); button.setAttribute("aria-pressed", button.dataset.way === way); }
    map.getContainer().style.cursor = way === "walk" ? "" : "crosshair";
    say(HINTS[way]);
  }

  const lay = (how, points = [], site = 0) => bench.post("/rods", { how, points: points.map(tidy), site });

  const rod = (spot, look) => L.marker(at(spot), { icon: L.divIcon({ className: "", iconSize: [6, 20], iconAnchor: [3, 3], html: svg("svg", { width: 6, height: 20 }, svg("path", { d: "M3 0v20", stroke: "var(--return)", "stroke-width": 3, ...look })) }), interactive: false, keyboard: false });

  map.on("click", (event) => {
    const point = metres(event.latlng);
    const way = ground.tool;
    if (way === "walk" || !way) return;
    if (way === "row" && !start) { start = point; say("Now click where the row leads."); return; }
    const points = way === "row" ? [start, point] : [point];
    if (way !== "one") choose("walk");
    lay(way, points);
  });
  map.on("mousemove", (event) => {
    if (!start) return;
    const to = metres(event.latlng);
    const size = distance(start, to) || 1;
    const { count, spacing_m: apart } = bench.doc.rods;
    const step = Math.max(3, apart);
    ghost.clearLayers();
    for (let i = 0; i < count; i += 1) rod([0, 1].map((k) => start[k] + (i * step * (to[k] - start[k])) / size), { "stroke-dasharray": "4 2" }).addTo(ghost);
    say(`${count} rods, ${lengthWords((count - 1) * step, bench.units)} from first to last. Click where the row leads.`);
  });
  document.addEventListener("keydown", (event) => {
    if (event.key === "Escape" && ground.tool !== "walk" && !event.target.closest("input, select, textarea, dialog")) choose("walk");
  });

  /** A spot moved so far that it lies 3 m from the rod nearest to it. */
  function apart(spot, others) {
    const near = others.map((p) => ({ p, away: distance(p, spot) })).sort((a, b) => a.away - b.away)[0];
    if (!near || near.away >= 3) return spot;
    const way = near.away > 0.01 ? [0, 1].map((k) => (spot[k] - near.p[k]) / near.away) : [1, 0];
    return [0, 1].map((k) => near.p[k] + 3 * way[k]);
  }

  /** Every rod can be dragged; the others stay where they are. */
  function handles() {
    layer.clearLayers();
    const rods = bench.forecast?.ground?.rods ?? [];
    rods.forEach((spot, i) => {
      const name = `Rod ${i + 1}`;
      const icon = L.divIcon({ className: "", iconSize: [22, 22], iconAnchor: [11, 11], html: el("div", { class: "rod-grip", title: name }) });
      const grip = L.marker(at(spot), { icon, draggable: true, alt: name, zIndexOffset: 500 }).addTo(layer);
      grip.on("dragend", () => {
        const to = tidy(apart(metres(grip.getLatLng()), rods.filter((_, k) => k !== i)));
        bench.change(`Moved ${name.toLowerCase()}`, (doc) => { const places = rods.map((p, k) => (k === i ? to : p)); Object.assign(doc.rods, { places, position: places[0], layout: "row", count: places.length }); });
      });
    });
    if (shown) drawSites();
  }

  async function sites() {
    if (shown) { shown = null; choose("walk"); handles(); return; }
    try {
      shown = await bench.api.ask("/rod-sites");
      handles();
      const spots = [...(bench.forecast?.ground?.rods ?? []), ...shown.proposed.flatMap((site) => site.row)];
      if (spots.length) map.fitBounds(L.latLngBounds(spots.map(at)).pad(0.35), { animate: false, paddingTopLeft: [10, 150] });
      const rows = shown.proposed.map((site, i) => el("div", {}, el("b", {}, `${i + 1} `), `${site.words}; lead ${site.lead} `, el("button", { type: "button", class: "act small", onclick: () => { shown = null; lay("site", [], i); choose("walk"); } }, "Put them there")));
      const wrong = shown.refused.slice(0, 3).map((r) => el("div", {}, el("b", {}, "Refused: "), `a rod stands ${r.why}`));
      say(...(rows.length ? rows : [el("div", {}, "No row within reach of the energizer keeps off everything: lay them by hand, farther out.")]), ...wrong);
    } catch (error) { say(el("span", { class: "fault" }, error.message)); }
  }

  function drawSites() {
    shown.proposed.forEach((site, i) => {
      for (const spot of site.row) rod(spot, { "stroke-dasharray": "4 2" }).addTo(layer);
      L.marker(at(site.row[0]), { icon: L.divIcon({ className: "", iconSize: [20, 20], iconAnchor: [24, 10], html: el("div", { class: "zone-letter" }, `${i + 1}`) }), interactive: false }).addTo(layer);
    });
    for (const { at: spot, why } of shown.refused) L.marker(at(spot), { icon: L.divIcon({ className: "", iconSize: [22, 22], iconAnchor: [11, 11], html: svg("svg", { width: 22, height: 22 }, svg("path", { d: "M4 4l14 14m0 -14l-14 14", stroke: "var(--short)", "stroke-width": 3 })) }), title: `Refused: ${why}` }).addTo(layer);
  }

  /** A row beside the fence where you stand: from there along the line as it is walked. */
  function along() {
    if (!bench.place) { say("Stand on the fence first."); return; }
    const here = bench.standPoint();
    const run = bench.run(bench.place.run).points;
    const next = run.find((p, i) => i > 0 && distance(p, here) > 1 && distance(run[i - 1], p) >= distance(here, p) - 0.5) ?? run.at(-1);
    lay("along", [here, distance(here, next) > 0.5 ? next : [here[0] + 1, here[1]]]);
  }

  bar.replaceChildren(...WAYS.map(([way, words]) => el("button", { type: "button", class: "act", "data-way": way, onclick: () => choose(way) }, words)),
    el("button", { type: "button", class: "act", onclick: along }, "Along the fence here"),
    el("button", { type: "button", class: "act", onclick: sites }, "Where to"),
    el("button", { type: "button", class: "act", onclick: () => { const rods = bench.forecast?.ground?.rods ?? []; if (rods.length) map.fitBounds(L.latLngBounds(rods.map(at)).pad(6), { animate: false }); } }, "To the rods"));
  bench.addEventListener("state", handles);
  choose("walk");
  handles();
}
