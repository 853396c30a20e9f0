// A search in words, as the page of Trace says it (adze/services/trace_words.py).

import { filled, fixed, lengthWords } from "../../basics/scales.js";
import { sentences } from "../constants.js";
import { aboutWords, leftWords, percent } from "../belief/chances.js";
import { namedAt } from "../belief/spots.js";
import { walkM } from "../steps/next_step.js";
import { isUnread } from "../steps/first.js";
import { closingRange } from "../steps/closing_range.js";
import { growthWords } from "../belief/growth.js";
import { LISTEN, lookFor } from "./look_for.js";
import { A_SIDE, meaningOf, splitOf } from "../steps/meaning.js";
import { ampsWords, rangeWords } from "../steps/ranges.js";
import { rodsWords, staysWords } from "../steps/rods.js";
import { stretches } from "./explanation.js";

const { SIDE } = sentences;

/** A stretch as people say it: the line, from where to where. */
export function stretchWords({ lines, units }, { span, from, to }) {
  const line = lines[span];
  if (!line) return sentences.LEAD_OUT;
  const [low, high] = [from, to].map((x) => lengthWords(line.from_m + x, units));
  return `${line.name}, ${low} to ${high}`;
}

function farWords(search, words, place, minutes) {
  const walk = walkM(search.fence, search.here, place);
  const whole = Math.max(1, Number(fixed(minutes, 0)));
  const here = walk < 1 ? sentences.HERE : filled(sentences.FROM_YOU, { length: lengthWords(walk, words.units) });
  return filled(sentences.HOW_FAR, { where: here, minutes: whole, s: whole > 1 ? "s" : "" });
}

const parts = (one, other) => [one, other].map((x) => Math.round(100 * x)).sort((p, q) => q - p);

/** What a closing reading shows if nothing more is left, and what less or more would mean. */
function closingMeans(told, words) {
  if (!told) return [];
  const rows = [[rangeWords(told, told.unit, false, false), sentences.CLOSING_CLEAR]];
  for (const [word, edge] of [
    ["under", told.low],
    ["over", told.high],
  ]) {
    const { chance, at } = told[word];
    if (chance < A_SIDE * (told.under.chance + told.over.chance)) continue;
    const names = at.map((row) => stretchWords(words, row)).join(" or ") || sentences.NO_ONE_LINE;
    const shown = told.unit === "A" ? ampsWords(word, edge) : `${word} ${edge.toFixed(1)} kV`;
    rows.push([shown, filled(sentences.CLOSING_LEFT, { where: names })]);
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
  const names = (at) => at.map((row) => stretchWords(words, row)).join(" or ") || sentences.NO_ONE_LINE;
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
    return filled(sentences.CLOSING_REASON, { left });
  }
  if (isUnread(search)) return sentences.FIRST_REASON;
  if (told) {
    const [more, less] = parts(told.past, told.before);
    return filled(sentences.SIDES_REASON, { more, less });
  }
  if (parted) {
    const [more, less] = parts(parted.under, 1 - parted.under);
    return filled(sentences.AMPS_REASON, { more, less });
  }
  return sentences.SIZES_REASON;
}

function stopWords(search, words, pieces) {
  const { finds, candidates } = search;
  if (!finds)
    return {
      title: sentences.STOP_FOR_NOW,
      reason: sentences.STOP_FOR_NOW_REASON,
    };
  const clear = 1 - candidates.pMaterial;
  const [least] = stretches(pieces);
  const where = least && clear < 0.99 ? filled(sentences.LEAST_SURE, { where: stretchWords(words, least) }) : "";
  const likely = filled(sentences.LIKELY_CLEAR, { share: aboutWords(clear), where });
  const reason = likely + staysWords(search);
  return { title: sentences.STOP, reason };
}

/** The whole fence, the likeliest stretches first. */
function sweepWords({ spans }, words) {
  const names = spans.slice(0, 4).map((span) => words.lines[span]?.name ?? sentences.LEAD_OUT);
  const howFar = filled(sentences.SWEEP_ORDER, { lines: [...new Set(names)].join(", ") });
  return { title: sentences.SWEEP, howFar, reason: sentences.SWEEP_REASON };
}

/** A switch to be opened, or to be shut again. */
function switchWords(search, { switch: id, opens, number, minutes }, words) {
  const [name, howFar] = [words.switches[id], farWords(search, words, number, minutes)];
  if (!opens) {
    return { title: filled(sentences.SHUT_SWITCH, { name }), howFar, reason: sentences.SHUT_REASON };
  }
  return { title: `Open ${name}`, howFar, reason: sentences.OPEN_REASON };
}

/** The next step: what and where, how far, its reason, what each outcome would mean. */
export function stepWords(search, nextStep, words, pieces) {
  const plain = { howFar: "", leg: "", means: [], lookFor: [] };
  if (nextStep.do === "stop") return { ...plain, ...stopWords(search, words, pieces) };
  if (nextStep.do === "sweep") return { ...plain, ...sweepWords(nextStep, words) };
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
    const title = filled(sentences.LOOK_AT, { where });
    const reason = filled(sentences.LOOK_REASON, { share, listen: LISTEN });
    return { ...plain, title, howFar, reason, lookFor: lookFor(search, place, words) };
  }
  const leg = place.legs[nextStep.leg] ?? "";
  if (search.readsMend)
    return {
      ...plain,
      title: filled(sentences.READ_AGAIN, { where }),
      howFar,
      leg,
      reason: sentences.READ_AGAIN_REASON,
    };
  if (search.opened.length) {
    const names = search.opened.map((id) => words.switches[id]).join(", ");
    const reason = filled(sentences.OPENED_REASON, { names });
    return { ...plain, title: filled(sentences.READ_FED_SIDE, { where }), howFar, reason };
  }
  const what = search.fence.meter.shows_amps ? sentences.KV_AND_AMPS : "kV";
  const title = filled(sentences.READ_AT, { what, where });
  return { ...plain, title, howFar, leg, ...readWords(search, words, nextStep) };
}
