// What is said of strands that were read one by one, as a phone says it: node strand_words.js CASES.json

import { readFileSync } from "node:fs";
import { judged } from "../../adze/web/static/js/trace/words/strands.js";

for (const { rows, read } of JSON.parse(readFileSync(process.argv[2]))) {
  const { words, countedKv, low } = judged(rows, read);
  console.log(JSON.stringify({ words, counted_kv: countedKv, low: low?.numbers ?? [] }));
}
