// What is no change of the plan, such as a tick or upkeep: sent at once, its answer is the fresh state.

import { showRefusal } from "./refusals.js";

/** Send to an address of the plan and give its answer; what is refused is said beside `origin`, or its own input. */
export async function sendNow(bench, path, body, origin) {
  try {
    const told = await bench.api.ask(path, { method: "POST", body });
    bench.take(told);
    bench.tell("state");
    return told;
  } catch (error) {
    showRefusal({ faults: error.body?.faults ?? [{ path: "", message: error.message }], origin });
    return null;
  }
}
