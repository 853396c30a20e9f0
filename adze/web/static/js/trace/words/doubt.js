// What is said of a switch that may not stand as it was told (adze/services/trace_switches.py).

import { filled } from "../../basics/scales.js";
import { sentences } from "../constants.js";
import { openSwitch } from "../belief/switches.js";
import { percent } from "../belief/chances.js";

/** That the last reading fits a switch the other way about; empty where none does. */
export function doubtWords(search, { switches }) {
  const { doubtful, opened } = search;
  const likely = doubtful ? null : openSwitch(search);
  if (likely) return filled(sentences.MAY_STAND_OPEN, { name: switches[likely.id], share: percent(likely.share) });
  if (!doubtful) return "";
  const [told, fits] = opened.includes(doubtful) ? ["open", "shut"] : ["shut", "open"];
  return filled(sentences.TOLD_OTHERWISE, { name: switches[doubtful], told, fits });
}
