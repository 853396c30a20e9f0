// How a search begins: its setting and tester, what unit and lead-out showed alone, spurs (adze/services/trace.py).

import { prior } from "../constants.js";
import { Inspections } from "../belief/inspections.js";
import { spurred } from "../belief/spurs.js";

const { UNIT_SURE, LEAD_SHARE } = prior;

const lastOf = (steps, what) => steps.findLast((step) => step.what === what)?.kv ?? null;

/** The packed search as it was begun since, and with what unit and lead-out showed alone. */
export function begun(packed, steps, how) {
  const kit = spurred(how ? asBegun(packed, how) : packed, steps);
  const [unitKv, leadKv] = [lastOf(steps, "unit"), lastOf(steps, "lead")];
  const { open_kv: openKv, lead } = kit.field;
  const told = unitKv && openKv ? withUnit(kit, Math.log(unitKv / openKv)) : {};
  const isWell = leadKv !== null && leadKv >= LEAD_SHARE * (unitKv || openKv);
  return { ...kit, ...told, ...(isWell && lead ? cleared(kit, lead) : {}) };
}

/** What every hypothesis knows of the unit once it was read alone, and what is known before the first reading. */
function withUnit({ mean, cov, known_mean: knownMean, known_cov: knownCov }, log) {
  const told = { mean: mean.slice(), cov: cov.slice(), known_mean: knownMean.slice(), known_cov: knownCov.slice() };
  for (const means of [told.mean, told.known_mean]) for (let k = 0; k < means.length; k += 3) means[k] = log;
  for (const covs of [told.cov, told.known_cov])
    for (let k = 0; k < covs.length; k += 6) covs.set([UNIT_SURE ** 2, 0, 0], k);
  return told;
}

const asBegun = (kit, { quick, kv_alone: kvAlone, practice = false }) => ({
  ...kit,
  meter: { ...kit.meter, shows_amps: !kvAlone },
  search: { ...kit.search, is_thorough: !quick, in_earnest: kit.search.in_earnest && !practice },
});

/** A span that was read well by itself: as good as walked and looked along, but for its far end. */
function cleared(kit, span) {
  const number = kit.spans.indexOf(span);
  const pieces = Array.from(kit.span, (of, k) => (of === number ? k : -1)).filter((k) => k >= 0);
  const before = new Inspections(kit.looks_place, kit.looks_half);
  const inspections = before.passed(kit, pieces, kit.looking.finds);
  const far = kit.b[pieces.at(-1)];
  inspections.place[far] = before.place[far];
  return { looks_place: inspections.place, looks_half: inspections.half };
}
