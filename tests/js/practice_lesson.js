// What a round of practice teaches, as a phone says it: node practice_lesson.js RESULTS.json

import { readFileSync } from "node:fs";
import { lessonOf } from "../../adze/web/static/js/trace/phone/practice_page.js";

for (const result of JSON.parse(readFileSync(process.argv[2]))) console.log(lessonOf(result));
