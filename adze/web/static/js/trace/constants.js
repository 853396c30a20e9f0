// By the module that holds them: change them there, then run python -m adze.services.trace.constants_js.

export const strandCompare = {
  CUT_SHARE: 0.05,
  EARTH_MORE_KV: 0.3,
  EARTH_TIMES: 2.0,
  LOW_SHARE: 0.85,
};

export const record = {
  FEW_READINGS: 3,
  MANY_READINGS: 9,
  SHOWN: 8,
  SLOW: 1.5,
};

export const line = {
  FRACTION_STAGES: 16,
  LOSS_PER_S: 62831.853071795864,
  SAME_EIGENVALUE: 0.0001,
  SMALL: 0.0001,
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

export const history = {
  NEAR_M: 60.0,
  WITHIN: 0.08,
};

export const spurs = {
  LIKELY: 0.2,
};

export const words = {
  AT_M: 8.0,
  GROWTH_LOOK:
    "It is low and takes many amps everywhere: no one place. Cut, grazed, or the bottom strands off, and " +
    "it is read here again.",
  LEAD_CAUSES: ["cable", "diverter", "insulator"],
  LEAST_A: 0.25,
  LEAST_TOLD: 0.01,
  LISTEN: "Listen as you come: where it sparks, it clicks.",
  MOST: 0.5,
  MOST_CAUSES: 5,
  NEARLY: 0.99,
  NEAR_ZERO: 0.02,
  RODS_FIRST:
    "Many volts there, and the earth takes its part of what is missing; few, and it is out on the fence. " +
    "A minute, no walk along the fence.",
  RODS_LIKELY: "Much speaks for the rods: their volts with the fence loaded decide it.",
  RODS_LOOK:
    "clamps, their lead, a rod rusted, pulled or broken. Where all of it is sound their ground has dried " +
    "out: water helps at once, more rods in damp ground for good.",
  SIDE: { past: "it lies past here", before: "it lies before here, or elsewhere", open: "does not decide" },
  STAY: {
    rods: " The rods stay dry: water them, or plan more in Earth.",
    growth: " Growth stays: cut it, graze it, or switch the bottom strands off.",
  },
  WHOLE_A: 2.5,
};
