// The bar over the ground: walking, arranging, drawing, placing things on the line and on the ground.

import { mountArrange } from "./arrange.js";
import { el } from "./dom.js";
import { distance, lengthOf, nearest, tidy } from "./geometry.js";
import { at, metres } from "./ground.js";
import { layerMenu } from "./layers.js";
import { mountLocate } from "./locate.js";
import { lengthWords } from "./scales.js";
import { snapped } from "./snap.js";
import * as L from "/static/vendor/leaflet/leaflet-src.esm.js";

const TOOLS = [["walk", "Walk"], ["arrange", "Arrange"], ["draw", "Draw a line"]];
const ON_LINE = [["gate", "Gate"], ["switch", "Switch"], ["crossing", "Road crossing"], ["join", "Strand link"], ["strain", "Strain end"], ["rods", "Rod site"], ["diverter", "Lightning diverter"], ["test", "Test point"], ["sign", "Sign"]];
const USES = [["fence", "perimeter or branch"], ["cross", "cross-fence"], ["spine", "spine"], ["temporary", "temporary line"]];
const HINTS = {
  walk: "Click the line to stand there; drag to move the view.",
  arrange: "Click a thing to choose it; Shift adds, Shift and drag takes all in a box. Drag its points or grip.",
  draw: "Click point after point. Double click or Enter ends, Backspace takes back, Esc gives up. Or type the next stretch.",
  energizer: "Click where the energizer hangs.",
  "rods-near": "Click where the first rod goes: damp, shaded, 10 m from buildings.",
  note: "Click the spot that the note is about.",
  lane: "Click along the middle of the lane. Double click or Enter ends.",
};

export function mountTools(bench, ground) {
  const bar = document.getElementById("tools");
  if (!ground || bench.stage !== "ground") return;
  const says = document.getElementById("says");
  const kinds = JSON.parse(document.getElementById("landmark-kinds").textContent);
  const { map } = ground;
  let drawn = [];
  let pointer = null;
  let lane = null;
  const ghost = L.polyline([], { color: "#20241f", weight: 3, dashArray: "6 5", interactive: false }).addTo(map);
  const ring = L.circleMarker([0, 0], { radius: 9, color: "#1d6a72", weight: 3, fill: false, interactive: false });
  const word = el("span");
  const next = el("input", { class: "form-control", id: "next-leg", placeholder: "120 m NE", "aria-label": "Next stretch: length and bearing", size: 11 });
  const use = el("select", { class: "form-select", id: "draw-use", "aria-label": "Drawn as" }, ...USES.map(([value, words]) => el("option", { value }, words)));
  const extras = el("span", { class: "says-extras", hidden: true }, use, next);
  says.replaceChildren(word, extras);

  function say(words) { word.textContent = words; says.hidden = !words; }
  ground.say = say;

  const placing = (tool) => ON_LINE.some(([kind]) => kind === tool);
  const landmark = (tool) => (tool?.startsWith("land:") ? tool.slice(5) : null);
  const many = () => ground.tool === "draw" || ground.tool === "lane" || (landmark(ground.tool) && kinds[landmark(ground.tool)].shape !== "point");

  function hint(tool) {
    if (placing(tool)) return `Click the line where the ${ON_LINE.find(([k]) => k === tool)[1].toLowerCase()} goes, or press Enter to put it where you stand.`;
    const kind = kinds[landmark(tool)];
    if (kind) return kind.shape === "point" ? `Click where it lies: ${kind.label.toLowerCase()}; Enter puts it where you stand.` : `${kind.label}: click ${kind.shape === "area" ? "round its edge" : "along it"}. Double click or Enter ends, Esc gives up.`;
    return HINTS[tool];
  }

  function choose(tool) {
    ground.tool = tool;
    drawn = [];
    ghost.setLatLngs([]);
    ring.remove();
    for (const button of bar.querySelectorAll("[data-tool]")) {
      button.classList.toggle("on", button.dataset.tool === tool);
      button.setAttribute("aria-pressed", button.dataset.tool === tool);
    }
    if (!placing(tool)) onLine.value = "";
    if (!landmark(tool) && !["energizer", "rods-near", "note"].includes(tool)) onGround.value = "";
    map.getContainer().style.cursor = tool === "walk" || tool === "arrange" ? "" : "crosshair";
    extras.hidden = !many();
    use.hidden = tool !== "draw";
    say(hint(tool));
    bench.tell("tool");
  }
  ground.choose = choose;

  function finish() {
    const points = drawn.filter((p, i) => i === 0 || distance(p, drawn[i - 1]) > 0.05);
    const tool = ground.tool;
    const kind = landmark(tool);
    if (kind && kinds[kind].shape === "area" && points.length > 2 && distance(points[0], points.at(-1)) < 0.05) points.pop();
    if (points.length < (kind && kinds[kind].shape === "area" ? 3 : 2)) { choose("arrange"); say("That needs more points, apart from each other."); return; }
    choose("arrange");
    if (tool === "lane") bench.edit({ do: "lane", points, width_m: lane });
    else if (kind) addLandmark(kind, points);
    else bench.edit({ do: "draw", points, use: use.value });
  }

  const freshId = (rows, stem) => { let n = 1; while (rows.some((r) => r.id === `${stem}${n}`)) n += 1; return `${stem}${n}`; };

  async function addLandmark(kind, points) {
    const id = freshId(bench.doc.landmarks, kind);
    await bench.change(`Placed ${kinds[kind].label.toLowerCase()}`, (doc) => { doc.landmarks.push({ id, kind, name: "", points: points.map(tidy) }); });
    bench.pick([`landmark:${id}`]);
  }

  async function placeFixture(kind, run, at_m) {
    const words = ON_LINE.find(([k]) => k === kind)[1];
    const id = freshId(bench.doc.fixtures, kind);
    await bench.change(`Placed a ${words.toLowerCase()} on ${run.name}`, (doc) => {
      const count = doc.fixtures.filter((f) => f.kind === kind).length + 1;
      doc.fixtures.push({ id, kind, run: run.id, at_m: Math.round(at_m * 10) / 10, name: `${words} ${count}` });
    });
    choose("arrange");
    bench.pick([`fixture:${id}`]);
  }

  /** What is one spot on the ground: a landmark, the energizer, the first rod, a note. */
  async function placeSpot(tool, point) {
    if (landmark(tool)) { choose("arrange"); addLandmark(landmark(tool), [point]); return; }
    const spots = {
      energizer: ["Placed the energizer", (doc) => { doc.energizer_at = tidy(point); }],
      "rods-near": ["Placed the rods", (doc) => { Object.assign(doc.rods, { position: tidy(point), places: [] }); }],
      note: ["Placed a note", (doc) => { doc.notes.push({ id: freshId(doc.notes, "note"), name: "Note", at: tidy(point) }); }],
    };
    if (!spots[tool]) return;
    choose("arrange");
    await bench.change(...spots[tool]);
    if (tool === "note") bench.pick([`note:${bench.doc.notes.at(-1).id}`]);
  }

  function placeAt(kind, point) {
    const found = bench.doc.runs.map((r) => ({ run: r, ...nearest(r.points, point) })).sort((a, b) => a.away - b.away)[0];
    if (!found || found.away > 30 * ground.perPixel()) { say(`Click nearer to a line: a ${kind} stands on it.`); return; }
    placeFixture(kind, found.run, found.at);
  }

  function addPoint(point, words = "") {
    if (drawn.length && distance(point, drawn.at(-1)) < 0.05) return;
    drawn = [...drawn, point];
    ghostTo(null, words);
    if (drawn.length > 3 && distance(point, drawn[0]) < 0.01 && many()) finish();
  }
  ground.addPoint = addPoint;

  function ghostTo(point, words = "") {
    const all = point ? [...drawn, point] : drawn;
    ghost.setLatLngs(all.map(at));
    if (!drawn.length) return;
    const last = point ? distance(drawn.at(-1), point) : 0;
    say(`${lengthWords(lengthOf(all), bench.units)} so far${last ? `, this stretch ${lengthWords(last, bench.units)}` : ""}${words ? `; ${words}` : ""}.`);
  }

  map.on("click", (event) => {
    const point = metres(event.latlng);
    const { tool } = ground;
    if (many()) { const s = snapped(bench, ground, point, { drawn }); addPoint(s.point, s.words); }
    else if (placing(tool)) placeAt(tool, point);
    else placeSpot(tool, point);
  });
  map.on("mousemove", (event) => {
    pointer = metres(event.latlng);
    if (!many()) return;
    const s = snapped(bench, ground, pointer, { drawn });
    if (s.words) ring.setLatLng(at(s.point)).addTo(map); else ring.remove();
    if (drawn.length) ghostTo(s.point, s.words);
  });
  map.on("dblclick", () => { if (many()) finish(); });

  next.addEventListener("keydown", async (event) => {
    if (event.key !== "Enter") return;
    event.preventDefault();
    event.stopPropagation();
    if (!next.value.trim()) { finish(); return; }
    const start = drawn.at(-1) ?? bench.standPoint();
    try {
      const query = new URLSearchParams({ text: next.value, east: start[0], north: start[1] });
      const { points } = await bench.api.ask(`/walked?${query}`);
      if (!drawn.length) addPoint(start);
      for (const p of points.slice(1)) addPoint(p);
      next.value = "";
      if (ground.tool === "draw") map.panInside(at(drawn.at(-1)), { padding: [60, 60], animate: false });
    } catch (error) { say(error.message); }
  });

  document.addEventListener("keydown", (event) => {
    if (event.target.closest("input, select, textarea, dialog")) return;
    const { tool } = ground;
    if (event.key === "Escape" && (bench.kills || tool !== "arrange")) {
      if (bench.kills) { bench.kills = null; bench.tell("kills"); say(hint(tool)); } else choose("arrange");
    } else if (many() && event.key === "Enter") finish();
    else if (many() && event.key === "Backspace" && drawn.length) { drawn = drawn.slice(0, -1); ghostTo(pointer); }
    else if (event.key === "Enter" && tool !== "arrange" && tool !== "walk" && bench.place && !event.target.closest("button, a")) {
      if (placing(tool)) placeFixture(tool, bench.run(bench.place.run), bench.place.at_m);
      else placeSpot(tool, bench.standPoint());
    }
    else return;
    event.preventDefault();
  });

  const onLine = el("select", { class: "form-select", id: "on-line", "aria-label": "Place on the line", onchange: (e) => { if (e.target.value) choose(e.target.value); } },
    el("option", { value: "" }, "On the line…"), ...ON_LINE.map(([value, words]) => el("option", { value }, words)));
  const groups = [...new Set(Object.values(kinds).map((k) => k.group))];
  const onGround = el("select", { class: "form-select", id: "on-ground", "aria-label": "Place on the ground", onchange: (e) => { if (e.target.value) choose(e.target.value); } },
    el("option", { value: "" }, "On the ground…"),
    el("optgroup", { label: "Power" }, el("option", { value: "energizer" }, "Energizer"), el("option", { value: "rods-near" }, "Rods"), el("option", { value: "note" }, "Note")),
    ...groups.map((group) => el("optgroup", { label: group }, ...Object.entries(kinds).filter(([, k]) => k.group === group).map(([key, k]) => el("option", { value: `land:${key}` }, k.label)))));

  bar.replaceChildren(...TOOLS.map(([tool, words]) => el("button", { type: "button", class: "act", "data-tool": tool, onclick: () => choose(tool) }, words)),
    onLine, onGround, el("button", { type: "button", class: "act", onclick: () => ground.fit() }, "Show all"), layerMenu(bench));
  ground.drawLane = (width) => { lane = width; choose("lane"); };
  mountLocate(bench, ground, bar);
  mountArrange(bench, ground);
  choose(bench.doc.runs.length ? "arrange" : "draw");
}
