// What is shown on the ground, kept in this browser.

import { el } from "../basics/dom.js";
import { recallHere, rememberHere } from "../basics/remembered.js";

const KEY = "adze-layers";
const WORDS = {
  kv: "kV colours",
  fixtures: "What stands on the line",
  labels: "Names",
  land: "What lies on the ground",
  blocks: "Blocks and strips",
  zones: "Zones of the switches",
  photo: "Aerial photo",
  grid: "Grid",
};
const FIRST = {
  kv: true,
  fixtures: true,
  labels: true,
  land: true,
  blocks: false,
  zones: false,
  photo: true,
  grid: true,
};

export const readLayers = () => ({ ...FIRST, ...recallHere(KEY) });

export function showLayer(bench, name, on) {
  rememberHere(KEY, { ...readLayers(), [name]: on });
  const box = document.querySelector(`[data-layer="${name}"]`);
  if (box) box.checked = on;
  bench.tell("layers");
}

export function layerMenu(bench) {
  const shown = readLayers();
  const rows = Object.entries(WORDS).map(([name, words]) =>
    el(
      "label",
      { class: "check" },
      el("input", {
        type: "checkbox",
        "data-layer": name,
        checked: shown[name],
        onchange: (e) => showLayer(bench, name, e.target.checked),
      }),
      ` ${words}`,
    ),
  );
  return el(
    "details",
    { class: "menu" },
    el("summary", { class: "act" }, "Layers"),
    el("div", { class: "menu-box" }, ...rows),
  );
}
