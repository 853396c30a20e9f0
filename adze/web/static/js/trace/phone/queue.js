// Steps of a search that wait on the device to be sent: in IndexedDB, in their order, each with a token of its own.
// Parts that a mend used go with them; photos follow, once the steps are known.

import { Api, ServerError } from "../../basics/api.js";
import { steps as entries } from "../../device/entries.js";
import { account, typedBy } from "../../device/owner.js";

/** The steps of a plan's search that wait of the account that is signed in, in their order. */
export const waiting = async (plan) => (await entries.of()).filter((row) => row.plan === plan);
export const keep = (step) => entries.put(step);
export const drop = (number) => entries.drop({ number });

/** What was refused, off the device. */
export async function dropRefused(rows) {
  for (const { number, refused } of rows) if (refused) await drop(number);
}

const NO_SIGNAL = "No signal yet.";
const SIGN_IN = "Sign in again: unsent entries are still here.";
const WRONG = [413, 422]; // what is sent again as it is stays wrong

/** Send what waits; what was kept leaves the device, what is refused stays with the reason. Words where it cannot. */
export async function sendWaiting(plan, csrf) {
  const rows = (await waiting(plan)).filter(({ refused }) => !refused);
  const steps = rows.filter(({ photo }) => !photo).slice(0, 100);
  const photos = rows.filter(({ photo }) => photo);
  const sent = steps.length ? await sendSteps(plan, csrf, steps) : { sent: 0, says: "" };
  if (sent.says) return sent;
  for (const row of photos) {
    const says = await sendPhoto(plan, csrf, row);
    if (says) return { ...sent, says };
    sent.sent++;
  }
  return sent;
}

async function sendPhoto(plan, csrf, row) {
  const { of, once } = row.typed;
  try {
    await new Api(plan, csrf).send(`/trace/field/photo?${new URLSearchParams({ of, once })}`, row.photo);
  } catch (error) {
    if (!(error instanceof ServerError)) return NO_SIGNAL;
    if (error.status === 401) return SIGN_IN;
    if (!WRONG.includes(error.status)) return `The server answers ${error.status}; Adze sends it again.`;
    await keep({ ...row, refused: error.message });
    return "";
  }
  await drop(row.number);
  return "";
}

async function sendSteps(plan, csrf, rows) {
  const headers = { "Content-Type": "application/json", "X-CSRF-Token": csrf, ...typedBy(account()) };
  const body = JSON.stringify({ steps: rows.map(({ typed }) => typed) });
  // An answer may get lost on its way: what was tried may be known to the server.
  for (const row of rows) if (!row.tried) await keep({ ...row, tried: true });
  let answer;
  try {
    answer = await fetch(`/api/plans/${plan}/trace/field`, { method: "POST", headers, body });
  } catch {
    return { sent: 0, says: NO_SIGNAL };
  }
  if (answer.status === 401) return { sent: 0, says: SIGN_IN };
  if (answer.status === 409) return { sent: 0, says: (await answer.json()).message };
  if (!answer.ok) return { sent: 0, says: `The server answers ${answer.status}; Adze sends it again.` };
  const { refused } = await answer.json();
  for (const row of rows) {
    const why = refused[row.typed.once];
    if (why) await keep({ ...row, refused: why });
    else await drop(row.number);
  }
  return { sent: rows.length, says: "" };
}
