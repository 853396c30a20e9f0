// The state of one plan on screen: document, forecast, season, and where you stand. Views listen.

import { Api } from "../basics/api.js";
import { lengthOf, pointAt } from "../basics/geometry.js";
import { PlanState } from "./plan_state.js";
import { recall, recallHere, remember, rememberHere } from "../basics/remembered.js";
import { Saving } from "./saving.js";
import { distanceAlong, placeAlong } from "../basics/walk.js";

export class Bench extends PlanState {
  constructor(root, state, shared) {
    super();
    this.plan = root.dataset.plan;
    this.stage = root.dataset.stage;
    this.shared = shared; // kinds and words that the stage's scripts read
    this.api = new Api(this.plan, root.dataset.csrf);
    this.saving = new Saving(this);
    this.strand = 0;
    this.route = 0;
    this.place = null;
    this.season = "usual";
    this.chosen = new Set();
    this.kills = null;
    this.way = { marks: [], profile: [] };
    this.wayOf = "";
    this.fenceId = ""; // the construction that is shown: the plan's own, or another by its id
    this.pane = "findings"; // the list of the panel that is looked at: the others come when they are
    if (state) this.take(state);
    this.recall();
  }

  /** Take what the server says as the state that stands. */
  take(state) {
    const { document, edition, revision, forecast, panel } = state;
    Object.assign(this, { doc: document, edition, revision, forecast, panel });
    Object.assign(this, { canUndo: state.can_undo, canRedo: state.can_redo });
    this.settlePlace();
    this.settleChosen();
  }

  /** Do an operation on the plan; the state that came of it, or null. */
  do(operation, origin = null) {
    return this.saving.operate(operation, origin);
  }

  post(path, body) {
    return this.saving.post(path, body);
  }

  async refresh() {
    const query = new URLSearchParams({ pane: this.pane, fence: this.fenceId });
    this.take(await this.api.ask(`/panel/${this.stage}?${query}`));
    this.tell("state");
  }

  /** What stands along the shown way and the ground under it: asked for when the way or the plan changes. */
  async askWay() {
    const key = `${this.edition}:${this.route}`;
    if (key === this.wayOf || !this.routes.length) return;
    this.wayOf = key;
    try {
      const way = await this.api.ask(`/route?index=${this.route}`);
      if (key === this.wayOf) {
        this.way = way;
        this.tell("way");
      }
    } catch {
      // the strip stands without its marks
    }
  }

  settleChosen() {
    this.chosen = new Set([...this.chosen].filter((key) => this.find(key)));
  }

  /** Choose things on the ground; `add` keeps the others. */
  pick(keys, { add = false } = {}) {
    const next = new Set(add ? this.chosen : []);
    for (const key of keys) {
      if (add && next.has(key)) next.delete(key);
      else next.add(key);
    }
    this.chosen = next;
    this.settleChosen();
    this.tell("chosen");
  }

  pairs() {
    return [...this.chosen].map((key) => key.split(":"));
  }

  /** Show the construction of the line on which you stand. */
  follow() {
    const own = this.run(this.place?.run)?.fence ?? "";
    if (own !== this.fenceId) this.showFence(own);
  }

  showFence(id) {
    this.fenceId = id;
    const rows = this.fence?.strands ?? [];
    const firstLive = rows.findIndex((s) => s.role === "live");
    if (rows[this.strand]?.role !== "live") this.strand = Math.max(0, firstLive);
    this.tell("fence");
  }

  /** Keep the place on the fence when lines change under it. */
  settlePlace() {
    const run = this.place && this.run(this.place.run);
    if (run) this.place.at_m = Math.min(this.place.at_m, lengthOf(run.points));
    else this.place = this.doc.runs.length ? { run: this.doc.runs[0].id, at_m: 0 } : null;
    if (this.fenceId && !this.doc.fences.some((f) => f.id === this.fenceId)) this.fenceId = "";
    this.strand = Math.min(this.strand, Math.max(0, (this.fence?.strands.length ?? 1) - 1));
    this.route = this.routes.length ? Math.min(this.route, this.routes.length - 1) : 0;
  }

  recall() {
    const kept = this.doc && recall(`adze-place-${this.plan}`);
    const worst = this.forecast?.worst;
    // Once shown, a season stays until somebody chooses another, in every tab and on every page of the plan.
    this.season = recallHere(`adze-season-${this.plan}`) ?? worst?.season ?? this.season;
    if (worst) rememberHere(`adze-season-${this.plan}`, this.season);
    if (kept) {
      const { place, strand, route } = kept;
      Object.assign(this, { place, strand, route });
      this.settlePlace();
      this.follow();
      return;
    }
    if (worst?.place) this.stand(worst.place.run, worst.place.at_m);
    this.follow();
    this.strand = Math.max(0, this.fence?.strands.findIndex((s) => s.role === "live") ?? 0);
  }

  moved() {
    const { place, strand, route } = this;
    remember(`adze-place-${this.plan}`, { place, strand, route });
    rememberHere(`adze-season-${this.plan}`, this.season);
  }

  /** Stand at a place; the strip follows to a way that passes it. */
  stand(run, at_m) {
    if (!this.run(run)) return;
    this.place = { run, at_m: Math.max(0, Math.min(at_m, lengthOf(this.run(run).points))) };
    if (this.routes.length && this.routeDistance() === null) {
      const found = this.routes.findIndex((route) => distanceAlong(route, this.place) !== null);
      if (found >= 0) this.route = found;
    }
    this.arrived();
  }

  arrived() {
    this.follow();
    this.moved();
    this.tell("place");
  }

  /** The spot on the ground where you stand. */
  standPoint() {
    const run = this.place && this.run(this.place.run);
    return run ? pointAt(run.points, this.place.at_m) : [0, 0];
  }

  /** How far along the shown route you stand; null when it does not pass there. */
  routeDistance() {
    return distanceAlong(this.routes[this.route], this.place);
  }

  /** Stand at a distance along the shown route. */
  standOnRoute(at) {
    this.place = placeAlong(this.routes[this.route], at) ?? this.place;
    this.arrived();
  }

  choose({ season, strand, route }) {
    if (season) this.season = season;
    if (strand !== undefined) this.strand = strand;
    if (route !== undefined) {
      this.route = route;
      this.standOnRoute(0);
    }
    this.moved();
    this.tell(season ? "season" : "place");
  }
}
