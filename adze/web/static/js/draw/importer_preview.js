// A file of lines as it would be taken: its lines to choose from, how it is read.

import { el } from "../basics/dom.js";
import { at } from "../ground/map_parts.js";
import { lengthWords } from "../basics/scales.js";
import * as L from "../../vendor/leaflet/leaflet-src.esm.js";

const MOST_THIN_M = 1000;
const SHOWN = { notes: 8, lines: 60 };
const LOOK = { color: "#1d6a72", weight: 4, dashArray: "8 5", interactive: false };

export const box = () => document.getElementById("import-box");

function drawLines(importer) {
  const { found, out } = importer.pending;
  importer.layer.clearLayers();
  for (const [i, line] of found.lines.entries()) {
    if (!out.has(i)) L.polyline(line.points.map(at), LOOK).addTo(importer.layer);
  }
  const all = [...found.lines, ...found.marks].flatMap((x) => x.points).map(at);
  if (all.length) importer.ground.map.fitBounds(L.latLngBounds(all), { padding: [50, 50], animate: false });
}

function summary({ lines, marks, fixtures, came }) {
  const points = lines.reduce((sum, line) => sum + line.points.length, 0);
  const things = marks.length ? `${marks.length} things on the ground. ` : "";
  const fixed = fixtures ? `${fixtures} fixtures. ` : "";
  return `${lines.length} lines, ${came} points came, ${points} are kept. ${things}${fixed}Nothing is taken yet.`;
}

function thinning(importer) {
  const onchange = ({ target }) => {
    const metres = Number(target.value.replace(",", "."));
    if (metres >= 0 && metres <= MOST_THIN_M) importer.look({ thin: metres });
    else target.classList.add("bad-field");
  };
  const value = importer.pending.found.thin_m;
  const look = { class: "form-control", id: "import-thin", value, inputmode: "decimal", size: 5, onchange };
  const words = "Leave out points that lie within so many metres of the line (0 keeps all)";
  return el("div", {}, el("label", { for: "import-thin" }, words), el("input", look));
}

function check(id, words, checked, choose) {
  const onchange = ({ target }) => choose(target.checked);
  return el("label", { class: "check" }, el("input", { type: "checkbox", id, checked, onchange }), ` ${words}`);
}

function lineRow(importer, line, i) {
  const { out } = importer.pending;
  const onchange = ({ target }) => {
    if (target.checked) out.delete(i);
    else out.add(i);
    show(importer);
  };
  const look = { type: "checkbox", checked: !out.has(i), "aria-label": `Take ${line.name}`, onchange };
  const long = lengthWords(line.length_m, importer.bench.units);
  const figures = `${long}, ${line.points.length} points${line.heights ? ", heights" : ""}`;
  return el(
    "label",
    { class: "row2 small" },
    el("span", {}, el("input", look), ` ${line.name}`),
    el("span", {}, figures),
  );
}

function buttons(importer) {
  const leave = () => {
    importer.drop();
    box().replaceChildren();
  };
  const take = { type: "button", class: "act main", "data-test": "take-file", onclick: () => importer.take() };
  return el(
    "p",
    { class: "mt-2" },
    el("button", take, "Take it into the plan"),
    " ",
    el("button", { type: "button", class: "act quiet", onclick: leave }, "Leave it"),
  );
}

export function show(importer) {
  const { found, part, swap } = importer.pending;
  drawLines(importer);
  const swapped = "Latitude and longitude looked swapped: they are shown the other way round.";
  box().replaceChildren(
    el("h3", {}, `Preview of ${found.name}`),
    el("p", { class: "small", "data-test": "import-says" }, summary(found)),
    ...found.notes.slice(0, SHOWN.notes).map((note) => el("p", { class: "why plain small" }, note)),
    ...(found.offer_swap ? [el("p", { class: "why small", "data-test": "swapped" }, swapped)] : []),
    thinning(importer),
    check("import-part", "part lines at jumps", part, (on) => importer.look({ part: on })),
    check("import-swap", "latitude and longitude changed over", swap || found.offer_swap, (on) =>
      importer.look({ swap: on }),
    ),
    el("div", { class: "things" }, ...found.lines.slice(0, SHOWN.lines).map((line, i) => lineRow(importer, line, i))),
    buttons(importer),
  );
}
