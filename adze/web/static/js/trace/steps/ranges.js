// Amps and kV of outcomes in words, as the page of Trace says them (adze/services/trace_words.py).

import { filled } from "../../basics/scales.js";
import { words, sentences } from "../constants.js";

const { LEAST_A, WHOLE_A } = words;

const ampsFigure = (amps) => Math.abs(amps).toFixed(Math.abs(amps) >= WHOLE_A ? 0 : 1);

/** Under or over so many amps; what is below 0 flows back. By next to none only the way counts. */
export function ampsWords(word, amps) {
  if (Math.abs(amps) < LEAST_A) return word === "under" ? sentences.AMPS_BACK : sentences.AMPS_OUTWARD;
  const figure = ampsFigure(amps);
  if (amps >= 0)
    return word === "under"
      ? filled(sentences.UNDER_OUTWARD, { amps: figure })
      : filled(sentences.OVER_OUTWARD, { amps: figure });
  return word === "under"
    ? filled(sentences.OVER_BACK, { amps: figure })
    : filled(sentences.UNDER_BACK, { amps: figure });
}

/** What a reading shows, from and to, amps or kV. */
export function rangeWords({ low, high }, unit, isFirst, isLast) {
  if (isFirst && isLast) return "any";
  if (unit === "kV") {
    if (isFirst) return filled(sentences.UNDER_KV, { high_kv: high.toFixed(1) });
    return isLast
      ? filled(sentences.OVER_KV, { low_kv: low.toFixed(1) })
      : filled(sentences.KV_RANGE, { low_kv: low.toFixed(1), high_kv: high.toFixed(1) });
  }
  if (isFirst) return ampsWords("under", high);
  if (isLast) return ampsWords("over", low);
  return [low, high].map((x) => `${ampsFigure(x)} A${x < 0 ? " back" : ""}`).join(" to ");
}
