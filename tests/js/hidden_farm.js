// What the tester of a round of practice shows on a phone: node hidden_farm.js PACKED ROUND.json QUESTIONS.json

import { readFileSync } from "node:fs";
import { HiddenFarm } from "../../adze/web/static/js/trace/phone/hidden.js";
import { unpack } from "../../adze/web/static/js/trace/solver/kit.js";
import { Peaks } from "../../adze/web/static/js/trace/solver/peaks.js";
import { FaultSearch } from "../../adze/web/static/js/trace/steps/search.js";

const [, , packed, round, questions] = process.argv;
const raw = readFileSync(packed);
const kit = unpack(raw.buffer.slice(raw.byteOffset, raw.byteOffset + raw.byteLength));
const assembled = readFileSync(new URL("../../adze/web/static/vendor/trace/peaks.wasm", import.meta.url));
const { fence } = FaultSearch.of(kit, await Peaks.of(assembled, kit.instants, kit.follow.length));
const farm = new HiddenFarm(fence, JSON.parse(readFileSync(round)));
const shown = ({ number, leg, ...world }) => ({
  kv: farm.kvAt(number, world),
  amps: farm.ampsAt({ number, leg }, world),
  rods_kv: farm.rodsKv(world),
});
console.log(JSON.stringify(JSON.parse(readFileSync(questions)).map(shown)));
