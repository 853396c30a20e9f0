// Switches that stand open while something is read beside them, or that may (search.py, explanation.py).

import { explanation } from "../constants.js";
import { CUT } from "../solver/fence.js";

const { PARTED_FROM_OHM, LIKELY_OPEN } = explanation;

/** A place to read at; beside an open switch the side that is fed, as people read there. */
export function fedPlace({ fence, opened }, place) {
  const own = fence.switches.find(({ id, beside }) => opened.includes(id) && beside.includes(place.number));
  if (!own) return place;
  const legs = fence.legs[own.fed];
  return { number: own.fed, leg: legs.includes(place.leg) ? place.leg : legs[0] };
}

/** With a switch open: kV beside it, then shut it again, so that the fence is whole for what follows. */
export function whileOpen(search) {
  const { fence, opened, readings, skipped } = search;
  const { id, fed: number } = fence.switches.find((own) => opened.includes(own.id));
  const isRead = readings.some(
    ({ reading }) => reading.opened.join() === opened.join() && reading.place.number === number,
  );
  if (!isRead && !skipped.some((place) => place.number === number)) {
    const minutes = search.minutesTo(number) + fence.minutes.reading;
    return { do: "read", number, leg: fence.legs[number][0], minutes, gain: 0 };
  }
  return {
    do: "switch",
    number,
    leg: "",
    minutes: search.minutesTo(number) + fence.minutes.switch,
    switch: id,
    opens: false,
  };
}

/** Steps without what was told wrongly of switches, and those that stood open from the beginning. */
export function asItWas(steps) {
  const overruled = new Map(steps.flatMap((step, k) => (step.all_along ? [[step.switch, k]] : [])));
  return {
    counted: steps.filter(({ what, switch: id }, k) => what !== "switch" || k > (overruled.get(id) ?? -1)),
    opened: [...overruled].filter(([, k]) => steps[k].opens).map(([id]) => id),
  };
}

/** The switch that most likely stands open though it was told shut: nearly all of a wire is cut beside it. */
export function openSwitch({ fence, singles, candidates }) {
  const { fault, sizes } = singles.hypotheses;
  let best = null;
  for (const { id, near } of fence.switches) {
    let share = 0;
    for (let h = 1; h < fault.length; h++) {
      const isParted = fence.kind[fault[h]] === CUT && sizes[h - 1] >= PARTED_FROM_OHM;
      if (isParted && near.includes(fence.piece[fault[h]])) share += candidates.weight[h];
    }
    if (share >= (best?.share ?? LIKELY_OPEN)) best = { id, share };
  }
  return best;
}
