// Strands read one by one at a place: which is low, beside what each should show there (core/log/strand_compare.py).

import { filled, kvWords } from "../../basics/scales.js";
import { strandCompare, sentences } from "../constants.js";

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
    ? filled(strandCompare.EARTH_STRAND_LIVE, { kv: kvWords(kv), well_kv: kvWords(wellKv) })
    : filled(strandCompare.EARTH_STRAND_WELL, { kv: kvWords(kv) });
}

const inOrder = (one, other) => {
  const k = one.findIndex((number, i) => number !== other[i]);
  return k < 0 ? one.length - other.length : one[k] - (other[k] ?? -1);
};

function whereWords(row, live) {
  const lowest = live.map((own) => own.row.numbers).toSorted(inOrder)[0];
  return lowest === row.numbers ? strandCompare.LOWEST : strandCompare.NOT_LOWEST;
}

function liveWords(live) {
  const { share: least, row, kv } = live.reduce((p, q) => (q.share < p.share ? q : p));
  const most = Math.max(...live.map(({ share }) => share));
  const shown = filled(strandCompare.STRAND_SHOWN, {
    strand: row.words,
    kv: kvWords(kv),
    well_kv: kvWords(row.wellKv),
  });
  if (least >= LOW_SHARE) return { words: strandCompare.NO_STRAND_LOW, kv, low: null };
  if (live.length === 1) return { words: `Low: ${shown}.`, kv, low: null };
  if (least >= LOW_SHARE * most)
    return {
      words: filled(strandCompare.ALL_LOW, { shown }),
      kv,
      low: null,
    };
  const cut = least < CUT_SHARE ? strandCompare.STRAND_CUT : whereWords(row, live);
  const others = most >= LOW_SHARE ? "well" : strandCompare.LESS_LOW;
  return { words: filled(strandCompare.LOW_STRAND, { shown, others, cause: cut }), kv, low: row };
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
  const onward = low ? filled(sentences.STRAND_ALONE, { strand: low.words }) : "";
  return `${runs.find(({ id }) => id === last.run).name}: ${words}${onward}`;
}
