// A packed search played on by steps, as a phone does; what is believed and what is next before each, a line of JSON.
//
// node replay_search.js PACKED STEPS.json

import { readFileSync } from "node:fs";
import { unpack } from "../../adze/web/static/js/trace/solver/kit.js";
import { Peaks } from "../../adze/web/static/js/trace/solver/peaks.js";
import { FaultSearch } from "../../adze/web/static/js/trace/steps/search.js";
import { after } from "../../adze/web/static/js/trace/steps/steps.js";
import { openSwitch } from "../../adze/web/static/js/trace/belief/switches.js";
import { kindsTold, piecesTold } from "../../adze/web/static/js/trace/words/explanation.js";
import { meaningOf } from "../../adze/web/static/js/trace/steps/meaning.js";

const [, , packed, steps] = process.argv;
const raw = readFileSync(packed);
const kit = unpack(raw.buffer.slice(raw.byteOffset, raw.byteOffset + raw.byteLength));
const assembled = readFileSync(new URL("../../adze/web/static/vendor/trace/peaks.wasm", import.meta.url));
let search = FaultSearch.of(kit, await Peaks.of(assembled, kit.instants, kit.follow.length));

for (const step of [...JSON.parse(readFileSync(steps)), null]) {
  const nextStep = search.nextStep();
  const told =
    nextStep.do === "read" && !search.readsMend && !search.opened.length ? meaningOf(search, nextStep) : null;
  const { cells, entropyBits, pMaterial } = search.candidates;
  const row = {
    cells: Array.from(cells),
    entropy_bits: entropyBits,
    p_material: pMaterial,
    minutes: search.minutes,
    surprise: search.surprise,
    doubtful: search.doubtful,
    open: openSwitch(search),
    pieces: piecesTold(search).map(({ share }) => share),
    kinds: kindsTold(search),
    means: told && { unit: told.unit, past: told.past, names: told.outcomes.map(({ means }) => means) },
    nextStep,
  };
  console.log(JSON.stringify(row));
  if (step) search = after(search, step);
}
