// The worker of the field: what it tells, what a press on it opens, what signing out forgets.

import assert from "node:assert/strict";
import { readFileSync } from "node:fs";
import { test } from "node:test";
import { runInNewContext } from "node:vm";

const SOURCE = readFileSync(new URL("../../adze/web/static/js/log/field_worker.js", import.meta.url), "utf8");

/** The worker in a browser that is made up, and what it did there. */
function worker() {
  const did = [];
  const heard = {};
  const self = {
    location: { origin: "https://farm.example" },
    addEventListener: (kind, answer) => (heard[kind] = answer),
    registration: {
      showNotification: (title, { body, data }) => did.push(["told", title, body, data.path]),
      pushManager: { getSubscription: async () => ({ unsubscribe: async () => did.push(["no longer told"]) }) },
    },
    clients: { openWindow: (path) => did.push(["opened", path]) },
  };
  const caches = { delete: async (name) => did.push(["thrown away", name]) };
  runInNewContext(SOURCE, { self, caches, URL });
  /** Let something happen, until the worker is done with it. */
  const happens = async (kind, event) => {
    const until = [];
    heard[kind]({ ...event, waitUntil: (promise) => until.push(promise) });
    await Promise.all(until);
    return did;
  };
  return happens;
}

test("an alarm is told in the words that came, and a press opens its page", async () => {
  const happens = worker();
  const note = { title: "Far sensor", body: "2.1 kV, below 2.5 kV", path: "/plans/7/log?tab=devices" };
  await happens("push", { data: { json: () => note } });
  const pressed = { close: () => {}, data: { path: note.path } };
  assert.deepEqual(await happens("notificationclick", { notification: pressed }), [
    ["told", note.title, note.body, note.path],
    ["opened", note.path],
  ]);
});

test("who signs out takes the pages along and is told no longer", async () => {
  const request = { url: "https://farm.example/sign-out", method: "POST" };
  const did = await worker()("fetch", { request });
  assert.deepEqual(did, [["thrown away", "adze-pages"], ["no longer told"]]);
});
