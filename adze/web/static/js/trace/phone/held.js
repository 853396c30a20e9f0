// What the device holds of a search: the steps that the server knows and the packed fence, kept for no signal.

import { PAGES } from "../../device/forget.js";

const addressOf = (plan, what) => `/api/plans/${plan}/trace/${what}`;

async function asked(address) {
  const answer = await fetch(address);
  if (answer.status === 401) throw new Error("Sign in again: unsent entries are still here.");
  if (!answer.ok) throw Object.assign(new Error((await answer.json()).message), { isTold: true });
  return answer;
}

const heard = new Map(); // by plan, what this page heard last: it outlives the signal as long as the page is open

/** What is kept on the device; nothing where nobody asked for it. */
async function kept(cache, steps, kit) {
  const [answer, packed] = await Promise.all([cache.match(steps), cache.match(kit)]);
  if (!answer || !packed) return null;
  return { known: await answer.json(), packed: await packed.arrayBuffer() };
}

/** From the server, and kept where this page is; where there is no signal, as it was heard or kept last. */
export async function held(plan, season) {
  const cache = await caches.open(PAGES);
  const [steps, kit] = [addressOf(plan, "field"), addressOf(plan, "kit")];
  const last = heard.get(plan) ?? (await kept(cache, steps, kit));
  try {
    const answer = await asked(`${steps}?season=${season}`);
    const known = await answer.clone().json();
    const packed =
      last?.known.mark === known.mark ? last.packed : await (await asked(`${kit}?season=${season}`)).arrayBuffer();
    heard.set(plan, { known, packed });
    if (await cache.match(location.pathname)) {
      await cache.put(kit, new Response(packed));
      await cache.put(steps, answer);
    }
    return { known, packed, isFresh: true };
  } catch (error) {
    if (error.isTold) throw error;
    if (!last) throw new Error("This fence is not on this device yet. Open it with signal first.", { cause: error });
    return { ...last, isFresh: false };
  }
}
