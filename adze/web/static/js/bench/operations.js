// The panel's buttons and choices as operations on the plan: what each is told by its data attributes.

import { lengthOf } from "../basics/inputs.js";
import { tidy } from "../basics/geometry.js";

const text = (id) => document.getElementById(id).value;
const typedLength = (id, units) => (text(id).trim() ? lengthOf(text(id).trim(), units) : null);

/** What a pressed button does, by the name of its data attribute: the operation, or null where it cannot be done. */
export const PRESSED = {
  begin: (bench, d) => ({ do: "begin", beginning: d.begin }),
  addHerd: (bench, d) => ({ do: "add_herd", kind: d.addHerd }),
  takeService: (bench, d) => ({ do: "set_service", service: d.takeService, takes: true }),
  removeHerd: (bench, d) => ({ do: "remove_herd", herd: d.removeHerd }),
  removeStrand: (bench, d) => ({ do: "remove_strand", strand: Number(d.removeStrand), fence: bench.fenceId }),
  addStrand: (bench) => ({ do: "add_strand", fence: bench.fenceId }),
  pattern: (bench, d) => ({
    do: "take_strands",
    strands: JSON.parse(d.pattern),
    words: d.words,
    fence: bench.fenceId,
  }),
  addOn: (bench, d) => ({ do: "take_add_on", top: d.addOn === "top", fence: bench.fenceId }),
  scheme: (bench, d) => ({ do: "take_scheme", scheme: d.scheme, fence: bench.fenceId }),
  design: (bench) => ({ do: "take_computed", fence: bench.fenceId }),
  removeFence: (bench) => ({ do: "remove_construction", fence: bench.fenceId }),
  addUnit: () => ({ do: "add_energizer" }),
  bringUnits: () => ({ do: "bring_energizers", text: text("units-csv") }),
  bringPrices: () => ({ do: "bring_prices", text: text("prices-csv"), shop: text("prices-shop") }),
  takeQuote: (bench, d) => ({ do: "take_quote", shop: d.takeQuote }),
  dropQuote: (bench, d) => ({ do: "drop_quote", shop: d.dropQuote }),
  takeShed: (bench, d) => ({ do: "take_from_shed", takes: JSON.parse(d.takeShed) }),
  dropPrices: () => ({ do: "bring_prices", text: "" }),
  removeUnit: (bench, d) => ({ do: "remove_energizer", key: d.removeUnit }),
  whatIf: (bench, d) => {
    const strand = document.getElementById("what-if-one")?.checked ? bench.strand + 1 : null;
    return bench.place && { do: "try_mishap", kind: d.whatIf, ...bench.place, strand };
  },
  takeWhatIf: (bench, d) => ({ do: "mend_mishaps", mishap: d.takeWhatIf }),
  addGrowth: (bench) =>
    bench.place && {
      do: "add_growth",
      ...bench.place,
      grass: text("grow-kind"),
      from_m: typedLength("grow-from", bench.units),
      to_m: typedLength("grow-to", bench.units),
    },
  takeGrowth: (bench, d) => ({ do: "take_growth_off", growth: d.takeGrowth }),
  calibration: (bench, d) => ({ do: "calibrate", calibration: d.calibration ? JSON.parse(d.calibration) : null }),
  feedHere: (bench) => bench.place && { do: "lead_in", at: tidy(bench.standPoint()) },
  leadStraight: () => ({ do: "draw_lead_out", points: [] }),
  feedNear: () => ({ do: "lead_in" }),
  unitTo: (bench, d) => ({ do: "move_unit", at: d.unitTo.split(",").map(Number) }),
  earth: (bench, d) => ({ do: "take_earth_option", key: d.earth }),
  soilTest: (bench, d) => ({ do: "test_soil", kind: d.soilTest, text: text("soil-test") }),
  takeBuilt: (bench, d) => ({ do: "take_as_built", figures: JSON.parse(d.takeBuilt) }),
  mend: (bench, d) => ({ do: "do_remedy", key: d.mend }),
};

/** What a changed input does, by the name of its data attribute. */
export const CHANGED = {
  subsoil: (bench, input) => ({ do: "set_subsoil", soil: input.value }),
  fenceRun: (bench, input, d) => ({
    do: "build_lines",
    runs: [d.fenceRun],
    fence: input.checked ? bench.fenceId : "",
  }),
  fenceHerd: (bench, input, d) => ({
    do: "meet_construction",
    herd: d.fenceHerd,
    meets: input.checked,
    fence: bench.fenceId,
  }),
  service: (bench, input) => ({ do: "set_service", service: input.value }),
  touches: (bench, input, d) => ({ do: "note_touches", herd: d.touches, text: input.value }),
  training: (bench, input, d) => ({ do: "note_training", herd: d.training, part: d.part, text: input.value }),
  strand: (bench, input, d) => ({
    do: "move_strand",
    strand: Number(d.strand),
    cm: lengthOf(input.value.trim(), bench.units, "height"),
    fence: bench.fenceId,
  }),
  strandMade: (bench, input, d) => ({
    do: "make_strand",
    strand: Number(d.strandMade),
    conductor: input.value || null,
    fence: bench.fenceId,
  }),
  strandStands: (bench, input, d) => ({
    do: "stand_strand",
    strand: Number(d.strandStands),
    stands: input.value,
    fence: bench.fenceId,
  }),
  strandSwitched: (bench, input, d) => ({
    do: "switch_strand",
    strand: Number(d.strandSwitched),
    on: input.checked,
    fence: bench.fenceId,
  }),
  strandRole: (bench, input, d) => ({
    do: "charge_strand",
    strand: Number(d.strandRole),
    role: input.value,
    fence: bench.fenceId,
  }),
};

/** The operation that an element's data attributes name in a table; undefined where they name none. */
export function operationOf(table, dataset) {
  const name = Object.keys(table).find((key) => key in dataset);
  return name && table[name];
}
