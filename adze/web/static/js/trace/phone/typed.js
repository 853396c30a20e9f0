// A step as it is typed: what goes to the server, what the search takes of it, how it is said. Wrong input is named.

import { filled, kvWords, lengthWords } from "../../basics/scales.js";
import { readings, sentences, shedUse, typed as limits } from "../constants.js";
import { token } from "../../basics/api.js";
import { TypedError, figure, placeOf } from "./figures.js";
import { stepsIn } from "./input.js";
import { WHOLE_KINDS } from "../steps/found.js";
import { GROWTH_LEG, RODS_LEG } from "../steps/steps.js";
import { judged, strandsAt } from "../words/strands.js";

const { MOST_KV, MOST_A } = readings;

function checkReading(what, kv, amps, openKv) {
  if (kv !== null && openKv && kv > limits.OVER_UNIT * openKv)
    throw new TypedError("kv", filled(sentences.KV_TOO_HIGH, { kv, open_kv: openKv }));
  if (what === "read" && kv === null && amps === null) throw new TypedError("kv", sentences.KV_WANTED);
  if (what === "rods" && kv === null) throw new TypedError("kv", "kV at the rods: type what the tester shows.");
}

/** A part that a mend took, so far as the device knows what the shed has. */
function usedOf({ part, quantity, once }, shed) {
  const own = shed.find((row) => row.part === part);
  if (!own) throw new TypedError("part", "Part: the shed no longer has it. Choose another.");
  const many = figure(quantity, "quantity", "How many", 1_000_000);
  if (!many) throw new TypedError("quantity", "How many: write how many or how much you used.");
  if (many > own.quantity)
    throw new TypedError(
      "quantity",
      filled(shedUse.SHED_HAS_LESS, { has: own.quantity, unit: own.unit, wanted: many }),
    );
  return { what: "used", once, label: `${many} ${own.unit} ${own.label}` };
}

/** What is to be mended later, and where. */
function laterOf(typed, field) {
  const { what, once, run } = typed;
  const label = typed.note.trim();
  if (!label) throw new TypedError("note", "What it is: write up to 300 characters, such as cracked insulator.");
  return { what, once, run, at_m: placeOf(typed, field), label };
}

/** What each strand showed, and what the search takes of them. */
function strandsOf({ run, strand_kv: texts = [] }, atM, { strands }) {
  const rows = strandsAt(strands, run, atM);
  if (!rows.length) throw new TypedError("run", sentences.NO_STRANDS_APART);
  const read = rows.map(({ words }, k) =>
    figure(texts[k], "strand_kv", filled(sentences.KV_OF, { strand: words }), MOST_KV),
  );
  if (read.every((kv) => kv === null)) throw new TypedError("strand_kv", sentences.ONE_STRAND_WANTED);
  return { leg: "", strand_kv: read, kv: judged(rows, read).countedKv, amps: null };
}

/** A reading, a look or whatever else is done at a place, in the search's own words. */
function placedOf(typed, field, causes) {
  const { what, leg, once } = typed;
  const kind = what === "found" ? causes[typed.cause] : "";
  if (["rods", "dry"].includes(kind) && !field.has_rods) throw new TypedError("cause", sentences.NO_RODS);
  const run = WHOLE_KINDS[kind] ? "" : typed.run;
  const kv = figure(typed.kv, "kv", "kV", MOST_KV);
  const amps = figure(typed.amps, "amps", "Amps", MOST_A);
  checkReading(what, kv, amps, field.open_kv);
  const step = { what, run, leg, once, kv, amps: amps === null || typed.outward ? amps : -amps };
  if (run) step.at_m = placeOf(typed, field);
  else if (MUST_LIE[what] && !WHOLE_KINDS[kind]) throw new TypedError("run", MUST_LIE[what]);
  if (kind) step.kind = kind;
  return step;
}

const MUST_LIE = { found: sentences.FOUND_LINE_WANTED, spur: sentences.SPUR_LINE_WANTED };

/** What the search takes of a step as it was typed. Throws TypedError. */
export function stepOf(typed, field, causes) {
  const { what, once, run } = typed;
  if (what === "used") return usedOf(typed, field.shed);
  if (what === "later") return laterOf(typed, field);
  if (what === "switch")
    return { what, once, switch: typed.switch, opens: typed.opens, all_along: typed.all_along ?? false };
  if (what === "begin") return { what, once, quick: typed.quick, kv_alone: typed.kv_alone, kv: null, amps: null };
  if (what !== "strands") return placedOf(typed, field, causes);
  const atM = placeOf(typed, field);
  return { what, once, run, at_m: atM, ...strandsOf(typed, atM, field) };
}

/** What is typed in a form, with a token of its own. */
export function typedIn(what, form, { run = "", at_m: atM = "", leg = "" } = {}) {
  const typed = { what, run, at_m: atM === "" ? "" : `${atM} m`, leg, outward: true, once: token() };
  Object.assign(typed, stepsIn(form));
  return typed;
}

/** The form that a key stands in. */
export const formOf = (button) => button.closest("[data-form], [data-next-step], [data-when]");

const LEGS = { read_rods: RODS_LEG, look_growth: GROWTH_LEG }; // of what lies at no one place

/** What was typed for a step: at the next step's place, or at that of the form. */
export function typedBy(what, button, shown) {
  const form = "empty" in button.dataset ? null : formOf(button);
  const isThere = "there" in button.dataset;
  const leg = LEGS[shown?.nextStep.do] ?? shown?.nextStep.leg;
  const typed = typedIn(what, form, isThere ? { ...(shown?.at ?? {}), leg } : {});
  if (what === "switch" && isThere)
    Object.assign(typed, { switch: shown.nextStep.switch, opens: shown.nextStep.opens });
  if (what !== "begin") return typed;
  return { ...typed, ...settings() };
}

/** How a search or a round of practice is to be: quick, by kV alone. */
export function settings() {
  const ticked = (id) => document.getElementById(id).checked;
  return { quick: ticked("search-quick"), kv_alone: ticked("search-kv-alone") };
}

function switchWords({ switch: id, opens, all_along: allAlong }, switches) {
  const [name, state] = [switches?.[id] ?? sentences.SWITCH_GONE, opens ? "open" : "shut"];
  return allAlong ? filled(sentences.STOOD_ALL_ALONG, { name, state }) : `${name} ${state}`;
}

const strandsShown = (read = []) => `${read.map((kv) => (kv === null ? "–" : kvWords(kv))).join(", ")} kV`;

const WHOLE_SAID = {
  rods: "The rods mended",
  dry: "The rods' ground has dried out",
  mown: "Growth along the whole fence, now cut or off the live strands",
  grown: "Growth along the whole fence, left as it is",
};
const SKIPPED = {
  [RODS_LEG]: ["Rods", sentences.NOT_REACHED],
  [GROWTH_LEG]: [sentences.GROWTH_ALONG, sentences.NONE_MATTERS],
};

/** A step in words: what was done, what it showed. @type {(step: any, field: any) => string[]} */
export function stepWords({ what, kv = null, amps = null, run, at_m: atM, ...more }, { runs, switches, units }) {
  const line = runs.find(({ id }) => id === run);
  const where = line ? `${line.name}, ${lengthWords(atM, units)} along` : sentences.AT_UNIT;
  const shown = [
    ...(kv === null ? [] : [`${kv} kV`]),
    ...(amps === null ? [] : [`${Math.abs(amps)} A ${amps >= 0 ? "outward" : "back"}`]),
  ].join(", ");
  const said = {
    begin: ["Search begun", ""],
    end: ["Search ended", ""],
    checked: [sentences.CHECKED_FIRST, "well"],
    unit: [sentences.UNIT_ALONE, shown || sentences.NOT_READ],
    lead: [sentences.LEAD_ALONE, shown || sentences.NOT_READ],
    rods: ["Rods", shown],
    sweep: [sentences.WALKED, sentences.NOTHING_SEEN],
    switch: [switchWords(more, switches), ""],
    look: [filled(sentences.LOOKED_AT, { where }), "nothing"],
    skip: SKIPPED[more.leg] ?? [where, sentences.NOT_REACHED],
    found: [WHOLE_SAID[more.kind] ?? `Found and repaired, ${where}`, ""],
    spur: [`A fence on no plan joins, ${where}`, ""],
    strands: [filled(sentences.STRANDS_READ, { place: where }), strandsShown(more.strand_kv)],
    used: [`From the shed: ${more.label}`, ""],
    later: [`For later: ${more.label}`, where],
  };
  return said[what] ?? [where, shown];
}
