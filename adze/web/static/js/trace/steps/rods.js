// The rods in words, as the page of Trace says them (adze/services/trace_words.py).

import { howLikely } from "../belief/chances.js";
import { asksRods } from "./first.js";

const FIRST =
  "Many volts there, and the earth takes its part of what is missing; few, and it is out on the fence. A minute, " +
  "no walk along the fence.";
const IN_DOUBT = "Much speaks for the rods: their volts with the fence loaded decide it.";

/** Their kV, or a look at them: what is done there, and why. */
export function rodsWords(search, nextStep) {
  if (nextStep.do === "read_rods")
    return { title: "Read kV at the rods, fence on", reason: asksRods(search) ? FIRST : IN_DOUBT };
  const { cells, noneCell } = search.candidates;
  const reason =
    `The rods, ${howLikely(cells[noneCell + 1])}: clamps, their lead, a rod rusted, pulled or broken. ` +
    "Where all of it is sound their ground has dried out: water helps at once, more rods in damp ground for good.";
  return { title: "Look at the rods", reason };
}

const STAY = {
  rods: " The rods stay dry: water them, or plan more in Earth.",
  growth: " Growth stays: cut it, graze it, or switch the bottom strands off.",
};

/** What is said of what stays as it is when a search stops. */
export const staysWords = ({ stays }) => [...new Set(stays)].map((what) => STAY[what]).join("");
