// Laying an aerial photo under the plan: choose it, then pin it by what is known in both.

import { at, metres } from "../ground/map_parts.js";
import { matrixOf, pixel, place } from "./photo_matrix.js";
import { snapped } from "./snap.js";
import * as L from "../../vendor/leaflet/leaflet-src.esm.js";

const PIN = "#8a2457";

class Photo {
  constructor(bench, ground) {
    this.bench = bench;
    this.ground = ground;
    this.panel = document.querySelector("#panel");
    this.map = this.ground.map;
    this.layer = L.layerGroup().addTo(this.map);
    this.map.on("click", (event) => this.clicked(metres(event.latlng)));
    document.addEventListener("keydown", (event) => {
      if (event.key === "Escape" && this.ground.photoPins) {
        this.stop();
        this.ground.tools.say("The photo is not changed.");
      }
    });
    this.panel.addEventListener("change", (event) => {
      if (event.target.id === "photo-file" && event.target.files.length) this.lay(event.target.files[0]);
    });
    this.panel.addEventListener("click", (event) => {
      const how = event.target.closest("[data-photo]")?.dataset.photo;
      if (how === "off") this.bench.do({ do: "take_photo_off" });
      else if (how) this.pin(how);
    });
  }

  async clicked(point) {
    const pins = this.ground.photoPins;
    if (!pins) return;
    if (!pins.from) {
      pins.from = pixel(pins.matrix, point);
      const ring = { radius: 7, color: PIN, weight: 3, fill: false, interactive: false };
      L.circleMarker(at(point), ring).addTo(this.layer);
      this.ask();
      return;
    }
    const to = snapped(this.bench, this.ground, point).point;
    const line = { color: PIN, weight: 2, dashArray: "4 4", interactive: false };
    L.polyline([at(place(pins.matrix, pins.from)), at(to)], line).addTo(this.layer);
    pins.points.push({ pixel: pins.from.map((x) => Math.round(x * 100) / 100), at: to });
    pins.from = null;
    if (pins.points.length < pins.wanted) this.ask();
    else await this.pinned(pins);
  }

  async pinned({ points, how }) {
    this.stop();
    await this.bench.do({ do: "pin_photo", points, add: how !== "fix" });
    this.ground.tools.say(
      "Pinned. Check it against a third thing that you know. If it is off, add it as a known point.",
    );
  }

  async lay(file) {
    try {
      const kept = await this.bench.api.send("/pictures?purpose=underlay", file);
      const view = this.map.getBounds().pad(-0.15);
      const across = Math.min(
        (view.getEast() - view.getWest()) / kept.width_px,
        (view.getNorth() - view.getSouth()) / kept.height_px,
      );
      const [x, y] = metres(view.getCenter());
      const half = [(kept.width_px * across) / 2, (kept.height_px * across) / 2];
      await this.bench.do({
        do: "lay_photo",
        picture: kept.id,
        width_px: kept.width_px,
        height_px: kept.height_px,
        lower_left: [x - half[0], y - half[1]],
        upper_right: [x + half[0], y + half[1]],
      });
      this.pin("fix");
    } catch (error) {
      this.bench.tell("refused", { message: error.message, faults: [{ path: "photo", message: error.message }] });
    }
  }

  /** Two clicks make a known point: the thing in the photo, then where it truly lies. */
  pin(how) {
    const matrix = this.bench.forecast?.ground?.underlay?.matrix ?? matrixOf(this.bench.doc.underlay.points);
    const pins = { how, matrix, wanted: how === "fix" ? 2 : 1, points: [], from: null };
    this.ground.photoPins = pins;
    this.ground.tools.choose("arrange");
    this.map.getContainer().style.cursor = "crosshair";
    this.ask();
  }

  ask() {
    const pins = this.ground.photoPins;
    const number = pins.points.length + 1;
    this.ground.tools.say(
      pins.from
        ? `Known point ${number}: now click where that really is. Esc cancels.`
        : `Known point ${number}${pins.wanted > 1 ? " of 2" : ""}: ` +
            "click a thing in the photo that you know, far from the last.",
    );
  }

  stop() {
    this.ground.photoPins = null;
    this.layer.clearLayers();
    this.map.getContainer().style.cursor = "";
  }
}

export function mount(bench, ground) {
  return new Photo(bench, ground);
}
