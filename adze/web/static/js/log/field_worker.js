// The service worker of a device that keeps a plan: pages of the field come from the network, and from the device
// where there is none. Only what somebody asked to keep is kept; signing out throws it away. It also tells alarms.

const worker = /** @type {any} */ (self);
const PAGES = "adze-pages";
const PATIENCE_MS = 4000;
const FIELD = /^\/plans\/\d+\/(log\/reading|paper\/work|trace\/field)$/;

worker.addEventListener("install", () => worker.skipWaiting());
worker.addEventListener("activate", (event) => event.waitUntil(worker.clients.claim()));

worker.addEventListener("message", (event) => {
  if (!event.data.keep) return;
  const kept = caches.open(PAGES).then((cache) => cache.addAll(event.data.keep));
  event.waitUntil(
    kept.then(
      () => event.source.postMessage({ kept: event.data.keep.length }),
      (error) => event.source.postMessage({ failed: error.message }),
    ),
  );
});

/** The network's answer, or the device's where the network has none in time. */
async function freshOrKept(request) {
  const cache = await caches.open(PAGES);
  const late = new Promise((_, failed) => setTimeout(() => failed(new Error("late")), PATIENCE_MS));
  try {
    const answer = await Promise.race([fetch(request), late]);
    if (answer.ok && !answer.redirected && (await cache.match(request))) await cache.put(request, answer.clone());
    return answer;
  } catch (error) {
    // Another place of the same plan will do: its form says where one stands.
    const kept = (await cache.match(request)) ?? (await cache.match(request, { ignoreSearch: true }));
    if (kept) return kept;
    throw error;
  }
}

async function keptOrFresh(request) {
  return (await caches.match(request)) ?? fetch(request);
}

/** Who signs out takes what was kept along, and is told of no more alarms here. */
async function forget() {
  await caches.delete(PAGES);
  await (await worker.registration.pushManager?.getSubscription())?.unsubscribe();
}

worker.addEventListener("push", (event) => {
  const { title, body, path } = event.data.json();
  event.waitUntil(worker.registration.showNotification(title, { body, tag: `${title}${path}`, data: { path } }));
});

worker.addEventListener("notificationclick", (event) => {
  event.notification.close();
  event.waitUntil(worker.clients.openWindow(event.notification.data.path));
});

worker.addEventListener("fetch", (event) => {
  const { request } = event;
  const { origin, pathname } = new URL(request.url);
  if (origin !== worker.location.origin) return;
  if (request.method === "POST" && pathname.endsWith("/sign-out")) event.waitUntil(forget());
  if (request.method !== "GET") return;
  if (pathname.startsWith("/static/")) event.respondWith(keptOrFresh(request));
  else if (FIELD.test(pathname)) event.respondWith(freshOrKept(request));
});
