// Laying an aerial photo under the plan: choose it, then pin it by what is known in both.

import { at, metres } from "./ground.js";
import { matrixOf, pixel, place } from "./photo_matrix.js";
import { snapped } from "./snap.js";
import * as L from "/static/vendor/leaflet/leaflet-src.esm.js";

export function mountPhoto(bench, ground) {
  const panel = document.querySelector("#panel");
  if (!panel || bench.stage !== "ground") return;
  const { map } = ground;
  const layer = L.layerGroup().addTo(map);

  async function lay(file) {
    try {
      const kept = await bench.api.send("/pictures?purpose=underlay", file);
      const view = map.getBounds().pad(-0.15);
      const across = Math.min((view.getEast() - view.getWest()) / kept.width_px, (view.getNorth() - view.getSouth()) / kept.height_px);
      const [x, y] = metres(view.getCenter());
      const half = [kept.width_px * across / 2, kept.height_px * across / 2];
      await bench.change("Laid an aerial photo", (doc) => {
        doc.underlay = { picture: kept.id, width_px: kept.width_px, height_px: kept.height_px, opacity: 0.7,
          points: [{ pixel: [0, kept.height_px], at: [x - half[0], y - half[1]] }, { pixel: [kept.width_px, 0], at: [x + half[0], y + half[1]] }] };
      });
      pin("fix");
    } catch (error) { bench.tell("refused", { message: error.message, faults: [{ path: "photo", message: error.message }] }); }
  }

  /** Two clicks make a known point: the thing in the photo, then where it truly lies. */
  function pin(how) {
    const matrix = bench.forecast?.ground?.underlay?.matrix ?? matrixOf(bench.doc.underlay.points);
    const pins = { how, matrix, wanted: how === "fix" ? 2 : 1, points: [], from: null };
    ground.photoPins = pins;
    ground.choose("arrange");
    map.getContainer().style.cursor = "crosshair";
    ask();
  }

  function ask() {
    const pins = ground.photoPins;
    const number = pins.points.length + 1;
    ground.say(pins.from ? `Known point ${number}: now click where that truly lies. Esc gives up.` : `Known point ${number}${pins.wanted > 1 ? " of 2" : ""}: click a thing in the photo that you know, far from the last.`);
  }

  function stop() {
    ground.photoPins = null;
    layer.clearLayers();
    map.getContainer().style.cursor = "";
  }

  map.on("click", async (event) => {
    const pins = ground.photoPins;
    if (!pins) return;
    const point = metres(event.latlng);
    if (!pins.from) {
      pins.from = pixel(pins.matrix, point);
      L.circleMarker(at(point), { radius: 7, color: "#8a2457", weight: 3, fill: false, interactive: false }).addTo(layer);
      ask();
      return;
    }
    const to = snapped(bench, ground, point).point;
    L.polyline([at(place(pins.matrix, pins.from)), at(to)], { color: "#8a2457", weight: 2, dashArray: "4 4", interactive: false }).addTo(layer);
    pins.points.push({ pixel: pins.from.map((x) => Math.round(x * 100) / 100), at: to });
    pins.from = null;
    if (pins.points.length < pins.wanted) { ask(); return; }
    const { points, how } = pins;
    stop();
    await bench.change("Pinned the aerial photo", (doc) => { doc.underlay.points = how === "fix" ? points : [...doc.underlay.points, ...points]; });
    ground.say("Pinned. Check it against a third thing you know; add it as a known point if it lies off.");
  });

  document.addEventListener("keydown", (event) => { if (event.key === "Escape" && ground.photoPins) { stop(); ground.say("The photo stays as it lay."); } });
  panel.addEventListener("change", (event) => { if (event.target.id === "photo-file" && event.target.files.length) lay(event.target.files[0]); });
  panel.addEventListener("click", (event) => {
    const how = event.target.closest("[data-photo]")?.dataset.photo;
    if (how === "off") bench.change("Took the aerial photo off", (doc) => { doc.underlay = null; });
    else if (how) pin(how);
  });
}
