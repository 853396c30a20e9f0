// The workbench: one plan, its views, and the top bar.

import { Bench } from "./bench.js";
import { mountCard } from "./card.js";
import { mountClash } from "./clash.js";
import { mark } from "./dom.js";
import { mountGround } from "./ground.js";
import { mountImporter } from "./importer.js";
import { mountInspector } from "./inspector.js";
import { mountKeys } from "./keys.js";
import { mountPanel } from "./panel.js";
import { mountPhoto } from "./photo.js";
import { mountRods } from "./rods.js";
import { mountSide } from "./side.js";
import { mountSearch } from "./search.js";
import { mountStrip } from "./strip.js";
import { mountTools } from "./tools.js";

function mountTop(bench) {
  const byId = (id) => document.getElementById(id);
  function show() {
    for (const b of byId("seasons").children) { b.classList.toggle("on", b.dataset.season === bench.season); b.setAttribute("aria-pressed", b.dataset.season === bench.season); }
    for (const b of byId("units").children) { b.classList.toggle("on", b.dataset.units === bench.units); b.setAttribute("aria-pressed", b.dataset.units === bench.units); }
    byId("undo").disabled = !bench.canUndo;
    const tried = bench.doc.what_ifs.length;
    byId("tried").hidden = !tried;
    byId("tried").textContent = `What if: ${tried} thing${tried > 1 ? "s" : ""} gone wrong`;
    byId("redo").disabled = !bench.canRedo;
  }
  function rail() {
    for (const link of document.querySelectorAll("#rail .stage")) {
      const stage = bench.forecast?.stages?.[link.dataset.stage];
      if (!stage) continue;
      link.querySelector("[data-mark]").replaceChildren(mark(stage.status));
      link.querySelector("[data-line]").textContent = stage.status === "fails" || stage.status === "marginal" ? `${stage.status}: ${stage.line}` : stage.line;
    }
  }
  byId("seasons").addEventListener("click", (e) => { if (e.target.dataset.season) bench.choose({ season: e.target.dataset.season }); });
  byId("units").addEventListener("click", (e) => {
    const units = e.target.dataset.units;
    if (units && units !== bench.units) bench.change(`Lengths in ${units === "metric" ? "metres" : "feet"}`, (doc) => { doc.units = units; });
  });
  byId("undo").addEventListener("click", () => bench.post("/undo"));
  byId("redo").addEventListener("click", () => bench.post("/redo"));
  bench.addEventListener("state", () => { show(); rail(); const name = document.querySelector(".crumb input"); if (document.activeElement !== name) name.value = bench.doc.name; });
  bench.addEventListener("season", show);
  show();
  rail();
}

function mountSay(bench) {
  const box = document.getElementById("say");
  const busy = document.getElementById("busy");
  let timer = 0;
  let slow = 0;
  bench.addEventListener("busy", ({ detail }) => {
    clearTimeout(slow);
    if (detail) slow = setTimeout(() => busy.classList.add("on"), 400);
    else busy.classList.remove("on");
    document.body.dataset.busy = detail ? "yes" : "no";
  });
  bench.addEventListener("refused", ({ detail }) => {
    clearTimeout(timer);
    box.textContent = detail.message;
    if (detail.retry) {
      const again = document.createElement("button");
      again.className = "act";
      again.textContent = "Try again";
      again.addEventListener("click", () => { box.hidden = true; bench.change(detail.retry.summary, detail.retry.mutate); });
      box.append(again);
    }
    box.className = "say bad";
    box.hidden = false;
    if (!detail.retry) timer = setTimeout(() => { box.hidden = true; }, 9000);
  });
  bench.addEventListener("state", () => { box.hidden = true; });
}

async function start() {
  const root = document.getElementById("bench");
  let state = JSON.parse(document.getElementById("state").textContent);
  const bench = new Bench(root, state);
  root.adzeBench = bench;
  if (!state.forecast) {
    document.getElementById("busy").classList.add("on");
    state = await bench.api.ask(`/panel/${bench.stage}`);
    document.getElementById("busy").classList.remove("on");
    bench.take(state);
    bench.recall();
  }
  mountTop(bench);
  mountSay(bench);
  mountClash(bench);
  mountPanel(bench);
  const ground = mountGround(bench);
  mountTools(bench, ground);
  mountRods(bench, ground);
  mountInspector(bench, ground);
  mountImporter(bench, ground);
  mountPhoto(bench, ground);
  mountSide(bench);
  mountSearch(bench);
  mountStrip(bench);
  mountCard(bench);
  mountKeys(bench);
  root.dataset.ready = "yes";
}

start();
