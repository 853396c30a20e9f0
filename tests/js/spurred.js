// What a packed search believes beforehand once fence on no plan joins: node spurred.js PACKED STEPS.json

import { readFileSync } from "node:fs";
import { unpack } from "../../adze/web/static/js/trace/solver/kit.js";
import { spurred } from "../../adze/web/static/js/trace/belief/spurs.js";

const [, , packed, steps] = process.argv;
const raw = readFileSync(packed);
const kit = unpack(raw.buffer.slice(raw.byteOffset, raw.byteOffset + raw.byteLength));
const { prior, log_weight: logWeight } = spurred(kit, JSON.parse(readFileSync(steps)));
console.log(JSON.stringify({ prior: Array.from(prior), log_weight: Array.from(logWeight) }));
