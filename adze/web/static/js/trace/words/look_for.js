// What to look for at a place, as the page of Trace says it (adze/services/trace_words.py, look_words).

import { sentences, words } from "../constants.js";
import { kindsTold } from "./explanation.js";

export const { LISTEN } = sentences;
const { MOST, MOST_CAUSES } = words;

/** Causes to look for there, each with how it shows; first what is of the kind that most of the belief is in. */
export function lookFor(search, place, { causes }) {
  const { cut, earthStrand, hardShort } = kindsTold(search);
  const shares = { cut, LE: earthStrand, LS: hardShort };
  const first = Object.keys(shares).find((kind) => shares[kind] > MOST) ?? "";
  const rows = place.look.map((key) => causes[key]);
  const isLater = ([, , kind]) => Number(kind !== first);
  return rows
    .toSorted((one, other) => isLater(one) - isLater(other))
    .slice(0, MOST_CAUSES)
    .map(([label, shows]) => [label, shows]);
}
