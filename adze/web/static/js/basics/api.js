// Asking the server; every write carries the session's word.

import { account, typedBy } from "../device/owner.js";

const WAITS_MS = [500, 2000]; // before what carries a token is sent again

export const pause = (ms) => new Promise((done) => setTimeout(done, ms));

/** A token of one change: the server keeps what is sent with it once. */
export const token = () =>
  Array.from(crypto.getRandomValues(new Uint8Array(12)), (byte) => byte.toString(16).padStart(2, "0")).join("");

/** Ask, and again after each wait while no answer comes. */
async function insistently(ask, waits) {
  for (const wait of [...waits, null]) {
    try {
      return await ask();
    } catch (error) {
      if (error.name === "AbortError") throw error;
      if (wait !== null) await pause(wait);
    }
  }
  throw new ServerError(0, { message: "No answer from the server. Your change is kept here: try again." });
}

export class ServerError extends Error {
  constructor(status, body) {
    super(body.message ?? "The server did not answer as it should.");
    this.status = status;
    this.body = body;
  }
}

/** The lines of an answer that comes bit by bit; a fault among them is thrown. */
async function serverLines(response, heard) {
  const reader = response.body.pipeThrough(new TextDecoderStream()).getReader();
  let rest = "";
  let last = {};
  for (;;) {
    const { done, value } = await reader.read();
    rest += value ?? "";
    const lines = rest.split("\n");
    rest = lines.pop();
    for (const line of lines) {
      last = JSON.parse(line);
      heard(last);
    }
    if (done) break;
  }
  if (last.fault) throw new ServerError(422, { message: last.fault });
  return last;
}

export class Api {
  constructor(plan, csrf) {
    this.base = `/api/plans/${plan}`;
    this.csrf = csrf;
  }

  /** Send a file and hear of its progress, line by line, until the last word. */
  async send(path, file, { signal = undefined, heard = (line) => void line } = {}) {
    const response = await fetch(this.base + path, {
      method: "POST",
      signal,
      headers: {
        "Content-Type": "application/octet-stream",
        "X-CSRF-Token": this.csrf,
        ...typedBy(account()),
        "X-File-Name": encodeURIComponent(file.name).slice(0, 380),
      },
      body: file,
    });
    if (!response.ok || !response.headers.get("Content-Type")?.includes("ndjson")) {
      const content = await response.json().catch(() => ({}));
      if (!response.ok) throw new ServerError(response.status, content);
      return content;
    }
    return serverLines(response, heard);
  }

  async ask(path, { method = "GET", body = undefined, signal = undefined } = {}) {
    const wish = {
      method,
      signal,
      headers: { "Content-Type": "application/json", "X-CSRF-Token": this.csrf, ...typedBy(account()) },
      body: body === undefined ? undefined : JSON.stringify(body),
    };
    const response = await insistently(() => fetch(this.base + path, wish), body?.once ? WAITS_MS : []);
    const content = await response.json().catch(() => ({}));
    if (!response.ok) throw new ServerError(response.status, content);
    return content;
  }
}
