// The search in a worker of its own, so that the page answers while it thinks.
//
// It is given what the server packed, then the steps that were done; where it stands after them is what it tells.

import { unpack } from "../solver/kit.js";
import { OnDevice } from "./on_device.js";
import { Peaks } from "../solver/peaks.js";

const assembled = fetch(new URL("../../../vendor/trace/peaks.wasm", import.meta.url)).then((told) =>
  told.arrayBuffer(),
);

let device = null;

async function answer({ ask, packed, wanted, practise, score }) {
  if (packed) {
    const kit = unpack(packed);
    device = new OnDevice(kit, await Peaks.of(await assembled, kit.instants, kit.follow.length));
  }
  const hears = (share) => self.postMessage({ ask, share });
  if (practise) return self.postMessage({ ask, done: device.practised(practise, hears) });
  if (score) return self.postMessage({ ask, scored: device.scored(score, hears) });
  const shown = wanted && device.told(wanted, hears);
  const modules = performance.getEntriesByType("resource").map(({ name }) => new URL(name).pathname);
  return self.postMessage({ ask, shown, field: device.kit.field, modules });
}

let before = Promise.resolve(); // one after another: each begins where the last one ended
self.addEventListener("message", ({ data }) => {
  before = before.then(() => answer(data)).catch((error) => self.postMessage({ ask: data.ask, failed: error.message }));
});
