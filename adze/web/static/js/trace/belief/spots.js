// Places as people name them, a line and metres along it, and as the search does, a span and metres from its a.

import { stops, wayPieces } from "./places.js";

/** The spot of the search at a place on the fence; without a line it is the lead-out's. */
export function spotOf({ lines, lead }, { run, at_m: atM }) {
  if (!run) return { span: lead, atM: 0 };
  const off = ({ from_m: from, length_m: length }) => Math.max(from - atM, atM - from - length, 0);
  const own = Object.entries(lines).filter(([, line]) => line.run === run);
  const [span, line] = own.reduce((p, q) => (off(q[1]) < off(p[1]) ? q : p));
  return { span, atM: Math.min(Math.max(atM - line.from_m, 0), line.length_m) };
}

/** How a place is called, and where it lies on its line: where lines meet by the one whose leg is read. */
export const namedAt = ({ places }, { number, leg }) => places[number].by_leg[leg] ?? places[number];

/** The stretches of lines that the way to the next place goes along. */
export function passesOf({ fence, here }, { number }, { lines }) {
  if (number < 0) return [];
  return wayPieces(fence, here, number).flatMap((piece) => {
    const line = lines[fence.spans[fence.span[piece]]];
    const from = line && line.from_m + fence.from_m[piece];
    return line ? [{ run: line.run, from, to: from + fence.length_m[piece] }] : [];
  });
}

/** The way from where the person stands to the next place, on the ground. */
export function wayXy(search, nextStep, { places }) {
  if (nextStep.number < 0 || nextStep.do === "stop" || nextStep.do === "sweep") return [];
  return stops(search.fence, search.here, nextStep.number).map((place) => places[place].xy);
}
