// Where you are, by the device's own receiver: stand there, or add a point there.

import { devicePosition } from "./device_position.js";
import { el } from "../basics/dom.js";
import { at } from "../ground/map_parts.js";
import { lengthWords } from "../basics/scales.js";
import * as L from "../../vendor/leaflet/leaflet-src.esm.js";

class Locator {
  constructor(bench, ground, bar) {
    this.bench = bench;
    this.ground = ground;
    this.bar = bar;
    this.layer = L.layerGroup().addTo(this.ground.map);
    this.add = el(
      "button",
      { type: "button", class: "act", id: "add-here", hidden: true, onclick: () => this.addHere() },
      "Add a point here",
    );
    this.bar.append(
      el(
        "button",
        { type: "button", class: "act", id: "where-am-i", onclick: () => this.locate(() => this.show()) },
        "Where am I",
      ),
      this.add,
    );
    this.last = null;
  }

  async locate(then) {
    this.ground.tools.say("Finding your position…");
    try {
      this.last = await devicePosition(this.bench.api);
    } catch (error) {
      this.ground.tools.say(error.message);
      return;
    }
    then();
  }

  show() {
    this.layer.clearLayers();
    const spot = at(this.last.at);
    L.circle(spot, {
      radius: this.last.accuracy,
      color: "#1d6a72",
      weight: 1.5,
      fillOpacity: 0.1,
      interactive: false,
    }).addTo(this.layer);
    L.circleMarker(spot, {
      radius: 7,
      color: "#fbf9f3",
      weight: 3,
      fillColor: "#1d6a72",
      fillOpacity: 1,
      interactive: false,
    }).addTo(this.layer);
    this.ground.map.panTo(spot, { animate: false });
    this.add.hidden = false;
    const sure = `You are here, within ${lengthWords(this.last.accuracy, this.bench.units)}`;
    if (this.last.near && this.last.near.away_m <= Math.max(15, this.last.accuracy)) {
      this.bench.stand(this.last.near.run, this.last.near.at_m);
      this.ground.tools.say(`${sure}; standing on ${this.bench.run(this.last.near.run).name}.`);
    } else if (this.last.near) {
      const away = lengthWords(this.last.near.away_m, this.bench.units);
      this.ground.tools.say(`${sure}; ${this.bench.run(this.last.near.run).name} is ${away} away.`);
    } else this.ground.tools.say(`${sure}.`);
  }

  /** Walk and press: the line grows by a point where you stand. */
  addHere() {
    this.locate(() => {
      this.show();
      if (this.ground.tool !== "draw" && this.ground.tool !== "lane" && !this.ground.tool.startsWith("land:"))
        this.ground.tools.choose("draw");
      this.ground.tools.addPoint(this.last.at);
    });
  }
}

export const mountLocate = (bench, ground, bar) => new Locator(bench, ground, bar);
