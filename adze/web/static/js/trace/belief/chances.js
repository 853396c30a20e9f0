// Chances in words, as the page of Trace says them (adze/services/trace_words.py).

import { words, sentences } from "../constants.js";

export const { NEAR_ZERO } = words;
const { NEARLY, LEAST_TOLD } = words;

export const percent = (share) => `${Math.round(100 * share)}%`;

/** A chance as a number; nothing is ever quite sure. */
export const aboutWords = (share) => (share > NEARLY ? "over 99%" : `about ${percent(share)}`);

/** The chance that something which matters is left. */
export const leftWords = ({ pMaterial }) => (pMaterial < LEAST_TOLD ? "under 1%" : `about ${percent(pMaterial)}`);

/** What stopping before the end leaves, in the closing round. */
export const stopEarly = ({ isClosing, candidates }, nextStep) =>
  isClosing && nextStep.do !== "stop" ? `Stop here: chance of a fault ${leftWords(candidates)}` : "";

/** A chance in words with its number. */
export function howLikely(share) {
  if (share < NEAR_ZERO) return sentences.RULED_OUT;
  const word = share < 0.2 ? "unlikely" : share < 0.5 ? "possible" : share < 0.9 ? "likely" : sentences.NEARLY_SURE;
  return `${word}, ${aboutWords(share)}`;
}
