// The bar's buttons and lists, and what each tool says of itself.

import { el } from "../basics/dom.js";
import { layerMenu } from "../ground/layers.js";

const TOOLS = [
  ["walk", "Walk"],
  ["arrange", "Arrange"],
  ["draw", "Draw a line"],
];
const USES = [
  ["fence", "perimeter or branch"],
  ["cross", "cross-fence"],
  ["spine", "spine"],
  ["temporary", "temporary line"],
];
const HINTS = {
  walk: "Click the line to stand there; drag to move the view.",
  arrange:
    "Click a thing to choose it. Shift adds another; Shift and drag chooses all in a box. Drag its points or grip.",
  draw: "Click post after post; double click or Enter ends, Backspace takes back. Or type:",
  energizer: "Click where the energizer hangs.",
  "lead-out": "Click its route from the energizer to the fence. Double click or Enter ends, Esc cancels.",
  "rods-near": "Click where the first rod goes: damp, shaded, 10 m from buildings.",
  note: "Click the spot that the note is about.",
  lane: "Click along the middle of the lane. Double click or Enter ends.",
};

/** The kind of landmark that a tool draws; null for other tools. */
export const landmarkOf = (tool) => (tool?.startsWith("land:") ? tool.slice(5) : null);

export function hintOf({ fixtures, kinds }, tool) {
  if (tool in fixtures) {
    const words = fixtures[tool].label.toLowerCase();
    return `Click the line where the ${words} goes; Enter puts it where you stand. Several in a row; Esc ends.`;
  }
  const kind = kinds[landmarkOf(tool)];
  if (!kind) return HINTS[tool];
  if (kind.shape === "point") {
    return `Click where it lies: ${kind.label.toLowerCase()}; Enter puts it where you stand.`;
  }
  const how = kind.shape === "area" ? "round its edge" : "along it";
  return `${kind.label}: click ${how}. Double click or Enter ends, Esc gives up.`;
}

const option = ([value, words]) => el("option", { value }, words);

export const useOf = () =>
  el("select", { class: "form-select", id: "draw-use", "aria-label": "Drawn as" }, ...USES.map(option));

export function nextLeg(onkeydown) {
  const label = "Next stretch: length and bearing";
  const look = { class: "form-control", id: "next-leg", placeholder: "120 m NE", size: 11 };
  return el("input", { ...look, "aria-label": label, onkeydown });
}

/** Fixtures at equal steps along the line where one stands: how far apart, and the step. */
export function everyStep(onsubmit) {
  const label = "Distance between them, along the line where you stand";
  const box = el("input", { class: "form-control", id: "every", value: "150 m", size: 6, "aria-label": label });
  box.dataset.faults = "place_every.every_m";
  return el(
    "form",
    { class: "says-extras", onsubmit },
    "or every",
    box,
    el("button", { class: "act" }, "along this line"),
  );
}

function list(id, label, first, choose, options) {
  const onchange = ({ target }) => target.value && choose(target.value);
  const look = { class: "form-select", id, "aria-label": label, onchange };
  return el("select", look, el("option", { value: "" }, first), ...options);
}

function landmarkGroups(kinds) {
  const rows = Object.entries(kinds);
  const groups = [...new Set(rows.map(([, k]) => k.group))];
  return groups.map((group) => {
    const own = rows.filter(([, k]) => k.group === group);
    return el("optgroup", { label: group }, ...own.map(([key, k]) => option([`land:${key}`, k.label])));
  });
}

const POWER = [
  ["energizer", "Energizer"],
  ["lead-out", "Lead-out"],
  ["rods-near", "Rods"],
  ["note", "Note"],
];

/** Fill the bar; the two lists, of what stands on a line and what lies on the ground. */
export function barOf(tools) {
  const choose = (tool) => tools.choose(tool);
  const button = (words, attributes) => el("button", { type: "button", class: "act", ...attributes }, words);
  const fixtures = Object.values(tools.fixtures).map(({ key, label }) => option([key, label]));
  const power = el("optgroup", { label: "Power" }, ...POWER.map(option));
  const onLine = list("on-line", "Place on the line", "On the line…", choose, fixtures);
  const lying = [power, ...landmarkGroups(tools.kinds)];
  const onGround = list("on-ground", "Place on the ground", "On the ground…", choose, lying);
  tools.bar.replaceChildren(
    ...TOOLS.map(([tool, words]) => button(words, { "data-tool": tool, onclick: () => choose(tool) })),
    onLine,
    onGround,
    button("Show all", { onclick: () => tools.ground.fit() }),
    layerMenu(tools.bench),
  );
  return { onLine, onGround };
}
