// The workbench: one plan and the views that its stage asks for.

import { Bench } from "./bench.js";
import { mountClash } from "./clash.js";
import { mountDividers } from "./dividers.js";
import { mountLooks } from "./looks.js";
import { mountSay } from "../basics/say.js";
import { mountTop } from "./top.js";

const read = (id) => JSON.parse(document.getElementById(id).textContent);

async function computed(bench) {
  const busy = document.getElementById("busy");
  busy.classList.add("on");
  bench.take(await bench.api.ask(`/panel/${bench.stage}`));
  busy.classList.remove("on");
  bench.recall();
}

async function start() {
  const root = document.getElementById("bench");
  const state = read("state");
  const bench = new Bench(root, state, read("shared"));
  root.adzeBench = bench;
  const scripts = await Promise.all(root.dataset.scripts.split(" ").map((name) => import(`../${name}.js`)));
  if (!state.forecast) await computed(bench);
  mountTop(bench);
  mountSay(bench);
  mountClash(bench);
  // The ground, where there is one, is what the scripts after it draw on.
  let ground = null;
  const firsts = [];
  for (const { mount } of scripts) {
    const view = mount(bench, ground);
    ground ??= view.asGround ?? null;
    firsts.push(view.first);
  }
  mountLooks(root);
  await Promise.all(firsts);
  mountDividers(root, bench);
  // Panes take their sizes in the next frame and what is drawn in them follows in the one after it.
  await new Promise((settled) => requestAnimationFrame(() => requestAnimationFrame(settled)));
  performance.mark("ready");
  root.dataset.ready = "yes";
}

start();
