// Fence that joins this one and is on no plan, such as a neighbour's spur (suspects.py, services/trace_spurs.py).

import { filled } from "../../basics/scales.js";
import { spurs as figures, suspects, sentences } from "../constants.js";
import { LE, LS } from "../solver/fence.js";
import { nearestPlace } from "./places.js";
import { spotOf } from "./spots.js";

const { SPUR_M } = suspects;
const { LIKELY } = figures;

const placeOf = (fence, field, step) => {
  const { span, atM } = spotOf(field, step);
  return nearestPlace(fence, span, atM);
};

const spursIn = (steps, { runs }) =>
  steps.filter(({ what, run }) => what === "spur" && runs.some(({ id }) => id === run));

/** The packed search with spurs that were told since: each counts for 300 m more of plain fence where it joins. */
export function spurred(kit, steps) {
  const told = spursIn(steps, kit.field).filter(({ once }) => !kit.field.spurs.includes(once));
  if (!told.length) return kit;
  const hazard = kit.hazard_m.slice();
  for (const step of told) hazard[placeOf(kit, kit.field, step)] += SPUR_M;
  const times = Float64Array.from(hazard, (metres, place) => metres / kit.hazard_m[place]);
  const shares = [LS, LE].map((kind) => {
    const places = Array.from(kit.place).filter((_, fault) => kit.kind[fault] === kind);
    const sum = (of) => places.reduce((total, place) => total + of[place], 0);
    return places.length ? sum(kit.hazard_m) / sum(hazard) : 1;
  });
  const prior = kit.prior.slice();
  const logWeight = kit.log_weight.slice();
  const sizes = (prior.length - 1) / kit.kind.length;
  kit.kind.forEach((kind, fault) => {
    const own = [LS, LE].indexOf(kind);
    if (own < 0) return;
    const factor = times[kit.place[fault]] * shares[own];
    for (let h = 1 + fault * sizes; h < 1 + (fault + 1) * sizes; h++) {
      prior[h] *= factor;
      logWeight[h] += Math.log(factor);
    }
  });
  return { ...kit, prior, log_weight: logWeight, hazard_m: hazard };
}

/** What is not known of fence on no plan, and how likely the fault lies there; empty without any. */
export function spurWords(search, steps, field) {
  return spursIn(steps, field)
    .map((step) => {
      const place = placeOf(search.fence, field, step);
      const share = search.candidates.cells[place];
      const where = field.places[place].words;
      return share >= LIKELY
        ? `About ${Math.round(100 * share)}% lies on or beyond the fence that joins at ${where} and is on no plan: ` +
            "unhook it there and read again. The kV gained belong to that fence."
        : filled(sentences.SPUR_NOTED, { where });
    })
    .join(" ");
}
