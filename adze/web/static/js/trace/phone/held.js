// What the device holds of a search: the steps that the server knows and the packed fence, kept for no signal.

import { PAGES } from "../../device/forget.js";

const addressOf = (plan, what) => `/api/plans/${plan}/trace/${what}`;

async function asked(address) {
  const answer = await fetch(address);
  if (answer.status === 401) throw new Error("Sign in again: what waits is still here.");
  if (!answer.ok) throw Object.assign(new Error((await answer.json()).message), { isTold: true });
  return answer;
}

/** From the server, and kept where this page is; where there is no signal, as it was kept last. */
export async function held(plan, season) {
  const cache = await caches.open(PAGES);
  const [steps, kit] = [addressOf(plan, "field"), addressOf(plan, "kit")];
  try {
    const answer = await asked(`${steps}?season=${season}`);
    const known = await answer.clone().json();
    let packed = await cache.match(kit);
    if (packed?.headers.get("X-Mark") !== known.mark) {
      const fresh = await asked(`${kit}?season=${season}`);
      packed = new Response(await fresh.arrayBuffer(), { headers: { "X-Mark": known.mark } });
    }
    if (await cache.match(location.pathname)) {
      await cache.put(kit, packed.clone());
      await cache.put(steps, answer);
    }
    return { known, packed: await packed.arrayBuffer(), isFresh: true };
  } catch (error) {
    if (error.isTold) throw error;
    const [answer, packed] = await Promise.all([cache.match(steps), cache.match(kit)]);
    if (!answer || !packed)
      throw new Error("Nothing of this fence is on this device yet: open it with signal first.", {
        cause: error,
      });
    return { known: await answer.json(), packed: await packed.arrayBuffer(), isFresh: false };
  }
}
