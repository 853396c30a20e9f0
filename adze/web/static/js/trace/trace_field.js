// A search for faults on a phone: the search itself runs on the device, with signal or without. What is done is kept
// there and counts at once; it is sent in its order when there is signal, and what others did meanwhile is fetched.

import { mountKeep } from "../log/field_keep.js";
import { held } from "./phone/held.js";
import { drop, dropRefused, keep, sendWaiting, waiting } from "./phone/queue.js";
import { keepPhoto, offerBeside } from "./phone/beside.js";
import { FieldPractice } from "./phone/practice_page.js";
import { shedLeft, standsOf } from "./phone/standing.js";
import { offerLines, say, showFault, showSearch, showSteps, stand } from "./phone/shown.js";
import { formOf, settings, stepOf, stepWords, typedBy, typedIn } from "./phone/typed.js";
import { TypedError } from "./phone/figures.js";

const AGAIN_MS = 15_000;
const NO_FIELD = { runs: [] };
const ALONE = " Nothing heard of the server: computed on this device.";
const TOO_OLD = "This browser cannot compute the search. Update it, or use the page of Trace with signal.";

export class FieldSearch {
  constructor(root) {
    Object.assign(this, { root, plan: Number(root.dataset.plan), csrf: root.dataset.csrf, asked: 0, busy: false });
    this.worker = new Worker(new URL("./phone/worker.js", import.meta.url), { type: "module" });
    this.worker.addEventListener("message", ({ data }) => this.heard(data));
    this.worker.addEventListener("error", () => say("search-says", TOO_OLD));
    this.causes = Object.fromEntries(
      Array.from(document.getElementById("search-cause").options, ({ value, dataset }) => [value, dataset.kind]),
    );
    this.practice = new FieldPractice(this.plan, (what) => this.worker.postMessage({ ask: ++this.asked, ...what }));
    root.addEventListener("click", ({ target }) => this.pressed(target.closest("button[data-do]")));
    document.getElementById("search-photo").addEventListener("change", ({ target }) => this.photo(target));
    document.getElementById("search-season").addEventListener("change", () => this.take());
    addEventListener("online", () => this.send());
    setInterval(() => this.again(), AGAIN_MS);
    const kept = () => [location.pathname, ...(this.modules ?? []), ...this.practice.addresses(this.season)];
    mountKeep(document.getElementById("search-keep"), kept, () => this.take(true));
    this.take().then(() => this.send());
  }

  /** Send what waits; where nothing does, hear what others did meanwhile. */
  again() {
    if (this.waits?.length) this.send();
    else if (!document.hidden) this.take();
  }

  get season() {
    return document.getElementById("search-season").value;
  }

  /** The season of the search as the page of Trace says it. */
  get seasonWords() {
    const options = Array.from(document.getElementById("search-season").options);
    return options.find(({ value }) => value === this.known.season).text.trim();
  }

  /** Hear how the search stands, of the server or as it was kept here, and show it. */
  async take(sent = false) {
    try {
      const { known, packed, isFresh } = await held(this.plan, this.season);
      const isNew = JSON.stringify([known, isFresh]) !== JSON.stringify([this.known, this.isFresh]);
      if (!isNew && !sent) return;
      this.known = known;
      this.isFresh = isFresh;
      if (this.mark !== known.mark) this.packed = packed;
      await this.show();
    } catch (error) {
      say("search-says", error.message);
    }
  }

  async show() {
    this.waits = await waiting(this.plan);
    const { done, steps, next, isGoing, hasEnded } = standsOf(this.known, this.waits);
    this.steps = steps;
    if (isGoing) this.practice.drop(); // a search in earnest goes before
    const { round } = this.practice;
    this.root.toggleAttribute("data-practice", Boolean(round));
    this.showWaits();
    stand(isGoing ? (next ?? "next") : (this.practice.when ?? (hasEnded ? "ended" : "none")));
    document.getElementById("search-so-far").hidden ||= !round && !isGoing && !this.waits.length;
    say("search-says", "The search thinks.");
    const wanted = round ? this.practice.steps : isGoing && !next ? done : null;
    this.worker.postMessage({ ask: ++this.asked, packed: this.packed, wanted });
    this.packed = undefined;
    this.mark = this.known.mark;
  }

  showWaits() {
    const known = this.practice.round ? this.practice.rows : (this.known?.steps ?? []);
    showSteps(known, this.waits ?? [], this.says ?? "", () => dropRefused(this.waits).then(() => this.show()));
  }

  async practised({ done, scored }) {
    if (done) this.practice.took(done, stepWords(done, this.field));
    else await this.practice.end(scored, this.field.units);
    await this.show();
    this.root.dataset.taken = `${this.asked}`;
    await this.send();
  }

  heard({ ask, shown, share, failed, field, modules, ...more }) {
    if (modules) this.modules = modules;
    if (ask !== this.asked) return;
    if (more.done || more.scored) return this.practised(/** @type {any} */ (more));
    if (share !== undefined)
      say("search-says", `Comparing the readings before and after the repair: ${Math.round(100 * share)}%.`);
    else if (failed) say("search-says", `The search cannot go on here: ${failed}. Take the last step back.`);
    else {
      this.field = field;
      offerLines(field);
      offerBeside(field, this.known, this.waits, shown);
      this.shown = shown ?? null;
      document.getElementById("search-open").textContent = field.open_kv ?? "the unit's own";
      if (shown) showSearch(shown, field);
      const how = this.practice.note + (this.isFresh ? "" : ALONE);
      say("search-says", `${shown ? `${shown.minutes} min so far, ` : ""}${this.seasonWords}.${how}`);
    }
  }

  pressed(button) {
    if (!button || !this.known) return;
    const { do: what } = button.dataset;
    if (what === "practise") this.practise();
    else if (what === "again") this.practice.again(() => this.show());
    else if (this.practice.round) this.tried(button, () => this.practice.press(what, button, this.shown, this.field));
    else if (what === "undo") this.undo();
    else this.tried(button, () => this.add(what, button));
  }

  async practise() {
    const failed = await this.practice.begin(this.season, document.getElementById("search-hidden").value, settings());
    if (failed) say("search-says", failed);
    else await this.show();
  }

  /** Do what was typed; what is wrong with it stands beside its input. */
  async tried(button, act) {
    const form = formOf(button);
    try {
      showFault(form, null);
      await act();
    } catch (error) {
      if (!(error instanceof TypedError)) throw error;
      showFault(form, error);
    }
  }

  /** Keep a step on the device, let it count, and send it. */
  async add(what, button) {
    const typed = typedBy(what, button, this.shown);
    if (what === "end") typed.search = this.known.search;
    if (what === "begin") typed.season = this.season;
    const step = stepOf(typed, { ...(this.field ?? NO_FIELD), shed: shedLeft(this.known, this.waits) }, this.causes);
    await keep({ plan: this.plan, typed, step, words: stepWords(step, this.field ?? NO_FIELD) });
    await this.show();
    this.root.dataset.taken = step.once;
    await this.send();
  }

  /** Keep a photo of what was found; it is sent after the search's steps. */
  async photo(input) {
    const failed = await keepPhoto(this.plan, this.steps[0].once, input);
    await this.show();
    if (failed) say("search-waits", failed);
    else await this.send();
  }

  /** Take back what was done last: off the device where it was never sent, else of the server, once it hears of it. */
  async undo() {
    const last = this.steps.at(-1);
    if (!last) return;
    const own = this.waits.find(({ step }) => step.once === last.once);
    if (own && !own.tried) {
      await drop(own.number);
      await this.show();
      return;
    }
    const typed = { ...typedIn("undo", null), of: last.once };
    const step = { what: "undo", of: last.once, once: typed.once };
    await keep({ plan: this.plan, typed, step, words: ["The last step is taken back", ""] });
    await this.show();
    await this.send();
  }

  async send() {
    if (this.busy) return;
    this.busy = true;
    try {
      const { sent, says } = await sendWaiting(this.plan, this.csrf);
      if (sent) await this.take(true);
      this.says = says;
      this.showWaits();
    } finally {
      this.busy = false;
    }
  }
}

const root = document.getElementById("search");
if (root) new FieldSearch(root);
