// A file of lines: read with its progress shown, looked at on the ground, and only then taken.

import { el } from "./dom.js";
import { at } from "./ground.js";
import { lengthWords } from "./scales.js";
import * as L from "/static/vendor/leaflet/leaflet-src.esm.js";

const LARGEST = 24_000_000;

export function mountImporter(bench, ground) {
  const panel = document.querySelector("#panel");
  if (!panel || bench.stage !== "ground") return;
  const layer = L.layerGroup().addTo(ground.map);
  let pending = null;
  let reading = null;

  const box = () => document.getElementById("import-box");

  function fail(message, offer = false) {
    box().replaceChildren(el("span", { class: "fault", role: "alert" }, message),
      ...(offer && pending ? [el("button", { type: "button", class: "act", onclick: () => { pending.swap = !pending.swap; look(); } }, "Take them the other way round")] : []));
  }

  function progress(words, share) {
    box().replaceChildren(el("p", { class: "small mt-1" }, words), el("div", { class: "bar", role: "progressbar", "aria-valuemin": 0, "aria-valuemax": 100, "aria-valuenow": Math.round(share * 100), "aria-label": words }, el("i", { style: `width:${share * 100}%` })),
      el("button", { type: "button", class: "act small mt-1", onclick: () => reading?.abort() }, "Stop"));
  }

  async function bring(file) {
    drop();
    if (file.size > LARGEST) { fail(`${file.name} is ${(file.size / 1e6).toFixed(0)} MB, at most ${LARGEST / 1e6} MB is taken; split it, or simplify it.`); return; }
    reading = new AbortController();
    progress(`Sending ${file.name}`, 0.02);
    try {
      const last = await bench.api.send("/imports", file, { signal: reading.signal, heard: ({ share, words }) => { if (share) progress(words, share); } });
      pending = { id: last.import, thin: null, swap: false, part: false, out: new Set() };
      await look();
    } catch (error) {
      if (error.name === "AbortError") box().replaceChildren(el("p", { class: "small" }, "Stopped; nothing was taken."));
      else fail(error.message);
    } finally { reading = null; }
  }

  async function look() {
    const query = new URLSearchParams({ swap: pending.swap, part: pending.part });
    if (pending.thin !== null) query.set("thin", pending.thin);
    try {
      pending.found = await bench.api.ask(`/imports/${pending.id}?${query}`);
    } catch (error) { fail(error.message, error.body?.offer_swap); return; }
    pending.thin = pending.found.thin_m;
    show();
  }

  function show() {
    const { found } = pending;
    layer.clearLayers();
    const points = found.lines.reduce((sum, line) => sum + line.points.length, 0);
    for (const [i, line] of found.lines.entries()) {
      if (!pending.out.has(i)) L.polyline(line.points.map(at), { color: "#1d6a72", weight: 4, dashArray: "8 5", interactive: false }).addTo(layer);
    }
    const all = [...found.lines, ...found.marks].flatMap((x) => x.points).map(at);
    if (all.length) ground.map.fitBounds(L.latLngBounds(all), { padding: [50, 50], animate: false });
    const thin = el("input", { class: "form-control", id: "import-thin", value: found.thin_m, inputmode: "decimal", size: 5, onchange: (e) => { const v = Number(e.target.value.replace(",", ".")); if (v >= 0 && v <= 1000) { pending.thin = v; look(); } else { e.target.classList.add("bad-field"); } } });
    const check = (id, words, on, change) => el("label", { class: "check" }, el("input", { type: "checkbox", id, checked: on, onchange: change }), ` ${words}`);
    box().replaceChildren(
      el("h3", {}, `Preview of ${found.name}`),
      el("p", { class: "small", "data-test": "import-says" }, `${found.lines.length} lines, ${found.came} points came, ${points} are kept. ${found.marks.length ? `${found.marks.length} things on the ground. ` : ""}${found.fixtures ? `${found.fixtures} fixtures. ` : ""}Nothing is taken yet.`),
      ...found.notes.slice(0, 8).map((note) => el("p", { class: "why plain small" }, note)),
      ...(found.offer_swap ? [el("p", { class: "why small", "data-test": "swapped" }, "Latitude and longitude looked swapped: they are shown the other way round.")] : []),
      el("div", {}, el("label", { for: "import-thin" }, "Leave out points that lie within so many metres of the line (0 keeps all)"), thin),
      check("import-part", "part lines at jumps", pending.part, (e) => { pending.part = e.target.checked; look(); }),
      check("import-swap", "latitude and longitude changed over", pending.swap || found.offer_swap, (e) => { pending.swap = e.target.checked; look(); }),
      el("div", { class: "things" }, ...found.lines.slice(0, 60).map((line, i) => el("label", { class: "row2 small" }, el("span", {}, el("input", { type: "checkbox", checked: !pending.out.has(i), "aria-label": `Take ${line.name}`, onchange: (e) => { if (e.target.checked) pending.out.delete(i); else pending.out.add(i); show(); } }), ` ${line.name}`), el("span", {}, `${lengthWords(line.length_m, bench.units)}, ${line.points.length} points${line.heights ? ", heights" : ""}`)))),
      el("p", { class: "mt-2" }, el("button", { type: "button", class: "act main", "data-test": "take-file", onclick: take }, "Take it into the plan"), " ", el("button", { type: "button", class: "act quiet", onclick: () => { drop(); box().replaceChildren(); } }, "Leave it")));
  }

  async function take() {
    const kept = pending;
    const { found, out, id, thin, part } = kept;
    const lines = out.size ? found.lines.map((_, i) => i).filter((i) => !out.has(i)) : null;
    drop();
    const done = await bench.post(`/imports/${id}/take`, { thin_m: thin, swap: kept.swap || found.offer_swap, part, lines });
    if (done === false) { pending = kept; show(); return; }
    ground.fit();
  }

  function drop() { layer.clearLayers(); pending = null; }

  panel.addEventListener("change", (event) => { if (event.target.id === "ground-file" && event.target.files.length) bring(event.target.files[0]); });
  bench.addEventListener("state", () => { if (pending) show(); });
}
