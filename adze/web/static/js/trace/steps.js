// A search after one more step as it is kept (adze/services/trace.py).

import { CUT, LE, LS } from "./fence.js";
import { nearestPlace, pieceAt } from "./places.js";

const KINDS = { LS, LE, cut: CUT, grass: LS };

/** What, on which span and how far from its a, the leg, kV, A, a kind, a switch. `told` hears how far a mend is. */
export function after(search, { what, span, atM, leg, kv = null, amps = null, kind, switch: id, opens }, told) {
  const { fence } = search;
  const { reading, look, rods, switch: switching } = fence.minutes;
  const reach = (place, minutes) => search.walked(place, search.minutesTo(place) + minutes);
  if (what === "sweep") return search.sweptAll();
  if (what === "switch") {
    const { fed } = fence.switches.find((own) => own.id === id);
    return reach(fed, switching).switched(id, opens);
  }
  if (what === "rods") return reach(fence.start, rods).read({ place: { number: -1, leg: "" }, kv, amps: null });
  const place = nearestPlace(fence, span, atM);
  const own = fence.legs[place].includes(leg || span) ? leg || span : fence.legs[place][0];
  if (what === "found") return search.found(KINDS[kind], place, pieceAt(fence, span, atM), told);
  if (what === "skip") return search.skippedAt({ number: place, leg: own });
  if (what === "strands" && kv === null) return reach(place, reading);
  if (what === "look") return reach(place, look).lookedAt(place);
  return reach(place, reading).read({ place: { number: place, leg: own }, kv, amps });
}
