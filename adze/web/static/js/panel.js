// A stage's panel: its inputs change the document; what is refused stays as typed, with the reason beside it.

import { el } from "./dom.js";
import { lengthOf, tidy } from "./geometry.js";

const UNITS = { metric: { length: "m", height: "cm" }, imperial: { length: "ft", height: "in" } };

/** Set a value in a document by a path such as rods.count or runs.0.name. */
function put(doc, path, value) {
  const keys = path.split(".");
  const last = keys.pop();
  const at = keys.reduce((part, key) => part[key], doc);
  at[last] = value;
}

export function mountPanel(bench) {
  const root = document.querySelector("[data-panel]");

  /** What an input says, as the document takes it: a bare length gets the unit of the page. */
  function valueOf(input) {
    if (input.type === "checkbox") return input.checked;
    const text = input.value.trim();
    const kind = input.dataset.kind;
    if (kind === "number") return text === "" || Number.isNaN(Number(text.replace(",", "."))) ? text : Number(text.replace(",", "."));
    if (kind === "pairs") return text.split("\n").filter((row) => row.trim()).map((row) => row.trim().split(/[\s;:]+/).map((x) => (x === "" || Number.isNaN(Number(x.replace(",", "."))) ? x : Number(x.replace(",", ".")))));
    if (kind === "yes") return text === "yes";
    if (kind === "optional") return text || null;
    if (kind === "optional-number") return text === "" ? null : Number.isNaN(Number(text)) ? text : Number(text);
    if (kind?.startsWith("optional-") && text === "") return null;
    const unit = UNITS[bench.units][kind?.replace("optional-", "")];
    if (unit) return /^[+-]?[\d.,]+$/.test(text) ? `${text} ${unit}` : text;
    return text;
  }

  const fence = (doc) => bench.strandsIn(doc);

  const labelOf = (input) => input.getAttribute("aria-label") ?? document.querySelector(`label[for="${input.id}"]`)?.textContent ?? "a value";

  function changed(event) {
    const input = event.target;
    if (["units-csv", "soil-test", "st-volts"].includes(input.id)) return; // brought in by their own buttons
    if ("subsoil" in input.dataset) {
      bench.change("Another soil below", (doc) => { doc.subsoil = input.value ? { soil: input.value, depth_m: doc.subsoil?.depth_m ?? 1 } : null; });
      return;
    }
    const { path, strand, strandRole, strandMade, training, part, fenceChoice, fenceRun, fenceHerd } = input.dataset;
    if (path) {
      bench.change(`${labelOf(input).trim()} changed`.slice(0, 200), (doc) => {
        put(doc, path, valueOf(input));
        if (input.dataset.clears) put(doc, input.dataset.clears, []);
      });
    } else if (fenceChoice !== undefined) {
      const first = bench.doc.runs.find((run) => (run.fence ?? "") === input.value);
      if (first) bench.stand(first.id, 0); else bench.showFence(input.value);
    } else if (fenceRun) {
      bench.change("Which lines are built so", (doc) => { doc.runs.find((r) => r.id === fenceRun).fence = input.checked ? bench.fenceId || null : null; });
    } else if (fenceHerd) {
      bench.change("Who meets this fence", (doc) => {
        const row = bench.construction(doc);
        const met = new Set(row.herds.length ? row.herds : doc.stock.map((h) => h.id));
        if (input.checked) met.add(fenceHerd); else met.delete(fenceHerd);
        row.herds = doc.stock.map((h) => h.id).filter((id) => met.has(id));
      });
    } else if (training) {
      bench.change("Training noted", (doc) => {
        const herd = doc.stock.find((h) => h.id === training);
        const text = input.value.trim();
        if (part === "came" && !text) herd.training = null;
        else herd.training = { touches: 0, released: null, ...herd.training, [part]: part === "touches" ? (/^\d+$/.test(text) ? Number(text) : text) : text || null };
      });
    } else if (strand !== undefined) {
      bench.change(`Strand ${Number(strand) + 1} moved`, (doc) => { fence(doc)[strand].cm = valueOf(input); });
    } else if (strandMade !== undefined) {
      bench.change(`Strand ${Number(strandMade) + 1}: another conductor`, (doc) => { fence(doc)[strandMade].conductor = input.value || null; });
    } else if (strandRole !== undefined) {
      bench.change(`Strand ${Number(strandRole) + 1}: ${input.value}`, (doc) => { fence(doc)[strandRole].role = input.value; });
    }
  }

  const freshId = (rows, stem) => { let n = rows.length + 1; while (rows.some((r) => r.id === `${stem}${n}`)) n += 1; return `${stem}${n}`; };

  function clicked(event) {
    const button = event.target.closest("button");
    if (!button) return;
    const d = button.dataset;
    if (d.addHerd) bench.change(`Added ${button.textContent.trim()}`, (doc) => { doc.stock.push({ id: freshId(doc.stock, "herd"), kind: d.addHerd, count: 10 }); });
    else if (d.removeHerd) bench.change("Took a kind off", (doc) => {
      doc.stock = doc.stock.filter((h) => h.id !== d.removeHerd);
      for (const row of [doc, ...doc.fences, ...doc.blocks]) row.herds = row.herds.filter((id) => id !== d.removeHerd);
    });
    else if (d.removeStrand !== undefined) bench.change("Took a strand off", (doc) => { fence(doc).splice(Number(d.removeStrand), 1); });
    else if ("addStrand" in d) bench.change("Added a strand", (doc) => { const rows = fence(doc); rows.push({ cm: (rows.at(-1)?.cm ?? bench.fence.netting?.top_cm ?? 60) + 20, role: "live" }); });
    else if (d.pattern) bench.change(`Began from a pattern: ${d.words}`, (doc) => { bench.construction(doc).strands = JSON.parse(d.pattern); });
    else if (d.scheme) bench.change("Took one of two ways", (doc) => { Object.assign(bench.construction(doc), { scheme: d.scheme, strands: [] }); });
    else if ("design" in d) bench.change("Took the computed heights", (doc) => { bench.construction(doc).strands = []; });
    else if ("addFence" in d) addFence();
    else if ("addUnit" in d) bench.change("Added an energizer", (doc) => {
      let n = 1;
      while (doc.own_energizers.some((u) => u.key === `own${n}`)) n += 1;
      doc.own_energizers.push({ key: `own${n}`, label: `My energizer ${n}`, supply: "mains", stored_j: 4.3, released_j: 3, open_kv: 9, kv_500: 6.3 });
    });
    else if ("bringUnits" in d) bench.post("/own-units", { text: document.getElementById("units-csv").value });
    else if (d.removeUnit) bench.change("Took an energizer off", (doc) => {
      doc.own_energizers = doc.own_energizers.filter((u) => u.key !== d.removeUnit);
      if (doc.energizer === d.removeUnit) doc.energizer = null;
    });
    else if ("removeFence" in d) {
      const id = bench.fenceId;
      bench.change("Took a way of building off", (doc) => {
        doc.fences = doc.fences.filter((f) => f.id !== id);
        for (const run of doc.runs) if (run.fence === id) run.fence = null;
      });
    } else if (d.whatIf && bench.place) bench.change(`What if: ${button.textContent.trim()}`, (doc) => { doc.what_ifs.push({ id: freshId(doc.what_ifs, "if"), kind: d.whatIf, run: bench.place.run, at_m: Math.round(bench.place.at_m * 100) / 100 }); });
    else if (d.takeWhatIf !== undefined) bench.change("Mended what was tried", (doc) => { doc.what_ifs = d.takeWhatIf ? doc.what_ifs.filter((w) => w.id !== d.takeWhatIf) : []; });
    else if ("addGrowth" in d && bench.place) addGrowth();
    else if (d.takeGrowth) bench.change("Took growth off", (doc) => { doc.growths = doc.growths.filter((g) => g.id !== d.takeGrowth); });
    else if (d.calibration !== undefined) bench.change(d.calibration ? "Adjusted to the readings" : "Soil and growth by the tables", (doc) => { if (d.calibration) doc.calibration = JSON.parse(d.calibration); else delete doc.calibration; });
    else if ("feedHere" in d && bench.place) bench.change("Led in elsewhere", (doc) => { doc.feed_at = tidy(bench.standPoint()); });
    else if ("feedNear" in d) bench.change("Led in at the nearest place", (doc) => { doc.feed_at = null; });
    else if (d.standRun) bench.stand(d.standRun, Number(d.standAt));
    else if (d.earth) bench.post("/earth-take", { key: d.earth });
    else if (d.soilTest) bench.post("/soil-test", { kind: d.soilTest, text: document.getElementById("soil-test").value });
    else if ("keepStray" in d) keepStray();
    else if (d.mend) bench.post("/mend", { key: d.mend });
    else if ("go" in d) {
      const at = button.closest("[data-go-run]").dataset;
      if (at.goSeason) bench.choose({ season: at.goSeason });
      bench.stand(at.goRun, Number(at.goAt));
    }
  }

  /** Growth of its own along the line where you stand: as typed, else 50 m to both sides. */
  function addGrowth() {
    const { run, at_m } = bench.place;
    const typed = (id, otherwise) => {
      const text = document.getElementById(id).value.trim();
      if (!text) return Math.round(otherwise * 10) / 10;
      return /^[+-]?[\d.,]+$/.test(text) ? `${text} ${UNITS[bench.units].length}` : text;
    };
    const size = lengthOf(bench.run(run).points);
    const row = { run, from_m: typed("grow-from", Math.max(0, at_m - 50)), to_m: typed("grow-to", Math.min(size, at_m + 50)), grass: document.getElementById("grow-kind").value };
    bench.change("Growth on a stretch", (doc) => { doc.growths.push({ id: freshId(doc.growths, "growth"), ...row }); });
  }

  async function keepStray() {
    const [landmark, volts, season] = ["st-mark", "st-volts", "st-season"].map((id) => document.getElementById(id).value);
    const box = root.querySelector('[data-ask="/stray"] [data-answer]');
    try { box.innerHTML = (await bench.api.ask("/stray", { method: "POST", body: { landmark, volts, season } })).html; } catch (error) { refuse(error.body?.faults ?? []); }
  }

  const BUILT = ["herds", "duty", "scheme", "strands", "bottom_off", "conductor", "post", "post_spacing_m", "post_cm", "insulator", "netting", "behind", "apron"];

  /** A new way of building, begun as the shown one, for the line on which you stand. */
  async function addFence() {
    const run = bench.place?.run;
    let id;
    await bench.change("Another way to build", (doc) => {
      id = freshId(doc.fences, "fence");
      const from = structuredClone(bench.construction(doc));
      const name = `Fence ${doc.fences.length + 2}`;
      doc.fences.push({ id, name, ...Object.fromEntries(BUILT.map((key) => [key, from[key]])) });
      const here = doc.runs.find((r) => r.id === run);
      if (here) here.fence = id;
    });
    if (bench.doc.fences.some((f) => f.id === id)) bench.showFence(id);
  }

  /** Put the reasons beside the inputs they belong to; what was typed stays. */
  function refuse(faults) {
    for (const fault of faults) {
      const input = find(fault.path);
      if (!input) continue;
      input.classList.add("bad-field");
      input.setAttribute("aria-invalid", "true");
      const id = `why-${(input.id || fault.path).replaceAll(".", "-")}`;
      input.setAttribute("aria-describedby", id);
      document.getElementById(id)?.remove();
      input.after(el("span", { class: "fault", id, role: "alert" }, fault.message));
    }
  }

  function find(path) {
    const strand = /^(?:fences\.\d+\.)?strands\.(\d+)\.cm/.exec(path);
    if (strand) return root.querySelector(`[data-strand="${strand[1]}"]`);
    const pen = /^stock\.(\d+)\.training(?:\.(\w+))?/.exec(path);
    if (pen) return root.querySelector(`[data-training="${bench.doc.stock[pen[1]].id}"][data-part="${pen[2] ?? "released"}"]`);
    const order = /^strand (\d+)/.exec(path);
    if (order) return root.querySelector(`[data-strand="${order[1] - 1}"]`);
    const grow = /^growths\.\d+(?:\.(from_m|to_m))?/.exec(path);
    if (grow) return document.getElementById(grow[1] === "to_m" ? "grow-to" : "grow-from");
    const edits = { "edit.legs.text": "legs", "edit.ring.distance_m": "off-m", "edit.beside.distance_m": "off-m", "edit.square.side_m": "sq-side", "edit.square.bearing_deg": "sq-way", "edit.square.at": "sq-at", "edit.pen.side_m": "sq-side", "edit.pen.bearing_deg": "sq-way", "edit.pen.at": "sq-at", "edit.brackets.landmark": "off-of", "edit.lane.width_m": "lane-m", "edit.divide.parts": "div-parts", "edit.divide.bearing_deg": "div-way", "edit.moves.parts": "div-parts", "edit.moves.bearing_deg": "div-way", "edit.heights.text": "heights", "edit.move.east_m": "move-east", "edit.move.north_m": "move-north", photo: "photo-file", picture: "note-photo" };
    const typed = /^(edit\.reshape\.points|landmarks\.\d+\.points)/.test(path) ? "corners" : edits[path];
    return document.querySelector(`[data-path="${path}"]`) ?? document.getElementById(typed ?? "");
  }

  /** Show the server's panel; the focus stays where it was. */
  function show() {
    const held = document.activeElement;
    const mark = held?.dataset?.path ?? held?.dataset?.strand ?? held?.id;
    const inspector = root.querySelector("#inspector")?.innerHTML;
    const scroll = root.closest("aside")?.scrollTop ?? 0;
    root.innerHTML = bench.panel;
    // What is chosen stays in sight until its fresh figures are here.
    if (inspector && bench.chosen.size) root.querySelector("#inspector").innerHTML = inspector;
    if (mark) (root.querySelector(`[data-path="${mark}"]`) ?? root.querySelector(`[data-strand="${mark}"]`) ?? (held?.id ? document.getElementById(held.id) : null))?.focus({ preventScroll: true });
    if (root.closest("aside")) root.closest("aside").scrollTop = scroll;
    const here = root.querySelector("[data-log-here]");
    if (here && bench.place) here.href += `?${new URLSearchParams({ run: bench.place.run, at_m: bench.place.at_m.toFixed(1), strand: bench.strand + 1, season: bench.season })}`;
    ask(root.querySelector("#mends"), "/mends");
    for (const part of root.querySelectorAll("details[data-ask]")) {
      if ("opens" in part.dataset && !met.has(part.dataset.ask)) { met.add(part.dataset.ask); open.add(part.dataset.ask); }
      part.open = open.has(part.dataset.ask);
      if (part.open) ask(part.querySelector("[data-answer]"), part.dataset.ask);
    }
  }

  /** Parts of the panel that take longer to compute: asked for when they are looked at. */
  const open = new Set();
  const met = new Set(); // those that open by themselves have done so once
  root.addEventListener("toggle", ({ target }) => {
    const what = target.dataset?.ask;
    if (!what || target.open === open.has(what)) return;
    if (target.open) { open.add(what); ask(target.querySelector("[data-answer]"), what); } else open.delete(what);
  }, true);

  root.addEventListener("input", ({ target }) => {
    if (!target.dataset.query) return;
    const says = target.closest("label")?.querySelector("output");
    if (says) says.value = target.value;
  });
  root.addEventListener("change", ({ target }) => {
    const part = target.dataset.query && target.closest("details[data-ask]");
    if (part) ask(part.querySelector("[data-answer]"), part.dataset.ask);
  });

  const waits = new Map();
  function later(what) {
    clearTimeout(waits.get(what));
    waits.set(what, setTimeout(() => ask(root.querySelector(`details[data-ask="${what}"] [data-answer]`), what), 120));
  }

  async function ask(place, what) {
    if (!place) return;
    try {
      const query = new URLSearchParams({ fence: bench.fenceId, season: bench.season, ...(bench.place ?? {}) });
      for (const input of place.closest("details")?.querySelectorAll("[data-query]") ?? []) query.set(input.dataset.query, input.value);
      place.innerHTML = (await bench.api.ask(`${what}?${query}`)).html;
    } catch (error) {
      place.replaceChildren(el("p", { class: "fault" }, error.message));
    }
  }

  document.getElementById("bench").addEventListener("change", changed);
  root.addEventListener("click", clicked);
  bench.addEventListener("state", show);
  // What is said of a season or a place is asked again when these change.
  for (const [event, whats] of [["season", ["/budget", "/wave"]], ["place", ["/wave"]]]) {
    bench.addEventListener(event, () => {
      for (const what of whats) if (open.has(what)) later(what);
    });
  }
  bench.addEventListener("fence", () => { if (bench.stage === "strands") bench.queue = bench.queue.then(() => bench.refresh()); });
  bench.addEventListener("refused", (event) => {
    const faults = event.detail.faults.map((f) => {
      const ordered = /^strand (\d+):/.exec(f.message);
      return ordered ? { path: `strand ${ordered[1]}`, message: f.message } : f;
    });
    refuse(faults);
  });
  if (bench.panel) show();
}
