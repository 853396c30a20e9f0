// The five questions: the size that was typed or drawn is told, answers stay, one question at a time on a phone.

import { recall, remember } from "../basics/remembered.js";
import { Pad } from "../start/pad.js";
import { ACRE_M2, sideWords, sizeWords } from "../start/shape.js";
import { Steps } from "../start/steps.js";

const root = document.getElementById("start");
const form = /** @type {HTMLFormElement} */ (root.querySelector("form"));
const { units } = root.dataset;
const KEPT = `answers:${root.dataset.plan}`;
const perUnit = units === "imperial" ? 0.3048 : 1;

const shapeOf = () => new FormData(form).get("shape");
const numberOf = (name) => Number.parseFloat(String(new FormData(form).get(name)).replace(",", "."));

/** The outline that is asked for, m; empty while a size is missing. */
function outline() {
  const [shape, rectangle] = [shapeOf(), ["width_m", "depth_m"].map((name) => numberOf(name) * perUnit)];
  if (shape === "draw") return pad.corners;
  if (shape === "straight") return corners([0, 0], [numberOf("straight_m") * perUnit, 0]);
  const side = Math.sqrt(numberOf("area_ha") * (units === "imperial" ? ACRE_M2 : 10_000));
  const [wide, deep] = shape === "area" ? [side, side] : rectangle;
  if (shape !== "area" && shape !== "rectangle") return [];
  return corners([0, 0], [wide, 0], [wide, deep], [0, deep], [0, 0]);
}

const corners = (...points) => (points.flat().every((x) => x >= 0 && Number.isFinite(x)) ? points : []);

function tell() {
  const line = outline();
  document.getElementById("size-told").textContent = line.length > 1 ? sizeWords(line, units) : "";
  document.getElementById("pad").hidden = shapeOf() !== "draw";
  root.querySelector(".sides").replaceChildren(...sideWords(pad.corners, units));
}

/** What was typed stays, also across a reload. */
function keep() {
  const rows = [...new FormData(form)].filter(([name]) => name !== "csrf");
  remember(KEPT, rows);
}

function restore() {
  const rows = recall(KEPT) ?? [];
  if (!rows.length || root.querySelector("[data-test=fault]") || location.search) return;
  const typed = new Map(rows);
  const inputs = /** @type {HTMLInputElement[]} */ (Array.from(form.querySelectorAll("input[name]:not([name=csrf])")));
  for (const input of inputs) {
    if (input.type === "radio" || input.type === "checkbox") input.checked = typed.get(input.name) === input.value;
    else input.value = typed.get(input.name) ?? "";
    if (input.checked) input.closest("details")?.setAttribute("open", "");
  }
}

restore();
const hidden = /** @type {HTMLInputElement} */ (form.elements.namedItem("corners"));
const pad = new Pad(document.getElementById("pad"), JSON.parse(hidden.value || "[]"), perUnit, () => {
  hidden.value = JSON.stringify(pad.corners);
  tell();
  keep();
});
form.addEventListener("input", () => {
  tell();
  keep();
});
form.addEventListener("submit", () => {
  const button = form.querySelector(".sending button");
  button.textContent = "Designing …";
  button.toggleAttribute("disabled", true);
});
// A page that is shown again by the browser's own way back can be sent again.
addEventListener("pageshow", () => {
  const button = form.querySelector(".sending button");
  button.textContent = "Design it";
  button.toggleAttribute("disabled", false);
});
tell();
new Steps(form);
