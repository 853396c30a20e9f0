// Strands read one by one at a place: which is low, beside what each should show there (core/log/strand_compare.py).

import { strandCompare } from "../constants.js";
import { kvWords } from "../../basics/scales.js";

const { LOW_SHARE, CUT_SHARE, EARTH_TIMES, EARTH_MORE_KV } = strandCompare;

/** A figure between those of a line of points, at its ends as there. */
function between(at, xs, ys) {
  if (at <= xs[0]) return ys[0];
  const k = xs.findIndex((x) => x >= at);
  if (k < 0) return ys.at(-1);
  return ys[k - 1] + ((ys[k] - ys[k - 1]) * (at - xs[k - 1])) / (xs[k] - xs[k - 1]);
}

/** What each strand of a line should show at a place: its numbers from the ground, what it is called, kV when well. */
export function strandsAt(strands, run, atM) {
  const own = strands.find((line) => line.run === run);
  return (own?.rows ?? []).map((row) => ({
    numbers: row.numbers,
    words: row.words,
    wellKv: between(atM, row.at_m, row.well_kv),
  }));
}

function earthWords({ wellKv }, kv) {
  return kv > EARTH_TIMES * wellKv + EARTH_MORE_KV
    ? `The earth strand carries ${kvWords(kv)} kV to soil, ${kvWords(wellKv)} are expected: a live strand touches it ` +
        "past here, or its link to the rods or the rods themselves are poor."
    : `The earth strand is well (${kvWords(kv)} kV to soil).`;
}

const inOrder = (one, other) => {
  const k = one.findIndex((number, i) => number !== other[i]);
  return k < 0 ? one.length - other.length : one[k] - (other[k] ?? -1);
};

function whereWords(row, live) {
  const lowest = live.map((own) => own.row.numbers).toSorted(inOrder)[0];
  return lowest === row.numbers
    ? "The lowest: growth, a fallen insulator, a clod or wire lying on it."
    : "Not the lowest: a branch, a cracked insulator, a wire across it, a bad joint.";
}

function liveWords(live) {
  const { share: least, row, kv } = live.reduce((p, q) => (q.share < p.share ? q : p));
  const most = Math.max(...live.map(({ share }) => share));
  const shown = `${row.words}, at ${kvWords(kv)} of ${kvWords(row.wellKv)} kV`;
  if (least >= LOW_SHARE) return { words: "No live strand is low here.", kv, low: null };
  if (live.length === 1) return { words: `Low: ${shown}.`, kv, low: null };
  if (least >= LOW_SHARE * most)
    return {
      words: `All live strands are low alike (${shown}): not one strand, but the branch, the unit or the earth.`,
      kv,
      low: null,
    };
  const cut = least < CUT_SHARE ? "It is cut, or nothing joins it: look at its joints." : whereWords(row, live);
  const others = most >= LOW_SHARE ? "well" : "less low";
  return { words: `It is on ${shown}; the others are ${others}. ${cut}`, kv, low: row };
}

/** Which strand is low, of kV (one for each row, null where none), in words, and what the search takes of it. */
export function judged(rows, readKv) {
  const both = rows.map((row, k) => ({ row, kv: readKv[k] ?? null })).filter(({ kv }) => kv !== null);
  const live = both
    .filter(({ row }) => row.numbers.length)
    .map(({ row, kv }) => ({ share: kv / Math.max(row.wellKv, 0.1), row, kv }));
  const earth = both.find(({ row }) => !row.numbers.length);
  const said = earth ? [earthWords(earth.row, earth.kv)] : [];
  if (!live.length) return { words: said.join(" "), countedKv: null, low: null };
  const { words, kv, low } = liveWords(live);
  return { words: [words, ...said].join(" "), countedKv: kv, low };
}

/** What the strands that were read last say; empty where none were since the last mend. */
export function strandWords(steps, { strands, runs }) {
  const since = steps.slice(steps.findLastIndex(({ what }) => what === "found") + 1);
  const last = since.findLast(({ what }) => what === "strands");
  if (!last) return "";
  const rows = strandsAt(strands, last.run, last.at_m);
  if (!rows.length || rows.length !== last.strand_kv.length) return "";
  const { words, low } = judged(rows, last.strand_kv);
  const onward = low ? ` Read ${low.words} alone from here on.` : "";
  return `${runs.find(({ id }) => id === last.run).name}: ${words}${onward}`;
}
