// A step as it is typed: what goes to the server, what the search takes of it, how it is said. Wrong input is named.

import { token } from "../api.js";
import { stepValue } from "./input.js";
import { M_PER_FT, lengthWords } from "./words.js";

export class TypedError extends Error {
  constructor(field, message) {
    super(message);
    this.field = field;
  }
}

const MOST_KV = 20;
const MOST_A = 500;
const OVER_UNIT = 1.25;

function figure(text, field, name, most) {
  if (!text?.trim()) return null;
  const value = Number(text.trim().replace(",", "."));
  if (Number.isNaN(value) || value < 0)
    throw new TypedError(field, `${name}: ${text.trim().slice(0, 20)} is no figure.`);
  if (value > most) throw new TypedError(field, `${name}: ${value} is more than ${most}; read once more.`);
  return value;
}

/** Where a step was, or what is wrong with its place; a bare number is in the plan's units. */
function placeOf({ run, at_m: text }, { runs, units }) {
  const name = units === "imperial" ? "Feet along" : "Metres along";
  const [, shown, unit] = /^([^a-z]*?)\s*(m|ft)?$/i.exec(text || "0") ?? [null, text];
  const isFeet = unit ? unit.toLowerCase() === "ft" : units === "imperial";
  const atM = figure(shown, "at_m", name, 1_000_000) * (isFeet ? M_PER_FT : 1);
  const line = runs.find(({ id }) => id === run);
  const length = line ? lengthOf(line.points) : Infinity;
  if (atM > length + 0.5) throw new TypedError("at_m", `${name}: ${line.name} is ${lengthWords(length, units)} long.`);
  return atM;
}

function checkReading(what, kv, amps, openKv) {
  if (kv !== null && openKv && kv > OVER_UNIT * openKv)
    throw new TypedError("kv", `kV: ${kv} is more than the unit gives (${openKv} kV open); read once more.`);
  if (what === "read" && kv === null && amps === null)
    throw new TypedError("kv", "kV: type what the tester shows, or press Cannot go there.");
  if (what === "rods" && kv === null) throw new TypedError("kv", "kV at the rods: type what the tester shows.");
}

/** What the search takes of a step as it was typed. Throws TypedError. */
export function stepOf(typed, field, causes) {
  const { what, run, leg, once } = typed;
  const kv = figure(typed.kv, "kv", "kV", MOST_KV);
  const amps = figure(typed.amps, "amps", "Amps", MOST_A);
  checkReading(what, kv, amps, field.open_kv);
  if (what === "switch")
    return { what, once, switch: typed.switch, opens: typed.opens, all_along: typed.all_along ?? false };
  if (what === "begin") return { what, once, quick: typed.quick, kv_alone: typed.kv_alone, kv: null, amps: null };
  const step = { what, run, leg, once, kv, amps: amps === null || typed.outward ? amps : -amps };
  if (run) step.at_m = placeOf(typed, field);
  if (what === "found" && !run) throw new TypedError("run", "Where it was: choose the line.");
  if (what === "found") step.kind = causes[typed.cause];
  return step;
}

const lengthOf = (points) =>
  points.slice(1).reduce((sum, [x, y], k) => sum + Math.hypot(x - points[k][0], y - points[k][1]), 0);

/** What is typed in a form, with a token of its own. */
export function typedIn(what, form, { run = "", at_m: atM = "", leg = "" } = {}) {
  const typed = { what, run, at_m: atM === "" ? "" : `${atM} m`, leg, outward: true, once: token() };
  for (const input of form?.querySelectorAll("[data-step]") ?? []) typed[input.dataset.step] = stepValue(input);
  return typed;
}

function switchWords({ switch: id, opens, all_along: allAlong }, switches) {
  const [name, state] = [switches?.[id] ?? "A switch since removed", opens ? "open" : "shut"];
  return allAlong ? `${name} stood ${state} all along` : `${name} ${state}`;
}

/** A step in words: what was done, what it showed. */
export function stepWords({ what, kv = null, amps = null, run, at_m: atM, ...more }, { runs, switches, units }) {
  const line = runs.find(({ id }) => id === run);
  const where = line ? `${line.name}, ${lengthWords(atM, units)} along` : "the lead-out, at the unit";
  const shown = [
    ...(kv === null ? [] : [`${kv} kV`]),
    ...(amps === null ? [] : [`${Math.abs(amps)} A ${amps >= 0 ? "outward" : "back"}`]),
  ].join(", ");
  const said = {
    begin: ["Search begun", ""],
    end: ["Search ended", ""],
    checked: ["Gates shut, switches as they should be, full terminal, tester tried", "well"],
    unit: ["Unit alone", shown || "not read"],
    lead: ["Lead-out alone", shown || "not read"],
    rods: ["Rods", shown],
    sweep: ["Walked all of it", "nothing seen"],
    switch: [switchWords(more, switches), ""],
    look: [`Looked at ${where}`, "nothing"],
    skip: [where, "could not be read"],
    found: [`Found and mended, ${where}`, ""],
  };
  return said[what] ?? [where, shown];
}
