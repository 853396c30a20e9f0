// Where you are, by the device's own receiver: stand there, or add a point there.

import { el } from "./dom.js";
import { at } from "./ground.js";
import { lengthWords } from "./scales.js";
import * as L from "/static/vendor/leaflet/leaflet-src.esm.js";

const REFUSED = { 1: "This browser may not tell where you are: allow it for this page.", 2: "The device does not know where it is; step into the open.", 3: "No position within 20 seconds; step into the open and try again." };

export function mountLocate(bench, ground, bar) {
  const layer = L.layerGroup().addTo(ground.map);
  const add = el("button", { type: "button", class: "act", id: "add-here", hidden: true, onclick: addHere }, "Add a point here");
  bar.append(el("button", { type: "button", class: "act", id: "where-am-i", onclick: () => locate(show) }, "Where am I"), add);
  let last = null;

  function locate(then) {
    if (!navigator.geolocation) { ground.say("This browser cannot tell where you are."); return; }
    ground.say("Looking for where you are…");
    navigator.geolocation.getCurrentPosition(async ({ coords }) => {
      try {
        const query = new URLSearchParams({ lat: coords.latitude, lon: coords.longitude });
        const found = await bench.api.ask(`/here?${query}`);
        last = { ...found, accuracy: coords.accuracy };
        then();
      } catch (error) { ground.say(error.message); }
    }, (error) => ground.say(REFUSED[error.code] ?? "Where you are is not known."), { enableHighAccuracy: true, timeout: 20000, maximumAge: 0 });
  }

  function show() {
    layer.clearLayers();
    const spot = at(last.at);
    L.circle(spot, { radius: last.accuracy, color: "#1d6a72", weight: 1.5, fillOpacity: 0.1, interactive: false }).addTo(layer);
    L.circleMarker(spot, { radius: 7, color: "#fbf9f3", weight: 3, fillColor: "#1d6a72", fillOpacity: 1, interactive: false }).addTo(layer);
    ground.map.panTo(spot, { animate: false });
    add.hidden = false;
    const sure = `You are here, within ${lengthWords(last.accuracy, bench.units)}`;
    if (last.near && last.near.away_m <= Math.max(15, last.accuracy)) {
      bench.stand(last.near.run, last.near.at_m);
      ground.say(`${sure}; standing on ${bench.run(last.near.run).name}.`);
    } else ground.say(last.near ? `${sure}; ${bench.run(last.near.run).name} is ${lengthWords(last.near.away_m, bench.units)} away.` : `${sure}.`);
  }

  /** Walk and press: the line grows by a point where you stand. */
  function addHere() {
    locate(() => {
      show();
      if (ground.tool !== "draw" && ground.tool !== "lane" && !ground.tool.startsWith("land:")) ground.choose("draw");
      ground.addPoint(last.at);
    });
  }
}
