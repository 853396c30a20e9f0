// Figures and places as they are typed. Wrong input is named.

import { M_PER_FT, filled, lengthWords } from "../../basics/scales.js";
import { readings } from "../constants.js";
import { lengthOf } from "../../basics/geometry.js";

/** What is wrong with what was typed, and in which field. */
export class TypedError extends Error {
  constructor(field, message) {
    super(message);
    this.field = field;
  }
}

/** A figure as it was typed, null where nothing was. Throws TypedError. */
export function figure(text, field, name, most) {
  if (!text?.trim()) return null;
  const value = Number(text.trim().replace(",", "."));
  if (Number.isNaN(value) || value < 0)
    throw new TypedError(field, `${name}: ${text.trim().slice(0, 20)} is no figure.`);
  if (value > most) throw new TypedError(field, `${name}: ${value} is more than ${most}; read once more.`);
  return value;
}

/** A length as it was typed: its figure, and whether it is in feet; a bare one is in the plan's units. */
function lengthTyped(text, units) {
  const [, shown, unit] = /^([^a-z]*?)\s*(m|ft)?$/i.exec(text || "0") ?? [null, text];
  return [shown, unit ? unit.toLowerCase() === "ft" : units === "imperial"];
}

/** Metres of a length as it was typed; NaN of what is none. */
export function metresOf(text, units) {
  const [shown, isFeet] = lengthTyped(text, units);
  return Number(shown.replace(",", ".")) * (isFeet ? M_PER_FT : 1);
}

/** Where a step was, or what is wrong with its place; a bare number is in the plan's units. */
export function placeOf({ run, at_m: text }, { runs, units }) {
  const name = units === "imperial" ? "Feet along" : "Metres along";
  const [shown, isFeet] = lengthTyped(text, units);
  const atM = figure(shown, "at_m", name, 1_000_000) * (isFeet ? M_PER_FT : 1);
  const line = runs.find(({ id }) => id === run);
  const length = line ? lengthOf(line.points) : Infinity;
  if (atM > length + 0.5) {
    const parts = { field: name, line: line.name, length: lengthWords(length, units) };
    throw new TypedError("at_m", filled(readings.PAST_END, parts));
  }
  return atM;
}
