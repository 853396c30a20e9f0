// The rods in words, as the page of Trace says them (adze/services/trace_words.py).

import { words } from "../constants.js";
import { howLikely } from "../belief/chances.js";
import { asksRods } from "./first.js";

/** Their kV, or a look at them: what is done there, and why. */
export function rodsWords(search, nextStep) {
  if (nextStep.do === "read_rods")
    return { title: "Read kV at the rods, fence on", reason: asksRods(search) ? words.RODS_FIRST : words.RODS_LIKELY };
  const { cells, noneCell } = search.candidates;
  const reason = `The rods, ${howLikely(cells[noneCell + 1])}: ${words.RODS_LOOK}`;
  return { title: "Look at the rods", reason };
}

/** What is said of what stays as it is when a search stops. */
export const staysWords = ({ stays }) => [...new Set(stays)].map((what) => words.STAY[what]).join("");
