// What a phone says of a packed search after the steps that were done: node told_search.js PACKED STEPS.json

import { readFileSync } from "node:fs";
import { unpack } from "../../adze/web/static/js/trace/solver/kit.js";
import { OnDevice } from "../../adze/web/static/js/trace/phone/on_device.js";
import { Peaks } from "../../adze/web/static/js/trace/solver/peaks.js";

const [, , packed, steps] = process.argv;
const raw = readFileSync(packed);
const kit = unpack(raw.buffer.slice(raw.byteOffset, raw.byteOffset + raw.byteLength));
const assembled = readFileSync(new URL("../../adze/web/static/vendor/trace/peaks.wasm", import.meta.url));
const device = new OnDevice(kit, await Peaks.of(assembled, kit.instants, kit.follow.length));
const { words, surprise, strands, spurs, gain, clear, early, stands, stretches } = device.told(
  JSON.parse(readFileSync(steps)),
  () => {},
);
console.log(JSON.stringify({ words, surprise, strands, spurs, gain, clear, early, stands, stretches }));
