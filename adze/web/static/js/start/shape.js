// How large an outline is: its area, sides and length in all, in the plan's units.

import { el } from "../basics/dom.js";

const WAYS = ["north", "north-east", "east", "south-east", "south", "south-west", "west", "north-west"];

export const ACRE_M2 = 4046.8564;

const sides = (corners) => corners.slice(1).map((to, k) => [corners[k], to]);
const sideM = ([[x, y], [toX, toY]]) => Math.hypot(toX - x, toY - y);

export const isClosed = (corners) => corners.length > 3 && sideM([corners[0], corners.at(-1)]) < 0.01;

/** The area inside a closed outline, square metres. */
export const areaM2 = (corners) =>
  Math.abs(sides(corners).reduce((sum, [[x, y], [toX, toY]]) => sum + (x * toY - toX * y) / 2, 0));

export const lengthWords = (metres, units) =>
  units === "imperial" ? `${Math.round(metres / 0.3048)} ft` : `${Math.round(metres * 10) / 10} m`;

function areaWords(squareM, units) {
  const [size, unit] = units === "imperial" ? [squareM / ACRE_M2, "acres"] : [squareM / 10_000, "ha"];
  return `${size < 0.1 ? size.toFixed(3) : size < 10 ? size.toFixed(2) : size.toFixed(0)} ${unit}`;
}

/** Area, sides and the whole length in one line. */
export function sizeWords(corners, units) {
  const lengths = sides(corners).map(sideM);
  const whole = `${lengthWords(
    lengths.reduce((sum, x) => sum + x, 0),
    units,
  )} of fence`;
  const each = [...new Set(lengths.map((x) => lengthWords(x, units)))].slice(0, 6).join(", ");
  if (!isClosed(corners)) return lengths.length > 1 ? `Open line: sides of ${each}, ${whole}.` : `${whole}.`;
  return `${areaWords(areaM2(corners), units)} inside, sides of ${each}, ${whole}.`;
}

/** Each side as a line of a list. */
export const sideWords = (corners, units) =>
  sides(corners).map((side) => {
    const [[x, y], [toX, toY]] = side;
    const turn = (Math.atan2(toX - x, toY - y) / (2 * Math.PI) + 1) % 1;
    return el("li", {}, `${lengthWords(sideM(side), units)} towards the ${WAYS[Math.round(turn * 8) % 8]}`);
  });
