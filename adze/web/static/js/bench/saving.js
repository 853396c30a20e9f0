// Operations on the plan: done by the server, one after the other; what is refused or clashes is told.

import { ServerError, token } from "../basics/api.js";

export class Saving {
  constructor(bench) {
    this.bench = bench;
    this.queue = Promise.resolve();
  }

  /** Put a step at the end of the queue: changes wait for each other. */
  then(step) {
    this.queue = this.queue.then(step);
    return this.queue;
  }

  /**
   * Do an operation; the state that came of it, or null. `origin` is the input that a refusal belongs to. The token
   * stays the same when it is tried again, so that it is done once.
   */
  operate(operation, origin = null, once = token()) {
    return this.post("/operations", { operation, once }, origin, () => this.operate(operation, origin, once));
  }

  post(path, body = {}, origin = null, again = null) {
    return this.then(() => this.send(path, body, origin, again));
  }

  async send(path, body, origin, again) {
    const { bench } = this;
    const { edition, revision, stage, pane, fenceId } = bench;
    const seen = { edition, based_on: revision, stage, pane, fence: fenceId };
    const asked = performance.now();
    bench.tell("busy", true);
    try {
      const state = await bench.api.ask(path, { method: "POST", body: { ...body, ...seen } });
      bench.take(state);
      bench.kills = null;
      bench.tell("state");
      requestAnimationFrame(() => performance.measure("edit", { start: asked }));
      return state;
    } catch (error) {
      if (!(error instanceof ServerError)) throw error;
      if (error.body?.clash) bench.tell("clash", { clash: error.body.clash });
      else bench.tell("refused", { ...this.refusal(error), origin, again: error.status ? null : again });
      bench.tell("drawn");
      return null;
    } finally {
      bench.tell("busy", false);
    }
  }

  refusal(error) {
    return { message: error.message, faults: error.body?.faults ?? [] };
  }

  /** After a clash: put one's own version together with what stands, or show the plan as it is. */
  settle(clash, keep) {
    const { bench } = this;
    if (!keep) return bench.refresh();
    bench.edition = clash.edition;
    bench.revision = clash.current;
    return this.post("/settle", { mine: clash.mine, once: token() });
  }
}
