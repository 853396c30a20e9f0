// Practice on the page in the field: a round that the server drew, kept on the device, and how it went.

import { PAGES } from "../../device/forget.js";
import { ownKey } from "../../device/owner.js";
import { filled, lengthWords } from "../../basics/scales.js";
import { record, sentences } from "../constants.js";
import { token } from "../../basics/api.js";
import { stepsIn } from "./input.js";
import { keep } from "./queue.js";
import { placeOf } from "./figures.js";

const DRAWN = 3; // rounds of so many faults that a device keeps
const { SLOW, FEW_READINGS, MANY_READINGS } = record;
const find = (id) => document.getElementById(id);

/** What a round teaches, by what it cost beside every advice and beside walking all of it (practice_record.py). */
export function lessonOf({ restored, left, minutes, readings, ...others }) {
  if (!restored || left) return record.SOMETHING_LEFT;
  const share = Math.round((10 * minutes) / Math.max(others.advice_minutes, 1)) / 10;
  if (share <= 1) return record.QUICK;
  if (share > SLOW && readings < FEW_READINGS) return record.MUCH_WALKING;
  if (share > SLOW && readings >= MANY_READINGS) return record.TOO_MANY_READINGS;
  if (minutes > others.walking_minutes) return record.WALKING_QUICKER;
  return record.LOOK_ON_THE_WAY;
}

/** How a round went, in words. */
export function scoreWords({ faults, left, restored, readings, metres, minutes, ...others }, units) {
  const found = faults
    ? filled(sentences.FOUND_OF, { found: faults - left, hidden: faults })
    : sentences.NOTHING_HIDDEN;
  return (
    `${minutes} min: ${found}, the fence ${restored ? "" : "not "}restored; ` +
    `${readings} readings, ${lengthWords(metres, units)}. By every advice ${others.advice_minutes} min, ` +
    `halving by amps ${others.halving_minutes} min, walking all ${others.walking_minutes} min.`
  );
}

export class FieldPractice {
  /** Of a plan; `ask` gives the worker what to do. What goes on outlives a closed page. */
  constructor(plan, ask) {
    Object.assign(this, { plan, ask, note: "", key: ownKey(`adze-practice-${plan}`) });
    Object.assign(this, JSON.parse(localStorage.getItem(this.key) ?? "{}"));
    if (!this.round?.truth) this.round = null; // none, or one that was drawn before switches could be worked in it
  }

  store() {
    const { round, steps, turn } = this;
    localStorage.setItem(this.key, JSON.stringify({ round, steps, turn }));
  }

  /** The server draws anew at each asking; `drawn` tells apart the rounds that a device keeps. */
  address(season, hidden, drawn) {
    return `/api/plans/${this.plan}/trace/practice?${new URLSearchParams({ season, hidden, drawn })}`;
  }

  /** A round of so many faults: drawn anew where there is signal, else the next that is kept. Words where none. */
  async begin(season, hidden, how) {
    const cache = await caches.open(PAGES);
    const next = () => {
      this.turn = ((this.turn ?? 0) % DRAWN) + 1;
      return this.address(season, hidden, this.turn);
    };
    const address = next();
    let answer;
    try {
      answer = await fetch(address);
      if (answer.ok && (await cache.match(location.pathname))) await cache.put(address, answer.clone());
    } catch {
      answer = await cache.match(address);
      for (let others = 1; !answer && others < DRAWN; others++) answer = await cache.match(next());
    }
    if (!answer) return "This device has no fence to practise on. Keep the page here with signal first.";
    const told = await answer.json();
    if (!answer.ok) return told.message;
    Object.assign(this, { round: told, note: "" });
    const alone = { kv: told.unit_kv };
    const first = [
      { what: "begin", ...how, practice: true },
      { what: "checked" },
      { what: "unit", ...alone },
      { what: "lead", ...alone },
    ];
    this.steps = first.map((step) => ({ ...step, once: token(), words: ["", ""] }));
    this.store();
    return "";
  }

  /** Rounds of one, two and three faults, for a device to keep. */
  addresses(season) {
    const drawn = Array.from({ length: DRAWN }, (_, k) => k + 1);
    return [1, 2, 3].flatMap((hidden) => drawn.map((one) => this.address(season, hidden, one)));
  }

  /** The part of the page that stands: a round, or how it went; else none of practice. */
  get when() {
    if (this.round) return "next";
    return this.isScored ? "practised" : undefined;
  }

  /** No more of the round that goes on. */
  drop(isScored = false) {
    if (this.round && !isScored) this.note = " A search in earnest has begun: the round of practice is off, unscored.";
    Object.assign(this, { round: null, steps: [], isScored });
    this.store();
  }

  again(show) {
    this.drop();
    show();
  }

  get rows() {
    return this.steps.filter(({ words }) => words[0]);
  }

  /** Do what a key says: at the next step's place, or at that of its form. Throws TypedError. */
  press(what, button, shown, field) {
    const nextStep = { what, run: "", at_m: 0, leg: "", ...this.where(what, button, shown, field) };
    const { round, steps } = this;
    this.ask(what === "end" ? { score: { round, steps } } : { practise: { round, steps, nextStep } });
  }

  where(what, button, { at, nextStep }, field) {
    if ("there" in button.dataset) return { ...at, leg: nextStep.leg, switch: nextStep.switch, opens: nextStep.opens };
    const form = button.closest("[data-form]");
    if (!form) return {};
    /** @type {any} */
    const typed = stepsIn(form);
    return what === "switch" ? typed : { run: typed.run, at_m: placeOf(typed, field) };
  }

  /** What became of a step. */
  took(done, words) {
    this.steps.push({ ...done, once: token(), words });
    this.store();
  }

  /** The end: how it went, which waits to be sent. */
  async end({ world, advice }, units) {
    const { round, steps } = this;
    const { states, season, seed, halving_minutes, walking_minutes, walking_restored } = round;
    const result = {
      season,
      seed,
      faults: round.faults.length,
      left: round.faults.filter((_, k) => (world.left >> k) & 1).length,
      restored: states[world.left].restored && !world.opened.length,
      minutes: Math.round(world.minutes),
      metres: Math.round(world.metres),
      readings: steps.filter(({ what }) => what === "read").length,
      steps: this.rows.length,
      causes: steps.filter(({ what }) => what === "found").map(({ cause }) => cause),
      advice_minutes: advice.minutes,
      advice_restored: advice.restored,
      halving_minutes,
      walking_minutes,
      walking_restored,
    };
    const once = token();
    const score = scoreWords(result, units) + (world.opened.length ? " A switch still stands open." : "");
    const words = ["Practice", score];
    await keep({
      plan: this.plan,
      typed: { what: "practised", once, practised: result },
      step: { what: "practised", once },
      words,
    });
    this.drop(true);
    find("search-score").textContent = score;
    find("search-lesson").textContent = lessonOf(result);
  }
}
