// Keep a plan's field pages on this device: asked for by a press, for every stop of the round.

/** Ask the worker to keep addresses with all that this page is made of; what it says when it is done. */
async function keepHere(addresses) {
  await navigator.serviceWorker.register("/sw.js");
  const { active } = await navigator.serviceWorker.ready;
  const own = performance.getEntriesByType("resource").map(({ name }) => name);
  const parts = own.filter((name) => new URL(name).pathname.startsWith("/static/"));
  const answer = new Promise((done) =>
    navigator.serviceWorker.addEventListener("message", ({ data }) => done(data), { once: true }),
  );
  active.postMessage({ keep: [...new Set([...addresses, ...parts])] });
  return answer;
}

/** A key that keeps what it names on this device; it says when that is done. `then` keeps more. */
export function mountKeep(button, addresses, then = async () => {}) {
  button.hidden = !navigator.serviceWorker;
  button.addEventListener("click", async () => {
    const { kept, failed } = await keepHere(addresses());
    if (kept) await then();
    button.textContent = kept ? "Kept on this device: it opens without signal" : `Not kept: ${failed}`;
  });
}
