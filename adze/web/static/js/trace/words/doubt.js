// What is said of a switch that may not stand as it was told (adze/services/trace_switches.py).

import { openSwitch } from "../belief/switches.js";
import { percent } from "../belief/chances.js";

/** That the last reading fits a switch the other way about; empty where none does. */
export function doubtWords(search, { switches }) {
  const { doubtful, opened } = search;
  const likely = doubtful ? null : openSwitch(search);
  if (likely)
    return (
      `${switches[likely.id]} may stand open, or its lead be off: ${percent(likely.share)} of it lies there. ` +
      "Look at it first; if so, say it below, and shut it."
    );
  if (!doubtful) return "";
  const [told, fits] = opened.includes(doubtful) ? ["open", "shut"] : ["shut", "open"];
  return (
    `${switches[doubtful]} was told ${told}; the last reading fits it ${fits}. ` +
    "Look at it first, and say below how it stood."
  );
}
