// What is no change of the plan, such as a tick or upkeep: sent at once, its answer is the fresh state.

import { showRefusal } from "./refusals.js";

/** Send to an address of the plan; what is refused is said beside `origin` or the input that it names. */
export async function sendNow(bench, path, body, origin) {
  try {
    bench.take(await bench.api.ask(path, { method: "POST", body }));
    bench.tell("state");
  } catch (error) {
    showRefusal({ faults: error.body?.faults ?? [{ path: "", message: error.message }], origin });
  }
}
