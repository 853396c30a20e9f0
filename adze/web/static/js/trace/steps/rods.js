// The rods in words, as the page of Trace says them (adze/services/trace_words.py).

import { filled } from "../../basics/scales.js";
import { sentences } from "../constants.js";
import { howLikely } from "../belief/chances.js";
import { asksRods } from "./first.js";

/** Their kV, or a look at them: what is done there, and why. */
export function rodsWords(search, nextStep) {
  if (nextStep.do === "read_rods")
    return { title: sentences.READ_RODS, reason: asksRods(search) ? sentences.RODS_FIRST : sentences.RODS_LIKELY };
  const { cells, noneCell } = search.candidates;
  const reason = filled(sentences.RODS_REASON, { likely: howLikely(cells[noneCell + 1]), look: sentences.RODS_LOOK });
  return { title: sentences.LOOK_RODS, reason };
}

/** What is said of what stays as it is when a search stops. */
export const staysWords = ({ stays }) => [...new Set(stays)].map((what) => sentences.STAY[what]).join("");
