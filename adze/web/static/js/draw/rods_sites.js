// Rows proposed where it is damp and quiet, spots that are refused, a row along the fence.

import { el, svg } from "../basics/dom.js";
import { distance } from "../basics/geometry.js";
import { at } from "../ground/map_parts.js";

import * as L from "../../vendor/leaflet/leaflet-src.esm.js";
export function rod(spot, look) {
  return L.marker(at(spot), {
    icon: L.divIcon({
      className: "",
      iconSize: [6, 20],
      iconAnchor: [3, 3],
      html: svg(
        "svg",
        { width: 6, height: 20 },
        svg("path", { d: "M3 0v20", stroke: "var(--return)", "stroke-width": 3, ...look }),
      ),
    }),
    interactive: false,
    keyboard: false,
  });
}

export async function sites(tools) {
  if (tools.shown) {
    tools.shown = null;
    tools.choose("walk");
    tools.handles();
    return;
  }
  try {
    tools.shown = await tools.bench.api.ask("/rod-sites");
    tools.handles();
    const spots = [...(tools.bench.forecast?.ground?.rods ?? []), ...tools.shown.proposed.flatMap((site) => site.row)];
    if (spots.length)
      tools.map.fitBounds(L.latLngBounds(spots.map(at)).pad(0.35), { animate: false, paddingTopLeft: [10, 150] });
    const rows = tools.shown.proposed.map((site, i) =>
      el(
        "div",
        {},
        el("b", {}, `${i + 1} `),
        `${site.words}; lead ${site.lead} `,
        el(
          "button",
          {
            type: "button",
            class: "act small",
            onclick: () => {
              tools.shown = null;
              tools.lay("site", [], i);
              tools.choose("walk");
            },
          },
          "Put them there",
        ),
      ),
    );
    const wrong = tools.shown.refused
      .slice(0, 3)
      .map((r) => el("div", {}, el("b", {}, "Refused: "), `a rod stands ${r.why}`));
    tools.say(
      ...(rows.length
        ? rows
        : [el("div", {}, "No row near the energizer is clear of everything. Place the rods by hand, farther out.")]),
      ...wrong,
    );
  } catch (error) {
    tools.say(el("span", { class: "fault" }, error.message));
  }
}

export function drawSites(tools) {
  tools.shown.proposed.forEach((site, i) => {
    for (const spot of site.row) rod(spot, { "stroke-dasharray": "4 2" }).addTo(tools.layer);
    L.marker(at(site.row[0]), {
      icon: L.divIcon({
        className: "",
        iconSize: [20, 20],
        iconAnchor: [24, 10],
        html: el("div", { class: "zone-letter" }, `${i + 1}`),
      }),
      interactive: false,
    }).addTo(tools.layer);
  });
  for (const { at: spot, why } of tools.shown.refused)
    L.marker(at(spot), {
      icon: L.divIcon({
        className: "",
        iconSize: [22, 22],
        iconAnchor: [11, 11],
        html: svg(
          "svg",
          { width: 22, height: 22 },
          svg("path", { d: "M4 4l14 14m0 -14l-14 14", stroke: "var(--short)", "stroke-width": 3 }),
        ),
      }),
      title: `Refused: ${why}`,
    }).addTo(tools.layer);
}

/** A row beside the fence where you stand: from there along the line as it is walked. */
export function along(tools) {
  if (!tools.bench.place) {
    tools.say("Stand on the fence first.");
    return;
  }
  const here = tools.bench.standPoint();
  const run = tools.bench.run(tools.bench.place.run).points;
  const next =
    run.find((p, i) => i > 0 && distance(p, here) > 1 && distance(run[i - 1], p) >= distance(here, p) - 0.5) ??
    run.at(-1);
  tools.lay("along", [here, distance(here, next) > 0.5 ? next : [here[0] + 1, here[1]]]);
}
