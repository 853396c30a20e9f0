// A search after one more step as it is kept (adze/services/trace/events.py).

import { CUT, LE, LS } from "../solver/fence.js";
import { found, WHOLE_KINDS } from "./found.js";
import { nearestPlace, pieceAt } from "../belief/places.js";

export const KINDS = { LS, LE, cut: CUT, grass: LS };

export const RODS_LEG = "rods"; // of a step that says that the rods cannot be read
export const GROWTH_LEG = "growth"; // of one that says that growth was looked at and is none

const ANYWHERE = {
  sweep: (search) => search.sweptAll(),
  switch: (search, { switch: id, opens }) => {
    const own = search.fence.switches.find((one) => one.id === id);
    return own ? reach(search, own.fed, "switch").switched(id, opens) : search; // one that is gone does not count
  },
  rods: (search, { kv }) =>
    reach(search, search.fence.start, "rods").read({ place: { number: -1, leg: "" }, kv, amps: null }),
};

const AT_A_PLACE = {
  found: (search, { span, atM, kind }, { number }, told) =>
    WHOLE_KINDS[kind]
      ? WHOLE_KINDS[kind](search, told)
      : found(search, KINDS[kind], number, pieceAt(search.fence, span, atM), told),
  skip: (search, _, place) => search.skippedAt(place),
  look: (search, _, { number }) => reach(search, number, "look").lookedAt(number),
  strands: (search, step, place) =>
    step.kv === null ? reach(search, place.number, "reading") : AT_A_PLACE.read(search, step, place),
  read: (search, { kv = null, amps = null, from_log: isFromLog }, place) =>
    // What was read before the search began costs no minutes, and nobody stands there now.
    (isFromLog ? search : reach(search, place.number, "reading")).read({ place, kv, amps }),
};

const reach = (search, place, nextStep) =>
  search.walked(place, search.minutesTo(place) + search.fence.minutes[nextStep]);

/** What, on which span and how far from its a, the leg, kV, A, a kind, a switch. `told` hears how far a mend is. */
export function after(search, step, told) {
  const { what, span, atM, leg } = step;
  if (what === "skip" && leg === GROWTH_LEG) return search.growthDenied();
  if (what === "skip" && leg === RODS_LEG) return search.skippedAt({ number: -1, leg: "" });
  if (ANYWHERE[what]) return ANYWHERE[what](search, step);
  const { fence } = search;
  const number = nearestPlace(fence, span, atM);
  const own = fence.legs[number].includes(leg || span) ? leg || span : fence.legs[number][0];
  return AT_A_PLACE[what](search, step, { number, leg: own }, told);
}
