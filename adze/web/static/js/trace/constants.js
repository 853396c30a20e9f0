// By the module that holds them: change them there, then run python -m adze.services.trace.constants_js.

export const strandCompare = {
  ALL_LOW:
    "All live strands are equally low ({shown}): the cause is the branch, the unit or the earth, not one " + "strand.",
  CUT_SHARE: 0.05,
  EARTH_MORE_KV: 0.3,
  EARTH_STRAND_LIVE:
    "The earth strand is at {kv} kV to soil, {well_kv} are expected. A live strand touches it past here, " +
    "or its link to the rods or the rods themselves are poor.",
  EARTH_STRAND_WELL: "The earth strand is well ({kv} kV to soil).",
  EARTH_TIMES: 2.0,
  LESS_LOW: "less low",
  LOWEST: "It is the lowest: look for growth, a fallen insulator, a clod or wire lying on it.",
  LOW_SHARE: 0.85,
  LOW_STRAND: "It is on {shown}; the others are {others}. {cause}",
  NOT_LOWEST: "It is not the lowest: look for a branch, a cracked insulator, a wire across it, a bad joint.",
  NO_STRAND_LOW: "No live strand is low here.",
  STRAND_CUT: "It is cut or not connected: look at its joints.",
  STRAND_SHOWN: "{strand}, at {kv} of {well_kv} kV",
};

export const record = {
  FEW_READINGS: 3,
  LOOK_ON_THE_WAY: "Look where it usually fails on the way to the next reading: corners, gates, trees.",
  MANY_READINGS: 9,
  MUCH_WALKING: "Much walking, few readings. Where lines part, amps on each leg say which one to leave out.",
  QUICK: "As quick as every advice.",
  SHOWN: 8,
  SLOW: 1.5,
  SOMETHING_LEFT:
    "Something was left. Read again where you mended, then at the far ends: what is still low is another.",
  TOO_MANY_READINGS: "Many readings. One at each branch parts the fence; two on the same stretch say nearly the same.",
  WALKING_QUICKER: "Walking all of it had been quicker: the nearest branch first, and look where it usually fails.",
};

export const discharge = {
  CHARGE_FREQUENCY_PER_S: 10.0,
  FLOWS: 0.001,
  MOST_CONDUCTIONS: 6,
};

export const line = {
  FRACTION_STAGES: 16,
  LOSS_PER_S: 62831.853071795864,
  SAME_EIGENVALUE: 0.0001,
  SMALL: 0.0001,
};

export const oneWay = {
  AT_A_TIME: 2048,
  FLOW_STEPS: 97,
  FLOW_STEP_S: 2.5e-6,
  REVERSAL_MATTERS: 0.005,
};

export const belief = {
  CAP: 5.5,
  GRASSY_AMPS: 0.25,
  LOCAL_GRASS: 0.15,
  MEAN_CAP: 4.0,
  MODEL_A: [0.08, 0.05],
  MODEL_KV: [0.04, 0.02],
  OTHER_WAY: 3.0,
  OWN_PLACE_CAP: 1.0,
  RODS_PLACE: [-1, ""],
};

export const closing = {
  APART_M: 250.0,
  EARNED_BITS: 0.1,
  EVERY: 9,
  HEAVIEST: 300,
  LEFT: 50,
  LIKELY: 6,
  LOOKS: 6,
  MISSED_MINUTES: 3000.0,
  NEAR: 8,
  OF_LIKELIEST: 40,
  REST: 30,
  SETTLED: 0.012,
  SURELY: 0.003,
  THOROUGH_READINGS: 3,
};

export const explanation = {
  A_PART: 0.15,
  A_SIDE: 0.08,
  BESIDE_M: 40.0,
  DECIDES: 0.75,
  HALF: 0.5,
  HARD_SHORT_OHM: 200.0,
  LIKELY_OPEN: 0.2,
  MOST: 0.9,
  OUTSIDE: 2.0,
  PARTED_FROM_OHM: 10000.0,
  STEPS: 160,
};

export const hypotheses = {
  APART_M: 120.0,
  APART_SIZE: 1.7,
  PAIRS: 8,
  PAIR_PLACES: 110,
  PAIR_SHARE: 0.25,
  PAIR_SIZES: 8,
};

export const mended = {
  FOUND_SIZES: 41,
  GROWN_SHARE: 0.1,
  GROWN_SPREAD: 0.5,
  HISTORY: 30,
  KINDS: { LS: 0, LE: 1, cut: 2, grass: 0 },
  LEAST: -14.0,
  LEAST_LOSS: 0.03,
  LOOKS_FADE: 0.7,
  MOST: 10.0,
  MOST_EVIDENCE: 60.0,
  MOST_GROWN: 6.0,
  NOTHING_ELSE: [0.55, 0.7],
  SURE: 0.5,
  TIMES_BEST: [1.0, 1.6, 2.6, 6.0, 20.0],
};

export const nextStep = {
  BIT_MINUTES: 4.0,
  FARTHER: 25,
  FAVOURED_M: 100.0,
  LOOKS: 12,
  MOST_TRUTHS: 96,
  NEAREST: 35,
  WEIGHED: 700,
  WIDER: 1.2,
  WIDE_BITS: 4.0,
  WIDE_M: 250.0,
};

export const predicted = {
  AT_A_TIME: 1024,
  CUT_TIMES: 20.0,
  LOG_RODS: 0.30010459245033816,
  RODS_FACTOR: 1.35,
};

export const prior = {
  LEAD_SHARE: 0.93,
  UNIT_SURE: 0.02,
};

export const pulseBase = {
  CUT: 2,
  GRASSIER: 1.2,
  INSTANTS: 72,
  LE: 1,
  LEAST_SHOWN_KV: 0.05,
  LOG_GRASSIER: 0.1823215567939546,
  LS: 0,
  PARTED_OHM: 1000000000.0,
  RODS: 3,
  SOUGHT_S: 0.00024,
};

export const search = {
  EXPLAINED: 2.0,
  LEAST_ACTIONS: 10,
  LIKELY_SHARE: 0.001,
  LOOKS_GONE: 0.01,
  MOST_ACTIONS: 26,
  MOST_CLOSING: 45,
  MOST_MINUTES: 100.0,
  MOST_SWEEPS: [2, 1],
  PAIRS_EVERY: 4,
  PAIRS_FROM: 5,
  RODS_LIKELY: 0.5,
  STAGE_1: 0.6,
  SURE: 0.6,
  SURPRISE: 3.0,
};

export const suspects = {
  BEFORE: 2.0,
  GATE_M: 60.0,
  GROWN: 2.2,
  LEAST_KV: 0.5,
  MATERIAL: 0.05,
  MATERIAL_AFTER: 0.08,
  NONE_SHARE: 0.03,
  RODS_AFTER: 0.01,
  SPUR_M: 300.0,
  SWITCH_M: 25.0,
};

export const readings = {
  MOST_A: 500.0,
  MOST_KV: 20.0,
  PAST_END: "{field}: {line} is {length} long.",
};

export const shedUse = {
  MOST: 1000000,
  SHED_HAS_LESS: "How many: the shed has {has} {unit}, not {wanted}; take at most what is there.",
};

export const history = {
  NEAR_M: 60.0,
  WITHIN: 0.08,
};

export const sentences = {
  AMPS_BACK: "amps back",
  AMPS_OUTWARD: "amps outward",
  AMPS_REASON:
    "Its amps split the remaining possibilities about {more} to {less}. No nearer reading tells as much " +
    "for its walk.",
  AT_UNIT: "the lead-out, at the unit",
  CHECKED_FIRST: "Gates shut, switches set, full terminal, tester checked",
  CLOSING_CLEAR: "nothing more that shows here",
  CLOSING_LEFT: "a fault remains, probably {where}",
  CLOSING_REASON: "Final check: a fault remains with {left}. This reading settles most of it for its walk.",
  FIRST_REASON: "The kV missing at the start show what to expect later. It takes a minute and no walk.",
  FOUND_LINE_WANTED: "Where it was: choose a line.",
  FOUND_OF: "{found} of {hidden} found",
  FROM_YOU: "{length} from you",
  GAIN: "The repair raised the voltage here by {gain_kv} kV{share}. {here}",
  GROWTH_ALONG: "Growth along the fence",
  GROWTH_REASON:
    "Growth along the whole fence, {likely}: {times}. The kV are low and the amps high everywhere, so it " +
    "is no single place. Cut it, graze it, or switch the bottom strands off; then read here again.",
  GROWTH_TIMES: "about {times} times what the plan expects",
  HERE: "where you stand",
  HOW_FAR: "{where}, about {minutes} minute{s}",
  KIND_CUT: "A cut or bad joint",
  KIND_EARTH_STRAND: "A short to an earth strand",
  KIND_GROWTH: "Growth along the whole fence{times}",
  KIND_HARD_SHORT: "A hard short to soil, under 200 Ω",
  KIND_LEAK: "A leak to soil, growth or an insulator",
  KIND_NOTHING: "Nothing more",
  KIND_RODS: "The rods",
  KIND_SEVERAL: "Two at once",
  KV_AND_AMPS: "kV and amps",
  KV_OF: "kV of {strand}",
  KV_RANGE: "{low_kv} to {high_kv} kV",
  KV_TOO_HIGH: "kV: {kv} is more than the unit gives ({open_kv} kV without load). Measure again.",
  KV_WANTED: "kV: type what the tester shows, or press Cannot go there.",
  LEAD_ALONE: "Lead-out alone",
  LEAD_OUT: "the lead-out",
  LEAST_SURE: " Least certain: {where}.",
  LIKELY_CLEAR: "Probably clear, {share}.{where} More walking would hardly change that.",
  LISTEN: "Listen as you come near: a spark clicks.",
  LOOKED_AT: "Looked at {where}",
  LOOK_AT: "Look closely at {where}",
  LOOK_GROWTH: "Look at the growth along the fence",
  LOOK_REASON: "About {share} of the suspicion lies within a few steps there. A look takes a minute. {listen}",
  LOOK_RODS: "Look at the rods",
  MAY_STAND_OPEN:
    "{name} may be open, or its lead may be off ({share}). Look at it first. If so, log it below and shut" +
    " it. below, and shut it.",
  NEARLY_SURE: "nearly sure",
  NONE_MATTERS: "none that matters",
  NONE_MISSING: "no kV are missing",
  NOTHING_EXPLAINS:
    "No likely fault explains the last reading. Check its place, direction and contact; otherwise there " +
    "are two faults.",
  NOTHING_HIDDEN: "nothing was hidden",
  NOTHING_SEEN: "nothing seen",
  NOT_REACHED: "could not be read",
  NOT_READ: "not read",
  NO_GAIN: "The repair changed nothing here: {before_kv} kV before it. {here}",
  NO_ONE_LINE: "no one line",
  NO_RODS: "What it was: the plan has no rods. Set them at Earth or choose another.",
  NO_STRANDS_APART: "Line: choose one whose strands are not joined.",
  OF_MISSING: " of the {cost_kv} kV missing",
  ONE_STRAND_WANTED: "kV: type what at least one strand shows.",
  OPENED_REASON:
    "With {names} open, the kV rise here if the fault is beyond the switch and stay low if it is before " + "it.",
  OPEN_REASON:
    "Then measure kV beside it. Without amps, a switch shows on which side the fault is. Power off before" +
    " you work the switch. The animals beyond it have no fence until you shut it.",
  OVER_BACK: "over {amps} A back",
  OVER_KV: "over {low_kv} kV",
  OVER_OUTWARD: "over {amps} A outward",
  READ_AGAIN: "Read again here, at {where}",
  READ_AGAIN_REASON:
    "Read the same place again after a repair: the kV gained were this fault, the kV still missing are " + "another.",
  READ_AT: "Read {what} at {where}",
  READ_FED_SIDE: "Read kV at {where}, on the fed side",
  READ_RODS: "Read kV at the rods, fence on",
  RODS_FIRST:
    "High volts there mean that the earth is at fault; low volts mean that the fault is on the fence. It " +
    "takes a minute and no walk along the fence.",
  RODS_LIKELY: "The rods are suspected: their volts with the fence loaded decide it.",
  RODS_LOOK:
    "check clamps, lead, and rods for rust, pulling or breaks. If all is sound, the ground has dried out:" +
    " water helps at once; more rods in damp ground help for good.",
  RODS_REASON: "The rods, {likely}: {look}",
  RULED_OUT: "ruled out",
  SHUT_REASON:
    "The next reading needs the whole fence. The animals beyond the switch have no fence until you shut " + "it.",
  SHUT_SWITCH: "Shut {name} again",
  SIDE: { past: "it is beyond here", before: "it is before here, or elsewhere", open: "does not decide" },
  SIDES_REASON:
    "It splits the remaining possibilities about {more} to {less}. No nearer reading tells as much for " + "its walk.",
  SIZES_REASON: "It narrows the possible sizes and kinds for little walking.",
  SPUR_LINE_WANTED: "Where it joins: choose a line.",
  SPUR_NOTED: "The fence that joins at {where} is on no plan. Nothing is known beyond it; the search goes on.",
  STAY: {
    rods: " The rods are still dry: water them, or plan more at Earth.",
    growth: " The growth remains: cut it, graze it, or switch the bottom strands off.",
  },
  STILL_MISSING: "{left_kv} kV are still missing",
  STOOD_ALL_ALONG: "{name} was {state} from the start",
  STOP: "Stop here",
  STOP_FOR_NOW: "Stop here for now",
  STOP_FOR_NOW_REASON: "No reading or look can tell more. Ask a second person to look.",
  STRANDS_READ: "{place}, strand by strand from the ground",
  STRAND_ALONE: " Read {strand} alone from here on.",
  SWEEP: "Walk the fence and look",
  SWEEP_ORDER: "first {lines}, then the rest",
  SWEEP_REASON: "Readings cannot tell more, but looking can. The most likely stretches come first.",
  SWITCH_GONE: "A switch since removed",
  TOLD_OTHERWISE:
    "You said that {name} is {told}, but the last reading fits better if it is {fits}. Look at it first, " +
    "and log below how it was.",
  UNDER_BACK: "under {amps} A back, or outward",
  UNDER_KV: "under {high_kv} kV",
  UNDER_OUTWARD: "under {amps} A outward, or back",
  UNIT_ALONE: "Unit alone",
  WALKED: "Walked all of it",
  WELL_WOULD_BE: "Healthy would be {well_kv} kV: {missing}.",
};

export const spurs = {
  LIKELY: 0.2,
};

export const typed = {
  OVER_UNIT: 1.25,
};

export const words = {
  AT_M: 8.0,
  LEAD_CAUSES: ["cable", "diverter", "insulator"],
  LEAST_A: 0.25,
  LEAST_TOLD: 0.01,
  MOST: 0.5,
  MOST_CAUSES: 5,
  NEARLY: 0.99,
  NEAR_ZERO: 0.02,
  WHOLE_A: 2.5,
};
