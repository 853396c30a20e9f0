// Where a part of the list is used: its lines and spots light up on the ground.

import { at, css, draw, shape } from "./map_parts.js";
import * as L from "../../vendor/leaflet/leaflet-src.esm.js";

const HALO = { weight: 14, opacity: 0.45, lineCap: "round" };

class Lit {
  constructor(bench, ground) {
    this.bench = bench;
    this.ground = ground;
    this.layer = L.layerGroup().addTo(ground.map);
    this.says = document.getElementById("says");
    document.getElementById("bench").addEventListener("click", ({ target }) => {
      const row = target.closest("[data-light]");
      if (row) this.show(row);
    });
    bench.on("state", () => this.clear());
  }

  clear() {
    this.layer.clearLayers();
    this.says.hidden = true;
  }

  show(row) {
    const { runs, spots } = JSON.parse(row.dataset.light);
    document.getElementById("to-drawing")?.click();
    this.layer.clearLayers();
    const color = css("--return");
    for (const id of runs) draw(this.layer, this.bench.run(id).points.map(at), { ...HALO, color });
    for (const spot of spots) {
      L.circleMarker(at(spot), { ...shape, radius: 15, color, weight: 5, opacity: 0.7, fill: false }).addTo(this.layer);
    }
    this.ground.fit();
    this.says.parentElement.hidden = false;
    this.says.hidden = false;
    this.says.textContent = row.dataset.words;
  }
}

export const mount = (bench, ground) => new Lit(bench, ground);
