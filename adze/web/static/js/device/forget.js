// What this device keeps of an account besides what waits: pages, the packed fence, drafts, alarms that it is told.

export const PAGES = "adze-pages";
const OF_THE_DEVICE = ["adze-theme"]; // a matter of the screen, not of who looks at it

/** The pages alone: nobody is signed in, so they are nobody's to see. */
export const forgetPages = async () => void (await globalThis.caches?.delete(PAGES));

/** Everything but what waits to be sent. */
export async function forget() {
  await forgetPages();
  sessionStorage.clear();
  for (const key of Object.keys(localStorage)) if (!OF_THE_DEVICE.includes(key)) localStorage.removeItem(key);
  const worker = await navigator.serviceWorker?.getRegistration("/");
  await (await worker?.pushManager?.getSubscription())?.unsubscribe();
}
