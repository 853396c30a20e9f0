// A search on a device: where it stands after what was done, in what the page shows; practice on it.

import { begun } from "../steps/beginning.js";
import { growthOf } from "../belief/growth.js";
import { howLikely, percent, stopEarly } from "../belief/chances.js";
import { doubtWords } from "../words/doubt.js";
import { gainWords } from "../words/gain.js";
import { HiddenFarm } from "./hidden.js";
import { nearestPlace } from "../belief/places.js";
import { answered, byAdvice, untouched } from "./practice.js";
import { FaultSearch } from "../steps/search.js";
import { namedAt, passesOf, spotOf, wayXy } from "../belief/spots.js";
import { spurWords } from "../belief/spurs.js";
import { after } from "../steps/steps.js";
import { strandWords } from "../words/strands.js";
import { asItWas } from "../belief/switches.js";
import { kindsTold, piecesTold, stretches } from "../words/explanation.js";
import { stands, surpriseWords } from "../words/standing.js";
import { stepWords, stretchWords } from "../words/words.js";

const BEFORE = ["begin", "end", "checked", "unit", "lead", "spur", "used", "photo", "later"];
const NOWHERE = ["rods", "sweep", "switch"];
const BEGUN = 4; // steps of practice before anybody walks

export class OnDevice {
  /** Of a packed search; `steps` are the searches after each step that was done, by the steps' own tokens. */
  constructor(kit, peaks) {
    Object.assign(this, { kit, peaks, steps: [] });
  }

  /** Where it stands after all that was done, in what the page shows. */
  told(wanted, hears) {
    return this.shown(this.afterAll(wanted, hears), wanted);
  }

  /** A search as it stands, in what the page shows. */
  shown(search, wanted) {
    const { field: words } = this.kit;
    const nextStep = search.nextStep();
    const pieces = piecesTold(search);
    return {
      nextStep,
      at:
        nextStep.number >= 0 && nextStep.do !== "sweep" && nextStep.do !== "stop" ? namedAt(words, nextStep).at : null,
      words: stepWords(search, nextStep, words, pieces),
      surprise: doubtWords(search, words) || surpriseWords(search),
      strands: strandWords(wanted, words),
      spurs: spurWords(search, wanted, words),
      showsAmps: search.fence.meter.shows_amps,
      opened: search.opened,
      gain: gainWords(search, wanted, words),
      minutes: Math.round(wanted.findLast(({ world }) => world)?.world.minutes ?? search.minutes),
      early: stopEarly(search, nextStep),
      clear: search.finds ? howLikely(1 - search.candidates.pMaterial) : "",
      stands: stands(kindsTold(search), search.finds, growthOf(search)),
      stretches: stretches(pieces)
        .slice(0, 4)
        .map((row) => [stretchWords(words, row), percent(row.share)]),
      pieces: pieces.filter(({ inMost, span }) => inMost && words.lines[span]),
      here: words.places[search.here].xy,
      way: wayXy(search, nextStep, words),
      passes: passesOf(search, nextStep, words),
    };
  }

  /** The search after all steps, from as far as it was known already. */
  afterAll(wanted, told) {
    const { kit, peaks } = this;
    const mends = wanted.flatMap(({ what }, k) => (what === "found" ? [k] : []));
    const packed = kit.search.finds ? mends[kit.search.finds - 1] + 1 : 0;
    const done = wanted.slice(packed).filter(({ what }) => !BEFORE.includes(what));
    const spurs = wanted.filter(({ what }) => what === "spur");
    const first = packed ? spurs : wanted.filter(({ what }) => ["unit", "lead", "spur"].includes(what));
    const { counted, opened } = asItWas(done);
    const how = wanted.find(({ what }) => what === "begin");
    const beginning = JSON.stringify([first.map(({ what, kv, run, at_m: atM }) => [what, kv, run, atM]), opened, how]);
    if (this.steps.beginning !== beginning) {
      const search = kit.switches
        .filter(({ id }) => opened.includes(id))
        .reduce((one, { id }) => one.switched(id, true), FaultSearch.of(begun(kit, first, how), peaks));
      this.steps = Object.assign([search], { beginning, keys: [] });
    }
    const { steps } = this;
    let known = 0;
    while (known < counted.length && steps.keys[known] === counted[known].once && steps[known + 1]) known++;
    steps.length = known + 1;
    steps.keys.length = known;
    for (const step of counted.slice(known)) {
      const spot = NOWHERE.includes(step.what) ? {} : spotOf(kit.field, step);
      steps.push(after(steps.at(-1), { ...step, ...spot }, told));
      steps.keys.push(step.once);
    }
    return steps.at(-1);
  }

  /** The farm of a round of practice. */
  farmOf(search, round) {
    if (this.farm?.round.seed !== round.seed) this.farm = new HiddenFarm(search.fence, round);
    return this.farm;
  }

  /** What becomes of a step in practice. */
  practised({ round, steps: done, nextStep }, told) {
    const search = this.afterAll(done, told);
    const { span, atM } = spotOf(this.kit.field, nextStep);
    const place = { number: nearestPlace(search.fence, span, atM), leg: nextStep.leg || span };
    const world = done.findLast((step) => step.world)?.world ?? untouched(search.fence, round);
    const found = answered(search, this.farmOf(search, round), world, { ...nextStep, ...place }, `${done.length}`);
    return found.what === "found" ? found : { run: nextStep.run, at_m: nextStep.at_m, leg: nextStep.leg, ...found };
  }

  /** How a round ended, and what every advice would have taken. */
  scored({ round, steps: done }, told) {
    const { fence } = this.afterAll(done, told);
    const world = done.findLast((step) => step.world)?.world ?? untouched(fence, round);
    const first = this.afterAll(done.slice(0, BEGUN), told);
    return { world, advice: byAdvice(first, this.farmOf(first, round), told) };
  }
}
