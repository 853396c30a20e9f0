// Amps and kV of outcomes in words, as the page of Trace says them (adze/services/trace_words.py).

import { words } from "../constants.js";

const { LEAST_A, WHOLE_A } = words;

const ampsFigure = (amps) => Math.abs(amps).toFixed(Math.abs(amps) >= WHOLE_A ? 0 : 1);

/** Under or over so many amps; what is below 0 flows back. By next to none only the way counts. */
export function ampsWords(word, amps) {
  if (Math.abs(amps) < LEAST_A) return word === "under" ? "amps back" : "amps outward";
  const figure = ampsFigure(amps);
  if (amps >= 0) return word === "under" ? `under ${figure} A outward, or back` : `over ${figure} A outward`;
  return word === "under" ? `over ${figure} A back` : `under ${figure} A back, or outward`;
}

/** What a reading shows, from and to, amps or kV. */
export function rangeWords({ low, high }, unit, isFirst, isLast) {
  if (isFirst && isLast) return "any";
  if (unit === "kV") {
    if (isFirst) return `under ${high.toFixed(1)} kV`;
    return isLast ? `over ${low.toFixed(1)} kV` : `${low.toFixed(1)} to ${high.toFixed(1)} kV`;
  }
  if (isFirst) return ampsWords("under", high);
  if (isLast) return ampsWords("over", low);
  return [low, high].map((x) => `${ampsFigure(x)} A${x < 0 ? " back" : ""}`).join(" to ");
}
