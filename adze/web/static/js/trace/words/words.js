// A search in words, as the page of Trace says it (adze/services/trace_words.py).

import { words as figures } from "../constants.js";
import { aboutWords, howLikely, leftWords, percent, NEAR_ZERO } from "../belief/chances.js";
import { namedAt } from "../belief/spots.js";
import { fixed, lengthWords } from "../../basics/scales.js";
import { walkM } from "../steps/next_step.js";
import { isUnread } from "../steps/first.js";
import { closingRange } from "../steps/closing_range.js";
import { growthTimes, growthWords } from "../belief/growth.js";
import { LISTEN, lookFor } from "./look_for.js";
import { A_SIDE, meaningOf, splitOf } from "../steps/meaning.js";
import { ampsWords, rangeWords } from "../steps/ranges.js";
import { rodsWords, staysWords } from "../steps/rods.js";
import { SURPRISE } from "../belief/surprise.js";
import { stretches } from "./explanation.js";

const { SIDE } = figures;

/** A stretch as people say it: the line, from where to where. */
export function stretchWords({ lines, units }, { span, from, to }) {
  const line = lines[span];
  if (!line) return "the lead-out";
  const [low, high] = [from, to].map((x) => lengthWords(line.from_m + x, units));
  return `${line.name}, ${low} to ${high}`;
}

function farWords(search, words, place, minutes) {
  const walk = walkM(search.fence, search.here, place);
  const whole = Math.max(1, Number(fixed(minutes, 0)));
  const here = walk < 1 ? "where you stand" : `${lengthWords(walk, words.units)} from you`;
  return `${here}, about ${whole} minute${whole > 1 ? "s" : ""}`;
}

const parts = (one, other) => [one, other].map((x) => Math.round(100 * x)).sort((p, q) => q - p);

/** What a closing reading shows if nothing more is left, and what less or more would mean. */
function closingMeans(told, words) {
  if (!told) return [];
  const rows = [[rangeWords(told, told.unit, false, false), "nothing more that shows here"]];
  for (const [word, edge] of [
    ["under", told.low],
    ["over", told.high],
  ]) {
    const { chance, at } = told[word];
    if (chance < A_SIDE * (told.under.chance + told.over.chance)) continue;
    const names = at.map((row) => stretchWords(words, row)).join(" or ") || "no one line";
    const shown = told.unit === "A" ? ampsWords(word, edge) : `${word} ${edge.toFixed(1)} kV`;
    rows.push([shown, `something is left, mostly ${names}`]);
  }
  return rows;
}

function readWords(search, words, nextStep) {
  if (search.isClosing) return { reason: reasonOf(search), means: closingMeans(closingRange(search, nextStep), words) };
  const told = meaningOf(search, nextStep);
  const parted = told ? null : splitOf(search, nextStep);
  let means = [];
  if (told) {
    const last = told.outcomes.length - 1;
    means = told.outcomes.map((row, k) => [
      rangeWords(row, told.unit, k === 0, k === last),
      `${SIDE[row.means]} (${percent(row.chance)})`,
    ]);
  } else if (parted) {
    means = splitMeans(parted, words);
  }
  return { reason: reasonOf(search, told, parted), means };
}

/** What fewer and more amps mean; nothing where both mean the same stretches, and the amps part sizes alone. */
function splitMeans({ amps, under, underAt, overAt }, words) {
  const names = (at) => at.map((row) => stretchWords(words, row)).join(" or ") || "no one line";
  const rows = [
    ["under", names(underAt), under],
    ["over", names(overAt), 1 - under],
  ];
  if (rows[0][1] === rows[1][1]) return [];
  return rows.map(([word, at, share]) => [ampsWords(word, amps), `mostly ${at} (${percent(share)})`]);
}

function reasonOf(search, told, parted) {
  const { isClosing, candidates } = search;
  if (isClosing) {
    const left = leftWords(candidates);
    return `Closing round: something is left with ${left}; this reading settles most of it for its walk.`;
  }
  if (isUnread(search))
    return "What is missing where it begins tells each later reading what to expect; a minute, without a walk.";
  if (told) {
    const [more, less] = parts(told.past, told.before);
    return `It parts what is left about ${more} to ${less}; nothing nearer tells as much for its walk.`;
  }
  if (parted) {
    const [more, less] = parts(parted.under, 1 - parted.under);
    return `Its amps part what is left about ${more} to ${less}; nothing nearer tells as much for its walk.`;
  }
  return "It narrows the sizes and kinds that fit, for little walking.";
}

function stopWords(search, words, pieces) {
  const { finds, candidates } = search;
  if (!finds)
    return {
      title: "Stop here for now",
      reason: "Nothing that readings or looks can part is left; ask a second pair of eyes.",
    };
  const clear = 1 - candidates.pMaterial;
  const [least] = stretches(pieces);
  const where = least && clear < 0.99 ? ` Least sure: ${stretchWords(words, least)}.` : "";
  const likely = `Likely clear, ${aboutWords(clear)}.${where} Further walking would hardly change that.`;
  const reason = likely + staysWords(search);
  return { title: "Stop here", reason };
}

/** A switch to be opened, or to be shut again. */
function switchWords(search, { switch: id, opens, number, minutes }, words) {
  const [name, howFar] = [words.switches[id], farWords(search, words, number, minutes)];
  if (!opens) {
    const reason = "So that the fence is whole for what is read next. Stock past it are without a fence until then.";
    return { title: `Shut ${name} again`, howFar, reason };
  }
  const reason =
    "Then kV are read beside it: without amps a switch tells on which side of it the fault lies. " +
    "Power off while it is worked; stock past it are without a fence until it is shut.";
  return { title: `Open ${name}`, howFar, reason };
}

/** The next step: what and where, how far, its reason, what each outcome would mean. */
export function stepWords(search, nextStep, words, pieces) {
  const plain = { howFar: "", leg: "", means: [], lookFor: [] };
  if (nextStep.do === "stop") return { ...plain, ...stopWords(search, words, pieces) };
  if (nextStep.do === "sweep") {
    const names = nextStep.spans.slice(0, 4).map((span) => words.lines[span]?.name ?? "the lead-out");
    return {
      ...plain,
      title: "Walk the fence and look",
      howFar: `first ${[...new Set(names)].join(", ")}, then the rest`,
      reason: "Readings no longer part what is left; the eye does. The likeliest stretches come first.",
    };
  }
  if (nextStep.do === "look_growth")
    return { ...plain, howFar: farWords(search, words, nextStep.number, nextStep.minutes), ...growthWords(search) };
  if (nextStep.do === "read_rods" || nextStep.do === "look_rods")
    return {
      ...plain,
      howFar: farWords(search, words, search.fence.start, nextStep.minutes),
      ...rodsWords(search, nextStep),
    };
  if (nextStep.do === "switch") return { ...plain, ...switchWords(search, nextStep, words) };
  const place = words.places[nextStep.number];
  const [where, howFar] = [namedAt(words, nextStep).words, farWords(search, words, nextStep.number, nextStep.minutes)];
  if (nextStep.do === "look") {
    const share = percent(search.candidates.cells[nextStep.number]);
    const reason = `About ${share} of it lies within a few steps there; a look is a minute. ${LISTEN}`;
    return { ...plain, title: `Look closely at ${where}`, howFar, reason, lookFor: lookFor(search, place, words) };
  }
  const leg = place.legs[nextStep.leg] ?? "";
  if (search.readsMend) {
    const reason =
      "The same place again after a mend: what came back is that fault's worth; what is missing is another.";
    return { ...plain, title: `Read again here, at ${where}`, howFar, leg, reason };
  }
  if (search.opened.length) {
    const names = search.opened.map((id) => words.switches[id]).join(", ");
    const reason = `${names} open: kV come back here if it lies past the switch, and stay low if it lies before.`;
    return { ...plain, title: `Read kV at ${where}, on the fed side`, howFar, reason };
  }
  const what = search.fence.meter.shows_amps ? "kV and amps" : "kV";
  return { ...plain, title: `Read ${what} at ${where}`, howFar, leg, ...readWords(search, words, nextStep) };
}

/** What is said of a reading that nothing explains. */
export const surpriseWords = ({ surprise }) =>
  surprise < SURPRISE
    ? ""
    : "No likely fault explains the last reading: check it (place, direction, contact), or there are two faults.";

/** How it stands: each kind of trouble that is not ruled out, likeliest first. */
export function stands(kinds, finds, growth) {
  const rows = [
    ["A hard short to soil, under 200 Ω", kinds.hardShort],
    ["A leak to soil, growth or an insulator", kinds.leak],
    ["A short to an earth strand", kinds.earthStrand],
    ["A cut or bad joint", kinds.cut],
    ["The rods", kinds.rods],
    ["Two at once", kinds.several],
    ...(finds ? [["Nothing more", kinds.nothing]] : []),
  ];
  if (growth.share > 0) {
    for (const row of rows) row[1] *= 1 - growth.share;
    const times = growth.share < NEAR_ZERO ? "" : `, ${growthTimes(growth)}`;
    rows.push([`Growth all along${times}`, growth.share]);
  }
  return rows.sort((p, q) => q[1] - p[1]).map(([words, share]) => [words, howLikely(share)]);
}
