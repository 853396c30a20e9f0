// The state of one plan on screen: document, forecast, season, and where you stand. Views listen.

import { Api, ServerError } from "./api.js";
import { lengthOf, pointAt } from "./geometry.js";

export class Bench extends EventTarget {
  constructor(root, state) {
    super();
    this.plan = root.dataset.plan;
    this.stage = root.dataset.stage;
    this.api = new Api(this.plan, root.dataset.csrf);
    this.busy = false;
    this.strand = 0;
    this.route = 0;
    this.place = null;
    this.season = "usual";
    this.queue = Promise.resolve();
    this.chosen = new Set();
    this.kills = null;
    this.way = { marks: [], profile: [] };
    this.wayOf = "";
    this.fenceId = ""; // the way of building that is shown: the plan's own, or a fence by its id
    this.pane = "findings"; // the list of the panel that is looked at: the others come when they are
    if (state) this.take(state);
    this.recall();
  }

  tell(type, detail) { this.dispatchEvent(new CustomEvent(type, { detail })); }

  /** Take what the server says as the state that stands. */
  take(state) {
    Object.assign(this, {
      doc: state.document, edition: state.edition, revision: state.revision, forecast: state.forecast,
      canUndo: state.can_undo, canRedo: state.can_redo, panel: state.panel,
    });
    this.settlePlace();
    this.settleChosen();
  }

  /** What stands along the shown way and the ground under it: asked for when the way or the plan changes. */
  async askWay() {
    const key = `${this.edition}:${this.route}`;
    if (key === this.wayOf || !this.routes.length) return;
    this.wayOf = key;
    try {
      const way = await this.api.ask(`/route?index=${this.route}`);
      if (key === this.wayOf) { this.way = way; this.tell("way"); }
    } catch { /* the strip stands without its marks */ }
  }

  /** The rows of the document by what they are called when chosen. */
  rows(what) { return this.doc[{ run: "runs", fixture: "fixtures", landmark: "landmarks", note: "notes" }[what]] ?? []; }
  find(key) { const [what, id] = key.split(":"); return this.rows(what).find((row) => row.id === id); }

  settleChosen() { this.chosen = new Set([...this.chosen].filter((key) => this.find(key))); }

  /** Choose things on the ground; `add` keeps the others. */
  pick(keys, { add = false } = {}) {
    const next = new Set(add ? this.chosen : []);
    for (const key of keys) if (add && next.has(key)) next.delete(key); else next.add(key);
    this.chosen = next;
    this.settleChosen();
    this.tell("chosen");
  }

  pairs() { return [...this.chosen].map((key) => key.split(":")); }

  /** One edit of the ground, done by the server. */
  edit(edit) { return this.post("/edit", { edit }); }

  get units() { return this.doc.units; }
  get volts() { return this.forecast?.seasons?.[this.season] ?? null; }
  get routes() { return this.forecast?.routes ?? []; }
  run(id) { return this.doc.runs.find((r) => r.id === id); }
  /** The way the shown fence is built, as the server drew it up. */
  get fence() { return this.forecast?.fences?.[this.fenceId] ?? null; }
  /** How many of the shown fence's strands are woven into netting. */
  get woven() { return this.fence?.netting?.count ?? 0; }
  /** The way a line is built; the plan's own for a line that is not there. */
  fenceOf(run) { return this.forecast?.fences?.[this.run(run)?.fence ?? ""] ?? null; }
  wantedOn(run) { return this.fenceOf(run)?.wanted_kv ?? this.forecast?.wanted_kv ?? 3; }
  /** What a document says of the shown fence: its own row, or the plan itself. */
  construction(doc = this.doc) { return doc.fences.find((f) => f.id === this.fenceId) ?? doc; }
  /** The shown fence's strands in a document, ready to be changed: the computed ones where it has none of its own. */
  strandsIn(doc) {
    const own = this.construction(doc);
    if (!own.strands.length) own.strands = this.fence.strands.slice(this.woven).map(({ cm, role }) => ({ cm, role }));
    return own.strands;
  }

  spacingOn(run) { return (this.doc.fences.find((f) => f.id === this.run(run)?.fence) ?? this.doc).post_spacing_m; }

  /** Show the way the line is built on which you stand. */
  follow() {
    const own = this.run(this.place?.run)?.fence ?? "";
    if (own !== this.fenceId) this.showFence(own);
  }

  showFence(id) {
    this.fenceId = id;
    const rows = this.fence?.strands ?? [];
    if (rows[this.strand]?.role !== "live") this.strand = Math.max(0, rows.findIndex((s) => s.role === "live"));
    this.tell("fence");
  }

  trace(id) { return this.volts?.traces.find((t) => t.run === id); }

  /** Keep the place on the fence when lines change under it. */
  settlePlace() {
    const run = this.place && this.run(this.place.run);
    if (run) this.place.at_m = Math.min(this.place.at_m, lengthOf(run.points));
    else this.place = this.doc.runs.length ? { run: this.doc.runs[0].id, at_m: 0 } : null;
    if (this.fenceId && !this.doc.fences.some((f) => f.id === this.fenceId)) this.fenceId = "";
    this.strand = Math.min(this.strand, Math.max(0, (this.fence?.strands.length ?? 1) - 1));
    if (this.routes.length) this.route = Math.min(this.route, this.routes.length - 1);
    else this.route = 0;
  }

  key() { return `adze-place-${this.plan}`; }

  recall() {
    try {
      const kept = JSON.parse(sessionStorage.getItem(this.key()) ?? "null");
      if (kept && this.doc) {
        Object.assign(this, { place: kept.place, season: kept.season, strand: kept.strand, route: kept.route });
        this.settlePlace();
        this.follow();
        return;
      }
    } catch { /* nothing kept */ }
    const worst = this.forecast?.worst;
    if (worst?.season) this.season = worst.season;
    if (worst?.place) this.stand(worst.place.run, worst.place.at_m);
    this.follow();
    this.strand = Math.max(0, this.fence?.strands.findIndex((s) => s.role === "live") ?? 0);
  }

  remember() {
    try {
      sessionStorage.setItem(this.key(), JSON.stringify({
        place: this.place, season: this.season, strand: this.strand, route: this.route,
      }));
    } catch { /* storage may be shut */ }
  }

  /** Stand at a place; the strip follows to a way that passes it. */
  stand(run, at_m) {
    if (!this.run(run)) return;
    this.place = { run, at_m: Math.max(0, Math.min(at_m, lengthOf(this.run(run).points))) };
    if (this.routes.length && this.routeDistance() === null) {
      const found = this.routes.findIndex((_, i) => this.routeDistance(i) !== null);
      if (found >= 0) this.route = found;
    }
    this.follow();
    this.remember();
    this.tell("place");
  }

  /** The spot on the ground where you stand. */
  standPoint() {
    const run = this.place && this.run(this.place.run);
    return run ? pointAt(run.points, this.place.at_m) : [0, 0];
  }

  /** The legs of a route with how far along it each begins and ends, and whether its line is walked outward. */
  legsOf(route) {
    let to = 0;
    return (route?.legs ?? []).map((leg) => {
      const gone = to;
      to += Math.abs(leg.to_m - leg.from_m);
      return { ...leg, gone, to, way: leg.to_m >= leg.from_m ? 1 : -1 };
    });
  }

  /** Growth on a stretch of a route: a row for each line that it lies on; it takes the place of what it covers. */
  growOn(route, from, to, grass) {
    const round = (m) => Math.round(m * 10) / 10;
    const rows = this.legsOf(route).flatMap((leg) => {
      const ends = [Math.max(from, leg.gone), Math.min(to, leg.to)];
      if (ends[1] - ends[0] < 0.6) return [];
      const along = ends.map((at) => leg.from_m + leg.way * (at - leg.gone));
      return [{ run: leg.run, from_m: round(Math.min(...along)), to_m: round(Math.max(...along)), grass }];
    });
    return this.change("Growth on a stretch", (doc) => {
      doc.growths = doc.growths.filter((g) => !rows.some((r) => r.run === g.run && r.from_m <= g.from_m && r.to_m >= g.to_m));
      for (const row of rows) {
        let n = doc.growths.length + 1;
        while (doc.growths.some((g) => g.id === `growth${n}`)) n += 1;
        doc.growths.push({ id: `growth${n}`, ...row });
      }
    });
  }

  /** How far along a route the place lies; null when it does not pass there. */
  routeDistance(index = this.route) {
    let gone = 0;
    for (const leg of this.routes[index]?.legs ?? []) {
      const [low, high] = [Math.min(leg.from_m, leg.to_m), Math.max(leg.from_m, leg.to_m)];
      if (this.place && leg.run === this.place.run && this.place.at_m >= low - 0.05 && this.place.at_m <= high + 0.05) {
        return gone + Math.abs(this.place.at_m - leg.from_m);
      }
      gone += high - low;
    }
    return null;
  }

  /** Stand at a distance along the shown route. */
  standOnRoute(at) {
    const legs = this.routes[this.route]?.legs ?? [];
    let left = Math.max(0, at);
    for (const [i, leg] of legs.entries()) {
      const size = Math.abs(leg.to_m - leg.from_m);
      if (left <= size || i === legs.length - 1) {
        const step = Math.min(left, size);
        this.place = { run: leg.run, at_m: leg.from_m + (leg.to_m >= leg.from_m ? step : -step) };
        break;
      }
      left -= size;
    }
    this.follow();
    this.remember();
    this.tell("place");
  }

  choose({ season, strand, route }) {
    if (season) this.season = season;
    if (strand !== undefined) this.strand = strand;
    if (route !== undefined) { this.route = route; this.standOnRoute(0); }
    this.remember();
    this.tell(season ? "season" : "place");
  }

  /** Change the document and save it; changes wait for each other. */
  change(summary, mutate) {
    this.queue = this.queue.then(async () => {
      const document = structuredClone(this.doc);
      if (mutate(document) === false) return;
      const before = this.doc;
      this.doc = document;
      this.tell("drawn");
      await this.send("", { method: "PUT", body: { document, summary } }, { summary, mutate }, () => { this.doc = before; });
    });
    return this.queue;
  }

  post(path, body = {}) {
    this.queue = this.queue.then(() => this.send(path, { method: "POST", body }, null, () => {}));
    return this.queue;
  }

  async send(path, request, retry, revert) {
    const body = { ...request.body, edition: this.edition, based_on: this.revision, stage: this.stage, pane: this.pane, fence: this.fenceId };
    this.tell("busy", true);
    try {
      this.take(await this.api.ask(path, { ...request, body }));
      this.kills = null;
      this.tell("state");
      return true;
    } catch (error) {
      if (!(error instanceof ServerError)) throw error;
      if (error.status === 409) this.tell("clash", { clash: error.body.clash, mine: request.body.document ?? null });
      else this.tell("refused", { message: error.message, faults: error.body.faults ?? [], retry: error.status ? null : retry });
      revert();
      this.tell("drawn");
      return false;
    } finally {
      this.tell("busy", false);
    }
  }

  /** After a clash: save a chosen document on top of the other's change, or take theirs. */
  settle(clash, document) {
    this.edition = clash.edition;
    this.revision = clash.current;
    this.doc = clash.theirs;
    if (document) return this.change("Put together with another's change", (doc) => { Object.assign(doc, structuredClone(document)); });
    return this.refresh();
  }

  async refresh() {
    this.take(await this.api.ask(`/panel/${this.stage}?${new URLSearchParams({ pane: this.pane, fence: this.fenceId })}`));
    this.tell("state");
  }
}
