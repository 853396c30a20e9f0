// What is chosen on the ground, its figures and what can be done with it; the panel's tabs; setting out; photos.

import { foldAgain, openFolds } from "../basics/drafts.js";
import { operationOf } from "./operations.js";
import { CHOSEN, divided, laneWidth, SET_OUT, TYPED } from "./inspector_operations.js";
import { showLayer } from "../ground/layers.js";
import { recall, remember } from "../basics/remembered.js";

class Inspector {
  constructor(bench, ground) {
    this.bench = bench;
    this.ground = ground;
    this.panel = document.querySelector("#panel");
    this.asked = 0;
    this.tab = recall("adze-tab") ?? "findings";
    this.panel.addEventListener("click", ({ target, shiftKey }) => this.pressed(target.closest("button"), shiftKey));
    this.panel.addEventListener("keydown", (event) => this.walkTabs(event));
    this.panel.addEventListener("change", ({ target }) => this.changed(target));
    bench.on("state", () => {
      this.openTab(this.tab);
      this.inspect();
    });
    bench.on("chosen", () => this.inspect());
    this.openTab(this.tab);
  }

  pressed(button, add) {
    const { bench } = this;
    const d = button?.dataset ?? {};
    const tab = d.tab ?? d.openTab;
    if (tab) this.openTab(tab);
    else if (d.choose) this.choose(d.choose, add);
    else if (d.do === "none") bench.pick([]);
    else if (d.do) bench.do(CHOSEN[d.do](bench, bench.pairs()), button);
    else if (d.set) this.setOut(d.set, button);
    else if (d.kills) this.kills(d.kills);
    else if (d.divide) this.divide(d.divide, button);
    else if (d.remove) bench.do({ do: "remove", chosen: [d.remove.split(":")] });
  }

  setOut(how, button) {
    if (how !== "lane") {
      this.bench.do(SET_OUT[how](this.bench), button);
      return;
    }
    this.ground.tools.lane = laneWidth(this.bench);
    this.ground.tools.choose("lane");
  }

  choose(key, add) {
    this.bench.pick([key], { add });
    const row = this.bench.find(key);
    if (key.startsWith("run:")) this.bench.stand(row.id, 0);
    else if (key.startsWith("fixture:")) this.bench.stand(row.run, row.at_m);
    this.panel.closest("aside").scrollTop = 0;
  }

  changed(input) {
    const operation = operationOf(TYPED, input.dataset)?.(input, input.dataset);
    if (operation) this.bench.do(operation, input);
    else if (input.dataset.note && input.files.length) this.addPhoto(input);
  }

  divide(how, button) {
    this.bench.do(divided(how), button);
    if (how !== "cross") showLayer(this.bench, "blocks", true);
  }

  walkTabs(event) {
    const step = { ArrowLeft: -1, ArrowRight: 1 }[event.key];
    if (!step || !event.target.dataset?.tab) return;
    const tabs = [...this.panel.querySelectorAll("[data-tab]")];
    const next = tabs[(tabs.indexOf(event.target) + step + tabs.length) % tabs.length];
    this.openTab(next.dataset.tab);
    next.focus();
    event.preventDefault();
    event.stopPropagation();
  }

  openTab(name) {
    this.tab = this.panel.querySelector(`[data-tab="${name}"]`) ? name : "findings";
    this.bench.pane = ["lines", "feed", "blocks"].includes(this.tab) ? this.tab : "findings";
    remember("adze-tab", this.tab);
    for (const button of this.panel.querySelectorAll("[data-tab]")) {
      const on = button.dataset.tab === this.tab;
      button.setAttribute("aria-selected", on);
      button.tabIndex = on ? 0 : -1;
      const pane = document.getElementById(`pane-${button.dataset.tab}`);
      if (pane) pane.hidden = !on;
    }
    this.fill(document.getElementById(`pane-${this.tab}`));
    if (this.tab === "blocks") showLayer(this.bench, "blocks", true);
    if (this.tab === "feed") showLayer(this.bench, "zones", true);
  }

  /** A list that comes when it is looked at. */
  async fill(pane) {
    const what = pane?.dataset.later;
    if (!what) return;
    delete pane.dataset.later;
    try {
      const { html } = await this.bench.api.ask(`/pane/${what}`);
      if (pane.isConnected) pane.innerHTML = html;
    } catch (error) {
      pane.textContent = error.message;
    }
  }

  async inspect() {
    const box = document.getElementById("inspector");
    if (!box) return;
    this.asked += 1;
    const own = this.asked;
    if (!this.bench.chosen.size) {
      box.replaceChildren();
      return;
    }
    try {
      const { html } = await this.bench.api.ask(
        `/inspect?${new URLSearchParams({ chosen: [...this.bench.chosen].join(",") })}`,
      );
      const now = document.getElementById("inspector");
      if (own !== this.asked || !now) return;
      const held = now.contains(document.activeElement) ? document.activeElement.id : "";
      const folds = openFolds(now);
      now.innerHTML = html;
      foldAgain(now, folds);
      this.bench.tell("inspected");
      if (held) document.getElementById(held)?.focus({ preventScroll: true });
    } catch (error) {
      box.textContent = error.message;
    }
  }

  async kills(id) {
    const { stretches } = await this.bench.api.ask(`/zone?${new URLSearchParams({ switch: id })}`);
    this.bench.kills = { switch: id, stretches };
    const name = this.bench.doc.fixtures.find((f) => f.id === id)?.name ?? "The switch";
    this.bench.tell("kills");
    this.ground.tools.say(`Dotted: dead when ${name} is open. Esc shows the fence as it is.`);
  }

  async addPhoto(input) {
    try {
      const kept = await this.bench.api.send("/pictures?purpose=photo", input.files[0]);
      await this.bench.do({ do: "add_photo", note: input.dataset.note, picture: kept.id }, input);
    } catch (error) {
      const { message } = error;
      this.bench.tell("refused", { message, faults: [{ path: "picture", message }], origin: input });
    }
  }
}

export const mount = (bench, ground) => new Inspector(bench, ground);
